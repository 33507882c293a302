// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// WebP through libwebp itself, piece by piece, with its profile and how the camera was held; OpenImageIO decodes it in one go and
// tells of neither.
#pragma once

#include "core/files/picture_codec.h"

namespace loom {

CodecFailure webp_head(std::string_view file, int greatest, PictureHead& out);
CodecFailure read_webp(std::string_view file, int greatest, PictureRows& out);

}  // namespace loom
