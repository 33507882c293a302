// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A photograph of the material, kept beside the recipe and not in it: what the window shows of it, and what it is measured as.
// Which picture belongs to which recipe file is remembered with the settings of the program.
#pragma once

#include <QImage>
#include <QObject>
#include <memory>

#include "app/document/background.h"
#include "core/measure/measure.h"

namespace loom {

class Session;

class ReferencePicture : public QObject {
    Q_OBJECT
public:
    explicit ReferencePicture(Session& session, QObject* parent = nullptr);

    /// Reads and measures a picture beside the interface; changed() or failed() tells how it went.
    void load(const QString& path);
    void forget();

    bool is_there() const { return !image_.isNull(); }
    /// "" while there is none.
    const QString& path() const { return path_; }
    QString name() const;
    const QImage& image() const { return image_; }
    /// Its middle in the proportions of a tile.
    QImage in_proportion(Size tile) const;
    const Measures& measures() const { return measures_; }
    /// The picture in planes, at most 1024 pixels on its longer side.
    const std::shared_ptr<const Bundle>& planes() const { return planes_; }

signals:
    void changed();
    void failed(const QString& message);

private:
    void follow();
    QString key() const;

    Session& session_;
    QString path_, of_file_;
    std::uint64_t document_ = 0;
    QImage image_;
    Measures measures_;
    std::shared_ptr<const Bundle> planes_;
    Background client_;
};

}  // namespace loom
