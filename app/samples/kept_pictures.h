// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures of recipes that are kept from one start of the program to the next. A recipe that was changed, and a program that was,
// have none.
#pragma once

#include <QImage>
#include <QString>

#include "core/recipe/recipe.h"

namespace loom {

class KeptPictures {
public:
    /// `folder` is made when something is kept.
    explicit KeptPictures(QString folder) : folder_(std::move(folder)) {}
    /// In the person's cache.
    static QString usual_folder();

    /// Null if there is none.
    QImage find(const Recipe& recipe) const;
    /// Failures are silent: it is made again next time.
    void keep(const Recipe& recipe, const QImage& image) const;

    static constexpr int most = 64;  ///< the oldest go

private:
    QString file_of(const Recipe& recipe) const;
    QString folder_;
};

}  // namespace loom
