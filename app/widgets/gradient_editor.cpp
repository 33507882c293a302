// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/gradient_editor.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/base/hash.h"
#include "core/recipe/ramps.h"

namespace loom {

namespace {
constexpr int ramp_height = 24, margin = 8, pull_off = 34;
}

GradientStrip::GradientStrip(QWidget* parent) : QWidget(parent) {
    setFixedHeight(46);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Click the ramp to add a stop; drag stops along it, or away from it to remove them."));
}

void GradientStrip::set_stops(const Stops& stops, Interpolation interpolation) {
    if (held_) return;  // what is being dragged is the newest there is
    stops_ = stops;
    interpolation_ = interpolation;
    chosen_ = std::clamp(chosen_, 0, std::max(0, static_cast<int>(stops_.size()) - 1));
    update();
}

void GradientStrip::choose(int index) {
    if (index < 0 || index >= static_cast<int>(stops_.size())) return;
    chosen_ = index;
    update();
    emit chosen_changed();
}

QRect GradientStrip::ramp_area() const { return {margin, 0, width() - 2 * margin, ramp_height}; }

double GradientStrip::place_at(int x) const {
    const QRect area = ramp_area();
    return std::clamp(std::round((x - area.left()) * 1000.0 / area.width()) / 1000.0, 0.0, 1.0);
}

QPoint GradientStrip::stop_place(int index) const {
    const QRect area = ramp_area();
    return {area.left() + static_cast<int>(std::lround(stops_[static_cast<std::size_t>(index)].place * area.width())),
            area.bottom() + 11};
}

QImage ramp_image(const Stops& stops, Interpolation interpolation, const QSize& size) {
    const Ramp ramp(stops, interpolation);
    QImage image(size, QImage::Format_RGB32);
    // Grain of the right strength at every place, though not the grains of the picture.
    GrainSettings grains;
    grains.across = std::max(1, image.width()), grains.down = std::max(1, image.height());
    const GrainField field(grains, {grains.across, grains.down});
    std::vector<float> noise(static_cast<std::size_t>(grains.across * grains.down));
    for (int y = 0; y < grains.down; ++y)
        field.row(y, 0, grains.across, noise.data() + static_cast<std::ptrdiff_t>(y) * grains.across);
    for (int x = 0; x < image.width(); ++x) {
        const float place = static_cast<float>(x) / static_cast<float>(std::max(1, image.width() - 1));
        const Colour colour = ramp.colour(place);
        const float grain = ramp.grain(place) * full_deviation;
        for (int y = 0; y < image.height(); ++y) {
            const float add = grain > 0 ? grain * noise[static_cast<std::size_t>(y * grains.across + x)] : 0;
            image.setPixelColor(x, y, to_qcolor({colour.red + add, colour.green + add, colour.blue + add}));
        }
    }
    return image;
}

void GradientStrip::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    const QRect area = ramp_area();
    const Stops& shown = lifted_.empty() ? stops_ : lifted_;
    painter.drawImage(area, ramp_image(shown, interpolation_, area.size()));
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(c.line, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(area).adjusted(-0.5, -0.5, 0.5, 0.5));
    for (int k = 0; k < static_cast<int>(stops_.size()); ++k) {
        if (!lifted_.empty() && k == chosen_) continue;
        const QPointF at = stop_place(k);
        painter.setPen(QPen(c.thread, 1));
        painter.drawLine(QPointF(at.x(), area.bottom() + 1), QPointF(at.x(), at.y() - 6));
        const bool is_chosen = k == chosen_;
        painter.setPen(QPen(is_chosen ? c.accent : c.text, is_chosen ? 2.4 : 1));
        painter.setBrush(to_qcolor(stops_[static_cast<std::size_t>(k)].colour));
        painter.drawEllipse(at, 6.0, 6.0);
        if (is_chosen && hasFocus()) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(c.accent, 1, Qt::DotLine));
            painter.drawEllipse(at, 9.0, 9.0);
        }
    }
}

void GradientStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    int nearest = 10, index = -1;
    for (int k = 0; k < static_cast<int>(stops_.size()); ++k) {
        const QPoint off = stop_place(k) - event->pos();
        const int distance = std::max(std::abs(off.x()), event->pos().y() > ramp_height ? std::abs(off.y()) / 2 : 100);
        // Of two in one place the chosen one is taken, so that it can be pulled out again.
        if (distance < nearest || (distance == nearest && k == chosen_)) nearest = distance, index = k;
    }
    gestures_.begin();
    if (index >= 0)
        choose(index);
    else
        add_at(place_at(event->pos().x()));
    held_ = true;
}

void GradientStrip::mouseMoveEvent(QMouseEvent* event) {
    if (!held_ || stops_.empty()) return;
    const bool away = stops_.size() > 1 && (event->pos().y() > height() + pull_off || event->pos().y() < -pull_off);
    lifted_.clear();
    if (away) {
        lifted_ = stops_;
        lifted_.erase(lifted_.begin() + chosen_);
        emit changed(lifted_, gestures_.current());
    } else {
        stops_[static_cast<std::size_t>(chosen_)].place = place_at(event->pos().x());
        emit changed(stops_, gestures_.current());
    }
    update();
    emit chosen_changed();
}

void GradientStrip::mouseReleaseEvent(QMouseEvent*) {
    held_ = false;
    if (!lifted_.empty()) {
        stops_ = lifted_;
        lifted_.clear();
        chosen_ = std::min(chosen_, static_cast<int>(stops_.size()) - 1);
    } else {
        sort_keeping_chosen();
        emit changed(stops_, gestures_.current());
    }
    gestures_.end();
    update();
    emit chosen_changed();
}

void GradientStrip::sort_keeping_chosen() {
    if (stops_.empty()) return;
    std::vector<std::pair<Stop, int>> marked;
    for (int k = 0; k < static_cast<int>(stops_.size()); ++k) marked.emplace_back(stops_[static_cast<std::size_t>(k)], k);
    std::stable_sort(marked.begin(), marked.end(), [](const auto& a, const auto& b) { return a.first.place < b.first.place; });
    const int before = chosen_;
    for (std::size_t k = 0; k < marked.size(); ++k) {
        stops_[k] = marked[k].first;
        if (marked[k].second == before) chosen_ = static_cast<int>(k);
    }
}

void GradientStrip::add_at(double place) {
    if (stops_.size() >= 256) return;
    stops_.push_back(stop_between(stops_, place, interpolation_));
    chosen_ = static_cast<int>(stops_.size()) - 1;
    sort_keeping_chosen();
    emit changed(stops_, gestures_.current());
    update();
    emit chosen_changed();
}

void GradientStrip::remove_chosen() {
    if (stops_.size() < 2) return;
    stops_.erase(stops_.begin() + chosen_);
    chosen_ = std::min(chosen_, static_cast<int>(stops_.size()) - 1);
    emit changed(stops_, gestures_.begin());
    gestures_.end();
    update();
    emit chosen_changed();
}

void GradientStrip::change_chosen(const Stop& stop, const QString& gesture) {
    if (stops_.empty()) return;
    stops_[static_cast<std::size_t>(chosen_)] = stop;
    sort_keeping_chosen();
    emit changed(stops_, gesture);
    update();
}

bool GradientStrip::event(QEvent* event) {
    // Here Delete takes a stop away, not the step.
    if (event->type() == QEvent::ShortcutOverride)
        if (const int key = static_cast<QKeyEvent*>(event)->key(); key == Qt::Key_Delete || key == Qt::Key_Backspace)
            event->accept();
    return QWidget::event(event);
}

void GradientStrip::keyPressEvent(QKeyEvent* event) {
    if (stops_.empty()) return;
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.1 : 0.01;
    Stop stop = stops_[static_cast<std::size_t>(chosen_)];
    switch (event->key()) {
        case Qt::Key_Left: stop.place = std::max(0.0, stop.place - step); break;
        case Qt::Key_Right: stop.place = std::min(1.0, stop.place + step); break;
        case Qt::Key_Up: return choose(chosen_ - 1);
        case Qt::Key_Down: return choose(chosen_ + 1);
        case Qt::Key_Delete:
        case Qt::Key_Backspace: return remove_chosen();
        case Qt::Key_Insert: return add_at(std::min(1.0, stop.place + 0.05));
        default: return QWidget::keyPressEvent(event);
    }
    change_chosen(stop, gestures_.current());
    emit chosen_changed();
}

GradientEditor::GradientEditor(const QString& accessible_name, QWidget* parent) : QWidget(parent) {
    strip_ = new GradientStrip(this);
    strip_->setAccessibleName(accessible_name);
    colour_ = new ColourButton(this);
    colour_->setAccessibleName(tr("Colour of the stop"));
    place_ = new NumberEdit(percent_parameter("Place"), tr("Place of the stop"), this);
    grain_ = new NumberEdit(percent_parameter("Grain"), tr("Grain of the stop"), this);
    add_ = new QToolButton(this);
    add_->setText(tr("Add stop"));
    remove_ = new QToolButton(this);
    remove_->setText(tr("Remove stop"));
    auto* ramps = new QToolButton(this);
    ramps->setText(tr("Ramps"));
    ramps->setToolTip(tr("Turn the ramp round, space it evenly, take one from a picture, from the recipe or from the library"));
    ramps->setPopupMode(QToolButton::InstantPopup);
    ramps->setStyleSheet(
        "QToolButton { padding-right: 16px; } QToolButton::menu-indicator { subcontrol-position: right center; right: 4px; }");
    ramps->setFocusPolicy(Qt::StrongFocus);
    ramps_ = new QMenu(ramps);
    ramps->setMenu(ramps_);
    connect(ramps_, &QMenu::aboutToShow, this, [this] {
        emit ramps_wanted();
        fill_ramps();
    });
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(3);
    grid->addWidget(strip_, 0, 0, 1, 2);
    auto* line = new QHBoxLayout;
    line->setSpacing(2);
    line->addWidget(colour_);
    line->addStretch(1);
    line->addWidget(ramps);
    line->addWidget(add_);
    line->addWidget(remove_);
    grid->addLayout(line, 1, 0, 1, 2);
    int row = 2;
    for (const auto& [name, edit] : {std::pair{tr("Place"), place_}, std::pair{tr("Grain"), grain_}}) {
        auto* label = new QLabel(name, this);
        label->setBuddy(edit);
        label->setMinimumWidth(104);
        grid->addWidget(label, row, 0);
        grid->addWidget(edit, row++, 1);
    }
    grid->setColumnStretch(1, 1);

    connect(strip_, &GradientStrip::changed, this, &GradientEditor::changed);
    connect(strip_, &GradientStrip::chosen_changed, this, &GradientEditor::show_chosen);
    auto chosen = [this] { return strip_->stops()[static_cast<std::size_t>(strip_->chosen())]; };
    connect(colour_, &ColourButton::changed, this, [this, chosen](const Colour& colour, const QString& gesture) {
        Stop stop = chosen();
        stop.colour = colour;
        strip_->change_chosen(stop, gesture);
    });
    connect(place_, &NumberEdit::changed, this, [this, chosen](double value, const QString& gesture) {
        Stop stop = chosen();
        stop.place = value / 100;
        strip_->change_chosen(stop, gesture);
    });
    connect(grain_, &NumberEdit::changed, this, [this, chosen](double value, const QString& gesture) {
        Stop stop = chosen();
        stop.grain = value;
        strip_->change_chosen(stop, gesture);
    });
    connect(add_, &QToolButton::clicked, this, [this] {
        // Into the widest gap, where there is most to gain.
        const Stops& stops = strip_->stops();
        double place = 0.5, widest = 0;
        for (std::size_t k = 0; k + 1 < stops.size(); ++k)
            if (stops[k + 1].place - stops[k].place > widest)
                widest = stops[k + 1].place - stops[k].place, place = (stops[k].place + stops[k + 1].place) / 2;
        strip_->add_at(place);
    });
    connect(remove_, &QToolButton::clicked, this, [this] { strip_->remove_chosen(); });
}

void GradientEditor::set_stops(const Stops& stops, Interpolation interpolation) {
    interpolation_ = interpolation;
    strip_->set_stops(stops, interpolation);
    show_chosen();
}

void GradientEditor::take(const Stops& stops) {
    strip_->set_stops(stops, interpolation_);
    show_chosen();
    emit changed(stops, {});
}

void GradientEditor::fill_ramps() {
    ramps_->clear();
    const auto add = [this](QMenu* menu, const QString& text, std::function<void()> work) {
        QAction* action = menu->addAction(QString(text).replace('&', "&&"));
        connect(action, &QAction::triggered, this, std::move(work));
        return action;
    };
    add(ramps_, tr("Turn round"), [this] { take(turned_round(strip_->stops())); });
    add(ramps_, tr("Space evenly"), [this] { take(evenly_spaced(strip_->stops())); });
    for (const bool reference : {true, false})
        for (const bool palette : {false, true}) {
            if (reference && !reference_) continue;
            QMenu* counts =
                ramps_->addMenu(reference ? palette ? tr("Main colours of the reference") : tr("Tones of the reference")
                                : palette ? tr("Main colours of a picture")
                                          : tr("Tones of a picture"));
            for (int count : {2, 3, 4, 5, 6, 8, 12})
                add(counts, reference ? tr("%1 stops").arg(count) : tr("%1 stops …").arg(count),
                    [this, reference, count, palette] {
                        if (reference)
                            emit reference_wanted(count, palette);
                        else
                            emit picture_wanted(count, palette);
                    });
        }
    const auto pictured = [&](const QString& name, const Stops& stops) {
        QPixmap picture(72, 14);
        QPainter painter(&picture);
        const Ramp ramp(stops, interpolation_);
        for (int x = 0; x < picture.width(); ++x)
            painter.fillRect(x, 0, 1, picture.height(), to_qcolor(ramp.colour(static_cast<float>(x) / 71)));
        painter.end();
        add(ramps_, name, [this, stops] { take(with_grain_of(stops, strip_->stops())); })->setIcon(QIcon(picture));
    };
    if (!known_.empty()) ramps_->addSection(tr("In the recipe"));
    for (const auto& [name, stops] : known_) pictured(name, stops);
    ramps_->addSection(tr("Materials"));
    for (const NamedRamp& each : ramp_library()) pictured(qt(each.name), each.stops);
}

void GradientEditor::show_chosen() {
    if (strip_->stops().empty()) return;
    const Stop& stop = strip_->stops()[static_cast<std::size_t>(strip_->chosen())];
    colour_->set_colour(stop.colour);
    place_->set_value(stop.place * 100);
    grain_->set_value(stop.grain);
    remove_->setEnabled(strip_->stops().size() > 1);
}

}  // namespace loom
