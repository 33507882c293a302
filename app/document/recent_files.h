// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QStringList>

namespace loom {

/// The files used last, newest first, kept in the settings; those that are gone are left out.
class RecentFiles {
public:
    static constexpr int most = 8;
    QStringList paths() const;
    void add(const QString& path);
};

}  // namespace loom
