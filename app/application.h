// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QApplication>
#include <functional>

#include "app/watchdog.h"

namespace loom {

/// What escapes from a slot or an event ends here, with the program still running and nothing lost.
class Application : public QApplication {
public:
    using QApplication::QApplication;

    /// Shows what has gone wrong; empty: nobody does.
    std::function<void(const QString&)> show;
    /// Watches every event; null: nobody does.
    Watchdog* watchdog = nullptr;

    bool notify(QObject* receiver, QEvent* event) override;
};

}  // namespace loom
