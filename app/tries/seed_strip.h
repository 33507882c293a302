// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Eight neighbouring seeds of a step as live pictures of the cloth; a click or Enter takes one.
#pragma once

#include <QTimer>
#include <QWidget>
#include <array>

#include "app/document/session.h"
#include "app/document/try_service.h"

class QToolButton;

namespace loom {

class SeedStrip : public QWidget {
    Q_OBJECT
public:
    explicit SeedStrip(Session& session, QWidget* parent = nullptr);

    static constexpr int count = 8;
    std::uint32_t seed(int index) const { return seeds_[static_cast<std::size_t>(index)]; }
    bool has_picture(int index) const { return !pictures_[static_cast<std::size_t>(index)].isNull(); }
    bool complete() const;
    QRect place(int index) const;
    int marked() const { return marked_; }
    /// Folded it is one line and makes no pictures.
    bool folded() const { return folded_; }
    void set_folded(bool folded);
    /// Whether there is room for it at all.
    void set_room(bool room);
    QToolButton* fold_button() const { return fold_; }
    QSize sizeHint() const override { return {count * 70, height()}; }

public slots:
    /// Follows the session: hidden while nothing with a seed is selected.
    void follow();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void order();
    void take(int index);
    int at(const QPoint& place) const;
    /// As many as there is room for.
    int shown() const;

    Session& session_;
    TryService service_{128};
    QTimer later_;
    std::uint64_t ticket_ = 0;
    std::array<std::uint32_t, count> seeds_{};
    std::array<QImage, count> pictures_;
    int marked_ = 0, hovered_ = -1;
    bool folded_ = false, room_ = true;
    QToolButton* fold_;
};

}  // namespace loom
