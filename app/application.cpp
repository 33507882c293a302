// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/application.h"

#include <QThread>
#include <cstdio>

#include "app/pages/commands.h"
#include "core/base/guard.h"

namespace loom {

bool Application::notify(QObject* receiver, QEvent* event) {
    const Watchdog::Event watched(QThread::currentThread() == thread() ? watchdog : nullptr, receiver, event);
    try {
        return QApplication::notify(receiver, event);
    } catch (...) {
        const QString words = QString::fromStdString(thrown_error(activity_of(receiver).toStdString()).message);
        if (show) show(words);
        std::fprintf(stderr, "keen-loom: %s\n", qPrintable(words));
        return true;
    }
}

}  // namespace loom
