// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// SVG files that a recipe keeps. Private to core/files.
#pragma once

#include <memory>
#include <string>

#include "core/image/picture_reader.h"

namespace loom {

/// Throws Cancelled with the job.
Result<std::shared_ptr<const ReadDrawing>> kept_drawing(std::shared_ptr<const std::string> svg, const Job& job);

}  // namespace loom
