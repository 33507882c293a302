// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/clouds.h"

#include <algorithm>
#include <cmath>
#include <memory>

#include "core/base/hash.h"
#include "core/noise/rectify_kernel.h"

namespace loom {

namespace {

/// A whole-number rotation-scaling: multiplication by x + y i (square) or x + y w, w at 60 degrees (triangles).
struct Turn {
    int x = 1, y = 0;
};

double length_of(Turn turn, bool triangles) {
    const double x = turn.x, y = turn.y;
    return std::sqrt(x * x + y * y + (triangles ? x * y : 0));
}

double angle_of(Turn turn, bool triangles) {
    return triangles ? std::atan2(turn.y * 0.8660254, turn.x + turn.y * 0.5) : std::atan2(turn.y, turn.x);
}

/// The turn whose length is close to `length` and whose angle is closest to one that no near octave has, so
/// that the directions of the lattices never add up.
Turn turn_for(double length, int octave, bool triangles) {
    if (octave == 0) return {};
    const double sector = triangles ? std::acos(-1.0) / 3 : std::acos(-1.0) / 2;
    const double wanted = sector * std::fmod(octave * 0.6180339887, 1.0);
    auto cost_of = [&](Turn turn) {
        const double off = std::abs(std::log(length_of(turn, triangles) / length));
        return (off < 0.07 ? 0.3 : 12.0) * off + std::abs(angle_of(turn, triangles) - wanted) / sector;
    };
    // What is better than the whole-number place nearest to the wanted one cannot be farther off in angle than that costs in all.
    const double unit_y = std::sin(wanted) / (triangles ? 0.8660254 : 1),
                 unit_x = std::cos(wanted) - (triangles ? unit_y / 2 : 0);
    Turn best{std::max(1, static_cast<int>(std::lround(length * unit_x))),
              std::max(0, static_cast<int>(std::lround(length * unit_y)))};
    double least = cost_of(best);
    const int reach = static_cast<int>(std::ceil(length * 1.2)) + 1;
    const double low = std::max(0.0, wanted - least * sector), high = std::min(wanted + least * sector, sector);
    // Rows that a ray at that angle passes at so much to the right.
    auto row_at = [&](double x, double angle) {
        const double slope = std::tan(angle);
        if (!triangles) return angle >= sector - 1e-9 ? 1e9 : x * slope;
        const double rest = 0.8660254 - 0.5 * slope;
        return rest <= 1e-9 ? 1e9 : x * slope / rest;
    };
    for (int x = 1; x <= reach; ++x) {
        const int from = static_cast<int>(std::min<double>(reach, std::floor(row_at(x, low)))),
                  to = static_cast<int>(std::min<double>(reach, std::ceil(row_at(x, high))));
        for (int y = std::max(0, from); y <= to; ++y) {
            const Turn turn{x, y};
            const double cost = cost_of(turn);
            if (cost < least) least = cost, best = turn;
        }
    }
    return best;
}

/// The four numbers of a lattice: places (u, v) lie at (a u + b v, c u + d v).
struct Cells {
    int a, b, c, d;
    /// Read at (u + slant v, v).
    Lattice slanted(int slant) const { return Lattice::of(a, b + slant * a, c, d + slant * c); }
};

Cells lattice_for(Basis basis, double across, double down, Turn turn) {
    const int nx = std::max(1, static_cast<int>(std::lround(across)));
    if (basis == Basis::gradient) {
        const int ny = std::max(1, static_cast<int>(std::lround(down)));
        return {turn.x * nx, -turn.y * ny, turn.y * nx, turn.x * ny};
    }
    const int m = std::max(1, static_cast<int>(std::lround(down / std::sqrt(3.0))));
    // Base lattice [nx -m; 0 2m], then the turn in the 60-degree basis.
    const int x = turn.x, y = turn.y;
    return {x * nx, -x * m - y * 2 * m, y * nx, -y * m + (x + y) * 2 * m};
}

/// A lattice of squares as fine as that of `turn`, half a right angle further round.
Cells twin_of(double across, double down, Turn turn) {
    const double angle = angle_of(turn, false) + std::acos(-1.0) / 4, length = length_of(turn, false);
    const double c = std::cos(angle) * length, s = std::sin(angle) * length;
    auto whole = [](double value) { return static_cast<int>(std::lround(value)); };
    const int a = whole(across * c), b = whole(-down * s), e = whole(across * s), d = whole(down * c);
    // A lattice of few cells may fold up; the plain one stands in for it.
    if (std::abs(static_cast<double>(a) * d - static_cast<double>(b) * e) < 0.3 * across * down * length * length)
        return lattice_for(Basis::gradient, across, down, turn);
    return {a, b, e, d};
}

/// A lattice of triangles about as fine as that of `turn`, 30 degrees further round: one and three fifths as coarse, turned by
/// 1 + w.
Cells triangle_twin_of(Basis basis, double across, double down, Turn turn) {
    const double coarser = std::sqrt(3.0);
    return lattice_for(basis, across / coarser, down / coarser, {turn.x - turn.y, turn.x + 2 * turn.y});
}

float smooth_step(double from, double to, double value) {
    const double t = std::clamp((value - from) / (to - from), 0.0, 1.0);
    return static_cast<float>(t * t * (3 - 2 * t));
}

/// A lattice of fewer cells is too coarse to be seen as one.
constexpr double few_cells = 4;

}  // namespace

CloudField::CloudField(const CloudSettings& settings, Size size, const Job* job)
    : form_(settings.form), size_(size), deviation_(LatticeNoise::deviation(settings.basis)) {
    // Two bases lie on triangles.
    const bool triangles = settings.basis != Basis::gradient;
    across_ = std::max(1.0, std::round(settings.across));
    down_ = triangles ? std::max(1.0, std::round(settings.down / std::sqrt(3.0))) * std::sqrt(3.0)
                      : std::max(1.0, std::round(settings.down));
    double weight = 1, energy = 0;
    for (int octave = 0; octave < settings.octaves; ++octave, weight *= settings.roughness) {
        energy += weight * weight;
        if (form_ == CloudForm::single_band && octave + 1 < settings.octaves) continue;
        // An octave finer than the pixels averages out; it fades before it would alias. No turn is half as short as is asked for,
        // so that what is far too fine need not be looked for.
        const double length = std::pow(settings.step, octave);
        const double steep = down_ + std::abs(settings.slant) * across_;
        auto pixels_at = [&](double factor) { return std::min(size.width / (across_ * factor), size.height / (steep * factor)); };
        if (octave > 0 && pixels_at(length / 2) <= 1) continue;
        const Turn turn = turn_for(length, octave, triangles);
        const double pixels = pixels_at(length_of(turn, triangles));
        const float visible = smooth_step(1.0, 2.0, pixels);
        if (visible <= 0 && octave > 0) continue;
        // Eight samples a cell are enough to enlarge from.
        const int level = std::max(0, static_cast<int>(std::floor(std::log2(pixels / 8))));
        const std::uint64_t seed = mix64(settings.seed, static_cast<std::uint64_t>(octave));
        Octave made{
            {LatticeNoise(lattice_for(settings.basis, across_, down_, turn).slanted(settings.slant), settings.basis, seed, size)},
            static_cast<float>(form_ == CloudForm::single_band ? 1.0 : weight) * visible,
            level,
            {}};
        // Gradient noise is 0 along with its lattice: rows and columns show where no other octave hides them. Two lattices at
        // half a right angle show none, as neither is 0 where the other is.
        const bool bare = octave == 0 || form_ == CloudForm::single_band;
        if (!triangles && bare && std::max(across_, down_) >= few_cells)
            made.parts.emplace_back(twin_of(across_, down_, turn).slanted(settings.slant), settings.basis,
                                    mix64(seed, 0x7477696e), size);
        if (settings.twin_value && settings.basis == Basis::value && std::max(across_, down_) >= few_cells)
            made.parts.emplace_back(triangle_twin_of(settings.basis, across_, down_, turn).slanted(settings.slant),
                                    settings.basis, mix64(seed, 0x7477696e), size);
        octaves_.push_back(std::move(made));
    }
    if (form_ == CloudForm::single_band) energy = 1;
    scale_ = static_cast<float>(1.0 / (std::sqrt(energy) * static_cast<double>(deviation_)));
    if (job) build(*job);
}

CloudField::Octave CloudField::Octave::at_size(Size size) const {
    Octave other{{}, weight, level, {}};
    for (const LatticeNoise& part : parts) other.parts.push_back(part.at_size(size));
    return other;
}

void CloudField::Octave::add_row(int y, float factor, float* out, const float* du, const float* dv) const {
    const float each = parts.size() > 1 ? factor * 0.70710678f : factor;
    for (const LatticeNoise& part : parts) part.add_row(y, each, out, du, dv);
}

void CloudField::build(const Job& job) {
    int levels = 0;
    while (levels < 8 && size_.width % (2 << levels) == 0 && size_.height % (2 << levels) == 0 &&
           std::min(size_.width, size_.height) >> (levels + 1) >= 16)
        ++levels;
    int top = 0;
    for (Octave& octave : octaves_) octave.level = std::min(octave.level, levels), top = std::max(top, octave.level);
    auto size_at = [&](int level) { return Size{size_.width >> level, size_.height >> level}; };
    /// What octaves of a level add there.
    auto adding = [&](int level, float factor, const std::vector<const Octave*>& octaves) -> Ladder::AddRow {
        auto here = std::make_shared<std::vector<Octave>>();
        for (const Octave* octave : octaves)
            if (octave->level == level) here->push_back(octave->at_size(size_at(level)));
        if (here->empty()) return {};
        return [here, factor](int y, float* line) {
            for (const Octave& octave : *here) octave.add_row(y, octave.weight * factor, line, nullptr, nullptr);
        };
    };
    if (rectified()) {
        // What is folded has sharp creases; what is enlarged is each octave before it is folded.
        for (Octave& octave : octaves_) {
            if (octave.level == 0) continue;
            std::vector<Ladder::AddRow> add(static_cast<std::size_t>(octave.level));
            Octave plain = octave.at_size(size_);
            plain.weight = 1;
            add.back() = adding(octave.level, 1, {&plain});
            octave.coarse.emplace(size_, std::move(add), job);
        }
        return;
    }
    std::vector<const Octave*> all;
    for (const Octave& octave : octaves_) all.push_back(&octave);
    std::vector<Ladder::AddRow> add;
    for (int level = 1; level <= top; ++level) add.push_back(adding(level, scale_, all));
    if (top > 0) coarse_.emplace(size_, std::move(add), job);
}

int CloudField::padded_width() const { return size_.width + lattice_padding; }

void CloudField::row(int y, float* out) const {
    if (!coarse_) return row(y, out, nullptr, nullptr);
    coarse_->row(y, out);
    for (const Octave& octave : octaves_)
        if (octave.level == 0) octave.add_row(y, octave.weight * scale_, out, nullptr, nullptr);
    fold(out);
}

void CloudField::row(int y, float* out, const float* du, const float* dv) const {
    const auto padded = static_cast<std::size_t>(padded_width());
    std::fill_n(out, padded, 0.0f);
    if (rectified()) return rectified_row(y, out, du, dv);
    for (const Octave& octave : octaves_) octave.add_row(y, octave.weight * scale_, out, du, dv);
    fold(out);
}

// A rectified normal deviate has mean 0.798 and deviation 0.603.
constexpr float rectified_mean = 0.798f, rectified_deviation = 0.603f;

void CloudField::fold(float* out) const {
    if (form_ != CloudForm::folded) return;
    for (int x = 0; x < size_.width; ++x) out[x] = (std::abs(out[x]) - rectified_mean) / rectified_deviation;
}

void CloudField::rectified_row(int y, float* out, const float* du, const float* dv) const {
    const auto padded = static_cast<std::size_t>(padded_width());
    const bool ridged = form_ == CloudForm::ridged;
    std::vector<float> band(padded), ridge(ridged ? padded : 0, 1.0f);
    float mean = 0;
    for (const Octave& octave : octaves_) {
        if (!du && octave.coarse) {
            octave.coarse->row(y, band.data());
        } else {
            std::fill(band.begin(), band.end(), 0.0f);
            octave.add_row(y, 1, band.data(), du, dv);
        }
        const float weight = octave.weight * scale_;
        mean += weight;
        if (ridged)
            add_ridges(band.data(), weight, size_.width, ridge.data(), out);
        else
            add_billows(band.data(), weight, size_.width, out);
    }
    // Too fine to be seen: nothing is left of them.
    if (mean <= 0) return;
    const float centre = mean * deviation_ * rectified_mean;
    // Measured: the ridged sum has its mean near 0.51 of the weights and a deviation near 0.22 of them.
    const float factor = ridged ? 1 / (0.22f * mean) : 1 / rectified_deviation,
                less = ridged ? 0.51f / 0.22f : centre / rectified_deviation;
    for (int x = 0; x < size_.width; ++x) out[x] = out[x] * factor - less;
}

}  // namespace loom
