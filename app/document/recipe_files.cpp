// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/recipe_files.h"

#include <QFileInfo>
#include <QTimer>

#include "app/document/recent_files.h"
#include "app/document/render_service.h"
#include "app/document/session.h"
#include "core/base/files.h"
#include "core/catalogue/picture_format.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"

namespace loom {

RecipeFiles::RecipeFiles(Session& session, QObject* parent)
    : QObject(parent), session_(session), client_("files", [this](const QString& why) { emit failed(why); }) {
    client_.when_at_rest([this] { emit rested(); });
}

void RecipeFiles::tell_if_slow(const Task& task, const QString& message) {
    QTimer::singleShot(patience_ms, this, [this, task, message] {
        if (task.under_way()) emit slow(message);
    });
}

void RecipeFiles::open(const QString& path, std::function<void(LoomFile&)> take) {
    Work work;
    work.doing = "opening '" + path.toStdString() + "'";
    work.urgency = Urgency::reading, work.slot = "open";
    struct Opened {
        LoomFile file;
        bool is_picture = false;
    };
    opening_ = client_.submit<Opened>(
        std::move(work),
        [path = path.toStdString()](const WorkContext&) -> Result<Opened> {
            auto file = read_loom(path);
            if (file) return Opened{std::move(*file)};
            const auto start = read_start(path, 16);
            if (start && !picture_kind(*start).empty()) return Opened{{}, true};
            return file.error();
        },
        [this, path, take = std::move(take)](Opened& opened) {
            if (opened.is_picture) return emit picture_found(path);
            take(opened.file);
        });
    tell_if_slow(opening_, tr("Opening %1 …").arg(QFileInfo(path).fileName()));
}

void RecipeFiles::look_for(const QStringList& paths, std::function<void(std::vector<RecentFile>&)> take) {
    Work work;
    work.doing = "looking for recent files";
    work.urgency = Urgency::pictures, work.slot = "recent";
    client_.submit<std::vector<RecentFile>>(
        std::move(work),
        [paths](const WorkContext& context) -> Result<std::vector<RecentFile>> {
            std::vector<RecentFile> found;
            for (const QString& path : RecentFiles::present(paths)) {
                context.job.check();
                const std::string preview = preview_in(path.toStdString());
                const QImage picture =
                    QImage::fromData(reinterpret_cast<const uchar*>(preview.data()), static_cast<int>(preview.size()), "PNG");
                found.push_back({path, picture.isNull()
                                           ? picture
                                           : picture.scaled(recent_picture, recent_picture, Qt::KeepAspectRatioByExpanding,
                                                            Qt::SmoothTransformation)});
            }
            return found;
        },
        std::move(take));
}

void RecipeFiles::save(const QString& path, const QImage& picture, std::function<void()> then) {
    Work work;
    work.doing = "saving '" + path.toStdString() + "'";
    work.urgency = Urgency::saving;
    const auto content = std::make_shared<LoomFile>(session_.content_for(path));
    work.run = [path = path.toStdString(), content, picture](const WorkContext&) -> Result<Done> {
        // The picture on show is the preview; a recipe is saved even when there is none.
        if (!picture.isNull())
            if (auto encoded = encode_preview(from_image(picture), preview_size)) content->preview_png = std::move(*encoded);
        // What was put in and taken out again does not go into the file; undo still has it.
        LoomFile file = *content;
        file.recipe = without_unused_assets(std::move(file.recipe));
        return write_loom(path, file);
    };
    work.ended = [this, path, content, then = std::move(then), document = session_.document()](const Ended& how) {
        if (how.failed()) return emit failed(QString::fromStdString(how.error.message));
        if (how.stopped()) return;
        if (document == session_.document()) session_.saved(path, *content);
        if (then) then();
    };
    saving_ = client_.submit(std::move(work));
    tell_if_slow(saving_, tr("Saving %1 …").arg(QFileInfo(path).fileName()));
}

}  // namespace loom
