// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A weaving draft as a small grid: click or drag to lay the warp on top or the weft, choose a draft by its trade name, change how
// many ends and picks repeat, read and write WIF files.
#pragma once

#include <QWidget>

#include "core/base/draft.h"

class QLabel;
class QSpinBox;

namespace loom {

class DraftGrid;

class DraftEdit : public QWidget {
    Q_OBJECT
public:
    explicit DraftEdit(const QString& accessible_name, QWidget* parent = nullptr);

    void set_draft(const Draft& draft);
    const Draft& draft() const { return draft_; }
    DraftGrid* grid() const { return grid_; }
    /// What went wrong when a file was read or written goes to `refused`.
    void open_wif(const QString& path);
    void save_wif(const QString& path);

signals:
    /// Changes of one drag belong together.
    void changed(const Draft& draft, const QString& gesture);
    void refused(const QString& sentence);

private:
    void choose_file(bool save);
    void take(Draft draft, const QString& gesture = {});
    void resize_draft();

    Draft draft_;
    DraftGrid* grid_;
    QSpinBox *ends_, *picks_;
};

class DraftGrid : public QWidget {
    Q_OBJECT
public:
    explicit DraftGrid(QWidget* parent = nullptr);
    void set_draft(const Draft& draft);
    QSize sizeHint() const override { return {108, 108}; }
    /// Where a crossing is drawn; the first pick lies at the bottom.
    QRect square(int end, int pick) const;

signals:
    void toggled(int end, int pick, bool over, const QString& gesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    int side() const;
    void mark(QPoint place, bool first);

    Draft draft_;
    int end_ = 0, pick_ = 0;  ///< the square the keys stand on
    bool laying_ = true;
    int gestures_ = 0;
};

}  // namespace loom
