// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/journal_file.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>

namespace loom {

namespace {
QString lock_of(const QString& file) { return file + ".lock"; }
}  // namespace

JournalFile::~JournalFile() {
    tidy();
    // Whoever goes without giving up has crashed or lost its power.
    if (lock_) lock_->unlock();
}

bool JournalFile::lock(const QString& file) {
    auto lock = std::make_unique<QLockFile>(lock_of(file));
    lock->setStaleLockTime(0);
    if (!lock->tryLock(0)) return false;
    lock_ = std::move(lock);
    const std::lock_guard guard(mutex_);
    path_ = file;
    return true;
}

Result<Done> JournalFile::write(const LoomFile& content, std::uint64_t mark) {
    const std::lock_guard one(writing_);
    if (mark != this->mark()) return Done{};
    QDir().mkpath(folder_);
    if (!lock_ && !lock(folder_ + "/" + QUuid::createUuid().toString(QUuid::WithoutBraces) + ".loom"))
        return Error{Fault::file,
                     "cannot keep unsaved changes in '" + folder_.toStdString() + "'; save often, or make room there"};
    {
        const std::lock_guard guard(mutex_);
        wanted_ = mark == given_up_;
    }
    const auto done = write_loom(path().toStdString(), content);
    if (mark != this->mark()) remove_own();
    return done;
}

void JournalFile::take_over(const QString& file, std::uint64_t mark) {
    const std::lock_guard one(writing_);
    // The old file stays until there is a newer one.
    if (lock_ || !lock(file)) return;
    bool wanted;
    {
        const std::lock_guard guard(mutex_);
        wanted = wanted_ = mark == given_up_;
    }
    if (!wanted) remove_own();
}

void JournalFile::give_up() {
    const std::lock_guard guard(mutex_);
    ++given_up_;
    wanted_ = false;
}

void JournalFile::tidy() {
    const std::lock_guard one(writing_);
    bool wanted;
    {
        const std::lock_guard guard(mutex_);
        wanted = wanted_;
    }
    if (!wanted) remove_own();
}

void JournalFile::remove_own() {
    if (!lock_) return;
    QFile::remove(path());
    lock_.reset();
    const std::lock_guard guard(mutex_);
    path_.clear();
}

std::uint64_t JournalFile::mark() const {
    const std::lock_guard guard(mutex_);
    return given_up_;
}

QString JournalFile::path() const {
    const std::lock_guard guard(mutex_);
    return path_;
}

QStringList JournalFile::left_behind() const {
    QStringList files;
    for (const QFileInfo& each : QDir(folder_).entryInfoList({"*.loom"}, QDir::Files, QDir::Time)) {
        QLockFile lock(lock_of(each.absoluteFilePath()));
        lock.setStaleLockTime(0);
        // What another window holds is its own.
        if (lock.tryLock(0)) files << each.absoluteFilePath();
    }
    return files;
}

void JournalFile::remove(const QString& file) {
    QFile::remove(file);
    QFile::remove(lock_of(file));
}

}  // namespace loom
