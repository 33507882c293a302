// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The journal's own file on the disk, held by a lock while a program writes to it. From any thread; what reads, writes or locks
// is meant for a worker.
#pragma once

#include <QLockFile>
#include <QString>
#include <QStringList>
#include <cstdint>
#include <memory>
#include <mutex>

#include "core/recipe/container.h"

namespace loom {

class JournalFile {
public:
    /// In `folder`, which is made when it is needed.
    explicit JournalFile(QString folder) : folder_(std::move(folder)) {}
    ~JournalFile();

    /// Writes what is unsaved now, unless it has been given up since mark() was taken.
    Result<Done> write(const LoomFile& content, std::uint64_t mark);
    /// Goes on in a file that was left behind, if no other program holds it.
    void take_over(const QString& file, std::uint64_t mark);
    /// What is under way or wanted so far is no longer to be there. Touches no disk: tidy() does.
    void give_up();
    /// Removes a file that has been given up.
    void tidy();
    std::uint64_t mark() const;
    /// "" where nothing is kept.
    QString path() const;

    /// Files in the folder that no program holds, the newest first.
    QStringList left_behind() const;
    static void remove(const QString& file);

private:
    bool lock(const QString& file);
    void remove_own();

    const QString folder_;
    std::mutex writing_;        ///< one disk operation at a time
    mutable std::mutex mutex_;  ///< of what follows
    std::uint64_t given_up_ = 0;
    bool wanted_ = false;
    QString path_;
    std::unique_ptr<QLockFile> lock_;  ///< touched under writing_
};

}  // namespace loom
