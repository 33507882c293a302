// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cloth from a draft: bent round yarns that are tested by depth against each other at every pixel, with their twist read in
// unrolled coordinates.
#include "core/structures/woven.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/quick_math.h"
#include "core/image/sample.h"
#include "core/noise/noise_sheet.h"
#include "core/noise/place_noise.h"
#include "core/structures/weave_kernel.h"
#include "core/structures/asked_plane.h"
#include "core/structures/object_sheet.h"
#include "core/structures/stray_fibres.h"
#include "core/structures/supersampled.h"

namespace loom {

namespace {

using Settings = Woven;
using Binding = Settings::Binding;
using Way = Settings::Way;

Draft draft_of(const Settings& s) {
    switch (s.draft) {
        case Binding::plain: return plain_draft();
        case Binding::twill: return twill_draft(s.over, s.under, s.way == Way::right);
        case Binding::satin: return satin_draft(s.satin, s.step);
        case Binding::basket: return basket_draft(s.block);
        case Binding::herringbone: return herringbone_draft(s.over, s.under);
        case Binding::grid: {
            const auto draft = read_draft(s.grid);
            return draft ? *draft : plain_draft();
        }
    }
    return plain_draft();
}

/// The next whole number of repeats.
int whole_repeats(int count, int repeat) { return std::max(repeat, (count + repeat / 2) / repeat * repeat); }

struct Counts {
    int warp, weft;
};
Counts counts_of(const Settings& s, const Draft& draft) {
    return {whole_repeats(s.warp, draft.ends), whole_repeats(s.weft, draft.picks)};
}

/// What the yarns of each pixel are, where somebody reads it.
class Parts {
public:
    explicit Parts(const StepContext& context) {
        for (std::string_view name : names) planes_.emplace_back(context, name);
    }
    void note(const WovenRow& row, const Counts& counts, const float* twist, const float* fuzz, int y) {
        const auto warps = static_cast<float>(counts.warp);
        const auto each = [&](std::size_t plane, auto&& value) {
            if (float* to = planes_[plane].row(y))
                for (int x = 0; x < row.count; ++x) to[x] = row.yarn[x] < 0 ? 0.0f : value(x);
        };
        each(0, [&](int x) { return row.yarn[x] < warps ? 1.0f : 0.0f; });
        each(1, [&](int x) { return row.yarn[x] + 1; });
        each(2, [&](int x) { return std::clamp(0.5f + 0.5f * row.d[x], 0.0f, 1.0f); });
        each(3, [&](int x) {
            return row.yarn[x] < warps ? row.along_warp[x] / static_cast<float>(counts.weft)
                                       : row.along_weft[x] / static_cast<float>(counts.warp);
        });
        each(4, [&](int x) { return std::clamp((row.z[x] - 0.05f) / 0.62f, 0.0f, 1.0f); });
        each(5, [&](int x) { return std::clamp(0.5f + 0.2f * twist[x], 0.0f, 1.0f); });
        each(6, [&](int x) { return std::clamp(0.5f + 0.2f * fuzz[x], 0.0f, 1.0f); });
    }
    void hand_on(Bundle& bundle) {
        for (AskedPlane& plane : planes_) plane.hand_on(bundle);
    }

private:
    static constexpr std::string_view names[] = {planes::warp,  planes::yarn,  planes::yarn_across, planes::yarn_along,
                                                 planes::crown, planes::twist, planes::fuzz};
    std::vector<AskedPlane> planes_;
};

class Painter {
public:
    Painter(const Settings& s, const StepContext& context)
        : s_(s),
          context_(context),
          draft_(draft_of(s)),
          counts_(counts_of(s, draft_)),
          warps_(draft_, true, counts_.warp, counts_.weft, yarns(1)),
          wefts_(draft_, false, counts_.weft, counts_.warp, yarns(2)) {
        // Where the gap is all there is, threads are a hair: what is measured by their width has no end otherwise.
        const double width = std::max(1e-3, s.width / 100 * (1 - s.gap / 100)), weft_width = width * weft_part(s.weft_width, 100);
        const auto thick = static_cast<float>(0.2 + 0.4 * s.roundness / 100);
        warp_ = {static_cast<float>(0.56 * width), thick, 0, 0};
        weft_ = {static_cast<float>(0.45 * weft_width), 0.8f * thick, static_cast<float>(-0.03 - 0.22 * s.weft_depth / 100), 0};
        warp_.edge = 0.5f / (warp_.half * static_cast<float>(context.size.width) / static_cast<float>(counts_.warp));
        weft_.edge = 0.5f / (weft_.half * static_cast<float>(context.size.height) / static_cast<float>(counts_.weft));
        weft_reach_ = wefts_.reach(weft_.half * (1 + weft_.edge));
        // A fibre that leans by the twist angle from the yarn's axis goes half round on its way along.
        lean_ = lean_of(s.twist), weft_lean_ = lean_of(s.weft_own ? s.weft_twist : s.twist);
        // Cells a crossing across the fibres, and how many there are along them: plies, fibres and what is finer than both.
        const auto fibres = [&](double across, double along, std::uint64_t salt) {
            const int finest = std::max(counts_.warp, counts_.weft);
            const double shown = pixels() / across * std::min(1.0, static_cast<double>(warp_.half) / lean_);
            return PlaceNoise(across * finest, along, mix64(context.seed, salt), shown);
        };
        twist_.emplace_back(fibres(1.3, 31, 31), 0.7f), twist_.emplace_back(fibres(2.7, 47, 32), 0.55f);
        // Thick yarns have more fibres, not thicker ones.
        const double pitch = std::min(static_cast<double>(context.tile.width) / counts_.warp,
                                      static_cast<double>(context.tile.height) / counts_.weft);
        fuzz_.emplace_back(fibres(std::max(5.5, 0.36 * pitch), 60, 33), 0.75f);
        fuzz_.emplace_back(fibres(std::max(2.1, 0.2 * pitch), 2.2 * counts_.weft, 34), 0.45f);
        start_ = unit_float(mix64(context.seed, 41));
        if (s.dye_along > 0) streaks_.emplace(512, 9, mix64(context.seed, 43));
        for (int yarn = 0; yarn < counts_.warp + counts_.weft; ++yarn)
            for (std::uint64_t which : {1u, 2u, 3u})
                lots_[which - 1].push_back(
                    unit_float(mix64(mix64(context.seed, 0x64796500 + static_cast<std::uint64_t>(yarn)), which)));
    }

    Bundle paint() {
        ObjectSheet sheet(context_, 3, false, 0, true);
        Parts parts(context_);
        const NoiseSheet uneven_x(*context_.job, uneven(21)), uneven_y(*context_.job, uneven(23));
        for_rows(*context_.job, context_.size.height, [&](int first, int last) {
            NoiseRows rows(context_.size.width, 14);
            std::vector<float> line(static_cast<std::size_t>(uneven_x.columns() + NoiseSheet::row_padding));
            const int width = context_.size.width;
            std::vector<float> places(static_cast<std::size_t>(width)), even(places.size());
            for (int x = 0; x < width; ++x) {
                const auto at = static_cast<std::size_t>(x);
                places[at] = (static_cast<float>(x) + 0.5f) / static_cast<float>(width);
                even[at] = places[at] * static_cast<float>(counts_.warp) + start_;
            }
            for (int y = first; y < last; ++y) {
                float *across = rows[1], *down = rows[2];
                const float *u = places.data(), v = (static_cast<float>(y) + 0.5f) / static_cast<float>(context_.size.height);
                std::copy(even.begin(), even.end(), across);
                // Picks are counted from below, as cloth grows.
                std::fill_n(down, width, (1 - v) * static_cast<float>(counts_.weft) + start_);
                // The whole cloth lies a little uneven.
                uneven_x.row(v, line.data()), add_line(line.data(), uneven_x.columns(), u, width, 1, across);
                uneven_y.row(v, line.data()), add_line(line.data(), uneven_y.columns(), u, width, 1, down);
                row(sheet, parts, y, rows);
            }
        });
        Bundle cloth = sheet.finish();
        parts.hand_on(cloth);
        if (s_.stray > 0) lay_stray_fibres(s_, context_, cloth);
        return cloth;
    }

private:
    YarnSettings yarns(std::uint64_t salt) const {
        YarnSettings y;
        y.job = context_.job;
        const bool warp = salt == 1;
        const double pitch = warp ? static_cast<double>(context_.tile.height) / counts_.weft
                                  : static_cast<double>(context_.tile.width) / counts_.warp;
        const bool own = !warp && s_.weft_own;
        y.slub_px_crossings = s_.slub_size / pitch, y.slub = (own ? s_.weft_slub : s_.slub) / 100;
        y.jitter = 0.16 * (own ? s_.weft_jitter : s_.jitter) / 100, y.closing = 0.22 * s_.closing / 100;
        y.arch = s_.arch / 90 * (warp ? 0.9 : 0.4), y.shoulder = warp ? s_.shoulder / 100 : 0,
        y.seed = mix64(context_.seed, salt);
        return y;
    }
    std::vector<NoiseSheet::Part> uneven(std::uint64_t salt) const {
        const auto amount = static_cast<float>(s_.jitter / 100);
        return {{5, 5, 0.22f * amount, mix64(context_.seed, salt)}, {18, 18, 0.12f * amount, mix64(context_.seed, salt + 1)}};
    }
    /// Pixels a pitch, of the finer direction.
    double pixels() const {
        return std::min(static_cast<double>(context_.size.width) / counts_.warp,
                        static_cast<double>(context_.size.height) / counts_.weft);
    }

    /// Warps stand upright: each has one place on its way for the whole row, and covers a few pixels.
    void show_warps(const WovenRow& row) const {
        const float pitch = static_cast<float>(row.count) / static_cast<float>(counts_.warp);
        const float start = row.across[0] - 0.5f / pitch;
        for (int k = floor_to_int(start) - 2; k <= floor_to_int(start) + counts_.warp + 2; ++k) {
            // Where its middle lies, near enough; places and widths are then those of each pixel.
            const float centre = (static_cast<float>(k) + 0.5f - start) * pitch;
            const int middle = std::clamp(static_cast<int>(centre), 0, row.count - 1), yarn = wrap(k, counts_.warp);
            const YarnPlace place = warps_.at(yarn, row.along_warp[middle]);
            const float reach = (warp_.half * (1 + warp_.edge) * place.swell * 1.13f + std::abs(place.shift) + 0.6f) * pitch;
            const int from = std::max(0, static_cast<int>(centre - reach)),
                      to = std::min(row.count - 1, static_cast<int>(centre + reach) + 1);
            // Whole vectors: pixels too far off are looked at in vain, and rows have room behind their end.
            const int whole = (to - from + 16) / 16 * 16;
            show_upright(row, from, from + whole - 1, static_cast<float>(yarn), static_cast<float>(k) + 0.5f, place, warp_);
        }
    }

    /// Wefts lie along the row: the few that are near are followed through it.
    void show_wefts(const WovenRow& row) const {
        constexpr int piece = 128;
        for (int from = 0; from < row.count; from += piece) {
            const int to = std::min(row.count, from + piece) - 1;
            const auto [low, high] = reach_down(row, from, to);
            for (int k = floor_to_int(low - weft_reach_ - 0.5f) + 1; k <= floor_to_int(high + weft_reach_ - 0.5f); ++k) {
                const int yarn = wrap(k, counts_.weft);
                show_lying(row, from, to, static_cast<float>(counts_.warp + yarn), static_cast<float>(k) + 0.5f, wefts_, yarn,
                           weft_);
            }
        }
    }

    void row(ObjectSheet& sheet, Parts& parts, int y, NoiseRows& rows) const {
        const int width = context_.size.width;
        float *along_warp = rows[3], *along_weft = rows[4];
        const WovenRow woven{width,   rows[1], rows[2], along_warp, along_weft, rows[5],
                             rows[6], rows[7], rows[8], rows[9],    rows[10]};
        begin_row(woven, static_cast<float>(counts_.weft), static_cast<float>(counts_.warp), along_warp, along_weft);
        show_warps(woven);
        show_wefts(woven);
        // Twist runs round the yarn: its noise is read where the surface would lie unrolled.
        float *u = rows[0], *v = rows[11], *twist = rows[12], *fuzz = rows[13];
        twist_row(woven,
                  {counts_.warp, 1 / static_cast<float>(counts_.weft), 1 / static_cast<float>(counts_.warp),
                   static_cast<float>(lean_), static_cast<float>(weft_lean_), lots_[0].data(), lots_[1].data()},
                  u, v);
        rows.clear(12), rows.clear(13);
        if (s_.twist_depth > 0 || (s_.weft_own && s_.weft_twist_depth > 0))
            for (const auto& [noise, weight] : twist_) noise.add(u, v, width, weight, twist);
        if (s_.fuzz > 0 || (s_.weft_own && s_.weft_fuzz > 0))
            for (const auto& [noise, weight] : fuzz_) noise.add(u, v, width, weight, fuzz);
        float* const colour[3] = {sheet.colour(0, y), sheet.colour(1, y), sheet.colour(2, y)};
        shade_row(woven, look(), twist, fuzz, colour, sheet.height(y));
        if (streaks_) dye_along(woven, u, v, colour);
        parts.note(woven, counts_, twist, fuzz, y);
        if (!sheet.owned()) return;
        for (int x = 0; x < width; ++x) {
            const bool warp = woven.yarn[x] < static_cast<float>(counts_.warp);
            const float along =
                warp ? along_warp[x] / static_cast<float>(counts_.weft) : along_weft[x] / static_cast<float>(counts_.warp);
            if (woven.yarn[x] >= 0)
                sheet.own(x, y, static_cast<std::uint32_t>(woven.yarn[x]) + 1, along, 0.5f + 0.5f * woven.d[x]);
        }
    }

    /// What threads are worn to: pale, or as bright in their own hue.
    float worn(const float (&colour)[3], int channel) const {
        constexpr float pale = 0.86f;
        const auto keep = static_cast<float>(s_.keep_hue / 100);
        const float brightest = std::max({colour[0], colour[1], colour[2], 0.02f});
        // A very dark dye has no hue left when it is that pale.
        const float hue = 0.45f * pale + 0.55f * pale * colour[channel] / brightest;
        return pale + keep * (hue - pale);
    }
    static double lean_of(double twist) { return 0.5 / std::tan(std::max(12.0, twist) * 3.14159265358979323846 / 180); }
    double weft_part(double own, double as_warp) const { return (s_.weft_own ? own : as_warp) / 100; }

    WovenLook look() const {
        WovenLook look{};
        look.warps = counts_.warp;
        const Colour &a = s_.warp_colour, &b = s_.weft_colour;
        const float warp[3] = {a.red, a.green, a.blue}, weft[3] = {b.red, b.green, b.blue};
        // Between the yarns it is dark.
        for (int c = 0; c < 3; ++c)
            look.warp_colour[c] = warp[c], look.weft_colour[c] = weft[c],
            look.gap_colour[c] = static_cast<float>(s_.between / 100) * warp[c], look.warp_worn[c] = worn(warp, c),
            look.weft_worn[c] = worn(weft, c);
        look.warp_pixels = warp_.half * static_cast<float>(context_.size.width) / static_cast<float>(counts_.warp);
        look.weft_pixels = weft_.half * static_cast<float>(context_.size.height) / static_cast<float>(counts_.weft);
        look.dye = static_cast<float>(s_.dye / 100), look.fade = static_cast<float>(s_.fade / 100);
        look.sunk = static_cast<float>(0.55 * s_.weft_depth / 100);
        look.warp_twist = static_cast<float>(s_.twist_depth / 100), look.warp_hair = static_cast<float>(s_.fuzz / 100);
        look.weft_twist = s_.weft_own ? static_cast<float>(s_.weft_twist_depth / 100) : look.warp_twist;
        look.weft_hair = s_.weft_own ? static_cast<float>(s_.weft_fuzz / 100) : look.warp_hair;
        look.low = 0.42f, look.span = look.low + 0.36f + warp_.thick * 1.2f;
        look.lots_dye = lots_[2].data();
        return look;
    }

    /// Each yarn took its dye deeper here than there.
    void dye_along(const WovenRow& row, float* u, float* v, float* const colour[3]) const {
        std::vector<float> depth(static_cast<std::size_t>(row.count + lattice_padding), 0.0f);
        for (int x = 0; x < row.count; ++x) {
            const bool warp = row.yarn[x] < static_cast<float>(counts_.warp);
            u[x] = lots_[0][static_cast<std::size_t>(std::max(0.0f, row.yarn[x]))];
            v[x] = warp ? row.along_warp[x] / static_cast<float>(counts_.weft)
                        : row.along_weft[x] / static_cast<float>(counts_.warp);
        }
        streaks_->add(u, v, row.count, 0.16f * static_cast<float>(s_.dye_along / 100), depth.data());
        for (int x = 0; x < row.count; ++x) {
            const float light = row.yarn[x] < 0 ? 1.0f : std::max(0.4f, 1 + depth[static_cast<std::size_t>(x)]);
            for (int c = 0; c < 3; ++c) colour[c][x] = std::min(1.0f, colour[c][x] * light);
        }
    }

    const Settings& s_;
    const StepContext& context_;
    Draft draft_;
    Counts counts_;
    Yarns warps_, wefts_;
    std::vector<std::pair<PlaceNoise, float>> twist_, fuzz_;
    std::array<std::vector<float>, 3> lots_;  ///< of each yarn: where its twist begins, along and round; depth of its dye
    float start_ = 0;                         ///< threads that the cloth is moved by, so that the tile's edge lies anywhere
    YarnBody warp_{}, weft_{};
    float weft_reach_ = 0;
    double lean_ = 1, weft_lean_ = 1;
    std::optional<PlaceNoise> streaks_;  ///< how deep the dye is along each yarn
};

}  // namespace

Woven plain_cloth() {
    Woven plain;
    plain.twist_depth = 50, plain.slub_size = 60, plain.jitter = 40, plain.closing = 60, plain.fuzz = 30;
    plain.dye_along = plain.keep_hue = plain.shoulder = plain.weft_depth = 0, plain.fade = 40, plain.between = 25;
    return plain;
}

Bundle woven(const Woven& s, const StepContext& context) {
    return supersampled(context, [&](const StepContext& c) { return Painter(s, c).paint(); });
}

ThreadCounts thread_counts(const Woven& s) {
    const Counts counts = counts_of(s, draft_of(s));
    return {counts.warp, counts.weft};
}

}  // namespace loom
