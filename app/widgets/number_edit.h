// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A slider and a number field for one value.
#pragma once

#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QSlider>
#include <QWidget>

#include "core/catalogue/description.h"

namespace loom {

/// Names runs of changes that undo takes back together: one drag of a slider, or keys struck in quick succession.
class GestureSource {
public:
    QString begin();  ///< a new drag
    void end() { dragging_ = false; }
    QString current();  ///< the drag, or the run of keys

private:
    QString name_;
    bool dragging_ = false;
    QElapsedTimer last_;
};

class DirectionDial;

/// Whether it is an angle that may go all the way round.
bool is_direction(const Parameter& parameter);

/// A number as people read it is so many times what files hold: tones count to 255.
double shown_factor(const Parameter& parameter);
/// Range, digits, steps and unit of a field for such a number.
void suit_field(QDoubleSpinBox* field, const Parameter& parameter);

class NumberEdit : public QWidget {
    Q_OBJECT
public:
    NumberEdit(const Parameter& parameter, const QString& accessible_name, QWidget* parent = nullptr);

    void set_value(double value);
    double value() const { return value_; }
    QSlider* slider() const { return slider_; }
    QDoubleSpinBox* field() const { return field_; }
    /// Beside the slider where the number is a direction; else null.
    DirectionDial* dial() const { return dial_; }
    /// Where on the slider the value stands, 0..1, and the value at such a place.
    double share() const;
    double at_share(double share) const;

signals:
    /// Changes with the same gesture belong to one drag.
    void changed(double value, const QString& gesture);

private:
    double from_slider(int position) const { return at_share(static_cast<double>(position) / slider()->maximum()); }
    void show_value();

    double min_, max_, slider_min_, slider_max_, shown_factor_;
    bool whole_, root_;
    double value_ = 0;
    bool updating_ = false;
    GestureSource gestures_;
    QSlider* slider_;
    QDoubleSpinBox* field_;
    DirectionDial* dial_ = nullptr;
};

/// A plain percentage as a parameter, for amounts that are not a step's own.
Parameter percent_parameter(std::string_view title);

}  // namespace loom
