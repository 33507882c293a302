// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/pages/commands.h"

#include <QAbstractButton>
#include <QAction>
#include <QMenu>
#include <QMenuBar>

#include "core/base/guard.h"

namespace loom {

QString activity_of(const QObject* receiver) {
    for (const QObject* object = receiver; object; object = object->parent()) {
        if (const auto* command = qobject_cast<const QAction*>(object); command && !command->text().isEmpty())
            return command->text().remove('&').remove(QString::fromUtf8("…"));
        const auto* widget = qobject_cast<const QWidget*>(object);
        if (!widget) continue;
        if (!widget->accessibleName().isEmpty()) return widget->accessibleName();
        if (const auto* button = qobject_cast<const QAbstractButton*>(widget); button && !button->text().isEmpty())
            return QString(button->text()).remove('&');
    }
    return Commands::tr("What was asked for last");
}

Commands::Commands(QMenuBar* bar) : QObject(bar) {
    for (const QString& title : {tr("&File"), tr("&Edit"), tr("S&trand"), tr("Ste&p"), tr("&View"), tr("&Help")})
        menus_.push_back(bar->addMenu(title));
}

QAction* Commands::action(const QString& id) const {
    for (const Command& command : commands_)
        if (command.id == id) return command.action;
    return nullptr;
}

QList<QAction*> Commands::actions() const {
    QList<QAction*> all;
    for (const Command& command : commands_) all << command.action;
    return all;
}

std::vector<std::pair<const QMenu*, const QAction*>> Commands::with_keys() const {
    std::vector<std::pair<const QMenu*, const QAction*>> all;
    for (const QMenu* menu : menus_)
        for (const Command& command : commands_)
            if (command.action->parent() == menu && !command.action->shortcut().isEmpty()) all.emplace_back(menu, command.action);
    return all;
}

QAction* Commands::add(Menu menu_of, const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> work,
                       std::function<bool()> enabled) {
    QAction* made = menu(menu_of)->addAction(text);
    made->setObjectName(id);
    if (!keys.isEmpty()) made->setShortcut(keys);
    connect(made, &QAction::triggered, this, [this, made, work = std::move(work)] {
        const auto done = guarded(activity_of(made).toStdString(), [&]() -> Result<Done> {
            work();
            return Done{};
        });
        if (!done) emit failed(QString::fromStdString(done.error().message));
    });
    commands_.push_back({id, made, std::move(enabled)});
    return made;
}

void Commands::add_separator(Menu menu_of) { menu(menu_of)->addSeparator(); }

void Commands::refresh() {
    for (const Command& command : commands_)
        if (command.enabled) command.action->setEnabled(command.enabled());
}

}  // namespace loom
