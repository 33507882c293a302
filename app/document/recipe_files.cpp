// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/recipe_files.h"

#include <QFileInfo>
#include <QTimer>

#include "app/document/recent_files.h"
#include "app/document/render_service.h"
#include "app/document/session.h"
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
    opening_ = client_.submit<LoomFile>(
        std::move(work), [path = path.toStdString()](const WorkContext&) { return read_loom(path); }, std::move(take));
    tell_if_slow(opening_, tr("Opening %1 …").arg(QFileInfo(path).fileName()));
}

void RecipeFiles::look_for(const QStringList& paths, std::function<void(QStringList&)> take) {
    Work work;
    work.doing = "looking for recent files";
    work.urgency = Urgency::pictures, work.slot = "recent";
    client_.submit<QStringList>(
        std::move(work), [paths](const WorkContext&) -> Result<QStringList> { return RecentFiles::present(paths); },
        std::move(take));
}

void RecipeFiles::save(const QString& path, const QImage& picture, std::function<void()> then) {
    Work work;
    work.doing = "saving '" + path.toStdString() + "'";
    work.urgency = Urgency::saving;
    const auto content = std::make_shared<LoomFile>(session_.content());
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
