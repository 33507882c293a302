// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Lettering: text set by Pango, as outlines.
#pragma once

#include <string>
#include <vector>

#include "core/catalogue/kinds/outline.h"

namespace loom {

enum class Align { left, centre, right };

struct LetterSetting {
    std::string text;
    std::string font;      ///< family and style as Pango writes them: "Inter Bold"
    double spacing = 0;    ///< between letters, % of the size
    double leading = 120;  ///< from line to line, % of the size
    Align align = Align::centre;
};

/// In thousandths of the size, about the middle of the text as it is set. Lines run the way their letters are read. Empty if
/// nothing is to be seen.
Outline set_letters(const LetterSetting& setting);

/// Whether this machine has the font's family; without it Pango takes another.
bool has_font(const std::string& font);
/// All families of this machine, in the order of the alphabet.
std::vector<std::string> font_families();

}  // namespace loom
