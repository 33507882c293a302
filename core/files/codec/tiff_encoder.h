// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// TIFF, 16 bit, deflated in strips side by side. Through libtiff itself: the writer of this OpenImageIO loses the directory when
// it writes to a proxy.
#pragma once

#include <memory>

#include "core/files/picture_codec.h"

namespace loom {

std::unique_ptr<PictureEncoder> tiff_encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure);

}  // namespace loom
