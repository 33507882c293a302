// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Curves through points that are dragged, one for each channel, over the histogram of what comes in; every point has its numbers.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "app/widgets/number_edit.h"
#include "core/catalogue/kinds/curve.h"
#include "core/measure/measure.h"

class QButtonGroup;
class QHBoxLayout;
class QToolButton;

namespace loom {

class NumberField;

/// The square itself.
class CurveArea : public QWidget {
    Q_OBJECT
public:
    explicit CurveArea(QWidget* parent = nullptr);

    void set_points(const CurvePoints& points);
    const CurvePoints& points() const { return points_; }
    /// Drawn behind.
    void set_histogram(const Histogram& histogram);
    /// Of a reference picture, as an outline; nothing takes it away.
    void set_reference(const std::optional<Histogram>& histogram);
    void set_line(const QColor& colour);
    int chosen() const { return chosen_; }
    void choose(int index);
    /// Moves it as far as its neighbours allow.
    void move_chosen(const CurvePoint& to, const QString& gesture);
    void add_at(double in);
    /// All but the last two can go.
    void remove_chosen();
    /// Where a point is in this widget, for tests.
    QPoint point_place(int index) const;
    QSize sizeHint() const override { return {240, 180}; }

signals:
    void changed(const loom::CurvePoints& points, const QString& gesture);
    void chosen_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    QRect plot() const { return rect().adjusted(7, 7, -7, -7); }
    QPointF at(const CurvePoint& point) const;
    CurvePoint point_at(const QPoint& place) const;

    CurvePoints points_ = straight_curve();
    Histogram histogram_;
    std::optional<Histogram> reference_;
    QColor line_;
    int chosen_ = 0;
    bool held_ = false;
    GestureSource gestures_;
};

class CurveEdit : public QWidget {
    Q_OBJECT
public:
    explicit CurveEdit(QWidget* parent = nullptr);

    /// One more curve, reached by a chip of its title.
    void add_curve(const QString& id, const QString& title, const QColor& line);
    void set_points(const QString& id, const CurvePoints& points);
    /// Behind the curve of that place in the order they were added.
    void set_histogram(std::size_t index, const Histogram& histogram);
    void set_reference(std::size_t index, const std::optional<Histogram>& histogram);
    void show_curve(std::size_t index);
    std::size_t shown() const { return shown_; }
    CurveArea* area() const { return area_; }
    NumberField* in() const { return in_; }
    NumberField* out() const { return out_; }
    QToolButton* straighten_button() const { return straighten_; }

signals:
    void changed(const QString& id, const loom::CurvePoints& points, const QString& gesture);

private:
    struct Curve {
        QString id;
        QColor line;
        CurvePoints points = straight_curve();
        Histogram histogram;
        std::optional<Histogram> reference;
    };
    void show_chosen();

    std::vector<Curve> curves_;
    std::size_t shown_ = 0;
    QHBoxLayout* chips_line_;
    QButtonGroup* chips_;
    CurveArea* area_;
    NumberField *in_, *out_;
    QToolButton *add_, *remove_, *straighten_;
    bool updating_ = false;
    GestureSource gestures_;
};

}  // namespace loom
