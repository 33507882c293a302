// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// EXR, half or float, in chunks of 16 lines with ZIP compression, made side by side and handed to OpenEXR's own writer.
#pragma once

#include <memory>

#include "core/files/picture_codec.h"

namespace loom {

std::unique_ptr<PictureEncoder> exr_encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure);

}  // namespace loom
