// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/journal.h"

#include <QFileInfo>
#include <nlohmann/json.hpp>

#include "app/document/journal_file.h"
#include "app/document/preferences.h"
#include "app/document/render_service.h"
#include "core/base/guard.h"
#include "core/files/picture.h"

namespace loom {

namespace {

constexpr const char* member = "journal";

/// Where the recipe's own file is stands among its unknown members.
void set_path(Recipe& recipe, const QString& path) {
    auto unknown = recipe.unknown.empty() ? nlohmann::ordered_json::object() : nlohmann::ordered_json::parse(recipe.unknown);
    unknown[member] = {{"path", path.toStdString()}};
    recipe.unknown = unknown.dump();
}

QString take_path(Recipe& recipe) {
    auto unknown = recipe.unknown.empty() ? nlohmann::ordered_json::object() : nlohmann::ordered_json::parse(recipe.unknown);
    QString path;
    if (const auto found = unknown.find(member); found != unknown.end() && found->is_object())
        if (const auto named = found->find("path"); named != found->end() && named->is_string())
            path = QString::fromStdString(named->get<std::string>());
    unknown.erase(member);
    recipe.unknown = unknown.empty() ? std::string() : unknown.dump();
    return path;
}

}  // namespace

Journal::Journal(Session& session, QString folder, std::function<QImage()> picture, QObject* parent)
    : QObject(parent),
      session_(session),
      picture_(std::move(picture)),
      document_(session.document()),
      file_(std::make_shared<JournalFile>(std::move(folder))),
      client_("journal", [this](const QString& why) { emit failed(why); }) {
    timer_.setSingleShot(true);
    const auto delay = [this] { timer_.setInterval(static_cast<int>(1000 * preferences().journal_seconds)); };
    delay();
    connect(&PresentPreferences::instance(), &PresentPreferences::changed, this, delay);
    connect(&timer_, &QTimer::timeout, this, &Journal::write);
    connect(&session_, &Session::recipe_changed, this, &Journal::follow);
    connect(&session_, &Session::file_changed, this, &Journal::follow);
}

// The file tidies up after itself, or lets go of what nobody has given up.
Journal::~Journal() = default;

QString Journal::file() const { return file_->path(); }

void Journal::follow() {
    if (session_.document() != document_) {
        document_ = session_.document();
        give_up();
    }
    if (!session_.modified()) return give_up();
    // A drag that goes on and on is kept too, so the clock is not set back.
    if (!timer_.isActive()) timer_.start();
}

void Journal::give_up() {
    timer_.stop();
    client_.drop("write");
    file_->give_up();
    Work work;
    work.doing = "tidying up unsaved changes";
    work.urgency = Urgency::journal, work.slot = "tidy";
    work.run = [file = file_](const WorkContext&) -> Result<Done> {
        file->tidy();
        return Done{};
    };
    client_.submit(std::move(work));
}

void Journal::write() {
    if (!session_.modified()) return;
    Work work;
    work.doing = "keeping unsaved changes";
    // Only the newest state is worth keeping.
    work.urgency = Urgency::journal, work.slot = "write";
    work.run = [file = file_, mark = file_->mark(), recipe = session_.recipe(), path = session_.path(),
                image = picture_()](const WorkContext&) {
        LoomFile content;
        content.recipe = recipe;
        set_path(content.recipe, path);
        if (!image.isNull())
            if (auto encoded = encode_preview(from_image(image), preview_size)) content.preview_png = std::move(*encoded);
        return file->write(content, mark);
    };
    work.ended = [this](const Ended& how) {
        if (how.stopped()) return;
        // Once is enough until it goes well again.
        const bool news = how.failed() && !told_;
        told_ = how.failed();
        if (news) emit failed(QString::fromStdString(how.error.message));
        if (!how.failed()) emit written();
    };
    client_.submit(std::move(work));
}

void Journal::look() {
    Work work;
    work.doing = "looking for unsaved changes";
    work.urgency = Urgency::journal;
    client_.submit<std::vector<LeftBehind>>(
        std::move(work),
        [file = file_](const WorkContext& context) -> Result<std::vector<LeftBehind>> {
            std::vector<LeftBehind> left;
            for (const QString& each : file->left_behind()) {
                context.job.check();
                auto content = guarded("reading unsaved changes", [&] { return inspect_loom(each.toStdString()); });
                if (!content) continue;
                LeftBehind one{each, {}, QFileInfo(each).lastModified(), std::move(*content)};
                one.path = take_path(one.content.recipe);
                left.push_back(std::move(one));
            }
            return left;
        },
        [this](std::vector<LeftBehind>& left) {
            if (!left.empty()) emit found(left);
        });
}

void Journal::restore(const LeftBehind& left) {
    session_.start_unsaved(left.content, left.path);
    document_ = session_.document();
    Work work;
    work.doing = "going on with unsaved changes";
    work.urgency = Urgency::journal;
    work.run = [file = file_, mark = file_->mark(), old = left.file](const WorkContext&) -> Result<Done> {
        file->take_over(old, mark);
        return Done{};
    };
    client_.submit(std::move(work));
    timer_.start();
}

void Journal::forget(const LeftBehind& left) {
    Work work;
    work.doing = "forgetting unsaved changes";
    work.urgency = Urgency::journal;
    work.run = [file = left.file](const WorkContext&) -> Result<Done> {
        JournalFile::remove(file);
        return Done{};
    };
    client_.submit(std::move(work));
}

}  // namespace loom
