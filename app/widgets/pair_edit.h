// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Two numbers that belong together, one across and one down: each with its slider and field, and a pad that moves both.
#pragma once

#include "app/widgets/number_edit.h"

namespace loom {

/// A square in which a dot stands at two shares, 0..1 from left to right and from top to bottom.
class Pad : public QWidget {
    Q_OBJECT
public:
    explicit Pad(QWidget* parent = nullptr);
    void set_shares(double across, double down);
    QPointF shares() const { return shares_; }
    QSize sizeHint() const override { return {54, 54}; }

signals:
    void drag_began();
    void dragged(double across, double down);
    void drag_ended();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    QRectF ground() const;
    void move_to(QPointF shares);
    QPointF shares_;
};

class PairEdit : public QWidget {
    Q_OBJECT
public:
    /// Takes both edits in.
    PairEdit(NumberEdit* across, NumberEdit* down, const QString& accessible_name, QWidget* parent = nullptr);
    NumberEdit* across() const { return across_; }
    NumberEdit* down() const { return down_; }
    Pad* pad() const { return pad_; }
    /// After one of the edits was given another value.
    void follow();

signals:
    /// Both at once, of one drag.
    void changed(double across, double down, const QString& gesture);

private:
    NumberEdit *across_, *down_;
    Pad* pad_;
    GestureSource gestures_;
};

}  // namespace loom
