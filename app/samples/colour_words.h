// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What colours are called, so that a sample can be found by them.
#pragma once

#include <QColor>
#include <QString>

#include "core/recipe/recipe.h"

namespace loom {

/// The colour that stands for a colourway: the middle of the first gradient it sets, or else its first colour; invalid: none.
QColor dot_of(const Colourway& colourway);
/// The plain words for a colour, with spaces between: "dark green".
QString colour_words(const QColor& colour);

}  // namespace loom
