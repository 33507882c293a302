// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A try sheet as one picture: pictures in rows and columns with their captions, set by Pango.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/image/bundle.h"
#include "core/recipe/question.h"

namespace loom {

struct Sheet {
    std::string title;
    /// Heads of columns and rows of a sheet of two axes; empty where each picture has a caption of its own.
    std::vector<std::string> heads, sides;
    std::vector<std::string> captions;  ///< as many as pictures, or none
    std::vector<Bundle> pictures;       ///< row by row, all of one size; empty ones are left blank
    int columns = 1;
    int marked = -1;  ///< the one that is framed; -1: none
};

/// What is written on the sheet of a question, and which picture is framed; without pictures. Columns are those of the first axis
/// where there are two, else as many as make it about square.
Sheet sheet_of(const Recipe& recipe, const SheetAxes& axes);

/// The sheet on light grey. Fails with Fault::memory if it would be wider or higher than 32767 pixels.
Result<Bundle> sheet_picture(const Sheet& sheet);

}  // namespace loom
