// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/background.h"

#include <QCoreApplication>

namespace loom {

namespace {

void post(std::function<void()> call) {
    QMetaObject::invokeMethod(QCoreApplication::instance(), std::move(call), Qt::QueuedConnection);
}

}  // namespace

Background::Background(std::string name, std::function<void(const QString&)> failed)
    : Client(scheduler(), std::move(name), post,
             [failed = std::move(failed)](const Error& error) { failed(QString::fromStdString(error.message)); }) {}

}  // namespace loom
