// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/noise/lattice.h"
#include "core/steps/formula/formula.h"
#include "core/steps/formula/formula_kernel.h"

namespace loom {

FormulaRun::FormulaRun(const FormulaProgram& program, std::uint64_t seed) : program_(program), seed_(seed) {
    registers_.resize(static_cast<std::size_t>(program.registers));
    // Of what could be read most is not. The first stands in for the numbers that an operation does not take.
    for (std::size_t k = 0; k < registers_.size(); ++k)
        if (k == 0 || k >= program.reads.size() || program.reads[k])
            registers_[k].assign(formula_block + static_cast<std::size_t>(lattice_padding), 0.0f);
    for (const auto& constant : program.constants)
        std::fill(registers_[constant.to].begin(), registers_[constant.to].end(), constant.value);
}

void FormulaRun::run(int count) {
    for (const auto& step : program_.steps) {
        if (step.op >= FormulaOp::noise)
            noise(step, count);
        else
            formula_apply(step.op, registers_[step.a].data(), registers_[step.b].data(), registers_[step.c].data(), count,
                          registers_[step.to].data());
    }
    for (std::uint16_t at : program_.results) formula_sound(registers_[at].data(), count);
}

namespace {

/// Places as noise can be read at: it repeats with the tile, so that what lies far beyond is brought back, and what is no number
/// is the tile's corner.
const float* near_tile(const std::vector<float>& places, std::array<float, formula_block + lattice_padding>& near) {
    constexpr float far = 4096;
    const auto apart = [](float place) { return std::abs(finite(place)) > far || finite(place) != place; };
    if (std::none_of(places.begin(), places.end(), apart)) return places.data();
    for (std::size_t k = 0; k < near.size(); ++k) {
        const float place = finite(places[k]);
        near[k] = std::abs(place) > far ? place - std::floor(place) : place;
    }
    return near.data();
}

}  // namespace

void FormulaRun::noise(const FormulaProgram::Step& step, int count) {
    std::array<float, formula_block + lattice_padding> near_u, near_v;
    const float *u = near_tile(registers_[step.a], near_u), *v = near_tile(registers_[step.b], near_v);
    float* out = registers_[step.to].data();
    const std::uint64_t seed = mix64(mix64(seed_, static_cast<std::uint64_t>(step.op)), step.lot);
    if (step.op >= FormulaOp::cells)
        return formula_cells(step.op, step.count, static_cast<std::uint32_t>(mix64(seed) >> 32), u, v, count, out);
    float weight = 1, energy = 0;
    for (int octave = 0; octave < step.octaves; ++octave, weight /= 2) energy += weight * weight;
    weight = 0.17f / (LatticeNoise::deviation(Basis::gradient) * std::sqrt(energy));
    std::fill_n(out, count, 0.5f);
    // Whole-number turns near the powers of two: the tile closes and the lattices do not line up.
    constexpr int turns[5][2] = {{1, 0}, {2, 1}, {3, 3}, {8, 2}, {12, 11}};
    for (int octave = 0; octave < step.octaves; ++octave, weight /= 2) {
        const int a = octave < 5 ? turns[octave][0] : 1 << octave, b = octave < 5 ? turns[octave][1] : 0;
        if (step.count * std::max(a, b) > 8192) break;
        const Lattice lattice = Lattice::of(a * step.count, -b * step.count, b * step.count, a * step.count);
        lattice_noise_at(lattice, Basis::gradient, mix64(seed, static_cast<std::uint64_t>(octave)), u, v, count, weight, out);
    }
}

}  // namespace loom
