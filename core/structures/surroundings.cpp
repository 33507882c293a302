// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/surroundings.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"

namespace loom {

namespace {

constexpr double pi = std::numbers::pi;

double step(double from, double to, double value) {
    const double t = std::clamp((value - from) / (to - from), 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

/// The k-th draw of a lot, 0..1.
double draw(std::uint64_t seed, std::uint64_t lot, int k) {
    return static_cast<double>(mix64(mix64(seed, lot), static_cast<std::uint64_t>(k)) >> 11) / 9007199254740992.0;
}

double half_tangent(double degrees) { return std::tan(degrees * pi / 360); }

/// A bright ceiling up and to the left, walls, and a dark floor.
double soft_room(double x, double y, double z, double blur) {
    const double soft = 0.06 + 0.9 * blur, up = 0.75 * y - 0.45 * x + 0.45 * z;
    return 0.06 + 1.1 * step(0.15 - soft, 0.55 + soft, up) + 0.22 * step(-0.8, 0.4, z) + 0.25 * step(0.55 - soft, 0.95, x);
}

double window(double x, double y, double blur) {
    const double edge = 0.03 + 0.45 * blur;
    const double across = step(-0.62 - edge, -0.62 + edge, x) * (1 - step(-0.08 - edge, -0.08 + edge, x));
    const double up = step(0.1 - edge, 0.1 + edge, y) * (1 - step(0.72 - edge, 0.72 + edge, y));
    const double bars = 1 - 0.8 * (1 - step(0.0, 0.03 + edge, std::abs(x + 0.35))) * (1 - blur);
    return 0.05 + 0.14 * step(-0.6, 0.7, y) + 2.2 * across * up * bars;
}

/// Light cards and dark gaps round about, as stands of a photographer.
double stands(double x, double y, double blur) {
    const double soft = 0.06 + 0.9 * blur;
    const double round = std::atan2(y, x) / 6.283185307179586 * 5 + 0.1;
    const double t = std::abs(round - std::floor(round) - 0.5) * 2, edge = 0.12 + 0.8 * blur;
    const double rim = step(0.12, 0.45 + soft, std::sqrt(x * x + y * y));
    return 0.08 + 0.5 * (1 - rim) + 1.6 * rim * (1 - step(0.5 - edge / 2, 0.5 + edge / 2, t));
}

}  // namespace

void Room::spots(std::vector<Spot>& out, int count, std::uint64_t lot, double farthest, double least, double greatest,
                 double weakest, double strongest, double softer) const {
    const std::uint64_t seed = settings_.seed;
    const double reach = half_tangent(farthest), start = draw(seed, lot, 9999);
    for (int k = 0; k < count; ++k) {
        // Turned on by the golden angle they stand apart, whatever their number; none quite where it would be due.
        const double away = reach * std::sqrt((k + 0.15 + 0.7 * draw(seed, lot, 4 * k)) / count);
        const double round = 2 * pi * (start + 0.381966 * k + 0.12 * draw(seed, lot, 4 * k + 1));
        const double size = half_tangent(least * std::pow(greatest / least, draw(seed, lot, 4 * k + 2)));
        const double strength = weakest * std::pow(strongest / weakest, draw(seed, lot, 4 * k + 3));
        // Blurred it is wider and as much fainter.
        const double own = size * size, wide = own + softer * softer;
        out.push_back({away * std::cos(round), away * std::sin(round), 1 / wide, strength * own / wide});
    }
}

Room::Room(const Surroundings& settings)
    : settings_(settings),
      cosine_(std::cos(settings.turn_degrees * pi / 180)),
      sine_(std::sin(settings.turn_degrees * pi / 180)),
      gain_(std::exp2(settings.exposure_stops)) {
    const double blur = settings.roughness, softer = 0.35 * blur * blur;
    if (settings.kind == Surroundings::Kind::studio) {
        const int cards = 8 + static_cast<int>(7 * draw(settings.seed, 1, 0)),
                  flags = 4 + static_cast<int>(4 * draw(settings.seed, 1, 1));
        spots(cards_, cards, 2, 25, 2.5, 9, 0.5, 8, softer);
        spots(flags_, flags, 3, 36, 6, 18, 0.75, 0.95, softer);
    }
    spots(lamps_, settings.lamps, 4, 34, settings.lamp_degrees, settings.lamp_degrees, 0.6 * settings.lamp_strength,
          1.5 * settings.lamp_strength, 0.12 * blur);
}

double Room::studio(double x, double y, double z) const {
    // From a floor that is nearly dark to the ceiling, behind and above the eye.
    const double up = 0.8 * y - 0.5 * x;
    double light = 0.07 + 0.36 * step(-0.75, 0.8, up) + 0.06 * step(-0.5, 0.6, z);
    const double u = x / (1 + std::max(-0.95, z)), v = y / (1 + std::max(-0.95, z));
    const auto falloff = [&](const Spot& spot) {
        const double q = ((u - spot.x) * (u - spot.x) + (v - spot.y) * (v - spot.y)) * spot.per_square;
        // Cards have a face and a soft edge.
        return q > 9 ? 0.0 : std::exp(-q * q);
    };
    for (const Spot& flag : flags_) light *= 1 - flag.strength * falloff(flag);
    for (const Spot& card : cards_) light += card.strength * 0.5 * falloff(card);
    return light;
}

double Room::light(double x, double y, double z) const {
    const double across = cosine_ * x + sine_ * y, up = cosine_ * y - sine_ * x, blur = settings_.roughness;
    double light = 0;
    if (settings_.room_shown) switch (settings_.kind) {
            case Surroundings::Kind::room: light = soft_room(across, up, z, blur); break;
            case Surroundings::Kind::window: light = window(across, up, blur); break;
            case Surroundings::Kind::cards: light = stands(across, up, blur); break;
            case Surroundings::Kind::studio: light = studio(across, up, z); break;
        }
    if (!lamps_.empty()) {
        const double u = across / (1 + std::max(-0.95, z)), v = up / (1 + std::max(-0.95, z));
        for (const Spot& lamp : lamps_) {
            const double q = ((u - lamp.x) * (u - lamp.x) + (v - lamp.y) * (v - lamp.y)) * lamp.per_square;
            if (q < 16) light += lamp.strength * std::exp(-q);
        }
    }
    return light * gain_;
}

namespace {

constexpr int fine_side = 640, brushed_side = 160, brushed_directions = 32;

/// A square over -1 to 1, read between its places and held beyond.
double read_square(const float* square, int side, double x, double y) {
    // What is no number is the middle.
    if (!(std::abs(x) < 1e9)) x = 0;
    if (!(std::abs(y) < 1e9)) y = 0;
    const double px = std::clamp((x + 1) / 2 * side - 0.5, 0.0, side - 1.001),
                 py = std::clamp((y + 1) / 2 * side - 0.5, 0.0, side - 1.001);
    const int i = static_cast<int>(px), j = static_cast<int>(py);
    const auto fx = static_cast<float>(px - i), fy = static_cast<float>(py - j);
    const float* at = square + static_cast<std::size_t>(j) * static_cast<std::size_t>(side) + static_cast<std::size_t>(i);
    const float top = at[0] + fx * (at[1] - at[0]), low = at[side] + fx * (at[side + 1] - at[side]);
    return static_cast<double>(top + fy * (low - top));
}

/// Gaussian along rows (`step` 1) or columns (`step` the side) of a square whose edges are held.
void soften(const std::vector<float>& from, std::vector<float>& to, int side, int step, double deviation) {
    const int reach = std::min(side, static_cast<int>(std::ceil(3 * deviation)));
    std::vector<double> weights;
    double total = 0;
    for (int k = -reach; k <= reach; ++k) {
        weights.push_back(reach == 0 ? 1 : std::exp(-0.5 * k * k / (deviation * deviation)));
        total += weights.back();
    }
    for (int line = 0; line < side; ++line)
        for (int at = 0; at < side; ++at) {
            const int base = step == 1 ? line * side : line;
            double sum = 0;
            for (int k = -reach; k <= reach; ++k)
                sum += weights[static_cast<std::size_t>(k + reach)] *
                       static_cast<double>(from[static_cast<std::size_t>(base + std::clamp(at + k, 0, side - 1) * step)]);
            to[static_cast<std::size_t>(base + at * step)] = static_cast<float>(sum / total);
        }
}

}  // namespace

Mirror::Mirror(const Room& room, const BrushedLobe& lobe, std::optional<double> only, const Job& job) {
    const bool brushed = lobe.along > 0 || lobe.across > 0;
    const int side = brushed ? brushed_side : fine_side;
    std::vector<float> plain(static_cast<std::size_t>(side) * static_cast<std::size_t>(side));
    const auto place = [side](int k) { return (2.0 * k + 1) / side - 1; };
    for_rows(job, side, [&](int first, int last) {
        for (int j = first; j < last; ++j)
            for (int i = 0; i < side; ++i) {
                double nx = place(i), ny = place(j);
                // Beyond the horizon as at it.
                const double far = std::hypot(nx, ny);
                if (far > 0.999) nx *= 0.999 / far, ny *= 0.999 / far;
                const double nz = std::sqrt(1 - nx * nx - ny * ny);
                plain[static_cast<std::size_t>(j * side + i)] =
                    static_cast<float>(room.light(2 * nz * nx, 2 * nz * ny, 2 * nz * nz - 1));
            }
    });
    side_ = side, directions_ = 1, table_ = std::move(plain);
    if (!brushed) return;
    // The lobe of a scratched surface: normals lean across the scratches, hardly along them (Ward 1992); half the degrees of
    // what is mirrored. Its two ways are softened one after the other on a grid that is turned with the brushing.
    const double cell = 2.0 / side, wide = std::tan(lobe.across * pi / 360) / cell, high = std::tan(lobe.along * pi / 360) / cell;
    const std::size_t count = table_.size();
    const int directions = only ? 1 : brushed_directions;
    std::vector<float> all(static_cast<std::size_t>(directions) * count);
    for_ranges(job, directions, 1, [&](int first, int last) {
        std::vector<float> turned(count), soft(count);
        for (int direction = first; direction < last; ++direction) {
            job.check();
            const double angle = only.value_or(pi * direction / brushed_directions), c = std::cos(angle), n = std::sin(angle);
            for (int j = 0; j < side; ++j)
                for (int i = 0; i < side; ++i)
                    turned[static_cast<std::size_t>(j * side + i)] =
                        static_cast<float>(light(0, place(i) * c - place(j) * n, place(i) * n + place(j) * c));
            soften(turned, soft, side, 1, high), soften(soft, turned, side, side, wide);
            for (int j = 0; j < side; ++j)
                for (int i = 0; i < side; ++i)
                    all[static_cast<std::size_t>(direction) * count + static_cast<std::size_t>(j * side + i)] =
                        static_cast<float>(
                            read_square(turned.data(), side, place(i) * c + place(j) * n, place(j) * c - place(i) * n));
        }
    });
    directions_ = directions, table_ = std::move(all);
}

double Mirror::light(int direction, double x, double y) const {
    const auto count = static_cast<std::size_t>(side_) * static_cast<std::size_t>(side_);
    return read_square(table_.data() + static_cast<std::size_t>(direction) * count, side_, x, y);
}

double Mirror::light(double x, double y, double brushing) const {
    if (directions_ == 1) return light(0, x, y);
    // Brushing has no sense of direction: half a turn is the same.
    if (!(std::abs(brushing) < 1e6)) brushing = 0;
    const double turn = brushing / pi * directions_, whole = std::floor(turn), part = turn - whole;
    const int at = wrap(static_cast<int>(whole), directions_);
    return (1 - part) * light(at, x, y) + part * light((at + 1) % directions_, x, y);
}

}  // namespace loom
