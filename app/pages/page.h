// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QVariantMap>
#include <QWidget>

#include "app/pages/commands.h"

class QKeyEvent;

namespace loom {

/// One of the window's views, in the order of the work across its top: with commands of its own, and what it remembers.
class Page : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;

    /// A word for settings and tests.
    virtual QString id() const = 0;
    /// On its tab.
    virtual QString title() const = 0;
    /// Whether the recipe's name, undo and colourways stand above it.
    virtual bool shows_recipe() const = 0;
    /// What stands there instead: a name, and a few words.
    virtual std::pair<QString, QString> heading() const { return {}; }

    /// Puts its commands into the menus. They can be had only while it is on show; `shown` says so.
    virtual void add_commands(Commands& commands, std::function<bool()> shown) {
        Q_UNUSED(commands);
        Q_UNUSED(shown);
    }
    /// A key that is pressed or let go of while nobody is typing; true if it was meant for the page.
    virtual bool take_key(const QKeyEvent& event, bool pressed) {
        Q_UNUSED(event);
        Q_UNUSED(pressed);
        return false;
    }
    /// A window that holds part of the page, with the same keys; null while there is none.
    virtual QWidget* second_window() const { return nullptr; }
    /// What it looks like, to be found again when the program starts the next time. Values that are missing or strange leave it
    /// as it is.
    virtual QVariantMap state() const { return {}; }
    virtual void set_state(const QVariantMap& state) { Q_UNUSED(state); }
};

}  // namespace loom
