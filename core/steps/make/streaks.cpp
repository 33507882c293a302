// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Long fibres: noise averaged along lines (line integral convolution, Cabral & Leedom 1993). Along straight lines running sums do
// it; along others a few passes, each over what the one before made, so that long lines cost little more than short ones.
#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/catalogue/describe.h"
#include "core/image/direction.h"
#include "core/image/moments.h"
#include "core/image/stream_map.h"
#include "core/noise/clouds.h"
#include "core/noise/enlarge.h"
#include "core/image/line_average.h"
#include "core/structures/asked_plane.h"
#include "core/structures/flow_bends.h"
#include "core/structures/supersampled.h"

namespace loom {

namespace streaks_step {
namespace {

enum class Field { straight, clouds, strand, point, tone };

struct Settings {
    double length = 160, width = 1.8;
    double variety = 60;
    double strength = 100;
    double tails = 35;
    double direction = 0;
    Field field = Field::straight;
    double wander = 40, wander_size = 256, fine_wander = 0;
    double tone_turn = 90;
    int flow_seed = 0;
    std::string strand, pressure;
    bool steady = true;
    double centre_x = 50, centre_y = 50;
};

constexpr double pi = 3.14159265358979323846;
constexpr float tone_deviation = 0.17f;
constexpr int most_finer = 4;  ///< samples across a pixel

/// Fibres of one length and width, beside what is set.
struct Kind {
    double length, width;
    float weight;
    std::uint64_t number;  ///< of its noise
};

/// Shorter ones first; the more variety, the further they are apart.
std::vector<Kind> kinds_of(const Settings& s) {
    const double v = s.variety / 100;
    std::vector<Kind> kinds{{1, 1, 1.0f, 0}};
    if (v > 0) {
        kinds.push_back({1 - 0.75 * v, 1 + 0.3 * v, static_cast<float>(0.75 * v), 1});
        kinds.push_back({1 + 1.6 * v, 1 + 3.5 * v, static_cast<float>(0.7 * v), 2});
    }
    std::sort(kinds.begin(), kinds.end(), [](const Kind& a, const Kind& b) { return a.length < b.length; });
    return kinds;
}

/// Samples across a pixel that fibres of a width need, in design px, at so many pixels a design pixel.
int finer_of(double width, double scale) {
    return std::clamp(static_cast<int>(std::ceil(2 / (width * scale) - 1e-9)), 1, most_finer);
}
/// Reading along bent lines blurs by part of a pixel each time: fine fibres need finer ones.
bool drawn_finer(const Settings& s, double scale_x, double scale_y) {
    return s.steady && s.field != Field::straight && !smallest(scale_x, scale_y) && s.width * std::min(scale_x, scale_y) < 2;
}

/// Adds `weight` times the single-band noise of a kind, as broad as its fibres. Where they are finer than two pixels, those that
/// share a pixel are averaged in it, so that each keeps its place at every size.
void add_noise(const Kind& kind, float weight, const Settings& s, const StepContext& context, Plane& sum) {
    const double scale = std::sqrt(context.scale_x() * context.scale_y()), own = s.width * kind.width,
                 width = s.steady ? own : std::max(own, 2 / scale);
    const int finer = s.steady ? finer_of(own, scale) : 1;
    if (finer > 1) {
        StepContext larger = context;
        larger.size = {finer * sum.width(), finer * sum.height()};
        Plane noise(larger.size, 0.0f);
        add_noise(kind, weight, s, larger, noise);
        const Plane small = resized(noise, sum.size(), *context.job);
        for_rows(*context.job, sum.height(), [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < sum.width(); ++x) sum.row(y)[x] += small.row(y)[x];
        });
        return;
    }
    CloudSettings band;
    band.across = context.tile.width / width, band.down = context.tile.height / width;
    band.octaves = 1, band.seed = mix64(context.seed, 0x73747265 + kind.number);
    const CloudField field(band, sum.size());
    for_rows(*context.job, sum.height(), [&](int first, int last) {
        std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
        for (int y = first; y < last; ++y) {
            field.row(y, row.data());
            float* to = sum.row(y);
            for (int x = 0; x < sum.width(); ++x) to[x] += weight * row[static_cast<std::size_t>(x)];
        }
    });
}

Plane doubled(const Plane& half, const Job& job) {
    Plane out({2 * half.width(), 2 * half.height()});
    for_rows(job, out.height(), [&](int first, int last) {
        std::vector<float> row(static_cast<std::size_t>(out.width() + lattice_padding));
        for (int y = first; y < last; ++y) {
            const float* rows[6];
            for (int k = 0; k < 6; ++k) rows[k] = half.row(wrap(enlarging_row(y, k), half.height()));
            enlarged_row(rows, half.width(), row.data());
            std::copy_n(row.data(), out.width(), out.row(y));
        }
    });
    return out;
}

/// The field on a grid of its own, so that lines are the same at every size: as fine as what they follow asks for.
DirectionField field_of(const Settings& s, const StepContext& context) {
    const double finest = s.fine_wander > 0 ? s.wander_size / 9 : s.wander_size;
    const double spacing = s.field == Field::clouds ? std::clamp(finest / 32, 1.0, 8.0) : s.field == Field::point ? 4.0 : 2.0;
    auto points = [&](int pixels) { return std::clamp(static_cast<int>(std::lround(pixels / spacing)), 16, 1024); };
    const Size size{points(context.tile.width), points(context.tile.height)};
    if (s.field == Field::strand) {
        const Bundle* strand = context.other("strand");
        if (strand && !strand->empty())
            return directions_of(resized(*tone_of(*strand), size), std::max(0.7, 6 / spacing), *context.job, s.direction);
    }
    DirectionField field{Plane(size), Plane(size)};
    const std::uint64_t flow =
        s.flow_seed == 0 ? context.seed : mix64(context.seed, 0x666c6f77 + static_cast<std::uint64_t>(s.flow_seed));
    const FlowBends bends({s.wander / 100, s.fine_wander / 100, s.wander_size, flow}, context.tile, size);
    const Bundle* toned = s.field == Field::tone ? context.other("strand") : nullptr;
    const Plane tone = toned && !toned->empty() ? resized(*tone_of(*toned), size) : Plane(size, 0.5f);
    const double cx = s.centre_x / 100 * size.width - 0.5, cy = s.centre_y / 100 * size.height - 0.5;
    for_rows(*context.job, size.height, [&](int first, int last) {
        std::vector<float> bend(static_cast<std::size_t>(size.width));
        for (int y = first; y < last; ++y) {
            std::fill(bend.begin(), bend.end(), 0.0f);
            if (s.field == Field::clouds) bends.row(y, bend);
            for (int x = 0; x < size.width; ++x) {
                double angle = -s.direction * pi / 180 + static_cast<double>(bend[static_cast<std::size_t>(x)]);
                if (s.field == Field::tone)
                    angle -=
                        2 * (std::clamp(static_cast<double>(finite(tone.row(y)[x])), 0.0, 1.0) - 0.5) * s.tone_turn * pi / 180;
                if (s.field == Field::point)
                    angle += std::atan2(std::remainder(y - cy, size.height) * context.tile.height / size.height,
                                        std::remainder(x - cx, size.width) * context.tile.width / size.width) +
                             pi / 2;
                field.cosine.row(y)[x] = static_cast<float>(std::cos(2 * angle));
                field.sine.row(y)[x] = static_cast<float>(std::sin(2 * angle));
            }
        }
    });
    return field;
}

/// One mean of three or five places a line, and how far apart they are, in design pixels.
struct Pass {
    double spacing;
    int sides;
    std::size_t kind;  ///< of the fibres that become as long as they should be by it
};

/// Passes that make means over lines of these lengths, rising, out of samples `grain` long.
std::vector<Pass> passes_for(const std::vector<double>& lengths, double grain) {
    std::vector<Pass> passes;
    double covered = grain;
    for (std::size_t k = 0; k < lengths.size(); ++k)
        while (lengths[k] > 1.02 * covered) {
            const double left = lengths[k] - covered;
            // Three places a mean are the cheapest; five where they spare a whole pass.
            const int sides = lengths[k] > 3 * covered && lengths[k] < 5 * covered ? 2 : 1;
            const double spacing = std::min(covered, left / (2 * sides));
            passes.push_back({spacing, sides, k});
            covered += 2 * sides * spacing;
        }
    return passes;
}

/// Brings values to mean 0 and deviation 1, with larger ones drawn out.
struct Tails {
    float centre = 0, scale = 1, power = 0;

    Tails(const Plane& plane, double tails, const Job& job) : power(0.55f * static_cast<float>(tails)) {
        const Moments moments = moments_of(plane, job);
        centre = static_cast<float>(moments.mean);
        scale = static_cast<float>(1 / std::sqrt(std::max(moments.variance, 1e-12)));
    }
    /// The same for a mean and a deviation that are known.
    Tails(float mean, float deviation, double tails)
        : centre(mean), scale(1 / std::max(deviation, 1e-6f)), power(0.55f * static_cast<float>(tails)) {}
    /// |x|^(1 + tails) near enough, without a power for every pixel.
    float operator()(float value) const {
        const float x = (value - centre) * scale;
        return x * (1 - power + power * std::abs(x));
    }
};

/// sum = base + weight * the drawn out values, on top of what is there if `more`.
void add_drawn(const Plane& plane, const Tails& tails, float base, float weight, bool more, const Job& job, Plane& sum) {
    for_rows(job, plane.height(), [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* from = plane.row(y);
            float* to = sum.row(y);
            if (more)
                for (int x = 0; x < plane.width(); ++x) to[x] += weight * tails(from[x]);
            else
                for (int x = 0; x < plane.width(); ++x) to[x] = base + weight * tails(from[x]);
        }
    });
}

/// Deviation of a kind's noise once it has been drawn out, whatever the size of the picture: of a strip of it, two and a half
/// samples to a fibre's width.
float drawn_deviation(const Kind& kind, const Settings& s, const Job& job) {
    constexpr double samples = 2.5;
    const double width = s.width * kind.width, length = s.length * kind.length / width * samples;
    const Size strip{std::clamp(static_cast<int>(3 * length), 512, 16384), 48};
    StepContext context;
    context.size = strip, context.tile = strip, context.seed = 1, context.job = &job;
    Settings alone = s;
    alone.width = samples / kind.width, alone.steady = false;
    Plane noise(strip, 0.0f);
    add_noise(kind, 1, alone, context, noise);
    noise = line_average(noise, length, 0, Falloff::bell, job);
    return 1 / Tails(noise, 0, job).scale;
}

/// Fibres along one direction: each kind is drawn out by itself.
Plane straight(const Settings& s, const StepContext& context, float gain) {
    const std::vector<Kind> kinds = kinds_of(s);
    float variance = 0;
    for (const Kind& kind : kinds) variance += kind.weight * kind.weight;
    Plane sum(context.size);
    for (std::size_t k = 0; k < kinds.size(); ++k) {
        Plane noise(context.size, 0.0f);
        add_noise(kinds[k], 1, s, context, noise);
        const double length = s.length * kinds[k].length;
        noise = line_average(noise, length * std::cos(s.direction * pi / 180) * context.scale_x(),
                             -length * std::sin(s.direction * pi / 180) * context.scale_y(), Falloff::bell, *context.job);
        const Tails tails = s.steady ? Tails(0, drawn_deviation(kinds[k], s, *context.job), s.tails / 100)
                                     : Tails(noise, s.tails / 100, *context.job);
        add_drawn(noise, tails, 0.5f, gain * kinds[k].weight / std::sqrt(variance), k > 0, *context.job, sum);
    }
    return sum;
}

/// Fibres along a field. Means of means may be taken in any order: the longest fibres' last pass comes first, and shorter ones
/// join where their own begin.
Plane followed(const Settings& s, const StepContext& context, float gain) {
    const std::vector<Kind> kinds = kinds_of(s);
    std::vector<double> lengths, distances;
    for (const Kind& kind : kinds) lengths.push_back(s.length * kind.length);
    const std::vector<Pass> passes = passes_for(lengths, std::clamp(0.8 * s.width, 0.5, 8.0));
    for (const Pass& pass : passes)
        for (int side = 1; side <= pass.sides; ++side) distances.push_back(side * pass.spacing);
    std::sort(distances.begin(), distances.end());
    const StreamMap map(field_of(s, context), context.tile, distances, *context.job);
    // Broad fibres are as good at half the size, as long as no finer ones have joined them.
    const Size size = context.size, half{size.width / 2, size.height / 2};
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    auto broad = [&](const Kind& kind) { return s.width * kind.width * scale >= 6; };
    double variance = 0;
    const bool halved = broad(kinds.back()) && size.width % 2 == 0 && size.height % 2 == 0;
    Plane sum(halved ? half : size, 0.0f);
    std::size_t pass = passes.size();
    for (std::size_t k = kinds.size(); k-- > 0;) {
        if (sum.size() != size && !broad(kinds[k])) sum = doubled(sum, *context.job);
        // A mean over so many grains has lost so much of its deviation.
        const double own = s.steady ? static_cast<double>(drawn_deviation(kinds[k], s, *context.job)) : 0;
        const auto kept = static_cast<float>(s.steady ? 1 / own : std::sqrt(1 + lengths[k] / (s.width * kinds[k].width)));
        variance += static_cast<double>(kinds[k].weight * kinds[k].weight);
        add_noise(kinds[k], kinds[k].weight * kept, s, context, sum);
        for (; pass > 0 && passes[pass - 1].kind == k; --pass) {
            const Pass& now = passes[pass - 1];
            std::vector<std::size_t> at;
            for (int side = 1; side <= now.sides; ++side)
                at.push_back(static_cast<std::size_t>(std::lower_bound(distances.begin(), distances.end(), side * now.spacing) -
                                                      distances.begin()));
            sum = stream_mean(sum, map, at, *context.job);
        }
    }
    if (sum.size() != size) sum = doubled(sum, *context.job);
    const Tails tails =
        s.steady ? Tails(0, static_cast<float>(std::sqrt(variance)), s.tails / 100) : Tails(sum, s.tails / 100, *context.job);
    add_drawn(sum, tails, 0.5f, gain, false, *context.job, sum);
    return sum;
}

Bundle made(const Settings& s, const StepContext& context) {
    const float gain = tone_deviation * static_cast<float>(s.strength / 100);
    Plane fibres = s.field == Field::straight ? straight(s, context, gain) : followed(s, context, gain);
    AskedPlane line(context, planes::line);
    const Bundle* pressed = context.other("pressure");
    if (pressed && pressed->empty()) pressed = nullptr;
    const Plane pressure = pressed ? resized(*tone_of(*pressed), context.size, *context.job) : Plane();
    const float to_line = s.strength > 0 ? static_cast<float>(100 / s.strength) : 0.0f;
    if (line || pressed)
        for_rows(*context.job, context.size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y) {
                float *tone = fibres.row(y), *own = line.row(y);
                for (int x = 0; x < context.size.width; ++x) {
                    if (own) own[x] = std::clamp(0.5f + to_line * (tone[x] - 0.5f), 0.0f, 1.0f);
                    // A mid-grey presses as if there were none.
                    if (pressed) tone[x] = 0.5f + 2 * pressure.row(y)[x] * (tone[x] - 0.5f);
                }
            }
        });
    Bundle result = Bundle::of(std::move(fibres));
    line.hand_on(result);
    return result;
}

Bundle run(const Settings& s, const StepContext& context) {
    return supersampled(context, [&](const StepContext& c) {
        if (!drawn_finer(s, c.scale_x(), c.scale_y())) return made(s, c);
        StepContext twice = c;
        twice.size = {2 * c.size.width, 2 * c.size.height};
        return resized(made(s, twice), c.size, *c.job);
    });
}

}  // namespace
}  // namespace streaks_step

StepDescription describe_streaks() {
    using namespace streaks_step;
    StepDescription base;
    base.id = "streaks", base.title = "Streaks", base.family = Family::make;
    base.summary = "Long fibres: noise carried along lines, as on brushed metal or in suede.";
    base.words = "brushed metal scratches lines rain fibre hair steel";
    base.seeded = true;
    base.planes = {planes::line};
    base.headline = {"length", "width"};
    base.tiles = Tiling::depends, base.tiles_note = "fibres around a point meet as in a mirror half a tile away from it";
    const Range share{-100, 200, Unit::percent, 100}, angle{-360, 360, Unit::degrees, 180};
    const When strand{"field", {"strand", "tone"}}, toned{"field", {"tone"}}, clouds{"field", {"clouds"}},
        point{"field", {"point"}};
    return Describe<Settings>(std::move(base))
        .number("length", "Length", &Settings::length, {1, 8192, Unit::px, 1024, Scale::root}, "Length of the fibres.")
        .number("width", "Width", &Settings::width, {0.3, 256, Unit::px, 24, Scale::root}, "Width of the finest fibres.")
        .number("variety", "Variety", &Settings::variety, {0, 100, Unit::percent},
                "How many shorter, longer and broader fibres lie between.")
        .number("strength", "Strength", &Settings::strength, {0, 400, Unit::percent, 200}, "Contrast.")
        .number("tails", "Heavy tails", &Settings::tails, {0, 100, Unit::percent},
                "How much single fibres stand out from the rest.")
        .number("direction", "Direction", &Settings::direction, angle,
                "0 runs across, 90 up; away from the field where there is one.")
        .choice("field", "Field", &Settings::field,
                {{"straight", "Straight"},
                 {"clouds", "Along clouds"},
                 {"strand", "Lines of a strand"},
                 {"point", "Around a point"},
                 {"tone", "Tone of a strand"}},
                "What the fibres follow.")
        .number("wander", "Wander", &Settings::wander, {0, 400, Unit::percent, 150},
                "How far clouds turn the direction; another seed has other clouds, too.", clouds)
        .number("wander-size", "Wander size", &Settings::wander_size, {8, 4096, Unit::px, 1024, Scale::root},
                "Size of these clouds.", clouds)
        .number("fine-wander", "Fine wander", &Settings::fine_wander, {0, 400, Unit::percent, 150},
                "How far clouds of a third and of a ninth of that size turn it besides.", clouds)
        .count("flow-seed", "Flow seed", &Settings::flow_seed, {0, 9999, Unit::none, 99},
               "Draws other clouds under the same fibres; 0 follows the seed of the step.", clouds)
        .strand("strand", "Strand", &Settings::strand, "The strand whose lines, or whose tone, are followed.", strand)
        .number("tone-turn", "Turned by tone", &Settings::tone_turn, {-360, 360, Unit::degrees, 180},
                "How far black turns the fibres one way and white the other; mid grey leaves them.", toned)
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the point across the tile.", point)
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the point down the tile.", point)
        .strand("pressure", "Pressure from", &Settings::pressure,
                "A strand by whose tone fibres are stronger or fainter; mid grey leaves them as they are.")
        .toggle(
            "steady", "Same at every size", &Settings::steady,
            "Keeps each fibre at its place in small pictures, where those that share a pixel grow faint; off, they grow broader.")
        .once(2, Value(false))
        .point("Centre", "centre-x", "centre-y")
        .direction("Direction", "direction")
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            const double least = std::min(at.x(), at.y()), twice = supersamples(at.x(), at.y()) ? 2 : 1;
            const bool fine = drawn_finer(s, twice * at.x(), twice * at.y());
            const int finer = s.steady ? finer_of(s.width, (fine ? 2 : 1) * twice * least) : 1;
            // While fibres that share a pixel are averaged, what they are averaged from is there.
            // Lines along rows or columns are averaged in one strip after the other.
            const bool level = s.field == Field::straight && std::remainder(s.direction, 90.0) == 0;
            const double own = (level ? 2.0 : 3.4) + (finer > 1 ? finer * finer + 1 : 0);
            return supersampled_scratch(at, planes.out, fine ? 4 * (own + planes.out) : own);
        })
        .run(run);
}

}  // namespace loom
