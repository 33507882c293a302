// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Histograms of a small picture, by channel, for what is drawn behind curves and levels.
#pragma once

#include <QImage>
#include <QPainterPath>

#include "core/measure/measure.h"

namespace loom {

enum class ToneOf { all, red, green, blue, lightness };

/// Of what is covered; `all` is luma. In the order of the channels that steps offer.
Histogram tone_counts(const QImage& picture, ToneOf channel);

/// As an area with its foot at the bottom of `plot`, on a square-root scale, which shows thin tails beside a tall middle.
QPainterPath tone_path(const Histogram& histogram, const QRect& plot);

/// Darkest and lightest tone, but for a share of the area that may be lost at either end.
struct ToneEnds {
    double dark = 0, light = 1;
};
ToneEnds tone_ends(const Histogram& histogram, double clipped_share);

}  // namespace loom
