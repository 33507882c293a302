// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The cloth with its line of choices: tile, repeat, lit, which map.
#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/loom/cloth_view.h"
#include "app/loom/lit_view.h"
#include "app/theme/theme.h"
#include "app/widgets/elided_label.h"
#include "app/widgets/text.h"

namespace loom {

ClothView::ClothView(QWidget* parent) : QWidget(parent) {
    canvas_ = new ClothCanvas(this);
    auto button = [this](const QString& text, const QString& help, bool checkable) {
        auto* made = new QToolButton(this);
        made->setText(text);
        made->setToolTip(help);
        made->setAccessibleName(help);
        made->setCheckable(checkable);
        made->setFocusPolicy(Qt::StrongFocus);
        return made;
    };
    tile_ = button(tr("Tile"), tr("Show one tile"), true);
    repeat_ = button(tr("Repeat"), tr("Show the tile repeated"), true);
    lit_button_ = button(tr("Lit"), tr("Show the cloth under a lamp, with its maps"), true);
    one_ = button("1:1", tr("One screen pixel for each design pixel"), false);
    fit_ = button(tr("Fit"), tr("Fit the cloth into the view"), false);
    alone_ = button(tr("Alone"), tr("Nothing but the cloth (Ctrl+L)"), true);
    auto* group = new QButtonGroup(this);
    group->addButton(tile_);
    group->addButton(repeat_);
    group->addButton(lit_button_);
    map_ = new QComboBox(this);
    map_->setAccessibleName(tr("Map that is shown"));
    map_->setToolTip(tr("Which of the recipe's maps is shown"));
    for (const MapInfo& info : map_table) map_->addItem(qt(info.title), static_cast<int>(info.map));
    map_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    map_->setMinimumContentsLength(6);
    tile_->setChecked(true);
    state_ = new ElidedLabel(this);
    state_->setFont(theme::small_font());
    state_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    auto* bar = new QWidget(this);
    bar->setFixedHeight(34);
    bar->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    auto* line = new QHBoxLayout(bar);
    line->setContentsMargins(10, 0, 14, 0);
    line->setSpacing(4);
    line->addWidget(tile_);
    line->addWidget(repeat_);
    line->addWidget(lit_button_);
    line->addSpacing(8);
    line->addWidget(map_);
    line->addSpacing(8);
    line->addWidget(one_);
    line->addWidget(fit_);
    line->addWidget(alone_);
    // On a small screen the buttons come first.
    line->addWidget(state_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(bar);
    lit_ = new LitView(this);
    ways_ = new QStackedWidget(this);
    ways_->addWidget(canvas_);
    ways_->addWidget(lit_);
    layout->addWidget(ways_, 1);
    connect(lit_button_, &QToolButton::toggled, this, [this](bool on) {
        ways_->setCurrentWidget(on ? static_cast<QWidget*>(lit_) : canvas_);
        for (QWidget* each : std::initializer_list<QWidget*>{map_, one_, fit_}) each->setEnabled(!on);
        refresh();
    });
    connect(map_, &QComboBox::currentIndexChanged, this, &ClothView::ask_map);
    connect(&maps_, &TryService::ready, this, [this](quint64 ticket, int, const QImage& image) {
        if (ticket == map_ticket_ && map() != Map::colour) canvas_->set_instead(image, map_->currentText());
    });
    connect(repeat_, &QToolButton::toggled, this, [this](bool on) { canvas_->set_repeat(on ? 2 : 1); });
    connect(one_, &QToolButton::clicked, this, [this] { canvas_->set_zoom(1); });
    connect(fit_, &QToolButton::clicked, this, [this] { canvas_->set_zoom(0); });
    connect(alone_, &QToolButton::clicked, this, &ClothView::alone_wanted);
    connect(canvas_, &ClothCanvas::zoom_changed, this, &ClothView::refresh);
}

void ClothView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    // What keys do as well gives way on a narrow screen.
    constexpr int narrow = 490;
    for (QToolButton* each : {one_, fit_}) each->setVisible(width() >= narrow);
}

void ClothView::set_repeat(bool on) { (on ? repeat_ : tile_)->setChecked(true); }
void ClothView::set_lit(bool on) { (on ? lit_button_ : tile_)->setChecked(true); }
bool ClothView::shows_lit() const { return lit_button_->isChecked(); }
const QImage& ClothView::seen() const { return shows_lit() ? lit_->canvas()->picture() : canvas_->seen(); }
void ClothView::set_map(Map map) { map_->setCurrentIndex(map_->findData(static_cast<int>(map))); }
Map ClothView::map() const { return static_cast<Map>(map_->currentData().toInt()); }

void ClothView::set_recipe(const Recipe& recipe) {
    recipe_ = recipe;
    lit_->set_recipe(recipe);
    if (map() != Map::colour) ask_map();
}

void ClothView::ask_map() {
    if (map() == Map::colour || !recipe_) {
        maps_.stop();
        return canvas_->set_instead({}, {});
    }
    map_ticket_ = maps_.submit({{*recipe_, {Wanted::What::map, "", "", map()}}});
}

void ClothView::show_alone(bool alone) { alone_->setChecked(alone); }
void ClothView::show_apart(bool apart) { alone_->setVisible(!apart); }

void ClothView::set_tile(Size design) {
    canvas_->set_tile(design);
    refresh();
}

void ClothView::show_picture(const ClothPicture& picture) {
    canvas_->show_picture(picture);
    refresh();
}

void ClothView::show_busy(bool busy) {
    busy_ = busy;
    refresh();
}

void ClothView::refresh() {
    const ClothPicture& cloth = canvas_->cloth();
    QStringList parts{tr("%1 %").arg(canvas_->zoom() * 100, 0, 'f', 0), tr("hold C: without the selected step")};
    // Its size stands beside the recipe's name.
    if (!cloth.image.isNull()) parts << (cloth.draft ? tr("draft") : tr("%1 ms").arg(cloth.milliseconds, 0, 'f', 0));
    if (busy_) parts << tr("weaving");
    state_->setText(parts.join(QString::fromUtf8(" · ")));
}

}  // namespace loom
