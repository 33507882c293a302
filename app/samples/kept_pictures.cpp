// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/samples/kept_pictures.h"

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>
#include <QStandardPaths>

#include "core/recipe/json.h"

namespace loom {

QString KeptPictures::usual_folder() { return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/samples"; }

QString KeptPictures::file_of(const Recipe& recipe) const {
    QCryptographicHash hash(QCryptographicHash::Sha256);
    hash.addData(QByteArray::fromStdString(write_recipe(recipe)));
    for (const auto& [name, asset] : recipe.assets) hash.addData(QByteArray::fromStdString(asset->sha256));
    // Another build may make another picture.
    hash.addData(QFileInfo(QCoreApplication::applicationFilePath()).lastModified().toString(Qt::ISODateWithMs).toUtf8());
    return folder_ + "/" + QString::fromLatin1(hash.result().toHex().left(32)) + ".png";
}

QImage KeptPictures::find(const Recipe& recipe) const { return QImage(file_of(recipe), "PNG"); }

void KeptPictures::keep(const Recipe& recipe, const QImage& image) const {
    if (image.isNull() || !QDir().mkpath(folder_)) return;
    QSaveFile file(file_of(recipe));
    if (file.open(QIODevice::WriteOnly) && image.save(&file, "PNG", 70)) file.commit();
    const auto all = QDir(folder_).entryInfoList({"*.png"}, QDir::Files, QDir::Time);
    for (qsizetype k = most; k < all.size(); ++k) QFile::remove(all[k].filePath());
}

}  // namespace loom
