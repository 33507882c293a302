// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/scene_places.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <algorithm>

#include "app/document/sample_book.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

/// Headings of the book from which a place is covered until somebody chooses; the crate is the open cloth's.
constexpr std::pair<ScenePlace, const char*> usual_materials[] = {
    {ScenePlace::wall, "Brick"}, {ScenePlace::wall, "Stone"}, {ScenePlace::floor, "Wood"}};

}  // namespace

ScenePlaces::ScenePlaces(QWidget* parent) : QWidget(parent) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(10, 0, 14, 4);
    line->setSpacing(4);
    for (const ScenePlaceInfo& info : scene_place_table) {
        auto* button = new QPushButton(this);
        button->setFont(theme::small_font());
        button->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        button->setMenu(new QMenu(button));
        connect(button->menu(), &QMenu::aboutToShow, this, [this, place = info.place] { fill_menu(place); });
        buttons_[static_cast<std::size_t>(info.place)] = button;
        line->addWidget(button, 1);
    }
    show_names();
}

void ScenePlaces::set_book(const SampleBook& book) {
    book_ = &book;
    connect(&book, &SampleBook::was_read, this, &ScenePlaces::take_usual);
    take_usual();
}

void ScenePlaces::take_usual() {
    if (!chosen_)
        for (const auto& [place, material] : usual_materials)
            if (QString& name = names_[static_cast<std::size_t>(place)]; name.isEmpty())
                for (const Sample& sample : book_->samples())
                    if (sample.material == QLatin1String(material)) {
                        name = QString::fromStdString(sample.recipe.name);
                        break;
                    }
    show_names();
    emit changed();
}

const Recipe* ScenePlaces::recipe(ScenePlace place) const {
    const QString& name = names_[static_cast<std::size_t>(place)];
    if (!book_ || name.isEmpty()) return nullptr;
    for (const Sample& sample : book_->samples())
        if (sample.recipe.name == name.toStdString()) return &sample.recipe;
    return nullptr;
}

void ScenePlaces::choose(ScenePlace place, const QString& name) {
    names_[static_cast<std::size_t>(place)] = name, chosen_ = true;
    show_names();
    emit changed();
}

void ScenePlaces::fill_menu(ScenePlace place) {
    QMenu* menu = button(place)->menu();
    menu->clear();
    const Recipe* now = recipe(place);
    const auto add = [&](const QString& title, const QString& name, bool is) {
        QAction* action = menu->addAction(title);
        action->setCheckable(true);
        action->setChecked(is);
        connect(action, &QAction::triggered, this, [this, place, name] { choose(place, name); });
    };
    add(tr("This cloth"), {}, !now);
    if (!book_) return;
    QString heading;
    for (const Sample& sample : book_->samples()) {
        if (sample.material != heading) menu->addSection(heading = sample.material);
        add(QString::fromStdString(sample.recipe.name), QString::fromStdString(sample.recipe.name), now == &sample.recipe);
    }
}

void ScenePlaces::show_names() {
    for (const ScenePlaceInfo& info : scene_place_table) {
        const Recipe* lies = recipe(info.place);
        const QString name = lies ? QString::fromStdString(lies->name) : tr("This cloth"),
                      words = tr("%1: %2").arg(qt(info.title), name);
        button(info.place)->setText(words);
        button(info.place)->setToolTip(tr("What lies here, at its real width: %1").arg(name));
        button(info.place)->setAccessibleName(words);
    }
}

QVariantMap ScenePlaces::state() const {
    QVariantMap state;
    if (chosen_)
        for (const ScenePlaceInfo& info : scene_place_table) state[qt(info.id)] = names_[static_cast<std::size_t>(info.place)];
    return state;
}

void ScenePlaces::set_state(const QVariantMap& state) {
    for (const ScenePlaceInfo& info : scene_place_table)
        if (const auto found = state.find(qt(info.id)); found != state.end()) choose(info.place, found->toString());
}

}  // namespace loom
