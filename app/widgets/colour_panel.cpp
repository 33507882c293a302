// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/colour_panel.h"

#include <QApplication>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/number_field.h"
#include "core/colour/gamut.h"

namespace loom {

namespace {

constexpr double turn = 6.283185307179586;
constexpr int hue_width = 22, hue_gap = 10;

double degrees_of(float hue) {
    const double degrees = static_cast<double>(hue) * 360 / turn;
    return degrees - 360 * std::floor(degrees / 360);
}

bool on_screen(const Lch& colour) {
    const Colour c = linear_from_oklab(from_lch(colour));
    return std::min({c.red, c.green, c.blue}) >= -1e-6f && std::max({c.red, c.green, c.blue}) <= 1.00001f;
}

/// The greatest that a screen can show of a hue, at whatever lightness, to a hundredth.
double most_chroma_of(float hue) {
    double most = 0.01;
    for (int k = 1; k < 100; ++k)
        while (most < 0.4 && on_screen({static_cast<float>(k) / 100, static_cast<float>(most), hue})) most += 0.005;
    return most;
}

/// The present colour over the one before.
class Swatches : public QWidget {
public:
    Swatches(const Colour& now, const Colour& before, QWidget* parent) : QWidget(parent), now_(now), before_(before) {
        setFixedSize(72, 52);
        setToolTip(ColourPanel::tr("Above the new colour, below the one before"));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.fillRect(QRect(0, 0, width(), height() / 2), to_qcolor(now_));
        painter.fillRect(QRect(0, height() / 2, width(), height() - height() / 2), to_qcolor(before_));
        painter.setPen(theme::colours().line);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }

private:
    const Colour &now_, &before_;
};

}  // namespace

ColourField::ColourField(QWidget* parent) : QWidget(parent) {
    setMinimumSize(sizeHint());
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Lightness and chroma of the hue"));
    setToolTip(
        tr("Across chroma, up lightness, beside it the hues. Arrow keys move in the field, Page Up and Page Down turn the hue."));
}

QRect ColourField::field() const { return {0, 0, width() - hue_width - hue_gap, height()}; }
QRect ColourField::hues() const { return {width() - hue_width, 0, hue_width, height()}; }

QPoint ColourField::place_of(double lightness, double chroma) const {
    const QRect area = field();
    return {area.left() + static_cast<int>(chroma / most_chroma_ * (area.width() - 1)),
            area.bottom() - static_cast<int>(lightness * (area.height() - 1))};
}

void ColourField::set_colour(const Lch& colour) {
    if (colour.hue != colour_.hue) most_chroma_ = most_chroma_of(colour.hue);
    colour_ = colour;
    update();
}

void ColourField::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    const QRect area = field(), strip = hues();
    if (painted_.size() != area.size() || painted_hue_ != colour_.hue) {
        painted_ = QImage(area.size(), QImage::Format_RGB32);
        painted_hue_ = colour_.hue;
        for (int y = 0; y < area.height(); ++y)
            for (int x = 0; x < area.width(); ++x) {
                const Lch here{1 - static_cast<float>(y) / static_cast<float>(area.height() - 1),
                               static_cast<float>(most_chroma_ * x / (area.width() - 1)), colour_.hue};
                painted_.setPixelColor(x, y, on_screen(here) ? to_qcolor(from_oklab(from_lch(here))) : c.panel);
            }
    }
    painter.drawImage(area.topLeft(), painted_);
    for (int y = 0; y < strip.height(); ++y) {
        const auto hue = static_cast<float>(turn * (1 - static_cast<double>(y) / (strip.height() - 1)));
        painter.fillRect(strip.left(), strip.top() + y, strip.width(), 1, to_qcolor(into_gamut(Lch{0.7f, 0.14f, hue})));
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(hasFocus() ? c.accent : c.line, 1));
    painter.drawRect(QRectF(area).adjusted(0.5, 0.5, -0.5, -0.5));
    const QPointF at = place_of(static_cast<double>(colour_.lightness), static_cast<double>(colour_.chroma));
    const double hue = 1 - degrees_of(colour_.hue) / 360;
    const QPointF side(strip.center().x() + 0.5, strip.top() + hue * (strip.height() - 1));
    for (const auto& [pen, radius] : {std::pair{QPen(QColor(0, 0, 0, 170), 3), 6.0}, std::pair{QPen(Qt::white, 1.6), 6.0}}) {
        painter.setPen(pen);
        painter.drawEllipse(at, radius, radius);
        painter.drawLine(QPointF(strip.left(), side.y()), QPointF(strip.right() + 1, side.y()));
    }
}

void ColourField::take(const QPoint& place) {
    const QRect area = field(), strip = hues();
    const auto share = [](int at, int from, int length) {
        return std::clamp(static_cast<double>(at - from) / (length - 1), 0.0, 1.0);
    };
    Lch next = colour_;
    if (in_hues_) {
        next.hue = static_cast<float>(turn * (1 - share(place.y(), strip.top(), strip.height())));
    } else {
        next.lightness = static_cast<float>(1 - share(place.y(), area.top(), area.height()));
        next.chroma = static_cast<float>(most_chroma_ * share(place.x(), area.left(), area.width()));
    }
    emit picked(next);
}

void ColourField::mousePressEvent(QMouseEvent* event) {
    in_hues_ = event->pos().x() > field().right() + hue_gap / 2;
    take(event->pos());
}

void ColourField::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) take(event->pos());
}

void ColourField::keyPressEvent(QKeyEvent* event) {
    const float step = event->modifiers() & Qt::ShiftModifier ? 0.1f : 0.01f;
    Lch next = colour_;
    switch (event->key()) {
        case Qt::Key_Left: next.chroma -= step * static_cast<float>(most_chroma_); break;
        case Qt::Key_Right: next.chroma += step * static_cast<float>(most_chroma_); break;
        case Qt::Key_Up: next.lightness += step; break;
        case Qt::Key_Down: next.lightness -= step; break;
        case Qt::Key_PageUp: next.hue += step * static_cast<float>(turn); break;
        case Qt::Key_PageDown: next.hue -= step * static_cast<float>(turn); break;
        default: return QWidget::keyPressEvent(event);
    }
    next.chroma = std::clamp(next.chroma, 0.0f, static_cast<float>(most_chroma_));
    next.lightness = std::clamp(next.lightness, 0.0f, 1.0f);
    emit picked(next);
}

ColourPanel::ColourPanel(const Colour& colour, QWidget* parent)
    : QDialog(parent), colour_(colour), before_(colour), lch_(to_lch(to_oklab(colour))) {
    setWindowTitle(tr("Colour"));
    setAttribute(Qt::WA_DeleteOnClose);
    gestures_.begin();
    field_ = new ColourField(this);
    swatches_ = new Swatches(colour_, before_, this);
    code_ = new QLineEdit(this);
    code_->setAccessibleName(tr("Code"));
    code_->setFixedWidth(84);
    dropper_ = new QPushButton(tr("From the window"), this);
    dropper_->setCheckable(true);
    dropper_->setToolTip(
        tr("Takes the colour of the next place that is clicked: on the cloth, on a picture, anywhere in the window"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(6);
    const struct {
        QString name;
        double most;
        int digits;
        double step;
        QString suffix;
    } shown[] = {{tr("Red"), 255, 0, 1, {}},       {tr("Green"), 255, 0, 1, {}},
                 {tr("Blue"), 255, 0, 1, {}},      {tr("Lightness"), 100, 1, 1, " %"},
                 {tr("Chroma"), 0.4, 3, 0.01, {}}, {tr("Hue"), 360, 1, 1, QString::fromUtf8("°")}};
    for (int k = 0; k < 6; ++k) {
        auto* number = new NumberField(this);
        number->setRange(0, shown[k].most);
        number->setDecimals(shown[k].digits);
        number->setSingleStep(shown[k].step);
        number->setSuffix(shown[k].suffix);
        number->setFixedWidth(72);
        number->setAccessibleName(shown[k].name);
        auto* label = new QLabel(shown[k].name, this);
        label->setBuddy(number);
        grid->addWidget(label, k % 3, k / 3 * 2);
        grid->addWidget(number, k % 3, k / 3 * 2 + 1);
        numbers_[k] = number;
        connect(number, &QDoubleSpinBox::valueChanged, this, [this, k] {
            if (updating_) return;
            const auto of = [this](int index) { return static_cast<float>(numbers_[index]->value()); };
            if (k < 3)
                set(Colour{of(0) / 255, of(1) / 255, of(2) / 255});
            else
                set(Lch{of(3) / 100, of(4), static_cast<float>(numbers_[5]->value() / 360 * turn)});
        });
    }
    auto* side = new QVBoxLayout;
    side->addWidget(swatches_);
    side->addWidget(code_);
    side->addStretch(1);
    auto* numbers = new QHBoxLayout;
    numbers->addLayout(grid);
    numbers->addSpacing(12);
    numbers->addLayout(side);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    for (QAbstractButton* each : buttons->buttons()) each->setIcon({});
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Keep it"));
    buttons->button(QDialogButtonBox::Cancel)->setText(tr("As before"));
    auto* foot = new QHBoxLayout;
    foot->addWidget(dropper_);
    foot->addStretch(1);
    foot->addWidget(buttons);
    auto* stack = new QVBoxLayout(this);
    stack->setSpacing(12);
    stack->addWidget(field_, 1);
    stack->addLayout(numbers);
    stack->addLayout(foot);
    connect(field_, &ColourField::picked, this, [this](const Lch& picked) { set(picked); });
    connect(code_, &QLineEdit::editingFinished, this, [this] {
        // What is no code gives way to the colour that is there.
        if (const auto parsed = parse_colour(code_->text().trimmed().toStdString()); parsed && *parsed != colour_)
            set(*parsed);
        else
            show_colour();
    });
    connect(dropper_, &QPushButton::toggled, this, &ColourPanel::drop);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    show_colour();
}

void ColourPanel::set(const Colour& colour) {
    colour_ = colour;
    const Lch next = to_lch(to_oklab(colour));
    // Greys have no hue: the one that was there stays, and can be gone on from.
    lch_ = {next.lightness, next.chroma, next.chroma < 1e-3f ? lch_.hue : next.hue};
    show_colour();
    emit changed(colour_, gestures_.current());
}

void ColourPanel::set(const Lch& colour) {
    lch_ = colour;
    colour_ = into_gamut(colour);
    show_colour();
    emit changed(colour_, gestures_.current());
}

void ColourPanel::show_colour() {
    updating_ = true;
    const double values[] = {255 * static_cast<double>(colour_.red),  255 * static_cast<double>(colour_.green),
                             255 * static_cast<double>(colour_.blue), 100 * static_cast<double>(lch_.lightness),
                             static_cast<double>(lch_.chroma),        degrees_of(lch_.hue)};
    for (int k = 0; k < 6; ++k)
        if (!numbers_[k]->hasFocus()) numbers_[k]->setValue(values[k]);
    if (!code_->hasFocus() || !code_->isModified()) code_->setText(QString::fromStdString(write_colour(colour_)));
    field_->set_colour(lch_);
    swatches_->update();
    updating_ = false;
}

void ColourPanel::drop(bool on) {
    if (on) {
        qApp->installEventFilter(this);
        QApplication::setOverrideCursor(Qt::CrossCursor);
    } else {
        qApp->removeEventFilter(this);
        QApplication::restoreOverrideCursor();
    }
}

bool ColourPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        dropper_->setChecked(false);
        return true;
    }
    auto* widget = qobject_cast<QWidget*>(watched);
    if (event->type() != QEvent::MouseButtonPress || !widget || widget == dropper_) return QDialog::eventFilter(watched, event);
    // The mean of a few pixels, so that one grain does not decide.
    const QPoint place = static_cast<QMouseEvent*>(event)->pos();
    const QImage around = widget->grab(QRect(place - QPoint(1, 1), QSize(3, 3))).toImage();
    double sums[3] = {};
    for (int y = 0; y < around.height(); ++y)
        for (int x = 0; x < around.width(); ++x) {
            const QColor pixel = around.pixelColor(x, y);
            sums[0] += pixel.redF(), sums[1] += pixel.greenF(), sums[2] += pixel.blueF();
        }
    const double count = std::max(1, around.width() * around.height());
    dropper_->setChecked(false);
    set(Colour{static_cast<float>(sums[0] / count), static_cast<float>(sums[1] / count), static_cast<float>(sums[2] / count)});
    return true;
}

void ColourPanel::done(int result) {
    dropper_->setChecked(false);
    if (result == Rejected && colour_ != before_) {
        colour_ = before_;
        emit changed(colour_, gestures_.current());
    }
    QDialog::done(result);
}

}  // namespace loom
