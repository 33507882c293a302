// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/drawn.h"

#include <cairo.h>

#include <algorithm>
#include <cmath>

#include "core/structures/forms.h"

namespace loom {

namespace {

struct Unref {
    void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    void operator()(cairo_t* cairo) const { cairo_destroy(cairo); }
};

void add_path(cairo_t* cairo, const Outline& outline) {
    const auto curve = [&](const OutlineNode& from, const OutlineNode& to) {
        if (from.out == from.at && to.in == to.at)
            cairo_line_to(cairo, to.at.x, to.at.y);
        else
            cairo_curve_to(cairo, from.out.x, from.out.y, to.in.x, to.in.y, to.at.x, to.at.y);
    };
    for (const Contour& contour : outline) {
        if (contour.nodes.empty()) continue;
        cairo_move_to(cairo, contour.nodes.front().at.x, contour.nodes.front().at.y);
        for (std::size_t k = 1; k < contour.nodes.size(); ++k) curve(contour.nodes[k - 1], contour.nodes[k]);
        if (!contour.closed) continue;
        curve(contour.nodes.back(), contour.nodes.front());
        cairo_close_path(cairo);
    }
}

bool covers_all(cairo_surface_t* surface) {
    cairo_surface_flush(surface);
    const unsigned char* row = cairo_image_surface_get_data(surface);
    const int width = cairo_image_surface_get_width(surface);
    for (int y = 0; y < cairo_image_surface_get_height(surface); ++y, row += cairo_image_surface_get_stride(surface))
        if (!std::all_of(row, row + width, [](unsigned char cover) { return cover == 255; })) return false;
    return true;
}

/// Copies that are drawn in one go: one, and those across the tile's edges and corners.
constexpr std::size_t few = 9;

}  // namespace

std::vector<std::pair<int, int>> copies_on_tile(const Extent& extent, const StepContext& context) {
    constexpr int most = 16;
    const auto from = [=](double end, int tile) { return std::max(-most, static_cast<int>(std::floor(-end / tile))); };
    const auto to = [=](double begin, int tile) { return std::min(most, static_cast<int>(std::ceil(1 - begin / tile)) - 1); };
    std::vector<std::pair<int, int>> copies;
    for (int down = from(extent.bottom, context.tile.height); down <= to(extent.top, context.tile.height); ++down)
        for (int across = from(extent.right, context.tile.width); across <= to(extent.left, context.tile.width); ++across)
            copies.emplace_back(across * context.size.width, down * context.size.height);
    return copies;
}

Plane drawn(const Outline& outline, const LineStyle* line, const StepContext& context) {
    Extent extent = extent_of(outline);
    // A line reaches half its width beyond, and more at a pointed corner; its corners are round.
    const double beyond = (line ? line->width / 2 : 0) + 2 / std::min(context.scale_x(), context.scale_y());
    extent.left -= beyond, extent.top -= beyond, extent.right += beyond, extent.bottom += beyond;
    const auto copies = copies_on_tile(extent, context);
    Plane out = context.plane();
    const int width = context.size.width;
    // Where Cairo cuts what leaves its picture it rounds: beside the rows that are wanted, where nobody sees it.
    constexpr int beside = 4;
    for_rows(*context.job, out, [&](int first, int last) {
        const std::unique_ptr<cairo_surface_t, Unref> surface(
            cairo_image_surface_create(CAIRO_FORMAT_A8, width + 2 * beside, last - first + 2 * beside));
        const std::unique_ptr<cairo_t, Unref> cairo(cairo_create(surface.get()));
        cairo_t* to = cairo.get();
        cairo_set_tolerance(to, flattening_px);
        const auto placed = [&](const std::pair<int, int>& copy) {
            cairo_identity_matrix(to);
            cairo_translate(to, copy.first + beside, copy.second - first + beside);
            cairo_scale(to, context.scale_x(), context.scale_y());
        };
        const auto draw = [&] {
            if (!line) return cairo_fill(to);
            cairo_identity_matrix(to);
            cairo_scale(to, context.scale_x(), context.scale_y());
            cairo_set_line_width(to, line->width);
            cairo_set_line_join(to, CAIRO_LINE_JOIN_ROUND);
            cairo_set_line_cap(to, line->round_ends ? CAIRO_LINE_CAP_ROUND : CAIRO_LINE_CAP_BUTT);
            if (line->dash > 0) {
                const double pattern[2] = {line->dash, line->gap};
                cairo_set_dash(to, pattern, 2, line->start);
            }
            cairo_stroke(to);
        };
        for (const auto& copy : copies) {
            placed(copy);
            add_path(to, outline);
            if (copies.size() <= few) continue;
            // Of many, large ones, some cover everything long before all are drawn.
            context.job->check();
            draw();
            if (covers_all(surface.get())) break;
        }
        draw();
        cairo_surface_flush(surface.get());
        const unsigned char* bytes = cairo_image_surface_get_data(surface.get());
        const int stride = cairo_image_surface_get_stride(surface.get());
        for (int y = first; y < last; ++y) {
            float* row = out.row(y);
            const unsigned char* from = bytes + static_cast<std::ptrdiff_t>(y - first + beside) * stride + beside;
            for (int x = 0; x < width; ++x) row[x] = static_cast<float>(from[x]) / 255.0f;
        }
    });
    return out;
}

}  // namespace loom
