// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Long fibres: noise averaged along lines (line integral convolution, Cabral & Leedom 1993). Along straight lines running sums do
// it; along others a few passes, each over what the one before made, so that long lines cost little more than short ones.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/image/direction.h"
#include "core/image/stream_map.h"
#include "core/noise/clouds.h"
#include "core/noise/enlarge.h"
#include "core/image/line_average.h"
#include "core/structures/supersampled.h"

namespace loom {

namespace streaks_step {
namespace {

enum class Field { straight, clouds, strand, point };

struct Settings {
    double length = 160, width = 1.8;
    double variety = 60;
    double strength = 100;
    double tails = 35;
    double direction = 0;
    Field field = Field::straight;
    double wander = 40, wander_size = 256;
    std::string strand;
    double centre_x = 50, centre_y = 50;
};

constexpr double pi = 3.14159265358979323846;
constexpr float tone_deviation = 0.17f;

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

/// Adds `weight` times the single-band noise of a kind, as broad as its fibres.
void add_noise(const Kind& kind, float weight, const Settings& s, const StepContext& context, Plane& sum) {
    const double scale = std::sqrt(context.scale_x() * context.scale_y()), width = std::max(s.width * kind.width, 2 / scale);
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
    const double spacing = s.field == Field::clouds  ? std::clamp(s.wander_size / 32, 1.0, 8.0)
                           : s.field == Field::point ? 4.0
                                                     : 2.0;
    auto points = [&](int pixels) { return std::clamp(static_cast<int>(std::lround(pixels / spacing)), 16, 1024); };
    const Size size{points(context.tile.width), points(context.tile.height)};
    if (s.field == Field::strand) {
        const Bundle* strand = context.other("strand");
        if (strand && !strand->empty())
            return directions_of(resized(*tone_of(*strand), size), std::max(0.7, 6 / spacing), *context.job, s.direction);
    }
    DirectionField field{Plane(size), Plane(size)};
    CloudSettings clouds;
    clouds.across = context.tile.width / s.wander_size, clouds.down = context.tile.height / s.wander_size;
    clouds.octaves = 3, clouds.seed = mix64(context.seed, 0x77617900);
    const CloudField bends(clouds, size);
    const double cx = s.centre_x / 100 * size.width - 0.5, cy = s.centre_y / 100 * size.height - 0.5;
    for_rows(*context.job, size.height, [&](int first, int last) {
        std::vector<float> bend(static_cast<std::size_t>(bends.padded_width()));
        for (int y = first; y < last; ++y) {
            bends.row(y, bend.data());
            for (int x = 0; x < size.width; ++x) {
                double angle = -s.direction * pi / 180;
                if (s.field == Field::clouds) angle += s.wander / 100 * static_cast<double>(bend[static_cast<std::size_t>(x)]);
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
        // Row by row, so that the sums are the same on any number of threads.
        std::vector<std::array<double, 2>> rows(static_cast<std::size_t>(plane.height()));
        for_rows(job, plane.height(), [&](int first, int last) {
            for (int y = first; y < last; ++y) {
                double sum = 0, square = 0;
                const float* row = plane.row(y);
                for (int x = 0; x < plane.width(); ++x) {
                    const auto value = static_cast<double>(row[x]);
                    sum += value, square += value * value;
                }
                rows[static_cast<std::size_t>(y)] = {sum, square};
            }
        });
        double sum = 0, square = 0;
        for (const auto& row : rows) sum += row[0], square += row[1];
        const auto count = static_cast<double>(plane.size().pixels());
        const double mean = sum / count;
        centre = static_cast<float>(mean);
        scale = static_cast<float>(1 / std::sqrt(std::max(square / count - mean * mean, 1e-12)));
    }
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
        add_drawn(noise, Tails(noise, s.tails / 100, *context.job), 0.5f, gain * kinds[k].weight / std::sqrt(variance), k > 0,
                  *context.job, sum);
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
    const bool halved = broad(kinds.back()) && size.width % 2 == 0 && size.height % 2 == 0;
    Plane sum(halved ? half : size, 0.0f);
    std::size_t pass = passes.size();
    for (std::size_t k = kinds.size(); k-- > 0;) {
        if (sum.size() != size && !broad(kinds[k])) sum = doubled(sum, *context.job);
        // A mean over so many grains has lost so much of its deviation.
        const auto kept = static_cast<float>(std::sqrt(1 + lengths[k] / (s.width * kinds[k].width)));
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
    add_drawn(sum, Tails(sum, s.tails / 100, *context.job), 0.5f, gain, false, *context.job, sum);
    return sum;
}

Bundle made(const Settings& s, const StepContext& context) {
    const float gain = tone_deviation * static_cast<float>(s.strength / 100);
    return Bundle::of(s.field == Field::straight ? straight(s, context, gain) : followed(s, context, gain));
}

Bundle run(const Settings& s, const StepContext& context) {
    return supersampled(context, [&](const StepContext& c) { return made(s, c); });
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
    base.headline = {"length", "width"};
    base.tiles = Tiling::depends, base.tiles_note = "fibres around a point meet as in a mirror half a tile away from it";
    const Range share{-100, 200, Unit::percent, 100}, angle{-360, 360, Unit::degrees, 180};
    const When strand{"field", {"strand"}}, clouds{"field", {"clouds"}}, point{"field", {"point"}};
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
        .choice(
            "field", "Field", &Settings::field,
            {{"straight", "Straight"}, {"clouds", "Along clouds"}, {"strand", "Lines of a strand"}, {"point", "Around a point"}},
            "What the fibres follow.")
        .number("wander", "Wander", &Settings::wander, {0, 400, Unit::percent, 150}, "How far clouds turn the direction; another seed has other clouds, too.", clouds)
        .number("wander-size", "Wander size", &Settings::wander_size, {8, 4096, Unit::px, 1024, Scale::root},
                "Size of these clouds.", clouds)
        .strand("strand", "Strand", &Settings::strand, "The strand whose lines are followed.", strand)
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the point across the tile.", point)
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the point down the tile.", point)
        .point("Centre", "centre-x", "centre-y")
        .direction("Direction", "direction")
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .needs_whole()
        .scratch([](const Settings&, const Scales& at, const PlaneCounts& planes) {
            return supersampled_scratch(at, planes.out, 3.4);
        })
        .run(run);
}

}  // namespace loom
