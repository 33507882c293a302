// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QIcon>
#include <functional>

namespace loom {

/// A curve drawn in the colours of the theme; `height` gives 0..1 for 0..1, `side` is in pixels.
QIcon curve_icon(const std::function<double(double)>& height, int side, double screen_scale = 1);

}  // namespace loom
