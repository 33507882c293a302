// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/export_work.h"

#include <QMetaObject>
#include <QStringList>
#include <optional>

#include "core/base/guard.h"

namespace loom {

/// How far each file is, written by the threads that encode and looked at now and then.
struct ExportWork::Shares {
    explicit Shares(std::size_t count) : files(count) {}
    std::vector<std::atomic<double>> files;
};

ExportWork::ExportWork(QObject* parent) : QObject(parent), client_(scheduler(), "export") {
    look_.setInterval(100);
    connect(&look_, &QTimer::timeout, this, [this] {
        std::vector<double> shares;
        for (const auto& each : shares_->files) shares.push_back(each.load());
        emit progress(shares);
    });
}

void ExportWork::plan(const std::vector<ExportRun>& runs) {
    Client::Request request;
    request.urgency = Urgency::pictures, request.slot = "plan";
    request.run = [this, runs, number = ++plans_](const Surface& surface) {
        const auto bytes = announced_bytes(runs, surface.options, surface.job);
        if (!bytes && bytes.error().fault == Fault::cancelled) return;
        const QString words = bytes ? QString() : QString::fromStdString(bytes.error().message);
        surface.answer(
            [&] {
                // An answer that is on its way when the next question comes is none to that.
                QMetaObject::invokeMethod(this, [this, number, most = bytes ? *bytes : 0, words] {
                    if (number == plans_) emit planned(most, words);
                });
            },
            false);
    };
    client_.submit(std::move(request));
}

void ExportWork::estimate(const std::vector<ExportRun>& runs) {
    Client::Request request;
    request.urgency = Urgency::pictures, request.slot = "estimate";
    request.run = [this, runs](const Surface& surface) {
        const auto found = loom::estimated(runs, surface.options, surface.job);
        if (!found) return;
        surface.answer(
            [&] { QMetaObject::invokeMethod(this, [this, found = *found] { emit estimated(found.seconds, found.bytes); }); },
            false);
    };
    client_.submit(std::move(request));
}

void ExportWork::write(std::vector<ExportRun> runs) {
    std::size_t count = 0;
    for (const ExportRun& run : runs) count += run.paths().size();
    shares_ = std::make_shared<Shares>(count);
    writing_ = true;
    look_.start();
    Client::Request request;
    request.urgency = Urgency::files, request.slot = "write";
    request.run = [this, runs = std::move(runs), shares = shares_](const Surface& surface) {
        std::vector<ExportedFile> files;
        QStringList warnings;
        std::optional<Error> error;
        std::size_t first = 0;
        FilesTogether together;
        for (const ExportRun& run : runs) {
            RenderOptions options = surface.options;
            // What is written once is not kept.
            options.cache = nullptr;
            std::optional<Lease> lease;
            const auto room = guarded("planning the export", [&]() -> Result<Done> {
                lease.emplace(
                    surface.room([&](const RenderOptions& of) { return announced_bytes(run, of, surface.job); }, options));
                return Done{};
            });
            if (!room) {
                error = room.error();
                break;
            }
            // Pictures within a material have no path of their own.
            std::vector<std::size_t> places;
            std::size_t next = first;
            for (const MapFile& file : run.files) places.push_back(file.path.empty() ? first + run.paths().size() - 1 : next++);
            const auto written = write_export(run, together, options, surface.job, [&](std::size_t file, double share) {
                // The last hundredth is waiting for the others and taking its place.
                shares->files[places[file]].store(0.99 * share);
            });
            if (!written) {
                error = written.error();
                break;
            }
            first += run.paths().size();
            files.insert(files.end(), written->files.begin(), written->files.end());
            for (const std::string& warning : written->warnings)
                if (const QString text = QString::fromStdString(warning); !warnings.contains(text)) warnings << text;
        }
        if (!error)
            if (const auto done = together.finish(); !done) error = done.error();
        if (error) files.clear();
        const bool stopped = error && error->fault == Fault::cancelled;
        const QString words = error ? QString::fromStdString(error->message) : QString();
        // Who gave up the work still wants to hear that it has ended.
        surface.answer(
            [&] {
                QMetaObject::invokeMethod(this, [this, files, warnings, words, stopped] {
                    writing_ = false;
                    look_.stop();
                    emit ended(files, warnings, words, stopped);
                });
            },
            true);
    };
    client_.submit(std::move(request));
}

}  // namespace loom
