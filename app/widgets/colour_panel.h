// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Chooses a colour: lightness and chroma of one hue as a field (OKLCh), by numbers of sRGB and of OKLCh, by its code, or with a
// dropper from anything in the window. It leaves the window usable, so that the cloth can be watched and picked from.
#pragma once

#include <QDialog>
#include <QImage>

#include "app/widgets/number_edit.h"
#include "core/colour/colour.h"

class QLineEdit;
class QPushButton;

namespace loom {

class NumberField;

/// All lightnesses and chromas of a hue that a screen can show, and a strip of hues.
class ColourField : public QWidget {
    Q_OBJECT
public:
    explicit ColourField(QWidget* parent = nullptr);
    void set_colour(const Lch& colour);
    const Lch& colour() const { return colour_; }
    QSize sizeHint() const override { return {292, 200}; }
    /// Where a colour of the hue on show lies, for tests.
    QPoint place_of(double lightness, double chroma) const;
    QRect hues() const;

signals:
    void picked(const loom::Lch& colour);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    QRect field() const;
    void take(const QPoint& place);

    Lch colour_;
    QImage painted_;
    float painted_hue_ = -10;
    double most_chroma_ = 0.34;  ///< at the field's right edge
    bool in_hues_ = false;
};

class ColourPanel : public QDialog {
    Q_OBJECT
public:
    ColourPanel(const Colour& colour, QWidget* parent);

    const Colour& colour() const { return colour_; }
    ColourField* field() const { return field_; }
    /// Red, green, blue (0 to 255), lightness (%), chroma, hue (degrees).
    NumberField* number(int index) const { return numbers_[index]; }
    QLineEdit* code() const { return code_; }
    QPushButton* dropper() const { return dropper_; }

signals:
    void changed(const loom::Colour& colour, const QString& gesture);

protected:
    void done(int result) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void set(const Colour& colour);
    /// Of lightness, chroma and hue, drawn into what a screen can show.
    void set(const Lch& colour);
    void show_colour();
    void drop(bool on);

    Colour colour_, before_;
    /// As it was asked for: hue and chroma are not lost on black, white and grey.
    Lch lch_;
    ColourField* field_;
    NumberField* numbers_[6];
    QLineEdit* code_;
    QPushButton* dropper_;
    QWidget* swatches_;
    bool updating_ = false;
    GestureSource gestures_;
};

}  // namespace loom
