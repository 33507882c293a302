// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Tones that come in, across, and what becomes of them, up: a line over the histogram, which is bent by its handles. What the
// line makes one tone of is veiled, and counted at its side.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "app/widgets/number_edit.h"
#include "core/catalogue/kinds/curve.h"
#include "core/measure/measure.h"

namespace loom {

class ToneField : public QWidget {
    Q_OBJECT
public:
    explicit ToneField(QWidget* parent = nullptr);

    /// Drawn behind.
    void set_histogram(const Histogram& histogram);
    const Histogram& histogram() const { return histogram_; }
    /// Of a reference picture, as an outline; nothing takes it away.
    void set_reference(const std::optional<Histogram>& histogram);
    const std::optional<Histogram>& reference() const { return reference_; }
    void set_line(const QColor& colour);
    int chosen() const { return chosen_; }
    void choose(int handle);
    /// Where a handle is in this widget, for tests.
    QPoint handle_place(int handle) const;
    /// Shares of the area that become the line's first and its last tone.
    std::pair<double, double> lost() const;
    QSize sizeHint() const override { return {240, 180}; }

signals:
    void chosen_changed();

protected:
    static constexpr double tone_step = 1.0 / 255;
    /// All handles, from the left to the right.
    virtual CurvePoints handles() const = 0;
    virtual double out(double in) const = 0;
    /// As far as its neighbours allow; both in 0..1, to whole tones.
    virtual void move_handle(int handle, const CurvePoint& to, const QString& gesture) = 0;
    /// Tones between which they stay apart.
    virtual std::pair<double, double> kept() const { return {0, 1}; }
    /// A press that meant no handle; whether there is one now that is held.
    virtual bool press_beside(double in) {
        Q_UNUSED(in);
        return false;
    }
    bool held() const { return held_; }
    GestureSource& gestures() { return gestures_; }
    void set_chosen(int handle) { chosen_ = handle; }

    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    QRect plot() const { return rect().adjusted(7, 7, -7, -7); }
    QPointF at(const CurvePoint& point) const;
    CurvePoint point_at(const QPoint& place) const;
    void paint_lost(QPainter& painter) const;

    Histogram histogram_;
    std::optional<Histogram> reference_;
    QColor line_;
    int chosen_ = 0;
    bool held_ = false;
    GestureSource gestures_;
};

}  // namespace loom
