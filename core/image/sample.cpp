// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/sample.h"

namespace loom {

float far_place(float place, int count) { return std::isfinite(place) ? std::fmod(place, static_cast<float>(count)) : 0; }

}  // namespace loom
