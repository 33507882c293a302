// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/clouds.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/noise/enlarge.h"

namespace loom {

namespace {

/// A whole-number rotation-scaling: multiplication by x + y i (square) or x + y w, w at 60 degrees (triangles).
struct Turn {
    int x = 1, y = 0;
};

double length_of(Turn turn, bool triangles) {
    return std::sqrt(static_cast<double>(turn.x * turn.x + turn.y * turn.y + (triangles ? turn.x * turn.y : 0)));
}

/// The turn whose length is close to `length` and whose angle is closest to one that no near octave has, so
/// that the directions of the lattices never add up.
Turn turn_for(double length, int octave, bool triangles) {
    if (octave == 0) return {};
    const double sector = triangles ? std::acos(-1.0) / 3 : std::acos(-1.0) / 2;
    const double wanted = sector * std::fmod(octave * 0.6180339887, 1.0);
    Turn best;
    double least = 1e9;
    const int reach = static_cast<int>(std::ceil(length * 1.2)) + 1;
    for (int x = 1; x <= reach; ++x)
        for (int y = 0; y <= reach; ++y) {
            const Turn turn{x, y};
            const double off = std::abs(std::log(length_of(turn, triangles) / length));
            const double angle = triangles ? std::atan2(y * 0.8660254, x + y * 0.5) : std::atan2(y, x);
            const double cost = (off < 0.07 ? 0.3 : 12.0) * off + std::abs(angle - wanted) / sector;
            if (cost < least) least = cost, best = turn;
        }
    return best;
}

Lattice lattice_for(Basis basis, double across, double down, Turn turn) {
    const int nx = std::max(1, static_cast<int>(std::lround(across)));
    if (basis == Basis::gradient) {
        const int ny = std::max(1, static_cast<int>(std::lround(down)));
        return Lattice::of(turn.x * nx, -turn.y * ny, turn.y * nx, turn.x * ny);
    }
    const int m = std::max(1, static_cast<int>(std::lround(down / std::sqrt(3.0))));
    // Base lattice [nx -m; 0 2m], then the turn in the 60-degree basis.
    const int x = turn.x, y = turn.y;
    return Lattice::of(x * nx, -x * m - y * 2 * m, y * nx, -y * m + (x + y) * 2 * m);
}

float smooth_step(double from, double to, double value) {
    const double t = std::clamp((value - from) / (to - from), 0.0, 1.0);
    return static_cast<float>(t * t * (3 - 2 * t));
}

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
        const Turn turn = turn_for(std::pow(settings.step, octave), octave, triangles);
        const double factor = length_of(turn, triangles);
        // An octave finer than the pixels averages out; it fades before it would alias.
        const double pixels = std::min(size.width / (across_ * factor), size.height / (down_ * factor));
        const float visible = smooth_step(1.0, 2.0, pixels);
        if (visible <= 0 && octave > 0) continue;
        // Eight samples a cell are enough to enlarge from.
        const int level = std::max(0, static_cast<int>(std::floor(std::log2(pixels / 8))));
        octaves_.push_back({LatticeNoise(lattice_for(settings.basis, across_, down_, turn), settings.basis,
                                         mix64(settings.seed, static_cast<std::uint64_t>(octave)), size),
                            static_cast<float>(form_ == CloudForm::single_band ? 1.0 : weight) * visible, level});
    }
    if (form_ == CloudForm::single_band) energy = 1;
    scale_ = static_cast<float>(1.0 / (std::sqrt(energy) * static_cast<double>(deviation_)));
    const bool adds_up = form_ != CloudForm::billowed && form_ != CloudForm::ridged;
    if (job && adds_up) build(*job);
}

void CloudField::build(const Job& job) {
    int levels = 0;
    while (levels < 8 && size_.width % (2 << levels) == 0 && size_.height % (2 << levels) == 0 &&
           std::min(size_.width, size_.height) >> (levels + 1) >= 16)
        ++levels;
    for (Octave& octave : octaves_) octave.level = std::min(octave.level, levels);
    int top = 0;
    for (const Octave& octave : octaves_) top = std::max(top, octave.level);
    for (int level = top; level > 0; --level) {
        const Size size{size_.width >> level, size_.height >> level};
        std::vector<Octave> here;
        for (const Octave& octave : octaves_)
            if (octave.level == level) here.push_back({octave.noise.at_size(size), octave.weight, level});
        Plane sum(size);
        for_rows(job, size.height, [&](int first, int last) {
            std::vector<float> line(static_cast<std::size_t>(size.width) + lattice_padding);
            for (int y = first; y < last; ++y) {
                if (coarse_.width() > 0)
                    enlarged_row(coarse_, y, line.data());
                else
                    std::fill(line.begin(), line.end(), 0.0f);
                for (const Octave& octave : here) octave.noise.add_row(y, octave.weight * scale_, line.data());
                std::copy_n(line.begin(), size.width, sum.row(y));
            }
        });
        coarse_ = std::move(sum);
    }
}

int CloudField::padded_width() const { return size_.width + lattice_padding; }

void CloudField::row(int y, float* out) const {
    if (coarse_.width() == 0) return row(y, out, nullptr, nullptr);
    enlarged_row(coarse_, y, out);
    for (const Octave& octave : octaves_)
        if (octave.level == 0) octave.noise.add_row(y, octave.weight * scale_, out);
    fold(out);
}

void CloudField::row(int y, float* out, const float* du, const float* dv) const {
    const auto padded = static_cast<std::size_t>(padded_width());
    std::fill_n(out, padded, 0.0f);
    if (form_ == CloudForm::billowed || form_ == CloudForm::ridged) return rectified_row(y, out, du, dv);
    for (const Octave& octave : octaves_) octave.noise.add_row(y, octave.weight * scale_, out, du, dv);
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
        std::fill(band.begin(), band.end(), 0.0f);
        octave.noise.add_row(y, 1, band.data(), du, dv);
        const float weight = octave.weight * scale_;
        mean += weight;
        for (std::size_t x = 0; x < padded; ++x) {
            if (!ridged) {
                out[x] += weight * std::abs(band[x]);
                continue;
            }
            // Each octave's ridges grow only where the one before has ridges.
            const float signal = 1.0f - std::min(1.0f, 1.6f * std::abs(band[x]));
            const float sharp = signal * signal * ridge[x];
            ridge[x] = std::min(1.0f, 2.0f * sharp);
            out[x] += weight * sharp;
        }
    }
    const float centre = mean * deviation_ * rectified_mean;
    // Measured: the ridged sum has its mean near 0.51 of the weights and a deviation near 0.22 of them.
    for (std::size_t x = 0; x < padded; ++x)
        out[x] = ridged ? (out[x] / mean - 0.51f) / 0.22f : (out[x] - centre) / rectified_deviation;
}

}  // namespace loom
