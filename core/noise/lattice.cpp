// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/lattice.h"

#include <cstdlib>
#include <utility>

#include "core/base/hash.h"
#include "core/noise/lattice_kernel.h"

namespace loom {

namespace {

int floor_div(std::int64_t a, std::int64_t b) {
    std::int64_t q = a / b;
    if (a % b != 0 && (a < 0) != (b < 0)) --q;
    return static_cast<int>(q);
}

int reduced(std::int64_t value, int modulus) {
    const auto rest = static_cast<int>(value % modulus);
    return rest < 0 ? rest + modulus : rest;
}

std::uint32_t hashed(std::uint64_t seed) { return static_cast<std::uint32_t>(mix64(seed) >> 32); }

/// Whole part and fraction of factor * (2 index + 1) / (2 count), exactly.
std::pair<int, float> split(int factor, int index, int count) {
    const std::int64_t numerator = static_cast<std::int64_t>(factor) * (2 * index + 1);
    const std::int64_t denominator = 2LL * count;
    const int whole = floor_div(numerator, denominator);
    const std::int64_t rest = numerator - whole * denominator;
    return {whole, static_cast<float>(static_cast<double>(rest) / static_cast<double>(denominator))};
}

}  // namespace

namespace {
constexpr int most_turns = 24;
}  // namespace

Lattice Lattice::of(int a, int b, int c, int d) {
    Lattice lattice;
    lattice.a = a, lattice.b = b, lattice.c = c, lattice.d = d;
    // Diagonalise [a b; c d] by whole-number row and column steps; only the row steps (u) are kept.
    std::int64_t m[2][2] = {{a, b}, {c, d}};
    std::int64_t u[2][2] = {{1, 0}, {0, 1}};
    for (int turn = 0; m[1][0] != 0 || m[0][1] != 0; ++turn) {
        // Some never come to rest by exchanging alone: what divides both others takes them away at once.
        if (turn >= most_turns && m[0][0] != 0 && m[1][0] % m[0][0] == 0 && m[0][1] % m[0][0] == 0) {
            const std::int64_t down = m[1][0] / m[0][0], across = m[0][1] / m[0][0];
            for (int k = 0; k < 2; ++k) m[1][k] -= down * m[0][k], u[1][k] -= down * u[0][k];
            for (auto& row : m) row[1] -= across * row[0];
            break;
        }
        while (m[1][0] != 0) {
            const std::int64_t q = m[0][0] / m[1][0];
            for (int k = 0; k < 2; ++k) {
                m[0][k] -= q * m[1][k], u[0][k] -= q * u[1][k];
                std::swap(m[0][k], m[1][k]), std::swap(u[0][k], u[1][k]);
            }
        }
        while (m[0][1] != 0) {
            const std::int64_t q = m[0][0] / m[0][1];
            for (auto& row : m) {
                row[0] -= q * row[1];
                std::swap(row[0], row[1]);
            }
        }
    }
    lattice.d1 = static_cast<int>(std::llabs(m[0][0]));
    lattice.d2 = static_cast<int>(std::llabs(m[1][1]));
    lattice.r11 = reduced(u[0][0], lattice.d1), lattice.r12 = reduced(u[0][1], lattice.d1);
    lattice.r21 = reduced(u[1][0], lattice.d2), lattice.r22 = reduced(u[1][1], lattice.d2);
    return lattice;
}

LatticeNoise::LatticeNoise(const Lattice& lattice, Basis basis, std::uint64_t seed, Size size)
    : lattice_(lattice), basis_(basis), seed_(hashed(seed)), size_(size) {
    const std::size_t padded = static_cast<std::size_t>(size.width) + lattice_padding;
    p_.assign(padded, 0.0f), q_.assign(padded, 0.0f);
    k1_.assign(padded, 0), k2_.assign(padded, 0);
    for (int x = 0; x < size.width; ++x) {
        const auto at = static_cast<std::size_t>(x);
        const auto [i, pf] = split(lattice.a, x, size.width);
        const auto [j, qf] = split(lattice.c, x, size.width);
        p_[at] = pf, q_[at] = qf;
        k1_[at] = reduced(static_cast<std::int64_t>(lattice.r11) * i + static_cast<std::int64_t>(lattice.r12) * j, lattice.d1);
        k2_[at] = reduced(static_cast<std::int64_t>(lattice.r21) * i + static_cast<std::int64_t>(lattice.r22) * j, lattice.d2);
    }
}

LatticeNoise LatticeNoise::at_size(Size size) const {
    LatticeNoise other(lattice_, basis_, 0, size);
    other.seed_ = seed_;
    return other;
}

void LatticeNoise::add_row(int y, float weight, float* out, const float* du, const float* dv) const {
    LatticeRow row{};
    const auto [i, pf] = split(lattice_.b, y, size_.height);
    const auto [j, qf] = split(lattice_.d, y, size_.height);
    row.lattice = &lattice_;
    row.seed = seed_;
    row.p = p_.data(), row.q = q_.data(), row.k1 = k1_.data(), row.k2 = k2_.data();
    row.p_row = pf, row.q_row = qf;
    row.k1_row = reduced(static_cast<std::int64_t>(lattice_.r11) * i + static_cast<std::int64_t>(lattice_.r12) * j, lattice_.d1);
    row.k2_row = reduced(static_cast<std::int64_t>(lattice_.r21) * i + static_cast<std::int64_t>(lattice_.r22) * j, lattice_.d2);
    row.du = du, row.dv = dv;
    row.count = size_.width;
    row.weight = weight;
    lattice_row(basis_, row, out);
}

float LatticeNoise::deviation(Basis basis) {
    switch (basis) {
        case Basis::gradient: return 0.217f;
        case Basis::value: return 0.577f;
        case Basis::simplex: return 0.405f;
    }
    return 1;
}

void lattice_noise_at(const Lattice& lattice, Basis basis, std::uint64_t seed, const float* u, const float* v, int count,
                      float weight, float* out) {
    thread_local std::vector<float> zeros;
    thread_local std::vector<std::int32_t> none;
    const std::size_t padded = static_cast<std::size_t>(count) + lattice_padding;
    if (zeros.size() < padded) zeros.assign(padded, 0.0f), none.assign(padded, 0);
    LatticeRow row{};
    row.lattice = &lattice;
    row.seed = hashed(seed);
    row.p = row.q = zeros.data(), row.k1 = row.k2 = none.data();
    row.du = u, row.dv = v;
    row.count = count, row.weight = weight;
    row.straight = lattice.b == 0 && lattice.c == 0 && lattice.a > 0 && lattice.d > 0;
    lattice_row(basis, row, out);
}

}  // namespace loom
