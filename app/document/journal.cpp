// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/journal.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>
#include <nlohmann/json.hpp>

#include "app/document/render_service.h"
#include "app/document/scheduler.h"
#include "core/base/guard.h"
#include "core/files/picture.h"

namespace loom {

namespace {

constexpr const char* member = "journal";

QString lock_of(const QString& file) { return file + ".lock"; }

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
      folder_(std::move(folder)),
      picture_(std::move(picture)),
      document_(session.document()),
      client_(scheduler(), "journal") {
    timer_.setSingleShot(true);
    timer_.setInterval(delay_ms);
    connect(&timer_, &QTimer::timeout, this, &Journal::write);
    connect(&session_, &Session::recipe_changed, this, &Journal::follow);
    connect(&session_, &Session::file_changed, this, &Journal::follow);
}

Journal::~Journal() {
    // Whoever goes without giving up has crashed or lost its power.
    if (lock_) lock_->unlock();
}

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
    ++*given_up_;
    if (!lock_) return;
    QFile::remove(file_);
    lock_.reset();
}

bool Journal::take(const QString& file) {
    auto lock = std::make_unique<QLockFile>(lock_of(file));
    lock->setStaleLockTime(0);
    if (!lock->tryLock(0)) return false;
    lock_ = std::move(lock);
    file_ = file;
    return true;
}

void Journal::write() {
    if (!session_.modified()) return;
    QDir().mkpath(folder_);
    if (!lock_ && !take(folder_ + "/" + QUuid::createUuid().toString(QUuid::WithoutBraces) + ".loom")) {
        if (!told_) emit failed(tr("cannot keep unsaved changes in '%1'; save often, or make room there").arg(folder_));
        told_ = true;
        return;
    }
    LoomFile content;
    content.recipe = session_.recipe();
    set_path(content.recipe, session_.path());
    Client::Request request;
    request.urgency = Urgency::files;
    request.run = [this, content = std::move(content), image = picture_(), file = file_, wanted = given_up_,
                   mark = given_up_->load()](const Surface& surface) mutable {
        if (*wanted != mark) return;
        const std::string path = file.toStdString();
        if (!image.isNull())
            if (auto encoded = encode_preview(from_image(image), 256)) content.preview_png = std::move(*encoded);
        const auto done = guarded("keeping unsaved changes", [&] { return write_loom(path, content); });
        if (*wanted != mark) QFile::remove(file);
        surface.answer(
            [&] {
                QMetaObject::invokeMethod(this, [this, done] {
                    if (done) {
                        told_ = false;
                        return emit written();
                    }
                    // Once is enough until it goes well again.
                    if (!told_) emit failed(QString::fromStdString(done.error().message));
                    told_ = true;
                });
            },
            true);
    };
    client_.submit(std::move(request));
}

void Journal::look() {
    QStringList files;
    for (const QFileInfo& each : QDir(folder_).entryInfoList({"*.loom"}, QDir::Files, QDir::Time)) {
        QLockFile lock(lock_of(each.absoluteFilePath()));
        lock.setStaleLockTime(0);
        // What another window holds is its own.
        if (lock.tryLock(0)) files << each.absoluteFilePath();
    }
    if (files.isEmpty()) return;
    Client::Request request;
    request.urgency = Urgency::files;
    request.run = [this, files](const Surface& surface) {
        std::vector<LeftBehind> left;
        for (const QString& file : files) {
            auto content = guarded("reading unsaved changes", [&] { return inspect_loom(file.toStdString()); });
            if (!content) continue;
            LeftBehind one{file, {}, QFileInfo(file).lastModified(), std::move(*content)};
            one.path = take_path(one.content.recipe);
            left.push_back(std::move(one));
        }
        surface.answer([&] { QMetaObject::invokeMethod(this, [this, left = std::move(left)] { emit found(left); }); }, true);
    };
    client_.submit(std::move(request));
}

void Journal::restore(const LeftBehind& left) {
    session_.start_unsaved(left.content, left.path);
    document_ = session_.document();
    // The old file stays until there is a newer one.
    if (!lock_) take(left.file);
    timer_.start();
}

void Journal::forget(const LeftBehind& left) {
    QFile::remove(left.file);
    QFile::remove(lock_of(left.file));
}

}  // namespace loom
