// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The file of the present recipe as others see it: which other windows have it open, and whether somebody else has written it.
#pragma once

#include <QDateTime>
#include <QFileSystemWatcher>
#include <QLockFile>
#include <QObject>
#include <memory>

namespace loom {

class OpenFile : public QObject {
    Q_OBJECT
public:
    /// `folder`: where all windows of this person leave a note of what they have open; made when it is needed.
    explicit OpenFile(QString folder, QObject* parent = nullptr);
    ~OpenFile() override;

    /// The file as it is on the disk now is the one that is known here; "" for none.
    void know(const QString& path);
    const QString& path() const { return path_; }
    /// How many other windows have it open.
    int others() const { return others_; }
    /// Whether it was written, or replaced, since know(). A file that went is not changed.
    bool changed() const;

signals:
    void others_changed(int others);
    /// Tells it once for each time.
    void changed_by_others();

private:
    /// Size and time tell one state from another.
    struct State {
        qint64 size = -1;
        QDateTime time;
        bool operator==(const State&) const = default;
    };
    static State state_of(const QString& path);
    QString note(int number) const;
    void look();

    QString folder_, path_;
    State known_, told_;
    int number_ = -1, others_ = 0;
    std::unique_ptr<QLockFile> lock_;
    QFileSystemWatcher watcher_;
};

}  // namespace loom
