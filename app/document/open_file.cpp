// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/open_file.h"

#include <signal.h>

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QSysInfo>
#include <cerrno>

namespace loom {

namespace {

constexpr int most_windows = 16;

/// Asked without touching the note, as every touch wakes all who watch the folder.
bool held(const QString& note) {
    qint64 process = 0;
    QString host, program;
    if (!QFileInfo::exists(note) || !QLockFile(note).getLockInfo(&process, &host, &program)) return false;
    if (host != QSysInfo::machineHostName()) return true;
    return ::kill(static_cast<pid_t>(process), 0) == 0 || errno == EPERM;
}

}  // namespace

OpenFile::OpenFile(QString folder, QObject* parent) : QObject(parent), folder_(std::move(folder)) {
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, &OpenFile::look);
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, &OpenFile::look);
}

OpenFile::~OpenFile() {
    watcher_.disconnect(this);
    if (lock_) lock_->unlock();
}

OpenFile::State OpenFile::state_of(const QString& path) {
    QFileInfo info(path);
    // A recipe that is a folder is what its recipe.json says.
    if (info.isDir()) info.setFile(path + "/recipe.json");
    if (!info.exists()) return {};
    return {info.size(), info.lastModified()};
}

QString OpenFile::note(int number) const {
    const QString canonical = QFileInfo(path_).canonicalFilePath();
    const QByteArray name =
        QCryptographicHash::hash((canonical.isEmpty() ? path_ : canonical).toUtf8(), QCryptographicHash::Sha1);
    return folder_ + "/" + QString::fromLatin1(name.toHex()) + "-" + QString::number(number) + ".lock";
}

void OpenFile::know(const QString& path) {
    const bool same = path == path_;
    known_ = told_ = state_of(path);
    if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
    if (!same) {
        if (lock_) lock_->unlock();
        lock_.reset();
        number_ = -1;
        path_ = path;
        if (!path.isEmpty()) {
            QDir().mkpath(folder_);
            watcher_.addPath(folder_);
            for (int n = 0; n < most_windows && !lock_; ++n) {
                auto lock = std::make_unique<QLockFile>(note(n));
                lock->setStaleLockTime(0);
                if (!lock->tryLock(0)) continue;
                lock_ = std::move(lock);
                number_ = n;
            }
        }
    }
    look();
}

bool OpenFile::changed() const {
    const State now = path_.isEmpty() ? State{} : state_of(path_);
    return now.size >= 0 && now != known_;
}

void OpenFile::look() {
    int others = 0;
    for (int n = 0; !path_.isEmpty() && n < most_windows; ++n) others += n != number_ && held(note(n));
    if (others != others_) {
        others_ = others;
        emit others_changed(others);
    }
    if (path_.isEmpty()) return;
    // A file that was replaced is watched no more.
    if (const QString watched = QFileInfo(path_).isDir() ? path_ + "/recipe.json" : path_;
        QFileInfo::exists(watched) && !watcher_.files().contains(watched))
        watcher_.addPath(watched);
    if (const State now = state_of(path_); changed() && now != told_) {
        told_ = now;
        emit changed_by_others();
    }
}

}  // namespace loom
