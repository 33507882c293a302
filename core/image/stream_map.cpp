// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/stream_map.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/image/sample_kernel.h"
#include "core/image/stream_kernel.h"

namespace loom {

namespace {

/// Longest step along a line, in points of the grid.
constexpr double longest_step = 1.0;

}  // namespace

StreamMap::StreamMap(const DirectionField& field, Size tile, const std::vector<double>& distances, const Job& job)
    : grid_(field.cosine.size()) {
    const auto width = static_cast<std::size_t>(grid_.width), height = static_cast<std::size_t>(grid_.height);
    for (std::size_t k = 0; k < 4 * distances.size(); ++k) moved_.emplace_back(grid_);
    // "One way" is the same for neighbours wherever it can be: each point looks as the one left of it does, the first of a row
    // as the one above.
    start_x_.assign(width * height, 1), start_y_.assign(width * height, 1e-3f);
    for (std::size_t y = 0; y < height; ++y)
        for (std::size_t x = 0; x < width; ++x) {
            const std::size_t at = y * width + x, from = x > 0 ? at - 1 : y > 0 ? at - width : at;
            start_x_[at] = start_x_[from], start_y_[at] = start_y_[from];
            stream_turn(field.cosine.data() + at, field.sine.data() + at, 1, &start_x_[at], &start_y_[at]);
        }
    mixed_.resize(height);
    for (std::size_t y = 0; y < height; ++y)
        for (std::size_t x = 0; x < width; ++x) {
            const std::size_t right = x + 1 < width ? x + 1 : 0, below = (y + 1 < height ? y + 1 : 0) * width, at = y * width + x;
            bool mixed = false;
            for (std::size_t corner : {y * width + right, below + x, below + right})
                mixed |= start_x_[at] * start_x_[corner] + start_y_[at] * start_y_[corner] < 0;
            if (mixed) mixed_[y].push_back(static_cast<int>(x));
        }
    const auto per_x = static_cast<float>(grid_.width) / static_cast<float>(tile.width),
               per_y = static_cast<float>(grid_.height) / static_cast<float>(tile.height);
    const double point_px = std::min(1.0 / static_cast<double>(per_x), 1.0 / static_cast<double>(per_y));
    const float* sources[2] = {field.cosine.data(), field.sine.data()};
    for_ranges(job, grid_.height, 8, [&](int first, int last) {
        std::vector<float> px(width), py(width), dx(width), dy(width), sx(width), sy(width), cosine(width), sine(width);
        float* const read[2] = {cosine.data(), sine.data()};
        for (int y = first; y < last; ++y)
            for (int side = 0; side < 2; ++side) {
                const float sign = side == 0 ? 1.0f : -1.0f;
                const std::size_t row = static_cast<std::size_t>(y) * width;
                for (std::size_t x = 0; x < width; ++x) {
                    px[x] = static_cast<float>(x), py[x] = static_cast<float>(y);
                    dx[x] = sx[x] = sign * start_x_[row + x], dy[x] = sy[x] = sign * start_y_[row + x];
                }
                double done = 0;
                for (std::size_t k = 0; k < distances.size(); ++k) {
                    const double left = distances[k] - done;
                    const int steps = std::max(1, static_cast<int>(std::ceil(left / (longest_step * point_px))));
                    const auto step = static_cast<float>(left / steps);
                    for (int n = 0; n < steps; ++n) {
                        // Half a step back from the direction here, as far as it turned over the last one (Adams & Bashforth's
                        // second order).
                        for (std::size_t x = 0; x < width; ++x) {
                            px[x] += step * per_x * (1.5f * dx[x] - 0.5f * sx[x]),
                                py[x] += step * per_y * (1.5f * dy[x] - 0.5f * sy[x]);
                            sx[x] = dx[x], sy[x] = dy[x];
                        }
                        read_bilinear(sources, 2, grid_, px.data(), py.data(), grid_.width, read);
                        stream_turn(cosine.data(), sine.data(), grid_.width, dx.data(), dy.data());
                    }
                    done = distances[k];
                    float *to_x = moved_[4 * k + 2 * static_cast<std::size_t>(side)].row(y),
                          *to_y = moved_[4 * k + 2 * static_cast<std::size_t>(side) + 1].row(y);
                    for (std::size_t x = 0; x < width; ++x)
                        to_x[x] = (px[x] - static_cast<float>(x)) / static_cast<float>(grid_.width),
                        to_y[x] = (py[x] - static_cast<float>(y)) / static_cast<float>(grid_.height);
                }
            }
    });
}

void StreamMap::row(Size picture, int y, int from, int to, std::size_t k, float* const out[4]) const {
    const float place =
        (static_cast<float>(y) + 0.5f) * static_cast<float>(grid_.height) / static_cast<float>(picture.height) - 0.5f;
    const float whole = std::floor(place), t = place - whole;
    const int above = wrap(static_cast<int>(whole), grid_.height), below = wrap(above + 1, grid_.height);
    const StreamSpan span{grid_.width, picture.width, from, to};
    const int first = expanded_cell(span, from), last = expanded_cell(span, to - 1) + 1;
    thread_local std::vector<float> points;
    points.resize(static_cast<std::size_t>(last - first) + 2);
    for (std::size_t c = 0; c < 4; ++c) {
        const float *a = moved_[4 * k + c].row(above), *b = moved_[4 * k + c].row(below);
        const auto scale = static_cast<float>(c % 2 == 0 ? picture.width : picture.height);
        // Cells begin a point before the first and end a point behind the last.
        auto point = [&](int cell, int x) {
            points[static_cast<std::size_t>(cell - first)] = scale * (a[x] + t * (b[x] - a[x]));
        };
        const int from_cell = std::max(first, 1), to_cell = std::min(last + 1, grid_.width);
        for (int cell = from_cell; cell <= to_cell; ++cell) point(cell, cell - 1);
        if (first == 0) point(0, grid_.width - 1);
        for (int cell = to_cell + 1; cell <= last + 1; ++cell) point(cell, cell - 1 - grid_.width);
        stream_expand(points.data(), span, c % 2 == 0 ? 0.0f : static_cast<float>(y), c % 2 == 0 ? 1.0f : 0.0f, out[c]);
    }
    if (!mixed_[static_cast<std::size_t>(above)].empty()) mend(picture, y, from, to, k, out);
}

/// Pixels of cells whose corners do not all look one way: each corner's ways are taken as they suit the first one's.
void StreamMap::mend(Size picture, int y, int from, int to, std::size_t k, float* const out[4]) const {
    const float per_x = static_cast<float>(grid_.width) / static_cast<float>(picture.width),
                per_y = static_cast<float>(grid_.height) / static_cast<float>(picture.height);
    const float place_y = (static_cast<float>(y) + 0.5f) * per_y - 0.5f, ty = place_y - std::floor(place_y);
    const int above = wrap(static_cast<int>(std::floor(place_y)), grid_.height), below = wrap(above + 1, grid_.height);
    for (int cell : mixed_[static_cast<std::size_t>(above)]) {
        const int right = wrap(cell + 1, grid_.width);
        const std::array<std::pair<int, int>, 4> corners{{{cell, above}, {right, above}, {cell, below}, {right, below}}};
        auto start = [&](std::size_t n) {
            return static_cast<std::size_t>(corners[n].second) * static_cast<std::size_t>(grid_.width) +
                   static_cast<std::size_t>(corners[n].first);
        };
        const int begin = static_cast<int>(std::ceil((static_cast<float>(cell) + 0.5f) / per_x - 0.5f)),
                  end = static_cast<int>(std::ceil((static_cast<float>(cell) + 1.5f) / per_x - 0.5f));
        for (int column = begin; column < end; ++column) {
            const int x = wrap(column, picture.width);
            if (x < from || x >= to) continue;
            const float tx =
                std::clamp((static_cast<float>(column) + 0.5f) * per_x - 0.5f - static_cast<float>(cell), 0.0f, 1.0f);
            const float weights[4] = {(1 - tx) * (1 - ty), tx * (1 - ty), (1 - tx) * ty, tx * ty};
            float sum[4] = {};
            for (std::size_t n = 0; n < 4; ++n) {
                const bool turned = start_x_[start(0)] * start_x_[start(n)] + start_y_[start(0)] * start_y_[start(n)] < 0;
                for (std::size_t c = 0; c < 4; ++c)
                    sum[c] += weights[n] * moved_[4 * k + (turned ? (c + 2) % 4 : c)].row(corners[n].second)[corners[n].first];
            }
            for (std::size_t c = 0; c < 4; ++c)
                out[c][x - from] = c % 2 == 0 ? static_cast<float>(x) + static_cast<float>(picture.width) * sum[c]
                                              : static_cast<float>(y) + static_cast<float>(picture.height) * sum[c];
        }
    }
}

Plane stream_mean(const Plane& plane, const StreamMap& map, const std::vector<std::size_t>& at, const Job& job) {
    const Size size = plane.size();
    Plane out(size);
    const float* source = plane.data();
    const float weight = 1.0f / static_cast<float>(2 * at.size() + 1);
    // A tile at a time stays near the core.
    constexpr int tile = 256;
    for_ranges(job, size.height, 32, [&](int first, int last) {
        constexpr std::size_t padded = tile + stream_padding;
        std::vector<float> places(4 * padded), values(2 * padded);
        float* out_places[4];
        for (std::size_t c = 0; c < 4; ++c) out_places[c] = places.data() + c * padded;
        float* read[2] = {values.data(), values.data() + padded};
        for (int from = 0; from < size.width; from += tile)
            for (int y = first; y < last; ++y) {
                const int to = std::min(size.width, from + tile), width = to - from;
                float* sums = out.row(y) + from;
                for (std::size_t k = 0; k < at.size(); ++k) {
                    map.row(size, y, from, to, at[k], out_places);
                    for (std::size_t way : {0u, 1u})
                        read_bilinear(&source, 1, size, out_places[2 * way], out_places[2 * way + 1], width, &read[way]);
                    if (k == 0) {
                        stream_three(weight, plane.row(y) + from, read[0], read[1], width, sums);
                    } else {
                        stream_add(weight, read[0], width, sums);
                        stream_add(weight, read[1], width, sums);
                    }
                }
            }
    });
    return out;
}

}  // namespace loom
