// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The vectorised loops over the pixels that a stroke covers.
#pragma once

#include <cstddef>

namespace loom {

/// A piece between two points with what every pixel needs of it.
struct StrokePart {
    float x, y, wx, wy, per_length2, per_wy, top, bottom, start, share;
};

constexpr int most_stroke_parts = 1024;

struct StrokePen {
    float row, dx;            ///< the first row in the stroke's own frame, and how far the frame is moved across
    float half, taper, fade;  ///< half width in the middle, how much of it is lost at the ends, cover of the middle
    float edge;               ///< half width of the soft edge
};

/// How strokes go onto what is there.
enum class StrokeMix {
    lighter,  ///< the greater of picture and cover * tone
    darker,   ///< the smaller of picture and 1 - cover * (1 - tone)
    over,     ///< mixed with tone by cover, which the picture's own cover gains
    taken,    ///< cover * tone less, and cover * deep less of the height
};
struct StrokeInk {
    StrokeMix mix;
    float tone, deep;
    float tip = 0;  ///< what the tone gains from the stroke's beginning to its end
};

/// Rows that are painted on: picture, its cover (for over), height (may be null), each with its own first row.
struct StrokePaper {
    float *picture, *whole, *height;
    int rows, width;  ///< rows follow each other by `width` values
};

/// Where a stroke covers: one entry for each row of paper, and cover and share of the way at the columns of its span.
struct StrokeSpan {
    int first, last;  ///< none while last < first
};
struct StrokeTrace {
    StrokeSpan* spans;
    float *cover, *place;  ///< rows of `stride` values, longer than the paper by stroke_padding
    std::size_t stride;
};
constexpr int stroke_padding = 16;

/// Paints a stroke of at most most_stroke_parts parts; `trace` may be null.
void paint_stroke(const StrokePen& pen, const StrokePart* parts, int count, const StrokeInk& ink, const StrokePaper& paper,
                  const StrokeTrace* trace);

}  // namespace loom
