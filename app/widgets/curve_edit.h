// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Curves through points that are dragged, one for each channel, over the histogram of what comes in; every point has its numbers.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "app/widgets/tone_field.h"

class QButtonGroup;
class QHBoxLayout;
class QToolButton;

namespace loom {

class NumberField;

/// The field itself; points are added to the line and taken away again.
class CurveArea : public ToneField {
    Q_OBJECT
public:
    explicit CurveArea(QWidget* parent = nullptr);

    void set_points(const CurvePoints& points);
    const CurvePoints& points() const { return points_; }
    /// Moves it as far as its neighbours allow.
    void move_chosen(const CurvePoint& to, const QString& gesture) { move_handle(chosen(), to, gesture); }
    void add_at(double in);
    /// All but the last two can go.
    void remove_chosen();

signals:
    void changed(const loom::CurvePoints& points, const QString& gesture);

protected:
    CurvePoints handles() const override { return points_; }
    double out(double in) const override;
    void move_handle(int handle, const CurvePoint& to, const QString& gesture) override;
    bool press_beside(double in) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    CurvePoints points_ = straight_curve();
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
