// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/curve_edit.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/number_field.h"
#include "core/structures/tone_curve.h"

namespace loom {

namespace {

constexpr std::size_t most_points = 64;

double to_tone(double share) { return std::round(share * 255) / 255; }

}  // namespace

CurveArea::CurveArea(QWidget* parent) : ToneField(parent) {
    setMinimumHeight(150);
    setAccessibleName(tr("Curve"));
    setToolTip(
        tr("Click the curve to add a point; drag points; Delete removes the chosen one, Up, Down, Left and Right move it, "
           "Page Up and Page Down choose another."));
}

void CurveArea::set_points(const CurvePoints& points) {
    if (held() || points == points_) return;
    points_ = points;
    set_chosen(std::clamp(chosen(), 0, static_cast<int>(points_.size()) - 1));
    update();
    emit chosen_changed();
}

double CurveArea::out(double in) const { return ToneCurve(points_).exactly(in); }

void CurveArea::move_handle(int handle, const CurvePoint& to, const QString& gesture) {
    const auto k = static_cast<std::size_t>(handle);
    const double low = k == 0 ? 0 : points_[k - 1].in + tone_step,
                 high = k + 1 == points_.size() ? 1 : points_[k + 1].in - tone_step;
    points_[k] = {low > high ? points_[k].in : std::clamp(to.in, low, high), std::clamp(to.out, 0.0, 1.0)};
    update();
    emit changed(points_, gesture);
    emit chosen_changed();
}

bool CurveArea::press_beside(double in) {
    add_at(in);
    return true;
}

void CurveArea::add_at(double in) {
    if (points_.size() >= most_points) return;
    const auto above = std::upper_bound(points_.begin(), points_.end(), in,
                                        [](double value, const CurvePoint& point) { return value < point.in; });
    const bool room = (above == points_.end() || above->in - in >= tone_step) &&
                      (above == points_.begin() || in - std::prev(above)->in >= tone_step);
    if (!room) return;
    // A new point lies where the curve goes anyway.
    const double out = ToneCurve(points_).exactly(in);
    set_chosen(static_cast<int>(above - points_.begin()));
    points_.insert(above, {in, out});
    update();
    emit changed(points_, gestures().current());
    emit chosen_changed();
}

void CurveArea::remove_chosen() {
    if (points_.size() <= 2) return;
    points_.erase(points_.begin() + chosen());
    set_chosen(std::min(chosen(), static_cast<int>(points_.size()) - 1));
    update();
    emit changed(points_, gestures().current());
    emit chosen_changed();
}

bool CurveArea::event(QEvent* event) {
    // Here Delete takes a point away, not the step.
    if (event->type() == QEvent::ShortcutOverride)
        if (const int key = static_cast<QKeyEvent*>(event)->key(); key == Qt::Key_Delete || key == Qt::Key_Backspace)
            event->accept();
    return ToneField::event(event);
}

void CurveArea::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Insert: {
            const auto k = static_cast<std::size_t>(std::min(chosen(), static_cast<int>(points_.size()) - 2));
            return add_at(to_tone((points_[k].in + points_[k + 1].in) / 2));
        }
        case Qt::Key_Delete:
        case Qt::Key_Backspace: return remove_chosen();
        default: return ToneField::keyPressEvent(event);
    }
}

CurveEdit::CurveEdit(QWidget* parent) : QWidget(parent) {
    area_ = new CurveArea(this);
    chips_ = new QButtonGroup(this);
    chips_line_ = new QHBoxLayout;
    chips_line_->setSpacing(4);
    chips_line_->addStretch(1);
    const auto field = [this](const QString& name) {
        auto* made = new NumberField(this);
        made->setRange(0, 255);
        made->setDecimals(0);
        made->setFixedWidth(52);
        made->setAccessibleName(name);
        return made;
    };
    in_ = field(tr("Tone that comes in at the point"));
    out_ = field(tr("Tone that goes out at the point"));
    const auto button = [this](const QString& text, const QString& help) {
        auto* made = new QToolButton(this);
        made->setText(text);
        made->setToolTip(help);
        made->setFocusPolicy(Qt::StrongFocus);
        return made;
    };
    add_ = button(tr("Add"), tr("One more point, in the widest gap"));
    remove_ = button(tr("Remove"), tr("Removes the chosen point"));
    straighten_ = button(tr("Straighten"), tr("This curve as it was at first"));
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    for (auto [text, edit] : {std::pair{tr("In"), in_}, std::pair{tr("Out"), out_}}) {
        auto* label = new QLabel(text, this);
        label->setBuddy(edit);
        line->addWidget(label);
        line->addWidget(edit);
    }
    line->addStretch(1);
    for (QToolButton* each : {add_, remove_, straighten_}) line->addWidget(each);
    auto* stack = new QVBoxLayout(this);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->setSpacing(5);
    stack->addLayout(chips_line_);
    stack->addWidget(area_, 1);
    stack->addLayout(line);

    connect(chips_, &QButtonGroup::idClicked, this, [this](int id) { show_curve(static_cast<std::size_t>(id)); });
    connect(area_, &CurveArea::chosen_changed, this, &CurveEdit::show_chosen);
    connect(area_, &CurveArea::changed, this, [this](const CurvePoints& points, const QString& gesture) {
        Curve& own = curves_[shown_];
        own.points = points;
        emit changed(own.id, points, gesture);
    });
    for (NumberField* each : {in_, out_})
        connect(each, &QDoubleSpinBox::valueChanged, this, [this] {
            if (!updating_) area_->move_chosen({in_->value() / 255, out_->value() / 255}, gestures_.current());
        });
    connect(add_, &QToolButton::clicked, this, [this] {
        const CurvePoints& points = area_->points();
        double place = 0.5, widest = 0;
        for (std::size_t k = 0; k + 1 < points.size(); ++k)
            if (const double gap = points[k + 1].in - points[k].in; gap > widest)
                widest = gap, place = to_tone((points[k].in + points[k + 1].in) / 2);
        area_->add_at(place);
    });
    connect(remove_, &QToolButton::clicked, area_, &CurveArea::remove_chosen);
    connect(straighten_, &QToolButton::clicked, this, [this] {
        area_->set_points(straight_curve());
        curves_[shown_].points = straight_curve();
        emit changed(curves_[shown_].id, straight_curve(), gestures_.current());
    });
}

void CurveEdit::add_curve(const QString& id, const QString& title, const QColor& line) {
    auto* chip = new QPushButton(title, this);
    chip->setCheckable(true);
    chip->setProperty("chip", true);
    chip->setFont(theme::small_font());
    chip->setAccessibleName(tr("Curve %1").arg(title));
    chips_->addButton(chip, static_cast<int>(curves_.size()));
    chips_line_->insertWidget(static_cast<int>(curves_.size()), chip);
    curves_.push_back({id, line, straight_curve(), {}, {}});
    if (curves_.size() == 1) show_curve(0);
}

void CurveEdit::set_points(const QString& id, const CurvePoints& points) {
    for (std::size_t k = 0; k < curves_.size(); ++k) {
        if (curves_[k].id != id) continue;
        curves_[k].points = points;
        // A dot says which curves are bent, whichever is on show.
        QAbstractButton* chip = chips_->button(static_cast<int>(k));
        const QString title = chip->text().remove(QString::fromUtf8(" •"));
        chip->setText(points == straight_curve() ? title : title + QString::fromUtf8(" •"));
        if (k == shown_) area_->set_points(points);
    }
    show_chosen();
}

void CurveEdit::set_histogram(std::size_t index, const Histogram& histogram) {
    if (index >= curves_.size()) return;
    curves_[index].histogram = histogram;
    if (index == shown_) area_->set_histogram(histogram);
}

void CurveEdit::set_reference(std::size_t index, const std::optional<Histogram>& histogram) {
    if (index >= curves_.size()) return;
    curves_[index].reference = histogram;
    if (index == shown_) area_->set_reference(histogram);
}

void CurveEdit::show_curve(std::size_t index) {
    shown_ = index;
    chips_->button(static_cast<int>(index))->setChecked(true);
    const Curve& own = curves_[index];
    area_->set_line(own.line);
    area_->set_histogram(own.histogram);
    area_->set_reference(own.reference);
    area_->set_points(own.points);
    show_chosen();
}

void CurveEdit::show_chosen() {
    if (curves_.empty()) return;
    updating_ = true;
    const CurvePoint& point = area_->points()[static_cast<std::size_t>(area_->chosen())];
    if (!in_->hasFocus()) in_->setValue(point.in * 255);
    if (!out_->hasFocus()) out_->setValue(point.out * 255);
    remove_->setEnabled(area_->points().size() > 2);
    straighten_->setEnabled(area_->points() != straight_curve());
    updating_ = false;
}

}  // namespace loom
