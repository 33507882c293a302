// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/export_work.h"

#include <QFileInfo>
#include <QStringList>
#include <atomic>
#include <optional>

namespace loom {

/// What the threads that encode say of how far each file is, looked at now and then; and what is there in the end.
struct ExportWork::Writing {
    explicit Writing(std::size_t count) : shares(count) {}
    std::vector<std::atomic<double>> shares;
    std::vector<ExportedFile> files;
    QStringList warnings;
    QStringList there;  ///< in the way
};

ExportWork::ExportWork(QObject* parent)
    // What there is no telling of beforehand is told when it is written.
    : QObject(parent), client_("export", [](const QString&) {}) {
    look_.setInterval(100);
    connect(&look_, &QTimer::timeout, this, [this] {
        std::vector<double> shares;
        for (const auto& each : now_->shares) shares.push_back(each.load());
        emit progress(shares);
    });
}

void ExportWork::plan(const std::vector<ExportRun>& runs) {
    Work work;
    work.doing = "planning the export";
    work.urgency = Urgency::pictures, work.slot = "plan";
    work.ended = [this](const Ended& how) {
        // One that is on its way when the next question comes is no answer to that.
        if (how.failed() && !planning_.under_way()) emit planned(0, QString::fromStdString(how.error.message));
    };
    planning_ = client_.submit<std::size_t>(
        std::move(work), [runs](const WorkContext& context) { return announced_bytes(runs, context.options, context.job); },
        [this](std::size_t& bytes) { emit planned(bytes, {}); });
}

void ExportWork::estimate(const std::vector<ExportRun>& runs) {
    Work work;
    work.doing = "estimating the export";
    work.urgency = Urgency::pictures, work.slot = "estimate";
    client_.submit<ExportEstimate>(
        std::move(work), [runs](const WorkContext& context) { return loom::estimated(runs, context.options, context.job); },
        [this](ExportEstimate& found) { emit estimated(found.seconds, found.bytes); });
}

void ExportWork::write(std::vector<ExportRun> runs, const QStringList& own) {
    std::size_t count = 0;
    for (const ExportRun& run : runs) count += run.paths().size();
    now_ = std::make_shared<Writing>(count);
    look_.start();
    Work work;
    work.doing = "writing the export";
    work.urgency = Urgency::lengthy, work.slot = "write";
    work.run = [runs = std::move(runs), own, now = now_](const WorkContext& context) -> Result<Done> {
        now->there = lying(runs, own);
        if (!now->there.isEmpty()) return Done{};
        const auto done = written(runs, *now, context);
        if (!done) now->files.clear();
        return done;
    };
    work.ended = [this, now = now_](const Ended& how) {
        look_.stop();
        if (how.outcome == Outcome::done && !now->there.isEmpty()) return emit found(now->there);
        emit ended(now->files, now->warnings, how);
    };
    writing_ = client_.submit(std::move(work));
}

/// Those of the files that are there already.
QStringList ExportWork::lying(const std::vector<ExportRun>& runs, const QStringList& own) {
    QStringList there;
    for (const ExportRun& run : runs)
        for (const std::string& path : run.paths())
            if (const QString each = QString::fromStdString(path); !own.contains(each) && QFileInfo::exists(each)) there << each;
    return there;
}

Result<Done> ExportWork::written(const std::vector<ExportRun>& runs, Writing& writing, const WorkContext& context) {
    std::size_t first = 0;
    FilesTogether together;
    for (const ExportRun& run : runs) {
        RenderOptions options = context.options;
        // What is written once is not kept.
        options.cache = nullptr;
        const Reservation reservation =
            context.reserve([&](const RenderOptions& of) { return announced_bytes(run, of, context.job); }, options);
        // Pictures within a material have no path of their own.
        std::vector<std::size_t> places;
        std::size_t next = first;
        for (const MapFile& file : run.files) places.push_back(file.path.empty() ? first + run.paths().size() - 1 : next++);
        const auto exported = write_export(run, together, options, context.job,
                                           [&](std::size_t file, double share) { writing.shares[places[file]].store(share); });
        if (!exported) return exported.error();
        first += run.paths().size();
        writing.files.insert(writing.files.end(), exported->files.begin(), exported->files.end());
        for (const std::string& warning : exported->warnings)
            if (const QString text = QString::fromStdString(warning); !writing.warnings.contains(text)) writing.warnings << text;
    }
    return together.finish();
}

}  // namespace loom
