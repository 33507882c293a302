// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QWidget>
#include <optional>

#include "core/measure/judgement.h"

class QToolButton;

namespace loom {

class MeasureCard;

/// The tiling measures of the cloth in one line; amber where something will be seen.
class MeasuresBar : public QWidget {
    Q_OBJECT
public:
    explicit MeasuresBar(QWidget* parent = nullptr);
    void show_measures(const Measures& measures);
    /// Those of a reference picture, beside ours; nothing takes them away.
    void show_reference(const std::optional<Measures>& measures);
    /// Greys the numbers while they belong to an older cloth.
    void set_stale(bool stale);
    bool stale() const { return stale_; }
    const Measures& measures() const { return measures_; }
    /// The first three, or all of them.
    bool shows_all() const { return all_; }
    void show_all(bool all);
    QToolButton* more_button() const { return more_; }
    /// Explains one at a time; null until it was asked for.
    MeasureCard* card() const { return card_; }
    /// Where a measure stands in the line; empty if it is not shown.
    QRect place_of(MeasureKind kind) const;

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    Measures measures_;
    std::optional<Measures> reference_;
    /// A name or number, and what it belongs to; laid out for painting and for the pointer alike.
    struct Item {
        QString name, value;
        QColor colour;
        QString beside;  ///< of the reference picture
        std::optional<MeasureKind> kind;
        QRect place;
    };
    std::vector<Item> items() const;
    void explain(MeasureKind kind);

    bool known_ = false, stale_ = false, all_ = false;
    QToolButton* more_;
    MeasureCard* card_ = nullptr;
};

}  // namespace loom
