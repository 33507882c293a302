// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Opens and saves recipe files beside the interface.
#pragma once

#include <QImage>
#include <QObject>
#include <functional>

#include "app/document/background.h"
#include "core/recipe/container.h"

namespace loom {

class Session;

struct RecentFile {
    QString path;
    QImage picture;  ///< the one kept in it, at most so large as a list of files shows it; null: none
};
constexpr int recent_picture = 48;  ///< pixels of its shorter side

class RecipeFiles : public QObject {
    Q_OBJECT
public:
    explicit RecipeFiles(Session& session, QObject* parent = nullptr);

    /// Hands the file to `take`, or tells failed() or picture_found(). A later wish replaces one under way.
    void open(const QString& path, std::function<void(LoomFile&)> take);
    /// Writes the recipe as it is now; `picture` becomes the preview. When it is there the session is told, then `then` is
    /// called; else failed() is told. One after the other, so that the last wish is what stays.
    void save(const QString& path, const QImage& picture, std::function<void()> then);
    /// Hands those of the files that are there to `take`, with their pictures.
    void look_for(const QStringList& paths, std::function<void(std::vector<RecentFile>&)> take);
    bool opening() const { return opening_.under_way(); }
    bool saving() const { return saving_.under_way(); }
    bool busy() const { return opening() || saving(); }
    /// What takes longer than the blink of an eye is told by slow().
    static constexpr int patience_ms = 400;

signals:
    void failed(const QString& message);
    /// What was to be opened as a recipe is a picture.
    void picture_found(const QString& path);
    /// While a file is being read or written: what is being done.
    void slow(const QString& message);
    void rested();

private:
    void tell_if_slow(const Task& task, const QString& message);
    Session& session_;
    Task opening_, saving_;  ///< the last of each
    Background client_;
};

}  // namespace loom
