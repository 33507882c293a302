// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QStringList>

namespace loom {

/// The files used last, newest first, kept in the settings.
class RecentFiles {
public:
    QStringList paths() const;
    void add(const QString& path);
    /// Those that are there. For a worker: a disk may take its time.
    static QStringList present(const QStringList& paths);
};

}  // namespace loom
