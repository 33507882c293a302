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
    std::string font;      ///< family and style as the system names them: "Inter Bold"; blanks, dashes and case do not count
    double spacing = 0;    ///< between letters, % of the size
    double leading = 120;  ///< from line to line, % of the size
    Align align = Align::centre;
};

/// In thousandths of the size, about the middle of the text as it is set. Lines run the way their letters are read. Empty if
/// nothing is to be seen.
Outline set_letters(const LetterSetting& setting);

/// Whether this machine has the family and, where one is named, the style; without it Pango takes another.
bool has_font(const std::string& font);
/// All families of this machine with their styles, "Inter ExtraBold", in the order of the alphabet.
std::vector<std::string> font_faces();

}  // namespace loom
