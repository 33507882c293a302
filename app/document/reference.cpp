// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/reference.h"

#include <QCryptographicHash>
#include <QFileInfo>
#include <QSettings>
#include <algorithm>

#include "app/document/render_service.h"
#include "app/document/session.h"
#include "core/files/picture.h"

namespace loom {

namespace {

constexpr int longest_reference = 1024;

struct Read {
    QImage image;
    Measures measures;
    std::shared_ptr<const Bundle> planes;
};

Result<Read> read_reference(const QString& path, const Job& job) {
    auto picture = read_picture(path.toStdString());
    if (!picture) return picture.error();
    const Size own = picture->size();
    const double shrink = std::min(1.0, static_cast<double>(longest_reference) / std::max(own.width, own.height));
    const Size size{std::max(1, static_cast<int>(own.width * shrink)), std::max(1, static_cast<int>(own.height * shrink))};
    auto planes = std::make_shared<const Bundle>(size == own ? std::move(*picture) : resized(*picture, size, job));
    return Read{to_image(*planes), measure(*planes, job), planes};
}

}  // namespace

ReferencePicture::ReferencePicture(Session& session, QObject* parent)
    : QObject(parent), session_(session), client_("reference", [this](const QString& why) { emit failed(why); }) {
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
    Work work;
    work.doing = "reading '" + path.toStdString() + "'";
    work.urgency = Urgency::reading, work.slot = "reference";
    client_.submit<Read>(
        std::move(work), [path](const WorkContext& context) { return read_reference(path, context.job); },
        [this, path, document = session_.document()](Read& read) {
            if (document != session_.document()) return;
            path_ = path, image_ = read.image, measures_ = read.measures, planes_ = read.planes;
            if (!session_.path().isEmpty()) QSettings().setValue(key(), path_);
            emit changed();
        });
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
