// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/number_field.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "core/base/arithmetic.h"

namespace loom {

namespace {

/// Steps that an arrow key with its modifiers stands for; 0 for other keys.
double steps_of(const QKeyEvent& event, bool sideways) {
    double steps = 0;
    if (event.key() == Qt::Key_Up || (sideways && event.key() == Qt::Key_Right)) steps = 1;
    if (event.key() == Qt::Key_Down || (sideways && event.key() == Qt::Key_Left)) steps = -1;
    const Qt::KeyboardModifiers held = event.modifiers() & ~Qt::KeypadModifier;
    if (held == Qt::ShiftModifier) return 10 * steps;
    if (held == Qt::ControlModifier) return steps / 10;
    return held == Qt::NoModifier ? steps : 0;
}

}  // namespace

NumberField::NumberField(QWidget* parent) : QDoubleSpinBox(parent) {
    setButtonSymbols(QAbstractSpinBox::NoButtons);
    setAlignment(Qt::AlignRight);
    setKeyboardTracking(false);
    setFocusPolicy(Qt::StrongFocus);
}

std::optional<double> NumberField::read(const QString& text) const {
    QString bare = text;
    if (!suffix().isEmpty() && bare.endsWith(suffix())) bare.chop(suffix().size());
    return calculated(bare.trimmed().toStdString(), value());
}

QValidator::State NumberField::validate(QString& text, int&) const {
    QString bare = text;
    if (!suffix().isEmpty()) bare.remove(suffix().trimmed());
    for (const QChar each : bare)
        if (!QString("0123456789.,+-*/() ").contains(each)) return QValidator::Invalid;
    return read(text) ? QValidator::Acceptable : QValidator::Intermediate;
}

double NumberField::valueFromText(const QString& text) const {
    return std::clamp(read(text).value_or(value()), minimum(), maximum());
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    const double steps = steps_of(*event, false);
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) say_limits();
    if (steps == 0) return QDoubleSpinBox::keyPressEvent(event);
    // What was typed counts first.
    interpretText();
    move_by(steps);
    selectAll();
}

void NumberField::focusOutEvent(QFocusEvent* event) {
    say_limits();
    QDoubleSpinBox::focusOutEvent(event);
}

void NumberField::say_limits() {
    const auto wanted = read(lineEdit()->text());
    if (!wanted || (*wanted >= minimum() && *wanted <= maximum())) return;
    const auto shown = [this](double value) { return textFromValue(value) + suffix(); };
    QToolTip::showText(
        mapToGlobal(QPoint(0, height())),
        *wanted > maximum() ? tr("It goes up to %1.").arg(shown(maximum())) : tr("It goes down to %1.").arg(shown(minimum())),
        this);
}

void NumberField::move_by(double steps) {
    const double least = std::pow(10.0, -decimals());
    setValue(value() + std::copysign(std::max(std::abs(steps) * singleStep(), least), steps));
}

void NumberField::wheelEvent(QWheelEvent* event) {
    if (hasFocus())
        QDoubleSpinBox::wheelEvent(event);
    else
        event->ignore();
}

NumberSlider::NumberSlider(QWidget* parent) : QSlider(Qt::Horizontal, parent) { setFocusPolicy(Qt::StrongFocus); }

void NumberSlider::keyPressEvent(QKeyEvent* event) {
    const double steps = steps_of(*event, true);
    if (steps == 0) return QSlider::keyPressEvent(event);
    if (std::abs(steps) < 1) return emit fine_step(steps);
    setValue(value() + static_cast<int>(std::lround(steps * singleStep())));
}

void NumberSlider::wheelEvent(QWheelEvent* event) {
    if (hasFocus())
        QSlider::wheelEvent(event);
    else
        event->ignore();
}

}  // namespace loom
