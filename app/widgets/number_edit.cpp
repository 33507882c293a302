// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/number_edit.h"

#include <QHBoxLayout>
#include <QSignalBlocker>
#include <algorithm>
#include <cmath>

#include "app/widgets/direction_dial.h"
#include "app/widgets/number_field.h"

namespace loom {

namespace {

constexpr int slider_steps = 1000;
constexpr int key_run_ms = 900;

QString suffix(Unit unit) {
    switch (unit) {
        case Unit::px: return " px";
        case Unit::percent: return " %";
        case Unit::degrees: return "°";
        case Unit::stops: return QObject::tr(" stops");
        case Unit::tone:
        case Unit::none: break;
    }
    return {};
}

}  // namespace

bool is_direction(const Parameter& p) { return p.unit == Unit::degrees && p.min <= -360 && p.max == -p.min && p.max <= 360; }

double shown_factor(const Parameter& p) { return p.unit == Unit::tone ? 255 : 1; }

void suit_field(QDoubleSpinBox* field, const Parameter& p) {
    const double factor = shown_factor(p), span = p.slider_max - p.slider_min;
    const bool whole = p.kind == Kind::count || p.unit == Unit::tone;
    field->setRange(p.min * factor, p.max * factor);
    field->setDecimals(whole ? 0 : span <= 20 ? 2 : 1);
    field->setSingleStep(whole ? 1 : span <= 20 ? 0.05 : 1);
    field->setSuffix(suffix(p.unit));
}

QString GestureSource::begin() {
    static int count = 0;
    dragging_ = true;
    last_.restart();
    return name_ = QString("gesture-%1").arg(++count);
}

QString GestureSource::current() {
    if (dragging_) return name_;
    if (!last_.isValid() || last_.elapsed() > key_run_ms) {
        begin();
        dragging_ = false;
    }
    last_.restart();
    return name_;
}

NumberEdit::NumberEdit(const Parameter& p, const QString& accessible_name, QWidget* parent)
    : QWidget(parent),
      min_(p.min),
      max_(p.max),
      slider_min_(p.slider_min),
      slider_max_(p.slider_max),
      shown_factor_(shown_factor(p)),
      whole_(p.kind == Kind::count),
      root_(p.scale == Scale::root && p.slider_min >= 0) {
    auto* slider = new NumberSlider(this);
    slider_ = slider;
    slider_->setRange(0, slider_steps);
    slider_->setPageStep(slider_steps / 10);
    slider_->setSingleStep(slider_steps / 100);
    slider_->setAccessibleName(accessible_name);
    auto* field = new NumberField(this);
    field_ = field;
    connect(slider, &NumberSlider::fine_step, field, &NumberField::move_by);
    suit_field(field_, p);
    field_->setFixedWidth(84);
    field_->setAccessibleName(accessible_name);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(12);
    if (is_direction(p)) {
        dial_ = new DirectionDial(min_, max_, this);
        dial_->setAccessibleName(tr("%1, as a hand on a round").arg(accessible_name));
        layout->addWidget(dial_);
        connect(dial_, &DirectionDial::turn_began, this, [this] { gestures_.begin(); });
        connect(dial_, &DirectionDial::turn_ended, this, [this] { gestures_.end(); });
        connect(dial_, &DirectionDial::turned, this, [this](double degrees) {
            value_ = degrees;
            show_value();
            emit changed(value_, gestures_.current());
        });
    }
    layout->addWidget(slider_, 1);
    layout->addWidget(field_);

    connect(slider_, &QSlider::sliderPressed, this, [this] { gestures_.begin(); });
    connect(slider_, &QSlider::sliderReleased, this, [this] { gestures_.end(); });
    connect(slider_, &QSlider::valueChanged, this, [this](int position) {
        if (updating_) return;
        value_ = from_slider(position);
        show_value();
        emit changed(value_, gestures_.current());
    });
    connect(field_, &QDoubleSpinBox::valueChanged, this, [this](double shown) {
        if (updating_) return;
        value_ = std::clamp(shown / shown_factor_, min_, max_);
        show_value();
        emit changed(value_, gestures_.current());
    });
}

void NumberEdit::set_value(double value) {
    // A value between two positions of the slider must not be pulled onto one of them.
    value_ = value;
    show_value();
}

void NumberEdit::show_value() {
    updating_ = true;
    if (!slider_->isSliderDown()) slider_->setValue(static_cast<int>(std::lround(share() * slider_steps)));
    if (dial_) dial_->set_degrees(value_);
    // Digits that somebody is typing are left alone.
    if (!field_->hasFocus() || std::abs(field_->value() - value_ * shown_factor_) > 1e-9)
        field_->setValue(value_ * shown_factor_);
    updating_ = false;
}

double NumberEdit::at_share(double share) const {
    if (root_) share *= share;
    const double value = slider_min_ + share * (slider_max_ - slider_min_);
    if (whole_) return std::round(value);
    // Two or three digits are what a hand can place.
    const double grain = std::pow(10.0, std::floor(std::log10(std::max(1e-6, slider_max_ - slider_min_))) - 2);
    const double fine = root_ && value < slider_min_ + 0.1 * (slider_max_ - slider_min_) ? grain / 10 : grain;
    return std::clamp(std::round(value / fine) * fine, min_, max_);
}

double NumberEdit::share() const {
    const double share = std::clamp((value_ - slider_min_) / std::max(1e-9, slider_max_ - slider_min_), 0.0, 1.0);
    return root_ ? std::sqrt(share) : share;
}

Parameter percent_parameter(std::string_view title) {
    Parameter p;
    p.id = "amount", p.title = title;
    p.unit = Unit::percent, p.max = 100, p.slider_max = 100;
    p.fallback = 100.0;
    return p;
}

}  // namespace loom
