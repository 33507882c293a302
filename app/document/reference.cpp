// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/reference.h"

#include <QCryptographicHash>
#include <QFileInfo>
#include <QSettings>
#include <algorithm>

#include "app/document/render_service.h"
#include "app/document/scheduler.h"
#include "app/document/session.h"
#include "core/base/guard.h"
#include "core/files/picture.h"

namespace loom {

namespace {

constexpr int longest = 1024;

struct Read {
    QImage image;
    Measures measures;
    std::shared_ptr<const Bundle> planes;
};

Result<Read> read_reference(const QString& path, const Job& job) {
    auto picture = read_picture(path.toStdString());
    if (!picture) return picture.error();
    const Size own = picture->size();
    const double shrink = std::min(1.0, static_cast<double>(longest) / std::max(own.width, own.height));
    const Size size{std::max(1, static_cast<int>(own.width * shrink)), std::max(1, static_cast<int>(own.height * shrink))};
    auto planes = std::make_shared<const Bundle>(size == own ? std::move(*picture) : resized(*picture, size, job));
    return Read{to_image(*planes), measure(*planes, job), planes};
}

}  // namespace

ReferencePicture::ReferencePicture(Session& session, QObject* parent)
    : QObject(parent), session_(session), client_(scheduler(), "reference") {
    connect(&session_, &Session::file_changed, this, &ReferencePicture::follow);
    document_ = session_.document();
}

QString ReferencePicture::name() const { return QFileInfo(path_).fileName(); }

QString ReferencePicture::key() const {
    const QByteArray file = QFileInfo(session_.path()).absoluteFilePath().toUtf8();
    return "references/" + QString::fromLatin1(QCryptographicHash::hash(file, QCryptographicHash::Sha256).toHex().left(24));
}

void ReferencePicture::follow() {
    if (document_ == session_.document()) {
        // Saved under a name: the picture is known by it from now on.
        if (!session_.path().isEmpty() && session_.path() != of_file_ && is_there()) QSettings().setValue(key(), path_);
        of_file_ = session_.path();
        return;
    }
    document_ = session_.document();
    of_file_ = session_.path();
    const QString kept = of_file_.isEmpty() ? QString() : QSettings().value(key()).toString();
    if (is_there()) {
        image_ = {}, path_.clear(), planes_.reset();
        emit changed();
    }
    if (!kept.isEmpty() && QFileInfo::exists(kept)) load(kept);
}

void ReferencePicture::load(const QString& path) {
    Client::Request request;
    request.urgency = Urgency::files, request.slot = "reference";
    request.run = [this, path, document = session_.document()](const Surface& surface) {
        auto read = guarded("reading '" + path.toStdString() + "'", [&] { return read_reference(path, surface.job); });
        surface.answer(
            [&] {
                QMetaObject::invokeMethod(this, [this, path, document, read = std::move(read)] {
                    if (document != session_.document()) return;
                    if (!read) return emit failed(QString::fromStdString(read.error().message));
                    path_ = path, image_ = read->image, measures_ = read->measures, planes_ = read->planes;
                    if (!session_.path().isEmpty()) QSettings().setValue(key(), path_);
                    emit changed();
                });
            },
            false);
    };
    client_.submit(std::move(request));
}

void ReferencePicture::forget() {
    client_.cancel_all();
    if (!session_.path().isEmpty()) QSettings().remove(key());
    image_ = {}, path_.clear(), planes_.reset();
    emit changed();
}

QImage ReferencePicture::in_proportion(Size tile) const {
    if (image_.isNull()) return {};
    const double wanted = static_cast<double>(tile.width) / tile.height,
                 own = static_cast<double>(image_.width()) / image_.height();
    const int wide = own > wanted ? std::max(1, static_cast<int>(image_.height() * wanted)) : image_.width();
    const int high = own > wanted ? image_.height() : std::max(1, static_cast<int>(image_.width() / wanted));
    return image_.copy((image_.width() - wide) / 2, (image_.height() - high) / 2, wide, high);
}

}  // namespace loom
