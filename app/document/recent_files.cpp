// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/recent_files.h"

#include <QFileInfo>
#include <QSettings>

#include "app/document/preferences.h"

namespace loom {

namespace {
constexpr const char* key = "recent";
}

QStringList RecentFiles::paths() const {
    return QSettings().value(key).toStringList().mid(0, preferences().recent_files);
}

QStringList RecentFiles::present(const QStringList& paths) {
    QStringList there;
    for (const QString& path : paths)
        if (QFileInfo::exists(path)) there << path;
    return there;
}

void RecentFiles::add(const QString& path) {
    QStringList list = QSettings().value(key).toStringList();
    const QString absolute = QFileInfo(path).absoluteFilePath();
    list.removeAll(absolute);
    list.prepend(absolute);
    QSettings().setValue(key, QStringList(list.mid(0, preferences().recent_files)));
}

}  // namespace loom
