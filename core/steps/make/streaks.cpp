// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Long fibres: noise averaged along lines (line integral convolution, Cabral & Leedom 1993). Along straight lines running sums do
// it; along others a few passes, each over what the one before made, so that long lines cost little more than short ones.
#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/image/direction.h"
#include "core/image/stream_map.h"
#include "core/noise/clouds.h"
#include "core/noise/enlarge.h"
#include "core/steps/all_steps.h"
#include "core/steps/soften/line_average.h"
#include "core/steps/supersampled.h"

namespace loom {

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

/// Single-band noise over `size` with cells `width` pixels of the design wide.
Plane band_noise(double width_px, std::uint64_t seed, Size size, const StepContext& context) {
    CloudSettings band;
    band.across = context.tile.width / width_px, band.down = context.tile.height / width_px;
    band.octaves = 1, band.seed = seed;
    const CloudField field(band, size);
    Plane out(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
        for (int y = first; y < last; ++y) {
            field.row(y, row.data());
            std::copy_n(row.data(), size.width, out.row(y));
        }
    });
    return out;
}

Plane doubled(const Plane& half, const Job& job) {
    Plane out({2 * half.width(), 2 * half.height()});
    for_rows(job, out.height(), [&](int first, int last) {
        std::vector<float> row(static_cast<std::size_t>(out.width() + lattice_padding));
        for (int y = first; y < last; ++y) {
            enlarged_row(half, y, row.data());
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
            const int sides = lengths[k] > 3 * covered ? 2 : 1;
            const double spacing = std::min(covered, left / (2 * sides));
            passes.push_back({spacing, sides, k});
            covered += 2 * sides * spacing;
        }
    return passes;
}

/// To mean 0 and deviation 1; larger values drawn out by `tails`.
void normalise(Plane& plane, double tails) {
    const std::size_t count = plane.size().pixels();
    double mean = 0, square = 0;
    for (std::size_t i = 0; i < count; ++i) mean += static_cast<double>(plane.data()[i]);
    mean /= static_cast<double>(count);
    for (std::size_t i = 0; i < count; ++i) square += std::pow(static_cast<double>(plane.data()[i]) - mean, 2);
    const auto centre = static_cast<float>(mean),
               scale = static_cast<float>(1 / std::sqrt(std::max(square / static_cast<double>(count), 1e-12)));
    const auto power = static_cast<float>(tails);
    for (std::size_t i = 0; i < count; ++i) {
        const float value = (plane.data()[i] - centre) * scale;
        // |x|^(1 + tails) near enough, without a power for every pixel.
        plane.data()[i] = power > 0 ? value * (1 - 0.55f * power + power * 0.55f * std::abs(value)) : value;
    }
}

Bundle made(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    // Fibres of three lengths and widths; the more variety, the further they are apart.
    struct Kind {
        double length, width;
        float weight;
        std::uint64_t number;  ///< of its noise
    };
    const double v = s.variety / 100;
    std::vector<Kind> kinds{{1, 1, 1.0f, 0}};
    if (v > 0) {
        kinds.push_back({1 - 0.75 * v, 1 + 0.3 * v, static_cast<float>(0.75 * v), 1});
        kinds.push_back({1 + 1.6 * v, 1 + 3.5 * v, static_cast<float>(0.7 * v), 2});
    }
    // Shorter ones first.
    std::sort(kinds.begin(), kinds.end(), [](const Kind& a, const Kind& b) { return a.length < b.length; });
    auto noise_of = [&](const Kind& kind, Size of) {
        return band_noise(std::max(s.width * kind.width, 2 / scale), mix64(context.seed, 0x73747265 + kind.number), of, context);
    };
    Plane sum(size, 0.0f);
    auto add = [&](float weight, const Plane& plane) {
        for_rows(*context.job, plane.height(), [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < plane.width(); ++x) sum.row(y)[x] += weight * plane.row(y)[x];
        });
    };
    float variance = 0;
    if (s.field == Field::straight) {
        for (const Kind& kind : kinds) {
            Plane noise = line_average(
                noise_of(kind, size), s.length * kind.length * std::cos(s.direction * pi / 180) * context.scale_x(),
                -s.length * kind.length * std::sin(s.direction * pi / 180) * context.scale_y(), Falloff::bell, *context.job);
            normalise(noise, s.tails / 100);
            variance += kind.weight * kind.weight;
            add(kind.weight, noise);
        }
    } else {
        // Means of means may be taken in any order: the longest fibres' last pass comes first, and shorter ones join where their
        // own begin.
        std::vector<double> lengths, distances;
        for (const Kind& kind : kinds) lengths.push_back(s.length * kind.length);
        const std::vector<Pass> passes = passes_for(lengths, std::clamp(0.8 * s.width, 0.5, 8.0));
        for (const Pass& pass : passes)
            for (int side = 1; side <= pass.sides; ++side) distances.push_back(side * pass.spacing);
        std::sort(distances.begin(), distances.end());
        const StreamMap map(field_of(s, context), context.tile, distances, *context.job);
        // Broad fibres are as good at half the size, as long as no finer ones have joined them.
        auto broad = [&](const Kind& kind) { return s.width * kind.width * scale >= 6; };
        const Size half{size.width / 2, size.height / 2};
        if (broad(kinds.back()) && size.width % 2 == 0 && size.height % 2 == 0) sum = Plane(half, 0.0f);
        std::size_t pass = passes.size();
        for (std::size_t k = kinds.size(); k-- > 0;) {
            // A mean over so many grains has lost so much of its deviation.
            const auto kept = static_cast<float>(std::sqrt(1 + lengths[k] / (s.width * kinds[k].width)));
            if (sum.size() != size && !broad(kinds[k])) sum = doubled(sum, *context.job);
            add(kinds[k].weight * kept, noise_of(kinds[k], sum.size()));
            for (; pass > 0 && passes[pass - 1].kind == k; --pass) {
                const Pass& now = passes[pass - 1];
                std::vector<std::size_t> at;
                for (int side = 1; side <= now.sides; ++side)
                    at.push_back(static_cast<std::size_t>(
                        std::lower_bound(distances.begin(), distances.end(), side * now.spacing) - distances.begin()));
                sum = stream_mean(sum, map, at, *context.job);
            }
        }
        if (sum.size() != size) sum = doubled(sum, *context.job);
        normalise(sum, s.tails / 100);
        variance = 1;
    }
    const float gain = tone_deviation * static_cast<float>(s.strength / 100) / std::sqrt(variance);
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) sum.row(y)[x] = 0.5f + gain * sum.row(y)[x];
    });
    return Bundle::of(std::move(sum));
}

Bundle run(const Settings& s, const StepContext& context) {
    return supersampled(context, [&](const StepContext& c) { return made(s, c); });
}

}  // namespace

StepDescription describe_streaks() {
    StepDescription base;
    base.id = "streaks", base.title = "Streaks", base.family = Family::make;
    base.summary = "Long fibres: noise carried along lines, as on brushed metal or in suede.";
    base.seeded = true;
    base.headline = {"length", "width"};
    base.scratch_planes = supersampled_planes(10);
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
        .number("wander", "Wander", &Settings::wander, {0, 400, Unit::percent, 150}, "How far clouds turn the direction.", clouds)
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
        .run(run);
}

}  // namespace loom
