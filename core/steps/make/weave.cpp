// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cloth from a draft: bent round yarns that are tested by depth against each other at every pixel, with their twist read in
// unrolled coordinates.
#include <algorithm>
#include <cmath>

#include "core/base/quick_math.h"
#include "core/catalogue/describe.h"
#include "core/image/sample.h"
#include "core/noise/place_noise.h"
#include "core/steps/all_steps.h"
#include "core/steps/make/yarns.h"
#include "core/steps/object_sheet.h"
#include "core/steps/supersampled.h"

namespace loom {

namespace {

enum class Binding { plain, twill, satin, basket, herringbone, grid };
enum class Way { right, left };

struct Settings {
    Binding draft = Binding::twill;
    int over = 3, under = 1;
    Way way = Way::right;
    int satin = 5, step = 2, block = 2;
    std::string grid = "##../.##./..##/#..#";
    int warp = 92, weft = 64;
    double width = 100, gap = 6, roundness = 70;
    double twist = 28, twist_depth = 50;
    double slub_size = 60, slub = 13, jitter = 40, closing = 60, fuzz = 30;
    Colour warp_colour{0.16f, 0.22f, 0.36f}, weft_colour{0.62f, 0.62f, 0.60f};
    double dye = 40, fade = 40;
};

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

/// What a pixel shows of a yarn.
struct Hit {
    int yarn = -1;                                     ///< warps first, then wefts
    float z = -1e9f, across = 0, along = 0, rise = 0;  ///< height; place across it, -1..1; crossings along it; over or under
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
        const int finest = std::max(counts_.warp, counts_.weft);
        twist_.emplace_back(PlaceNoise(0.8 * finest, 31, mix64(context.seed, 31), pixels() / 0.8), 0.75f);
        twist_.emplace_back(PlaceNoise(1.5 * finest, 53, mix64(context.seed, 32), pixels() / 1.5), 0.5f);
        fuzz_.emplace_back(PlaceNoise(2.2 * finest, 40, mix64(context.seed, 33), pixels() / 2.2), 0.7f);
        fuzz_.emplace_back(PlaceNoise(1.9 * finest, 2.2 * finest, mix64(context.seed, 34), pixels() / 1.9), 0.5f);
        for (std::uint64_t k = 0; k < 4; ++k) uneven_.emplace_back(k % 2 ? 18 : 5, k % 2 ? 18 : 5, mix64(context.seed, 21 + k));
        start_ = unit_float(mix64(context.seed, 41));
        for (int yarn = 0; yarn < counts_.warp + counts_.weft; ++yarn)
            for (std::uint64_t which : {1u, 2u, 3u})
                lots_.push_back(unit_float(mix64(mix64(context.seed, 0x64796500 + static_cast<std::uint64_t>(yarn)), which)));
        const double width = s.width / 100 * (1 - s.gap / 100);
        warp_half_ = static_cast<float>(0.56 * width), weft_half_ = static_cast<float>(0.45 * width);
        warp_thick_ = static_cast<float>(0.2 + 0.4 * s.roundness / 100), weft_thick_ = 0.8f * warp_thick_;
    }

    Bundle paint() {
        ObjectSheet sheet(context_, 3, false);
        for_rows(*context_.job, context_.size.height, [&](int first, int last) {
            NoiseRows rows(context_.size.width, 8);
            std::vector<Hit> best(static_cast<std::size_t>(context_.size.width)), second(best.size());
            for (int y = first; y < last; ++y) row(sheet, y, rows, best, second);
        });
        return sheet.finish();
    }

private:
    YarnSettings yarns(std::uint64_t salt) const {
        YarnSettings y;
        const bool warp = salt == 1;
        const double pitch = warp ? static_cast<double>(context_.tile.height) / counts_.weft
                                  : static_cast<double>(context_.tile.width) / counts_.warp;
        y.slub_px_crossings = s_.slub_size / pitch, y.slub = s_.slub / 100, y.jitter = 0.16 * s_.jitter / 100,
        y.closing = 0.22 * s_.closing / 100;
        y.arch = warp ? 0.9 : 0.4, y.seed = mix64(context_.seed, salt);
        return y;
    }
    /// Pixels a pitch, of the finer direction.
    double pixels() const {
        return std::min(static_cast<double>(context_.size.width) / counts_.warp,
                        static_cast<double>(context_.size.height) / counts_.weft);
    }

    /// What a yarn with this place shows where it is `off` pitches from its middle line.
    static void show(int yarn, const YarnPlace& place, float off, float along, float half, float thick, float lift, Hit& best,
                     Hit& second) {
        const float d = (off - place.shift) / (half * place.swell * (1 + 0.13f * place.rise));
        if (d <= -1 || d >= 1) return;
        const float z = 0.36f * place.rise + lift + thick * place.swell * std::sqrt(1 - d * d);
        if (z > best.z)
            second = best, best = {yarn, z, d, along, place.rise};
        else if (z > second.z)
            second = {yarn, z, d, along, place.rise};
    }

    static float within(float along, float crossings) {
        if (along < 0 || along >= crossings) along -= quick_floor(along / crossings) * crossings;
        return along < crossings ? along : 0;
    }

    /// Warps stand upright: each has one place on its way for the whole row, and covers a few pixels.
    void look_at_warps(const float* across, const float* down, std::vector<Hit>& best, std::vector<Hit>& second) const {
        const int width = context_.size.width;
        const float pitch = static_cast<float>(width) / static_cast<float>(counts_.warp),
                    crossings = static_cast<float>(counts_.weft);
        const float start = across[0] - 0.5f / pitch;
        for (int k = floor_to_int(start) - 2; k <= floor_to_int(start) + counts_.warp + 2; ++k) {
            // Where its middle lies, near enough; places and widths are then those of each pixel.
            const int middle = std::clamp(static_cast<int>((static_cast<float>(k) + 0.5f - start) * pitch), 0, width - 1);
            const float along = within(down[middle], crossings);
            const int yarn = wrap(k, counts_.warp);
            const YarnPlace place = warps_.at(yarn, warps_.find(along));
            const float reach = (warp_half_ * place.swell * 1.13f + std::abs(place.shift) + 0.6f) * pitch;
            const float centre = (static_cast<float>(k) + 0.5f - start) * pitch;
            const int from = std::max(0, static_cast<int>(centre - reach)),
                      to = std::min(width - 1, static_cast<int>(centre + reach) + 1);
            for (int x = from; x <= to; ++x)
                show(yarn, place, across[x] - static_cast<float>(k) - 0.5f, within(down[x], crossings), warp_half_, warp_thick_,
                     0.0f, best[static_cast<std::size_t>(x)], second[static_cast<std::size_t>(x)]);
        }
    }

    /// Wefts lie along the row: the few that are near are followed through it.
    void look_at_wefts(const float* across, const float* down, std::vector<Hit>& best, std::vector<Hit>& second) const {
        const int width = context_.size.width;
        const auto crossings = static_cast<float>(counts_.warp);
        const auto [low, high] = std::minmax_element(down, down + width);
        const float widest = 1.9f * weft_half_;
        for (int k = floor_to_int(*low - widest - 0.5f) + 1; k <= floor_to_int(*high + widest - 0.5f); ++k) {
            const int yarn = wrap(k, counts_.weft);
            for (int x = 0; x < width; ++x) {
                const float off = down[x] - static_cast<float>(k) - 0.5f;
                if (off > widest || off < -widest) continue;
                const float along = within(across[x], crossings);
                show(counts_.warp + yarn, wefts_.at(yarn, wefts_.find(along)), off, along, weft_half_, weft_thick_, -0.03f,
                     best[static_cast<std::size_t>(x)], second[static_cast<std::size_t>(x)]);
            }
        }
    }

    /// Draws of each yarn: where its twist and its fibres begin, and the depth of its dye.
    float yarn_lot(int yarn, std::size_t which) const { return lots_[3 * static_cast<std::size_t>(yarn) + which]; }

    void row(ObjectSheet& sheet, int y, NoiseRows& rows, std::vector<Hit>& best, std::vector<Hit>& second) const {
        const int width = context_.size.width;
        float *u = rows[0], *v = rows[1], *du = rows[2], *dv = rows[3], *twist = rows[4], *fuzz = rows[5];
        for (int x = 0; x < width; ++x) u[x] = (static_cast<float>(x) + 0.5f) / static_cast<float>(width);
        std::fill_n(v, width, (static_cast<float>(y) + 0.5f) / static_cast<float>(context_.size.height));
        for (std::size_t k : {2u, 3u, 4u, 5u}) rows.clear(k);
        // The whole cloth lies a little uneven.
        const auto uneven = static_cast<float>(s_.jitter / 100);
        if (uneven > 0) {
            uneven_[0].add(u, v, width, 0.22f * uneven, du), uneven_[1].add(u, v, width, 0.12f * uneven, du);
            uneven_[2].add(u, v, width, 0.22f * uneven, dv), uneven_[3].add(u, v, width, 0.12f * uneven, dv);
        }
        // Picks are counted from below, as cloth grows. From here on the places are in pitches.
        for (int x = 0; x < width; ++x) {
            du[x] += u[x] * static_cast<float>(counts_.warp) + start_,
                dv[x] += (1 - v[x]) * static_cast<float>(counts_.weft) + start_;
            best[static_cast<std::size_t>(x)] = second[static_cast<std::size_t>(x)] = Hit{};
        }
        look_at_warps(du, dv, best, second);
        look_at_wefts(du, dv, best, second);
        // Twist runs round the yarn: its noise is read where the surface would lie unrolled.
        // A fibre that leans by the twist angle from the yarn's axis goes half round on its way along.
        const auto lean = static_cast<float>(0.5 / std::tan(std::max(12.0, s_.twist) * 3.14159265358979323846 / 180));
        float *tu = rows[6], *tv = rows[7];
        for (int x = 0; x < width; ++x) {
            const Hit& hit = best[static_cast<std::size_t>(x)];
            const bool warp = hit.yarn < counts_.warp;
            const float turns = 1 / static_cast<float>(warp ? counts_.weft : counts_.warp), angle = quick_asin(hit.across);
            tu[x] = hit.yarn < 0 ? 0 : (hit.along + lean * angle) * turns + yarn_lot(hit.yarn, 0);
            tv[x] = hit.yarn < 0 ? 0 : 0.3f * angle + 2 * hit.along * turns + yarn_lot(hit.yarn, 1);
        }
        for (const auto& [noise, weight] : twist_) noise.add(tu, tv, width, weight, twist);
        if (s_.fuzz > 0)
            for (const auto& [noise, weight] : fuzz_) noise.add(tu, tv, width, weight, fuzz);
        shade(sheet, y, best, second, twist, fuzz);
    }

    void shade(ObjectSheet& sheet, int y, const std::vector<Hit>& best, const std::vector<Hit>& second, const float* twist,
               const float* fuzz) const {
        float *red = sheet.colour(0, y), *green = sheet.colour(1, y), *blue = sheet.colour(2, y), *height = sheet.height(y);
        const auto depth = static_cast<float>(s_.twist_depth / 100), hairy = static_cast<float>(s_.fuzz / 100);
        const float low = 0.42f, high = 0.36f + warp_thick_ * 1.2f;
        for (int x = 0; x < context_.size.width; ++x) {
            const Hit& hit = best[static_cast<std::size_t>(x)];
            const float rough = depth * twist[x] + 0.6f * hairy * fuzz[x];
            Colour colour = colour_of(hit, rough);
            // The rim of a yarn covers its last pixel in part.
            const Hit& behind = second[static_cast<std::size_t>(x)];
            if (hit.yarn >= 0) {
                const bool warp = hit.yarn < counts_.warp;
                const float pitch = warp ? static_cast<float>(context_.size.width) / static_cast<float>(counts_.warp)
                                         : static_cast<float>(context_.size.height) / static_cast<float>(counts_.weft);
                const float cover = (1 - std::abs(hit.across)) * (warp ? warp_half_ : weft_half_) * pitch + 0.5f;
                if (cover < 1) {
                    const Colour below = colour_of(behind, 0);
                    colour = {below.red + cover * (colour.red - below.red), below.green + cover * (colour.green - below.green),
                              below.blue + cover * (colour.blue - below.blue)};
                }
                sheet.own(x, y, static_cast<std::uint32_t>(hit.yarn + 1),
                          hit.along / static_cast<float>(warp ? counts_.weft : counts_.warp), 0.5f + 0.5f * hit.across);
            }
            red[x] = colour.red, green[x] = colour.green, blue[x] = colour.blue;
            if (height) height[x] = hit.yarn < 0 ? 0.0f : std::clamp((hit.z + 0.06f * rough + low) / (low + high), 0.0f, 1.0f);
        }
    }

    Colour colour_of(const Hit& hit, float rough) const {
        // Between the yarns it is dark.
        if (hit.yarn < 0) return {0.25f * s_.warp_colour.red, 0.25f * s_.warp_colour.green, 0.25f * s_.warp_colour.blue};
        const Colour& base = hit.yarn < counts_.warp ? s_.warp_colour : s_.weft_colour;
        const auto dye = static_cast<float>(s_.dye / 100), fade = static_cast<float>(s_.fade / 100);
        const auto t = std::clamp((hit.z - 0.12f) / 0.55f, 0.0f, 1.0f);
        // What stands out is worn pale; what lies deep keeps its dye and sees less light.
        const float worn = 0.55f * fade * t * t * (3 - 2 * t) * (0.7f + 0.3f * rough);
        const float rim = hit.across * hit.across;
        const float light = 1 + 0.5f * dye * (yarn_lot(hit.yarn, 2) - 0.5f) + 0.16f * rough -
                            0.2f * (1 - t) * (0.4f + 0.6f * rim) - 0.34f * rim * rim;
        auto channel = [&](float value) { return std::clamp(value * light + worn * (0.86f - value), 0.0f, 1.0f); };
        return {channel(base.red), channel(base.green), channel(base.blue)};
    }

    const Settings& s_;
    const StepContext& context_;
    Draft draft_;
    Counts counts_;
    Yarns warps_, wefts_;
    std::vector<std::pair<PlaceNoise, float>> twist_, fuzz_;
    std::vector<PlaceNoise> uneven_;
    std::vector<float> lots_;
    float start_ = 0;  ///< threads that the cloth is moved by, so that the tile's edge lies anywhere
    float warp_half_, weft_half_, warp_thick_, weft_thick_;
};

Bundle run(const Settings& s, const StepContext& context) {
    return supersampled(context, [&](const StepContext& c) { return Painter(s, c).paint(); });
}

std::optional<TextFault> check_draft(std::string_view text) {
    const auto draft = read_draft(text);
    if (draft) return std::nullopt;
    return TextFault{0, draft.error().message};
}

}  // namespace

StepDescription describe_weave() {
    StepDescription base;
    base.id = "weave", base.title = "Weave", base.family = Family::make;
    base.summary = "Cloth from a draft: warp runs down, weft across.";
    base.seeded = true;
    base.headline = {"draft", "warp", "weft"};
    base.planes = object_step_planes();
    base.scratch_planes = supersampled_planes(10);
    const Range share{0, 100, Unit::percent}, wide{0, 200, Unit::percent, 100};
    const When twill{"draft", {"twill", "herringbone"}}, satin{"draft", {"satin"}};
    return Describe<Settings>(std::move(base))
        .choice("draft", "Draft", &Settings::draft,
                {{"plain", "Plain"},
                 {"twill", "Twill"},
                 {"satin", "Satin"},
                 {"basket", "Basket"},
                 {"herringbone", "Herringbone"},
                 {"grid", "Own draft"}},
                "Which thread lies on top where.")
        .count("over", "Over", &Settings::over, {1, 16, Unit::none, 6}, "Picks that a warp thread lies over.", twill)
        .count("under", "Under", &Settings::under, {1, 16, Unit::none, 6}, "Picks that it lies under.", twill)
        .choice("way", "Rises to the", &Settings::way, {{"right", "Right"}, {"left", "Left"}},
                "Which way the twill's lines rise.", {"draft", {"twill"}})
        .count("satin", "Satin of", &Settings::satin, {5, 16, Unit::none, 10}, "A thread goes under one pick in so many.", satin)
        .count("step", "Step", &Settings::step, {2, 15, Unit::none, 7}, "How far on the next thread does.", satin)
        .count("block", "Block", &Settings::block, {1, 16, Unit::none, 6}, "Threads side by side in a block.",
               {"draft", {"basket"}})
        .draft("grid", "Own draft", &Settings::grid, "Rows of # (warp on top) and . from the first pick, between slashes.",
               check_draft, {"draft", {"grid"}})
        .count("warp", "Warp threads", &Settings::warp, {2, 1024, Unit::none, 256, Scale::root},
               "Threads across the tile, in whole repeats of the draft.")
        .count("weft", "Weft threads", &Settings::weft, {2, 1024, Unit::none, 256, Scale::root},
               "Threads down the tile, in whole repeats.")
        .number("width", "Thread width", &Settings::width, {20, 160, Unit::percent},
                "Width of the threads beside their distance.")
        .number("gap", "Gap", &Settings::gap, share, "How much of that is left open.")
        .number("roundness", "Roundness", &Settings::roundness, share, "How round threads are; at 0 % they are flat bands.")
        .number("twist", "Twist angle", &Settings::twist, {12, 80, Unit::degrees},
                "How far fibres lean from the thread they are twisted to.")
        .number("twist-depth", "Twist depth", &Settings::twist_depth, wide, "How clearly they show.")
        .number("slub-size", "Slub size", &Settings::slub_size, {4, 1024, Unit::px, 200, Scale::root}, "Length of thick places.")
        .number("slub", "Slub", &Settings::slub, share, "How thick they are.")
        .number("jitter", "Jitter", &Settings::jitter, wide, "How unevenly threads and cloth lie.")
        .number("closing", "Closing of gaps", &Settings::closing, wide, "How far threads lean over a neighbour that dips.")
        .number("fuzz", "Fuzz", &Settings::fuzz, wide, "Fine fibres on the threads.")
        .colour("warp-colour", "Warp colour", &Settings::warp_colour, "Colour of the warp.")
        .colour("weft-colour", "Weft colour", &Settings::weft_colour, "Colour of the weft.")
        .number("dye", "Dye unevenness", &Settings::dye, share, "How much threads differ in depth of colour.")
        .number("fade", "Fade", &Settings::fade, share, "How pale raised threads are worn.")
        .rounded([](const Settings& s, Size) {
            const Counts counts = counts_of(s, draft_of(s));
            return std::to_string(counts.warp) + " warp and " + std::to_string(counts.weft) + " weft threads close the tile.";
        })
        .shape([](const Settings&, Shape) {
            return Shape{3, false};
        })
        .run(run);
}

}  // namespace loom
