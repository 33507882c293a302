// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Keeps what is not saved yet in a file of its own, so that a crash or a power cut takes at most the last seconds. The file is a
// .loom file; it goes as soon as the recipe is saved or given up. One that is still there when no program holds it was left
// behind, and is offered.
#pragma once

#include <QDateTime>
#include <QImage>
#include <QObject>
#include <QTimer>
#include <functional>
#include <memory>
#include <vector>

#include "app/document/background.h"
#include "app/document/session.h"

namespace loom {

/// What an earlier run left.
struct LeftBehind {
    QString file;  ///< of the journal
    QString path;  ///< of the recipe's own file, or "" if it never had one
    QDateTime when;
    LoomFile content;
};

class JournalFile;

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
    void forget(const LeftBehind& left);
    /// The file that holds the present changes, or "".
    QString file() const;
    /// Nothing is to be kept any more.
    void give_up();

signals:
    void found(const std::vector<loom::LeftBehind>& left);
    void failed(const QString& message);
    void written();

private:
    void follow();
    void write();

    Session& session_;
    std::function<QImage()> picture_;
    QTimer timer_;
    std::uint64_t document_ = 0;
    bool told_ = false;
    std::shared_ptr<JournalFile> file_;
    Background client_;
};

}  // namespace loom
