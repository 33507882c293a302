// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/wood_pores.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/structures/throws.h"
#include "core/structures/timber_kernel.h"

namespace loom {

namespace {

/// Candidates are shared out over rows of the tile, each of which is one row of timber.
constexpr int candidate_rows = 512;

}  // namespace

struct WoodPores::Candidate {
    std::uint64_t lots;
    bool small, ray;
};

WoodPores::WoodPores(const PoreSettings& settings, const Timber& timber, const StepContext& context)
    : s_(settings), timber_(timber), context_(context) {
    const double area = static_cast<double>(context.tile.width) * context.tile.height / (1024.0 * 1024.0);
    const int pores = static_cast<int>(std::min(400000.0, 1500 * s_.pores * area)), fine = pores / 3,
              rays = static_cast<int>(std::min(100000.0, 125 * s_.rays * area)), all = pores + fine + rays;
    std::vector<LaidStrokes> of_row(candidate_rows);
    const NoiseSheet crowd(*context.job, {{9, 4, 1, mix64(s_.seed, 0x63726f77)}});
    for_ranges(*context.job, candidate_rows, 16, [&](int first, int last) {
        for (int row = first; row < last; ++row) decide(row, all, pores, fine, crowd, of_row[static_cast<std::size_t>(row)]);
    });
    strokes_ = LaidStrokes::joined(of_row);
}

void WoodPores::draw(Plane& tone, Plane* height, Plane* pores, Plane* rays) const {
    const std::vector<ObjectBox> boxes = strokes_.boxes(1.0f);
    for_object_bands(*context_.job, context_.size, boxes, 64, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
        for (const ObjectCopy& copy : copies) {
            const LaidStroke& stroke = strokes_[copy.object];
            const int from = std::max(first, static_cast<int>(boxes[copy.object].top + copy.dy)),
                      to = std::min(last, static_cast<int>(boxes[copy.object].bottom + copy.dy) + 2);
            const StrokePen pen = pen_of(stroke, copy.dx, copy.dy, from);
            const auto paint = [&](const StrokeInk& ink, Plane& onto, Plane* deep) {
                paint_stroke(pen, strokes_.parts_of(stroke), static_cast<int>(stroke.count), ink,
                             {onto.row(from), nullptr, deep ? deep->row(from) : nullptr, to - from, onto.width()}, nullptr);
            };
            paint({StrokeMix::taken, stroke.tone, std::max(0.0f, stroke.tone) * 1.6f}, tone, height);
            // Rays shine, pores are dark.
            const bool ray = stroke.tone < 0;
            if (Plane* alone = ray ? rays : pores)
                paint({StrokeMix::lighter, ray ? 1.0f : std::min(1.0f, stroke.tone / 0.32f), 0}, *alone, nullptr);
        }
    });
}

void WoodPores::lay(const Candidate& candidate, double x, double y, double lean, double length, LaidStrokes& out) const {
    const double scale_x = context_.scale_x(), scale_y = context_.scale_y(), scale = std::sqrt(scale_x * scale_y);
    const auto [lots, small, ray] = candidate;
    // Ragged sides: the stroke wavers by parts of its own width.
    const double ragged = ray || s_.end ? 0 : s_.ragged / 100;
    const int pieces = ragged > 0 ? std::clamp(static_cast<int>(length / 3), 2, 6) : 1;
    const double norm = length / 2 / std::hypot(lean, 1.0);
    std::vector<LaidStrokes::Point> points;
    for (int k = 0; k <= pieces; ++k) {
        const double way = 2.0 * k / pieces - 1,
                     off = ragged * 0.9 * s_.width *
                           (static_cast<double>(unit_float(mix64(lots, 32 + static_cast<std::uint64_t>(k)))) - 0.5);
        points.push_back({static_cast<float>((x + way * norm * lean + off) * scale_x - 0.5),
                          static_cast<float>((y + way * norm - off * lean) * scale_y - 0.5)});
    }
    LaidStroke stroke;
    const double own = 1 + 0.7 * ragged * (static_cast<double>(unit_float(mix64(lots, 5))) - 0.5);
    stroke.half_width = static_cast<float>(0.5 * s_.width * scale * own * (small ? 0.5 : ray ? 1.2 : 1) * (s_.end ? 2.2 : 1));
    stroke.taper = 0.7f - 0.3f * static_cast<float>(ragged);
    // Rays shine a little, pores are dark and deep.
    stroke.tone = ray ? -0.07f : small ? 0.12f : 0.20f + 0.12f * unit_float(mix64(lots, 4));
    out.add(stroke, points);
}

void WoodPores::decide(int row, int all, int pores, int fine, const NoiseSheet& crowds, LaidStrokes& out) const {
    const int count = (all - row + candidate_rows - 1) / candidate_rows;
    if (count <= 0) return;
    const auto size = static_cast<std::size_t>(count);
    std::vector<float> u(size), fibre(size), phase(size), beyond(size), later(size), moved(size, 0.0f), crowd(size, 0.0f),
        crowd_row(static_cast<std::size_t>(crowds.columns() + NoiseSheet::row_padding));
    auto index_of = [&](std::size_t k) { return static_cast<int>(k) * candidate_rows + row; };
    auto lots_of = [&](std::size_t k) { return mix64(s_.seed, 0x706f7265 + static_cast<std::uint64_t>(index_of(k))); };
    for (std::size_t k = 0; k < size; ++k) u[k] = unit_float(mix64(lots_of(k), 0));
    const float middle = (static_cast<float>(row) + 0.5f) / candidate_rows;
    timber_.row(middle, u.data(), count, fibre.data(), phase.data());
    // How the fibre leans: where the same fibre is a hair further down.
    constexpr float hair = 0.004f;
    timber_.row(middle + hair, u.data(), count, beyond.data(), timber_.combs() ? later.data() : nullptr);
    timber_.comb_row(middle, fibre.data(), count, moved.data());
    crowds.row(middle, crowd_row.data());
    add_line(crowd_row.data(), crowds.columns(), u.data(), count, 1, crowd.data());
    for (std::size_t k = 0; k < size; ++k) {
        const int index = index_of(k);
        const Candidate candidate{lots_of(k), index >= pores && index < pores + fine, index >= pores + fine};
        const std::uint64_t lots = candidate.lots;
        const float at = timber_.combs() ? phase[k] + moved[k] / hair * (later[k] - phase[k]) : phase[k];
        const Growth g = growth(at - std::floor(at), 0);
        const auto ring_porous = static_cast<float>(s_.early / 100);
        float chance = (1 - ring_porous) * 0.4f + ring_porous * 1.35f * g.early;
        chance *= std::exp(0.45f * crowd[k]);
        if (candidate.small) chance = 0.25f + 0.5f * chance;
        if (candidate.ray) chance = 0.2f + 0.8f * g.late;
        if (unit_float(mix64(lots, 2)) > chance) continue;
        const double bell = std::clamp(static_cast<double>(normal_draw(lots, 3)), -2.0, 2.0);
        double length = s_.length * std::exp(0.6 * bell) * (candidate.small ? 0.6 : candidate.ray ? 1.5 : 1);
        const double lean =
            -static_cast<double>(beyond[k] - fibre[k]) / static_cast<double>(hair) * context_.tile.width / context_.tile.height;
        if (s_.end && !candidate.ray) length = s_.width * 1.2;
        const double x = static_cast<double>(u[k]) * context_.tile.width,
                     y = (row + static_cast<double>(unit_float(mix64(lots, 1)))) / candidate_rows * context_.tile.height;
        // A vessel that comes to the face again and again lies in a row of pores.
        int follow = 0;
        if (!s_.end && !candidate.ray && s_.rows > 0) {
            const auto lot = static_cast<double>(unit_float(mix64(lots, 6)));
            follow = lot < s_.rows / 100 ? 1 + static_cast<int>(3 * lot / (s_.rows / 100)) : 0;
            length /= 1 + follow;
        }
        double down = y;
        for (int n = 0; n <= follow; ++n) {
            lay({n == 0 ? lots : mix64(lots, 64 + static_cast<std::uint64_t>(n)), candidate.small, candidate.ray},
                x + (down - y) * lean, down, lean, length, out);
            down += length * (1.15 + 0.9 * static_cast<double>(unit_float(mix64(lots, 16 + static_cast<std::uint64_t>(n)))));
        }
    }
}

}  // namespace loom
