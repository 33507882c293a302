// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// WebP through libwebp itself, which can be told to take its time or not; OpenImageIO always lets it take most.
#pragma once

#include <memory>

#include "core/files/picture_codec.h"

namespace loom {

std::unique_ptr<PictureEncoder> webp_encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure);

}  // namespace loom
