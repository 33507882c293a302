// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/lit_view.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <QVariantMap>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/loom/scene_places.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/colour/colour.h"
#include "core/render/lighting.h"

namespace loom {

namespace {
constexpr double pi = std::numbers::pi;
/// Maps are made at the first size, so that something is seen, and then as fine as the view shows them.
constexpr int first_maps = 640, longest_maps = 2048;
/// Milliseconds that a picture may take while the lamp moves, and those after which it rests.
constexpr double quick_ms = 28;
constexpr int rest_ms = 140;
constexpr double least_pixels = 200.0 * 200.0;
constexpr int least_elevation = 4, exposure_steps = 10;
constexpr double least_repeats = 0.25, greatest_repeats = 8;

double wide_cm_of(const Recipe& recipe) { return recipe.tile.wide_cm.value_or(unknown_wide_cm); }

/// Of a tile that takes `shown` pixels across, in steps, so that the wheel does not ask for every size.
int longest_side(const Recipe& recipe, double shown) {
    const double longest = shown * std::max(1.0, static_cast<double>(recipe.tile.height) / recipe.tile.width);
    const double step = std::exp2(std::ceil(2 * std::log2(std::max(longest, 1.0))) / 2);
    return std::clamp(static_cast<int>(step), 48, longest_maps);
}
}  // namespace

LitCanvas::LitCanvas(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(200, 160);
    setAccessibleName(tr("Lit cloth"));
    setToolTip(tr("Drag to move the lamp, turn the wheel for more or fewer repeats; arrow keys turn the lamp"));
}

void LitCanvas::show_picture(const QImage& picture) {
    picture_ = picture;
    update();
}

void LitCanvas::set_light(const LitLight& light) {
    light_ = light;
    update();
}

/// The lamp stands over the middle at 90 degrees and on the circle at 0.
QPointF LitCanvas::lamp_place() const {
    const double radius = 0.46 * std::min(width(), height()) * std::cos(light_.elevation * pi / 180);
    return QPointF(width() / 2.0, height() / 2.0) +
           radius * QPointF(std::cos(light_.direction * pi / 180), -std::sin(light_.direction * pi / 180));
}

void LitCanvas::move_lamp(const QPointF& to) {
    const QPointF way = to - QPointF(width() / 2.0, height() / 2.0);
    const double reach = 0.46 * std::min(width(), height()), far = std::hypot(way.x(), way.y()) / std::max(1.0, reach);
    light_.elevation = std::max<double>(least_elevation, std::acos(std::min(1.0, far)) * 180 / pi);
    if (far > 0.01) light_.direction = std::atan2(-way.y(), way.x()) * 180 / pi;
    update();
    emit light_moved(light_);
}

void LitCanvas::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.cloth_ground);
    if (!picture_.isNull()) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(rect(), picture_);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF lamp = lamp_place();
    painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
    painter.setBrush(QColor(255, 246, 214));
    painter.drawEllipse(lamp, 7, 7);
    painter.setPen(QPen(Qt::white, 1.4));
    painter.drawEllipse(lamp, 7, 7);
    if (!hasFocus()) return;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.accent, 1, Qt::DotLine));
    painter.drawRect(rect().adjusted(1, 1, -2, -2));
}

void LitCanvas::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    if (event->button() == Qt::LeftButton) move_lamp(event->position());
}
void LitCanvas::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) move_lamp(event->position());
}

void LitCanvas::wheelEvent(QWheelEvent* event) {
    emit repeats_wanted(std::pow(1.2, -event->angleDelta().y() / 120.0));
    event->accept();
}

void LitCanvas::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Left: light_.direction += 10; break;
        case Qt::Key_Right: light_.direction -= 10; break;
        case Qt::Key_Up: light_.elevation = std::min(90.0, light_.elevation + 5); break;
        case Qt::Key_Down: light_.elevation = std::max<double>(least_elevation, light_.elevation - 5); break;
        default: return QWidget::keyPressEvent(event);
    }
    light_.direction = std::remainder(light_.direction, 360);
    update();
    emit light_moved(light_);
}

void LitCanvas::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    emit resized();
}

LitView::LitView(QWidget* parent) : QWidget(parent) {
    canvas_ = new LitCanvas(this);
    auto* bar = new QWidget(this);
    bar->setFixedHeight(30);
    bar->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    auto* line = new QHBoxLayout(bar);
    line->setContentsMargins(10, 0, 14, 2);
    line->setSpacing(4);
    shapes_ = new QButtonGroup(this);
    for (const LitShapeInfo& info : lit_shape_table) {
        auto* button = new QToolButton(bar);
        button->setText(qt(info.brief));
        button->setToolTip(qt(info.title));
        button->setAccessibleName(qt(info.title));
        button->setCheckable(true);
        button->setFocusPolicy(Qt::StrongFocus);
        shapes_->addButton(button, static_cast<int>(info.shape));
        line->addWidget(button);
    }
    shapes_->button(0)->setChecked(true);
    line->addSpacing(10);
    auto* label = new QLabel(tr("Exposure"), bar);
    label->setFont(theme::small_font());
    exposure_ = new QSlider(Qt::Horizontal, bar);
    exposure_->setRange(-3 * exposure_steps, 3 * exposure_steps);
    exposure_->setFixedWidth(70);
    exposure_->setAccessibleName(tr("Exposure in tenths of a stop"));
    label->setBuddy(exposure_);
    note_ = new QLabel(bar);
    note_->setFont(theme::small_font());
    note_->setForegroundRole(QPalette::PlaceholderText);
    note_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    note_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    line->addWidget(label);
    line->addWidget(exposure_);
    line->addWidget(note_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    places_ = new ScenePlaces(this);
    places_->hide();
    layout->addWidget(bar);
    layout->addWidget(places_);
    layout->addWidget(canvas_, 1);
    connect(shapes_, &QButtonGroup::idToggled, this, [this](int, bool on) {
        if (!on) return;
        places_->setVisible(shape() == LitShape::scene);
        ask_picture();
    });
    connect(places_, &ScenePlaces::changed, this, &LitView::ask_picture);
    connect(exposure_, &QSlider::valueChanged, this, &LitView::ask_picture);
    rest_.setSingleShot(true);
    rest_.setInterval(rest_ms);
    connect(&rest_, &QTimer::timeout, this, &LitView::ask_picture);
    connect(canvas_, &LitCanvas::light_moved, this, [this] {
        own_lamp_ = true;
        rest_.start();
        ask_picture();
    });
    connect(canvas_, &LitCanvas::resized, this, &LitView::ask_picture);
    connect(canvas_, &LitCanvas::repeats_wanted, this, [this](double factor) {
        repeats_ = std::clamp(repeats_ * factor, least_repeats, greatest_repeats);
        ask_picture();
    });
    connect(&service_, &LitService::ready, this, [this](const QImage& picture, double ms, quint64 ticket) {
        spent_ = ms, shown_ = !stale_ && ticket == ticket_;
        if (ms > 0) quick_pixels_ = std::max(least_pixels, quick_ms / ms * picture.width() * picture.height());
        canvas_->show_picture(picture);
        const QString across = shape() == LitShape::scene ? tr("%1 cm").arg(scene_wide_cm * repeats_, 0, 'f', 0)
                                                          : tr("%1 across").arg(repeats_, 0, 'g', 2);
        note_->setText(tr("%1 · %2 ms").arg(across).arg(ms, 0, 'f', 0));
    });
    connect(&service_, &LitService::failed, note_, &QLabel::setText);
}

LitShape LitView::shape() const { return static_cast<LitShape>(shapes_->checkedId()); }
QToolButton* LitView::shape_button(LitShape shape) const {
    return static_cast<QToolButton*>(shapes_->button(static_cast<int>(shape)));
}

void LitView::set_book(const SampleBook& book) { places_->set_book(book); }

void LitView::set_recipe(const Recipe& recipe) {
    recipe_ = recipe, stale_ = true, shown_ = false;
    // Until somebody takes hold of it the lamp is the recipe's.
    if (!own_lamp_) canvas_->set_light({recipe.lamp.direction, std::clamp<double>(recipe.lamp.elevation, least_elevation, 90)});
    if (isVisible()) ask_maps();
}

void LitView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_) ask_maps();
    ask_picture();
}

void LitView::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    // What was not finished is asked for again.
    stale_ = stale_ || !shown_;
    service_.stop();
}

void LitView::ask_maps() {
    if (!recipe_) return;
    stale_ = false;
    finest_ = finest_maps();
    ticket_ = service_.submit(*recipe_, std::min(first_maps, finest_), finest_);
}

/// Maps of what else lies in the scene, as fine as it is seen there.
void LitView::ask_places() {
    for (const ScenePlaceInfo& info : scene_place_table) {
        const Recipe* recipe = places_->recipe(info.place);
        if (!recipe) continue;
        const int longest = longest_side(*recipe, scene_px(wide_cm_of(*recipe)));
        auto& [last, size] = beside_[info.place];
        if (last == recipe && size == longest) continue;
        last = recipe, size = longest;
        service_.submit_beside(info.place, *recipe, longest);
    }
}

/// Pixels that so many centimetres take in the scene.
double LitView::scene_px(double wide_cm) const {
    const double shorter = std::min(canvas_->width(), canvas_->height()) * canvas_->devicePixelRatioF();
    return wide_cm * shorter / (scene_wide_cm * repeats_);
}

/// So many pixels as the tile takes on the screen.
int LitView::finest_maps() const {
    if (shape() == LitShape::scene) return longest_side(*recipe_, scene_px(wide_cm_of(*recipe_)));
    const double shown = std::max(canvas_->width(), canvas_->height()) * canvas_->devicePixelRatioF() / std::min(1.0, repeats_);
    const int own = std::max(recipe_->tile.width, recipe_->tile.height);
    return std::clamp(static_cast<int>(shown), first_maps, std::max(first_maps, std::min(longest_maps, 2 * own)));
}

/// In the scene finer ones than are seen would glitter.
bool LitView::enough_maps() const {
    const int finest = finest_maps();
    return shape() == LitShape::scene ? finest == finest_ : finest <= finest_;
}

void LitView::ask_picture() {
    if (!isVisible() || !recipe_) return;
    // The view has grown, or a part of the tile is looked at closer.
    if (!stale_ && !enough_maps()) ask_maps();
    if (shape() == LitShape::scene) ask_places();
    LitService::Scene scene;
    scene.shape = shape();
    const double fine = canvas_->devicePixelRatioF();
    // While the lamp moves it is drawn enlarged where it would not follow the hand otherwise.
    const double most_pixels = rest_.isActive() ? quick_pixels_ : 1e9;
    const double wide = canvas_->width() * fine, high = canvas_->height() * fine;
    const double fits = std::min(1.0, std::sqrt(most_pixels / std::max(1.0, wide * high)));
    // In steps, as each size asks for the shape anew.
    const double shrink = std::exp2(std::floor(4 * std::log2(fits)) / 4);
    scene.size = {std::max(16, static_cast<int>(wide * shrink)), std::max(16, static_cast<int>(high * shrink))};
    scene.repeats = repeats_, scene.aspect = static_cast<double>(recipe_->tile.height) / recipe_->tile.width;
    scene.light = light_of(recipe_->lamp), scene.finish = finish_of(recipe_->finish);
    scene.light.direction = canvas_->light().direction, scene.light.elevation = canvas_->light().elevation;
    scene.light.exposure += static_cast<double>(exposure_->value()) / exposure_steps;
    for (const ScenePlaceInfo& info : scene_place_table) {
        const Recipe* other = places_->recipe(info.place);
        const Recipe& lies = other ? *other : *recipe_;
        scene.laid[static_cast<std::size_t>(info.place)] = {
            other != nullptr, wide_cm_of(lies), static_cast<double>(lies.tile.height) / lies.tile.width, finish_of(lies.finish)};
    }
    scene.ground = to_linear(static_cast<float>(theme::colours().cloth_ground.redF()));
    service_.show(scene);
}

QVariantMap LitView::state() const {
    return {{"shape", shapes_->checkedId()}, {"exposure", exposure_->value()}, {"places", places_->state()}};
}
void LitView::set_state(const QVariantMap& state) {
    if (QAbstractButton* button = shapes_->button(state.value("shape", 0).toInt())) button->setChecked(true);
    exposure_->setValue(state.value("exposure", 0).toInt());
    places_->set_state(state.value("places").toMap());
}

}  // namespace loom
