// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/place_button.h"

#include <QMenu>
#include <algorithm>
#include <map>

#include "app/widgets/text.h"
#include "core/recipe/edits.h"
#include "core/recipe/variations.h"

namespace loom {

PlaceButton::PlaceButton(const QString& name, std::function<bool(const Recipe&, const Address&)> fits, QWidget* parent)
    : QToolButton(parent), name_(name), fits_(std::move(fits)) {
    setPopupMode(QToolButton::InstantPopup);
    setToolButtonStyle(Qt::ToolButtonTextOnly);
    setStyleSheet(
        "QToolButton { background: palette(base); border: 1px solid palette(mid); border-radius: 3px; "
        "padding: 4px 18px 4px 7px; text-align: left; } QToolButton:focus { border-color: palette(highlight); } "
        "QToolButton::menu-indicator { subcontrol-position: right center; right: 6px; }");
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    auto* menu = new QMenu(this);
    setMenu(menu);
    // Hundreds of places are listed only when somebody looks.
    connect(menu, &QMenu::aboutToShow, this, &PlaceButton::fill);
}

void PlaceButton::set_place(const Recipe& recipe, const Address& at) {
    recipe_ = recipe, at_ = at;
    const QString title = qt(place_title(recipe, at));
    setText(fontMetrics().elidedText(title, Qt::ElideMiddle, std::max(120, width() - 34)));
    setToolTip(title);
    setAccessibleName(tr("%1: %2").arg(name_, title));
}

void PlaceButton::fill() {
    menu()->clear();
    // Clearing lets go of the entries, not of the menus behind them.
    qDeleteAll(menu()->findChildren<QMenu*>(Qt::FindDirectChildrenOnly));
    std::map<std::string, QMenu*> strands;
    bool parted = false;
    std::map<std::pair<std::string, std::string>, QMenu*> steps;
    std::map<QMenu*, std::vector<Address>> of_steps;
    const auto plain = [](const std::string& text) { return qt(text).replace('&', "&&"); };
    // The tile and its lamp come last: seldom are they what somebody looks for.
    std::vector<Address> all = places(recipe_);
    std::stable_partition(all.begin(), all.end(), [](const Address& at) { return !at.strand.empty(); });
    for (const Address& at : all) {
        if (!fits_(recipe_, at)) continue;
        QMenu* into = menu();
        if (at.strand.empty() && !menu()->isEmpty() && !strands.empty() && !parted) menu()->addSeparator(), parted = true;
        if (const Strand* strand = recipe_.strand(at.strand)) {
            QMenu*& of_strand = strands[at.strand];
            if (!of_strand) of_strand = menu()->addMenu(plain(strand->name));
            into = of_strand;
            if (const Step* step = strand->step(at.step)) {
                QMenu*& of_step = steps[{at.strand, at.step}];
                if (!of_step) of_step = of_strand->addMenu(plain(step_title(*step)));
                of_steps[of_step].push_back(at);
                continue;
            }
        }
        add(at, *into);
    }
    // A step's own places, of which there are hundreds in all, when it is come to.
    for (auto& [of_step, own] : of_steps)
        connect(of_step, &QMenu::aboutToShow, this, [this, into = of_step, own = std::move(own)] {
            if (!into->isEmpty()) return;
            for (const Address& at : own) add(at, *into);
        });
}

void PlaceButton::add(const Address& at, QMenu& into) {
    const std::string title(place_at(recipe_, at)->parameter.title);
    QAction* action = into.addAction(qt(title).replace('&', "&&"));
    action->setCheckable(true);
    action->setChecked(at == at_);
    connect(action, &QAction::triggered, this, [this, at] { emit chosen(at); });
}

}  // namespace loom
