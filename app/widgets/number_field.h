// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A field for a number and a slider. In the field one can calculate; in both, arrow keys move by a step, with Shift by ten of
// them and with Ctrl by a tenth. The wheel changes them only while they have the keyboard, as it belongs to the form around them.
#pragma once

#include <QDoubleSpinBox>
#include <QSlider>
#include <optional>

namespace loom {

class NumberField : public QDoubleSpinBox {
    Q_OBJECT
public:
    explicit NumberField(QWidget* parent = nullptr);

    /// So many single steps or tenths of them on; none is finer than what is shown.
    void move_by(double steps);
    QValidator::State validate(QString& text, int& place) const override;
    double valueFromText(const QString& text) const override;

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    std::optional<double> read(const QString& text) const;
    /// Says so where what was typed goes beyond the ends.
    void say_limits();
};

class NumberSlider : public QSlider {
    Q_OBJECT
public:
    explicit NumberSlider(QWidget* parent = nullptr);

signals:
    /// A tenth of a step, which may be less than a place of the slider.
    void fine_step(double steps);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
};

}  // namespace loom
