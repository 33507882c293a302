// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Who the keys belong to: a field in which somebody types, or the window around it.
#pragma once

class QKeyEvent;
class QWidget;

namespace loom {

/// Whether letters that are struck are text for the widget that has the keyboard. Lists and closed boxes of choices take none.
bool takes_letters(const QWidget* focus);

/// Undo or redo struck in a field: whether it goes past the field to the recipe, as what the field shows is its value. A text
/// counts as its value once Enter or leaving it has said so.
bool undoes_recipe(const QWidget* focus, const QKeyEvent& key);

}  // namespace loom
