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

class NumberEdit : public QWidget {
    Q_OBJECT
public:
    NumberEdit(const Parameter& parameter, const QString& accessible_name, QWidget* parent = nullptr);

    void set_value(double value);
    double value() const { return value_; }
    QSlider* slider() const { return slider_; }
    QDoubleSpinBox* field() const { return field_; }

signals:
    /// Changes with the same gesture belong to one drag.
    void changed(double value, const QString& gesture);

private:
    double from_slider(int position) const;
    int to_slider(double value) const;
    void show_value();

    double min_, max_, slider_min_, slider_max_, shown_factor_;
    bool whole_, root_;
    double value_ = 0;
    bool updating_ = false;
    GestureSource gestures_;
    QSlider* slider_;
    QDoubleSpinBox* field_;
};

/// A plain percentage as a parameter, for amounts that are not a step's own.
Parameter percent_parameter(std::string_view title);

}  // namespace loom
