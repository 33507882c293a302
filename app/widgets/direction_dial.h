// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A small round with a hand that shows a direction: 0 is right, 90 above. Dragged, or turned with the arrow keys.
#pragma once

#include <QWidget>

namespace loom {

class DirectionDial : public QWidget {
    Q_OBJECT
public:
    /// `low` and `high`: degrees that may be set; a drag over the end goes on at the other if they hold a whole turn.
    DirectionDial(double low, double high, QWidget* parent = nullptr);
    void set_degrees(double degrees);
    double degrees() const { return degrees_; }
    double low() const { return low_; }
    double high() const { return high_; }
    /// As by hand: what is beyond the ends goes on at the other, and it is told.
    void turn_to(double degrees);
    QSize sizeHint() const override { return {26, 26}; }

signals:
    void turn_began();
    void turned(double degrees);
    void turn_ended();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void point_at(const QPointF& place, bool coarse);
    double low_, high_, degrees_ = 0;
};

}  // namespace loom
