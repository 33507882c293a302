// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The table of commands: where each stands, its shortcut, what it does and when it can be had.
#pragma once

#include <QKeySequence>
#include <QObject>
#include <functional>
#include <vector>

class QAction;
class QMenu;
class QMenuBar;

namespace loom {

/// What the person was doing with a widget or command, to begin a sentence with.
QString activity_of(const QObject* receiver);

class Commands : public QObject {
    Q_OBJECT
public:
    /// Menus in the order people meet them; the window fills some, the pages theirs.
    enum class Menu { file, edit, strand, step, view, help };

    explicit Commands(QMenuBar* bar);

    QMenu* menu(Menu menu) const { return menus_[static_cast<std::size_t>(menu)]; }
    QAction* action(const QString& id) const;
    QList<QAction*> actions() const;
    /// Those that have a shortcut, with their menus.
    std::vector<std::pair<const QMenu*, const QAction*>> with_keys() const;
    /// `enabled`: whether it can be had now; null: always. What `work` throws is told by failed().
    QAction* add(Menu menu, const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> work,
                 std::function<bool()> enabled = {});
    void add_separator(Menu menu);
    /// Asks every command whether it can be had.
    void refresh();

signals:
    void failed(const QString& message);

private:
    struct Command {
        QString id;
        QAction* action;
        std::function<bool()> enabled;
    };
    std::vector<QMenu*> menus_;
    std::vector<Command> commands_;
};

}  // namespace loom
