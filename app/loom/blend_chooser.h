// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Every blend of a strand's join as a live picture of the whole cloth.
#pragma once

#include "app/tries/picture_chooser.h"
#include "core/recipe/recipe.h"

namespace loom {

class BlendChooser : public PictureChooser {
    Q_OBJECT
public:
    BlendChooser(const Recipe& recipe, const std::string& strand, QWidget* parent);
    static Blend blend_of(const QString& id);
};

}  // namespace loom
