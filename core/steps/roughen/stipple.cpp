// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Dots by thresholds that belong to the tile: white noise, blue noise (Ulichney 1993), a clustered
// screen at 45 degrees, or strokes.
#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/noise/grains.h"
#include "core/steps/all_steps.h"
#include "core/steps/soften/line_average.h"

namespace loom {

namespace {

enum class Drive { tone, coverage };
enum class Pattern { white, blue, clustered, strokes };

struct Settings {
    Drive drive = Drive::tone;
    Pattern pattern = Pattern::blue;
    double dot = 3;
    double density = 100;
    double direction = 60;
};

/// Replaces values by their ranks, 0..1, evenly spread.
void set_to_ranks(Plane& plane) {
    const std::size_t count = plane.size().pixels();
    std::vector<std::uint32_t> order(count);
    std::iota(order.begin(), order.end(), 0u);
    std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
        return plane.data()[a] != plane.data()[b] ? plane.data()[a] < plane.data()[b] : a < b;
    });
    for (std::size_t k = 0; k < count; ++k) plane.data()[order[k]] = (static_cast<float>(k) + 0.5f) / static_cast<float>(count);
}

constexpr int blue_side = 64;

/// Ranks of a closed square of dots by the void-and-cluster method (Ulichney 1993): each next dot goes where those that are
/// there leave most room. Always the same, so it is made once.
const Plane& blue_ranks() {
    static const Plane ranks = [] {
        constexpr int count = blue_side * blue_side, first_dots = count / 10;
        std::vector<float> bell(count);
        for (int k = 0; k < count; ++k) {
            const int x = std::min(k % blue_side, blue_side - k % blue_side),
                      y = std::min(k / blue_side, blue_side - k / blue_side);
            bell[static_cast<std::size_t>(k)] = std::exp(-static_cast<float>(x * x + y * y) / (2 * 1.9f * 1.9f));
        }
        std::vector<float> crowd(count, 0.0f);
        std::vector<bool> set(count, false);
        auto put = [&](int at, bool on) {
            set[static_cast<std::size_t>(at)] = on;
            const int ax = at % blue_side, ay = at / blue_side;
            for (int y = 0; y < blue_side; ++y)
                for (int x = 0; x < blue_side; ++x)
                    crowd[static_cast<std::size_t>(y * blue_side + x)] +=
                        (on ? 1.0f : -1.0f) *
                        bell[static_cast<std::size_t>(wrap(y - ay, blue_side) * blue_side + wrap(x - ax, blue_side))];
        };
        auto extreme = [&](bool among_set) {
            int best = -1;
            for (int k = 0; k < count; ++k)
                if (set[static_cast<std::size_t>(k)] == among_set &&
                    (best < 0 || (among_set ? crowd[static_cast<std::size_t>(k)] > crowd[static_cast<std::size_t>(best)]
                                            : crowd[static_cast<std::size_t>(k)] < crowd[static_cast<std::size_t>(best)])))
                    best = k;
            return best;
        };
        for (int k = 0; k < first_dots; ++k) {
            int at = static_cast<int>(mix64(77, static_cast<std::uint64_t>(k)) % count);
            while (set[static_cast<std::size_t>(at)]) at = (at + 1) % count;
            put(at, true);
        }
        // The first dots move from the tightest cluster to the largest void until that changes nothing.
        for (int k = 0; k < 4 * first_dots; ++k) {
            const int tight = extreme(true);
            put(tight, false);
            const int loose = extreme(false);
            put(loose, true);
            if (loose == tight) break;
        }
        Plane order({blue_side, blue_side}, 0.0f);
        const std::vector<bool> start = set;
        const std::vector<float> start_crowd = crowd;
        for (int rank = first_dots - 1; rank >= 0; --rank) {
            const int tight = extreme(true);
            put(tight, false);
            order.data()[tight] = static_cast<float>(rank);
        }
        set = start, crowd = start_crowd;
        for (int rank = first_dots; rank < count; ++rank) {
            const int loose = extreme(false);
            put(loose, true);
            order.data()[loose] = static_cast<float>(rank);
        }
        return order;
    }();
    return ranks;
}

/// Thresholds of the tile's dots, one a dot.
Plane thresholds(const Settings& s, const StepContext& context) {
    Size dots{std::max(1, static_cast<int>(std::lround(context.tile.width / s.dot))),
              std::max(1, static_cast<int>(std::lround(context.tile.height / s.dot)))};
    // Whole squares of blue noise close at the edge.
    if (s.pattern == Pattern::blue)
        for (int* side : {&dots.width, &dots.height})
            if (*side > blue_side) *side = (*side + blue_side / 2) / blue_side * blue_side;
    Plane plane(dots);
    GrainSettings grains;
    grains.across = dots.width, grains.down = dots.height, grains.seed = context.seed;
    const GrainField field(grains, dots);
    for (int y = 0; y < dots.height; ++y) field.row(y, 0, dots.width, plane.row(y));
    switch (s.pattern) {
        case Pattern::white: break;
        case Pattern::blue: {
            const Plane& ranks = blue_ranks();
            const auto left = static_cast<int>(context.seed % blue_side),
                       up = static_cast<int>(context.seed / blue_side % blue_side);
            // Squares repeat the same ranks; what chance adds puts their dots in an order of its own.
            for (int y = 0; y < dots.height; ++y)
                for (int x = 0; x < dots.width; ++x) {
                    const float lot = 0.4f * std::clamp(plane.row(y)[x], -1.0f, 1.0f);
                    plane.row(y)[x] = ranks.row((y + up) % blue_side)[(x + left) % blue_side] + lot;
                }
            break;
        }
        case Pattern::clustered: {
            // Whole screens across and down, eight dots wide.
            const int across = std::max(1, dots.width / 8), down = std::max(1, dots.height / 8);
            for (int y = 0; y < dots.height; ++y)
                for (int x = 0; x < dots.width; ++x) {
                    const double u = 6.283185307179586 * across * (x + 0.5) / dots.width,
                                 v = 6.283185307179586 * down * (y + 0.5) / dots.height;
                    plane.row(y)[x] = static_cast<float>(std::cos(u) * std::cos(v)) + 1e-4f * plane.row(y)[x];
                }
            break;
        }
        case Pattern::strokes: {
            const double turn = s.direction * 3.14159265358979323846 / 180;
            plane = line_average(plane, 9 * std::cos(turn), -9 * std::sin(turn), Falloff::bell, *context.job);
            break;
        }
    }
    set_to_ranks(plane);
    return plane;
}

/// Which dots lie under a pixel of a line, and how much of it each takes.
struct Under {
    int first;
    std::vector<float> share;
};

std::vector<Under> unders(int dots, int pixels) {
    std::vector<Under> result;
    const double ratio = static_cast<double>(dots) / pixels;
    for (int i = 0; i < pixels; ++i) {
        const double begin = i * ratio, end = (i + 1) * ratio;
        Under under{static_cast<int>(begin + 1e-9), {}};
        for (int k = under.first; k < end - 1e-9; ++k)
            under.share.push_back(static_cast<float>((std::min<double>(k + 1, end) - std::max<double>(k, begin)) / ratio));
        result.push_back(std::move(under));
    }
    return result;
}

/// Pixels as the mean of the dots under them.
Plane area_mean(const Plane& dots, Size size) {
    const auto across = unders(dots.width(), size.width), down = unders(dots.height(), size.height);
    Plane out(size, 0.0f);
    for (int y = 0; y < size.height; ++y) {
        const Under& rows = down[static_cast<std::size_t>(y)];
        for (std::size_t j = 0; j < rows.share.size(); ++j) {
            const float* row = dots.row(rows.first + static_cast<int>(j));
            for (int x = 0; x < size.width; ++x) {
                const Under& columns = across[static_cast<std::size_t>(x)];
                for (std::size_t i = 0; i < columns.share.size(); ++i)
                    out.row(y)[x] += rows.share[j] * columns.share[i] * row[columns.first + static_cast<int>(i)];
            }
        }
    }
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle& in = *context.input;
    const Size size = context.size;
    const Plane dots = thresholds(s, context);
    const PlaneRef drive = s.drive == Drive::tone ? tone_of(in) : coverage_of(in);
    const auto density = static_cast<float>(s.density / 100);
    // Each dot is lit or not by what lies under the whole of it, so that the same dots are lit at every size.
    const Plane under = resized(*drive, dots.size());
    Plane lights(dots.size());
    for (std::size_t i = 0; i < dots.size().pixels(); ++i) {
        const float value = s.drive == Drive::tone ? 1 - density * (1 - under.data()[i]) : density * under.data()[i];
        lights.data()[i] = std::clamp((value - dots.data()[i]) * 24 + 0.5f, 0.0f, 1.0f);
    }
    Plane lit = area_mean(lights, size);
    Bundle result;
    result.named = in.named;
    if (s.drive == Drive::tone) {
        // Dots of light on dark, as far as the picture covers.
        if (in.coverage)
            for (std::size_t i = 0; i < size.pixels(); ++i) lit.data()[i] *= in.coverage->data()[i];
        result.colour = {share(std::move(lit))};
        result.coverage = in.coverage;
        return result;
    }
    for (const PlaneRef& plane : in.colour) {
        Plane cut(size);
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const float cover = drive->data()[i];
            cut.data()[i] = cover > 0 ? plane->data()[i] / cover * lit.data()[i] : 0.0f;
        }
        result.colour.push_back(share(std::move(cut)));
    }
    result.coverage = share(std::move(lit));
    return result;
}

}  // namespace

StepDescription describe_stipple() {
    StepDescription base;
    base.id = "stipple", base.title = "Stipple", base.family = Family::roughen;
    base.summary = "Turns tone, or soft coverage, to dots.";
    base.seeded = true;
    base.scratch_planes = 3;
    base.headline = {"pattern", "dot"};
    const When strokes{"pattern", {"strokes"}};
    return Describe<Settings>(std::move(base))
        .choice("drive", "Driven by", &Settings::drive, {{"tone", "Tone"}, {"coverage", "Coverage"}},
                "What becomes dots: how light it is, or how much it covers.")
        .choice("pattern", "Pattern", &Settings::pattern,
                {{"white", "White noise"}, {"blue", "Blue noise"}, {"clustered", "Clustered"}, {"strokes", "Strokes"}},
                "How dots lie: by chance, evenly apart, in growing clusters, or as strokes.")
        .number("dot", "Dot", &Settings::dot, {1, 128, Unit::px, 16, Scale::root}, "Width of a dot; whole ones fill the tile.")
        .number("density", "Density", &Settings::density, {0, 100, Unit::percent},
                "For tone how many dark dots are left; for coverage how many dots there are.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "The way along the strokes; 0 is right, 90 is up.", strokes)
        .shape([](const Settings& s, Shape in) {
            return s.drive == Drive::tone ? Shape{1, in.coverage} : Shape{in.channels, true};
        })
        .draws([](const Settings& s) { return s.pattern != Pattern::clustered; })
        .direction("Strokes", "direction")
        .run(run);
}

}  // namespace loom
