// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Colours, type and measures of the window. Greys have no tint, so that a cloth's colour is judged fairly.
#pragma once

#include <QColor>
#include <QFont>

class QApplication;

namespace loom::theme {

enum class Scheme { light, dark };

struct Colours {
    QColor window, panel, card, field, line, text, faint, accent, on_accent, thread, good, warn, cloth_ground;
};

/// Loads the typeface, sets palette and style; may be called again to change the scheme.
void apply(QApplication& app, Scheme scheme);
Scheme scheme();
/// Which it is to be; as the system has it, as far as it says so.
Scheme wanted(bool dark, bool as_system);
const Colours& colours();

QFont text_font();   ///< 12 px
QFont small_font();  ///< 11 px
QFont strong_font(int pixels = 12);

constexpr int card_width = 117, card_height = 60, column_gap = 0, gap = 16;

}  // namespace loom::theme
