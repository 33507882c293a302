// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Exports off the interface thread: what one will take, and the writing itself with how far each file is.
#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <memory>
#include <vector>

#include "app/document/background.h"
#include "core/files/export.h"

namespace loom {

class ExportWork : public QObject {
    Q_OBJECT
public:
    explicit ExportWork(QObject* parent = nullptr);

    /// Answers with planned(); a later question replaces an earlier one.
    void plan(const std::vector<ExportRun>& runs);
    /// Answers with estimated(); a later question replaces an earlier one.
    void estimate(const std::vector<ExportRun>& runs);
    /// Writes one run after the other; the first that fails ends it, and nothing is there then. Where files lie already that are
    /// not `own`, nothing is written and found() says so.
    void write(std::vector<ExportRun> runs, const QStringList& own);
    void stop() { writing_.stop(); }
    bool writing() const { return writing_.under_way(); }

signals:
    /// The most memory that a run takes, in bytes; or why there is no telling.
    void planned(std::size_t bytes, const QString& error);
    /// In seconds, and bytes file by file.
    void estimated(double seconds, const std::vector<double>& bytes);
    /// Paths of what would have been replaced, in the order of the runs.
    void found(const QStringList& there);
    /// Share of each file, in the order of the runs' paths.
    void progress(const std::vector<double>& shares);
    /// All files, or none and why.
    void ended(const std::vector<loom::ExportedFile>& files, const QStringList& warnings, const loom::Ended& how);

private:
    struct Writing;
    static QStringList lying(const std::vector<ExportRun>& runs, const QStringList& own);
    static Result<Done> written(const std::vector<ExportRun>& runs, Writing& writing, const WorkContext& context);

    QTimer look_;
    std::shared_ptr<Writing> now_;
    Task planning_, writing_;
    Background client_;
};

}  // namespace loom
