// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures that a recipe keeps inside, as the bytes of their files.
#pragma once

#include <string>

#include "core/image/picture_reader.h"

namespace loom {

constexpr std::size_t most_kept_bytes = std::size_t{256} << 20;  ///< of the file

/// The bytes of a picture file that a recipe may keep: whole, readable and not too large.
Result<std::string> read_kept_picture(const std::string& path);
/// The same of an SVG file.
Result<std::string> read_kept_drawing(const std::string& path);
constexpr std::size_t most_drawing_bytes = std::size_t{4} << 20;  ///< of an SVG file
/// "png" for "Wall.PNG".
std::string extension_in(const std::string& path);

/// Reads kept pictures for renderings.
const PictureReader& picture_reader();

}  // namespace loom
