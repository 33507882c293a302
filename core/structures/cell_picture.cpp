// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/cell_picture.h"

#include "core/noise/cells.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/noise/cell_kernel.h"
#include "core/image/plane_names.h"
#include "core/structures/cell_creases.h"
#include "core/structures/cell_layout.h"
#include "core/structures/density_map.h"
#include "core/structures/wandered.h"

namespace loom {

namespace {

using Settings = CellPicture;
using Show = Settings::Show;

constexpr double pi = 3.14159265358979323846;

/// Sizes that swell and shrink along a direction, once on the way across the tile; whole waves, so that it closes.
class Grading {
public:
    Grading(double percent, double direction) : strength_(std::log(5.0) * percent / 100) {
        const double eighth = std::round(direction / 45);
        across_ = std::round(std::cos(eighth * pi / 4)), down_ = -std::round(std::sin(eighth * pi / 4));
    }
    double operator()(double u, double v) const { return std::exp(strength_ * std::cos(2 * pi * (across_ * u + down_ * v))); }

private:
    double strength_, across_, down_;
};

bool needs_border(const Settings& s, const StepContext& context) {
    return context.wants(height_plane) || context.wants(planes::crease) || context.wants(planes::pair) || s.gap > 0 ||
           s.gap_share > 0 || s.show == Show::border || s.show == Show::tone || s.show == Show::dome;
}

}  // namespace

CellPicture plain_cells() {
    CellPicture cells;
    cells.merging = 45, cells.tilt = 25;
    cells.crease_spread = cells.crease_fade = cells.floor = cells.second = cells.wander = 0;
    return cells;
}

CellSettings laid_out(const CellPicture& s, Size tile) {
    return cells_apart(s.size * s.stretch_x / 100, s.size * s.stretch_y / 100, tile);
}

namespace {

CellSettings field_settings(const Settings& s, const StepContext& context) {
    CellSettings field = laid_out(s, context.tile);
    field.metric = s.metric;
    field.layout.jitter = s.jitter / 100;
    field.layout.relaxation = s.relaxation;
    field.layout.seed = context.seed;
    const double mean = std::sqrt(field.spacing_x * field.spacing_y);
    field.merging_px = s.merging / 100 * 0.35 * mean;
    const bool creased = context.wants(planes::crease) || context.wants(height_plane) || s.show == Show::dome;
    field.pair_soft_px = (creased && s.crease_spread > 0) || context.wants(planes::pair) ? 0.06 * mean : 0;
    if (const auto merging = density_map(context.other("merging-from")))
        field.merging_at = [merging](double u, double v) { return merging->tone(u, v); };
    field.rounding_px = s.rounding / 100 * 0.2 * mean;
    field.sides = needs_border(s, context) || s.show == Show::second;
    field.tone_spread = s.spread / 100;
    field.pixels = std::sqrt(context.scale_x() * context.scale_y());
    // Of cells finer than pixels nobody sees how even they are.
    if (mean * field.pixels < 1) field.layout.relaxation = 0;
    const auto density = density_map(context.other("density"));
    const bool graded = s.grading > 0;
    if (density)
        field.layout.density = [map = density, graded, grading = Grading(s.grading, s.grading_direction)](double u, double v) {
            return (*map)(u, v) * (graded ? grading(u, v) : 1);
        };
    else if (graded) {
        field.layout.density = Grading(s.grading, s.grading_direction);
        field.layout.density_key = Key{}.add(s.grading).add(s.grading_direction).low;
    }
    return field;
}

/// What a pixel needs to know of its cell, worked out once.
struct CellFacts {
    float shade;                    // 1 less the cell's share of the spread
    float tilt_x, tilt_y;           // rise of its top a spacing
    float left, top, across, down;  // its box, for the place in it
    float gap;                      // design pixels of the joint that are its own
};

std::vector<CellFacts> facts_of(const Settings& s, const CellField& field, double mean, const Job& job) {
    std::vector<CellFacts> facts(field.cells().size());
    for_ranges(job, static_cast<int>(facts.size()), 512, [&](int first, int last) {
        for (int index = first; index < last; ++index) {
            const auto k = static_cast<std::size_t>(index);
            const Cell& cell = field.cells()[k];
            const double turn = 2 * pi * static_cast<double>(field.draw(index, 1)), rise = s.tilt / 100 * 0.5;
            const auto [left, right] = std::minmax_element(cell.corner_x.begin(), cell.corner_x.end());
            const auto [top, bottom] = std::minmax_element(cell.corner_y.begin(), cell.corner_y.end());
            facts[k] = {1 - static_cast<float>(s.spread / 100) * 0.5f * field.draw(index, 0),
                        static_cast<float>(rise * std::cos(turn)),
                        static_cast<float>(rise * std::sin(turn)),
                        static_cast<float>(*left),
                        static_cast<float>(*top),
                        static_cast<float>(*right - *left),
                        static_cast<float>(*bottom - *top),
                        static_cast<float>(s.gap_share / 100 * mean * std::sqrt(cell.area))};
        }
    });
    return facts;
}

/// 1 - exp(-border / depth) of the merged and rounded border, and of the true one.
struct Domes {
    std::vector<float> top, own;
    static void fill(std::vector<float>& border, double depth, std::vector<float>& out) {
        const std::size_t count = border.size();
        border.resize(count + cell_padding), out.resize(count + cell_padding);
        dome_row(border.data(), static_cast<float>(depth), static_cast<int>(count), out.data());
    }
};

class Painter {
public:
    Painter(const Settings& s, const StepContext& context)
        : s_(s),
          context_(context),
          settings_(field_settings(s, context)),
          field_(settings_, context.size, *context.job),
          mean_(std::sqrt(settings_.spacing_x * settings_.spacing_y)),
          facts_(facts_of(s, field_, mean_, *context.job)),
          creases_({s.crease_spread / 100, s.crease_fade / 100, 0.16 * s.floor / 100 * mean_, 0.15 * mean_}, mean_, context.tile,
                   context.size, context.seed, *context.job) {
        if (s.second > 0 && (s.show == Show::dome || context.wants(height_plane)) &&
            SecondNet::shows(mean_ / 4.2, context.tile, context.size))
            second_.emplace(mean_ / 4.2, 0.75 * s.second / 100, context.tile, context.size, context.seed, *context.job);
    }

    Bundle paint() {
        const Size size = context_.size;
        Plane picture(size);
        std::map<std::string_view, Plane> named;
        auto want = [&](std::string_view name) {
            if (context_.wants(name)) named.emplace(name, Plane(size));
        };
        want(height_plane), want(objects::id), want(objects::u), want(objects::v);
        for (std::string_view name : objects::random) want(name);
        want(planes::crease), want(planes::pair);
        const bool creased = s_.show == Show::dome || named.contains(height_plane) || named.contains(planes::crease);
        const bool bordered = needs_border(s_, context_);
        // What a band needs should stay near the core.
        const int band = bordered ? 16 : 32;
        for_ranges(*context_.job, (size.height + band - 1) / band, 1, [&](int from, int to) {
            CellRows rows;
            SecondNet::Rows finer;
            rows.pairs = (creased && s_.crease_spread > 0) || named.contains(planes::pair);
            Domes domes;
            for (int part = from; part < to; ++part) {
                const int first = part * band, last = std::min(first + band, size.height);
                field_.rows(first, last, s_.show == Show::second, bordered, rows);
                if (second_) second_->read(first, last, finer);
                if (creased) {
                    make_tops(rows, first, last, domes);
                    domes.fill(rows.edge, 0.25 * mean_, domes.own);
                }
                for (int y = first; y < last; ++y) {
                    const std::size_t at = static_cast<std::size_t>(y - first) * static_cast<std::size_t>(rows.stride);
                    paint_row(rows, at, domes, y, picture.row(y));
                    if (second_ && s_.show == Show::dome) second_->take(y, at, finer, size.width, picture.row(y));
                    if (gapped()) cut_gap(rows, at, picture.row(y));
                    for (auto& [name, plane] : named) {
                        name_row(name, rows, at, domes, y, plane.row(y));
                        if (name != height_plane) continue;
                        if (second_) second_->take(y, at, finer, size.width, plane.row(y));
                        if (gapped()) cut_gap(rows, at, plane.row(y));
                    }
                }
            }
        });
        Bundle result = Bundle::of(std::move(picture));
        for (auto& [name, plane] : named) result.named[std::string(name)] = share(std::move(plane));
        return result;
    }

private:
    bool gapped() const { return s_.gap > 0 || s_.gap_share > 0; }

    /// Tops as the creases leave them.
    void make_tops(CellRows& rows, int first, int last, Domes& domes) const {
        if (s_.crease_spread <= 0 && s_.crease_fade <= 0 && s_.floor <= 0)
            return domes.fill(rows.border, 0.15 * mean_, domes.top);
        const auto stride = static_cast<std::size_t>(rows.stride);
        domes.top.resize(rows.border.size() + cell_padding);
        std::vector<float> border(stride + cell_padding);
        for (int y = first; y < last; ++y) {
            const std::size_t at = static_cast<std::size_t>(y - first) * stride;
            std::copy_n(rows.border.data() + at, stride, border.data());
            creases_.row(y, border.data(), rows.pairs ? rows.pair.data() + at : nullptr, context_.size.width,
                         domes.top.data() + at);
        }
    }

    void distances(const float* from, float factor, float* out) const {
        const int width = context_.size.width;
        if (s_.metric == CellMetric::euclid)
            root_row(from, factor, width, out);
        else
            for (int x = 0; x < width; ++x) out[x] = factor * from[x];
    }

    void paint_row(const CellRows& rows, std::size_t at, const Domes& domes, int y, float* out) const {
        const int width = context_.size.width;
        switch (s_.show) {
            case Show::centre: distances(rows.nearest.data() + at, 1.1f, out); break;
            case Show::second: distances(rows.second.data() + at, 0.7f, out); break;
            case Show::border: {
                const auto scale = static_cast<float>(2 / mean_);
                for (int x = 0; x < width; ++x) out[x] = scale * rows.border[at + static_cast<std::size_t>(x)];
                break;
            }
            case Show::tone: std::copy_n(rows.tone.data() + at, width, out); break;
            case Show::dome: top_row(rows, at, domes, y, out); break;
        }
    }

    /// The rounded, tilted tops. What is a cell's own counts less towards its true border, so that cells which run
    /// together meet without a step.
    void top_row(const CellRows& rows, std::size_t at, const Domes& domes, int y, float* out) const {
        const int width = context_.size.width;
        const auto step = static_cast<float>(settings_.layout.width / width), turn = static_cast<float>(settings_.layout.width);
        const float mean = 1 - static_cast<float>(s_.spread / 100) * 0.25f;
        for (int x = 0; x < width;) {
            const std::int32_t owner = rows.owner[at + static_cast<std::size_t>(x)];
            const CellFacts& cell = facts_[static_cast<std::size_t>(owner)];
            const auto dy = static_cast<float>(field_.offset_y(field_.cells()[static_cast<std::size_t>(owner)], y));
            auto dx = static_cast<float>(field_.offset_x(field_.cells()[static_cast<std::size_t>(owner)], x));
            for (; x < width && rows.owner[at + static_cast<std::size_t>(x)] == owner; ++x, dx += step) {
                // In a small tile the next copy of the same cell may follow.
                if (dx > turn / 2) dx -= turn;
                const std::size_t k = at + static_cast<std::size_t>(x);
                out[x] = domes.top[k] * (mean + domes.own[k] * (cell.shade - mean + cell.tilt_x * dx + cell.tilt_y * dy));
            }
        }
    }

    void cut_gap(const CellRows& rows, std::size_t at, float* out) const {
        // At least a pixel soft, so that joints have no steps.
        const auto soft = static_cast<float>(std::max(s_.softness, 1 / settings_.pixels));
        for (int x = 0; x < context_.size.width; ++x) {
            const float own = facts_[static_cast<std::size_t>(rows.owner[at + static_cast<std::size_t>(x)])].gap;
            const float edge = (static_cast<float>(s_.gap) + own) / 2 - soft / 2;
            const float t = std::clamp((rows.border[at + static_cast<std::size_t>(x)] - edge) / soft, 0.0f, 1.0f);
            out[x] *= t * t * (3 - 2 * t);
        }
    }

    void name_row(std::string_view name, const CellRows& rows, std::size_t at, const Domes& domes, int y, float* out) const {
        if (name == height_plane) {
            return top_row(rows, at, domes, y, out);
        }
        const int width = context_.size.width;
        if (name == planes::pair || name == planes::crease) {
            const bool pair = name == planes::pair;
            for (int x = 0; x < width; ++x) {
                const std::size_t k = at + static_cast<std::size_t>(x);
                out[x] = pair ? rows.pair[k] : std::clamp(1 - domes.top[k], 0.0f, 1.0f);
            }
            return;
        }
        for (int x = 0; x < width;) {
            const std::int32_t owner = rows.owner[at + static_cast<std::size_t>(x)];
            const Cell& cell = field_.cells()[static_cast<std::size_t>(owner)];
            const CellFacts& facts = facts_[static_cast<std::size_t>(owner)];
            float value = 0;
            if (name == objects::id)
                value = static_cast<float>(owner + 1);
            else if (name == objects::v)
                value = std::clamp((static_cast<float>(field_.offset_y(cell, y)) - facts.top) / facts.down, 0.0f, 1.0f);
            else if (name != objects::u)
                value = field_.draw(owner, 2 + (name.back() - '1'));
            const bool moves = name == objects::u;
            for (; x < width && rows.owner[at + static_cast<std::size_t>(x)] == owner; ++x)
                out[x] = moves
                             ? std::clamp((static_cast<float>(field_.offset_x(cell, x)) - facts.left) / facts.across, 0.0f, 1.0f)
                             : value;
        }
    }

    const Settings& s_;
    const StepContext& context_;
    CellSettings settings_;
    CellField field_;
    double mean_;
    std::vector<CellFacts> facts_;
    CellCreases creases_;
    std::optional<SecondNet> second_;
};

}  // namespace

Bundle cell_picture(const CellPicture& s, const StepContext& context) {
    Bundle made = Painter(s, context).paint();
    if (s.wander <= 0) return made;
    return wandered(made,
                    {{s.wander, s.wander_size}, {0.36 * s.wander, 0.3 * s.wander_size}, {0.14 * s.wander, 0.1 * s.wander_size}},
                    mix64(context.seed, 0x77616e64), context);
}

}  // namespace loom
