// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/sample_book.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <algorithm>

#include "core/base/guard.h"
#include "core/recipe/container.h"

namespace loom {

namespace {

struct ReadBook {
    std::vector<Sample> samples;
    QStringList failures;
};

/// The heading of each sample by the name of its file, and which come first: `book.json` lists both.
struct Contents {
    std::vector<std::pair<QString, QString>> pages;  ///< file name without its ending, heading
    /// Place among the pages; their number for what is not listed.
    std::size_t place(const QString& name) const {
        return static_cast<std::size_t>(
            std::find_if(pages.begin(), pages.end(), [&](const auto& page) { return page.first == name; }) - pages.begin());
    }
};
Contents read_contents(const QString& folder) {
    Contents contents;
    QFile file(folder + "/book.json");
    if (!file.open(QFile::ReadOnly)) return contents;
    for (const QJsonValue& part : QJsonDocument::fromJson(file.readAll()).array())
        for (const QJsonValue& name : part["samples"].toArray())
            contents.pages.emplace_back(name.toString(), part["material"].toString());
    return contents;
}

Result<ReadBook> read_all(const QString& folder, const Job& job) {
    ReadBook all;
    const Contents contents = read_contents(folder);
    const auto place = [&](const Sample& sample) { return contents.place(QFileInfo(sample.path).completeBaseName()); };
    for (const QFileInfo& info :
         QDir(folder).entryInfoList({"*.loom"}, QDir::Files | QDir::Dirs | QDir::NoDotAndDotDot, QDir::Name)) {
        job.check();
        const std::string path = info.filePath().toStdString();
        auto file = guarded("reading '" + path + "'", [&] { return read_loom(path); });
        if (file)
            all.samples.push_back({info.filePath(), std::move(file->recipe), {}});
        else
            all.failures << QString::fromStdString(file.error().message);
    }
    for (Sample& sample : all.samples) {
        const std::size_t at = place(sample);
        sample.material = at < contents.pages.size() ? contents.pages[at].second : SampleBook::tr("Others");
    }
    std::stable_sort(all.samples.begin(), all.samples.end(),
                     [&](const Sample& a, const Sample& b) { return place(a) < place(b); });
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
