// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Keeps what is not saved yet in a file of its own, so that a crash or a power cut takes at most the last seconds. The file is a
// .loom file; it goes as soon as the recipe is saved or given up. One that is still there when no program holds it was left
// behind, and is offered.
#pragma once

#include <QDateTime>
#include <QImage>
#include <QLockFile>
#include <QObject>
#include <QTimer>
#include <atomic>
#include <functional>
#include <memory>
#include <vector>

#include "app/document/session.h"
#include "core/render/scheduler.h"

namespace loom {

/// What an earlier run left.
struct LeftBehind {
    QString file;  ///< of the journal
    QString path;  ///< of the recipe's own file, or "" if it never had one
    QDateTime when;
    LoomFile content;
};

class Journal : public QObject {
    Q_OBJECT
public:
    /// `folder` is made when it is needed; `picture` gives the cloth as it is on show.
    Journal(Session& session, QString folder, std::function<QImage()> picture, QObject* parent = nullptr);
    ~Journal() override;

    /// Reads beside the interface what was left behind, and tells found().
    void look();
    /// Goes on with it: the session holds it as an unsaved recipe.
    void restore(const LeftBehind& left);
    static void forget(const LeftBehind& left);
    /// The file that holds the present changes, or "".
    QString file() const { return lock_ ? file_ : QString(); }
    /// Nothing is to be kept any more.
    void give_up();

    static constexpr int delay_ms = 1500;

signals:
    void found(const std::vector<loom::LeftBehind>& left);
    void failed(const QString& message);
    void written();

private:
    void follow();
    void write();
    bool take(const QString& file);

    Session& session_;
    QString folder_, file_;
    std::function<QImage()> picture_;
    std::unique_ptr<QLockFile> lock_;
    QTimer timer_;
    std::uint64_t document_ = 0;
    bool told_ = false;
    /// Files that are no longer wanted; a write that is under way removes its own.
    std::shared_ptr<std::atomic<std::uint64_t>> given_up_ = std::make_shared<std::atomic<std::uint64_t>>(0);
    Client client_;
};

}  // namespace loom
