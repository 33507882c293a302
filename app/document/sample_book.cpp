// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/sample_book.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>

#include "core/base/guard.h"
#include "core/recipe/container.h"

namespace loom {

namespace {

struct ReadBook {
    std::vector<Sample> samples;
    QStringList failures;
};

Result<ReadBook> read_all(const QString& folder, const Job& job) {
    ReadBook all;
    for (const QFileInfo& info :
         QDir(folder).entryInfoList({"*.loom"}, QDir::Files | QDir::Dirs | QDir::NoDotAndDotDot, QDir::Name)) {
        job.check();
        const std::string path = info.filePath().toStdString();
        auto file = guarded("reading '" + path + "'", [&] { return read_loom(path); });
        if (file)
            all.samples.push_back({info.filePath(), std::move(file->recipe)});
        else
            all.failures << QString::fromStdString(file.error().message);
    }
    return all;
}

}  // namespace

QString samples_folder() {
    const QString beside = QCoreApplication::applicationDirPath();
    for (const QString& folder : {beside + "/../share/keen-loom/samples", QStringLiteral(KEEN_LOOM_SAMPLES)})
        if (QFileInfo(folder).isDir()) return QDir::cleanPath(folder);
    return {};
}

SampleBook::SampleBook(const QString& folder, QObject* parent)
    : QObject(parent), files_("book", [this](const QString& why) { emit failed(why); }) {
    Work work;
    work.doing = "reading the samples";
    work.urgency = Urgency::pictures;
    reading_ = files_.submit<ReadBook>(
        std::move(work), [folder](const WorkContext& context) { return read_all(folder, context.job); },
        [this](ReadBook& read) {
            samples_ = std::move(read.samples);
            emit was_read();
            for (const QString& failure : read.failures) emit failed(failure);
        });
}

QString SampleBook::name_of(const QString& path) const {
    for (const Sample& sample : samples_)
        if (sample.path == path) return QString::fromStdString(sample.recipe.name);
    return QFileInfo(path).completeBaseName();
}

}  // namespace loom
