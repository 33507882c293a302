// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/rank_kernel.h"

#include <cstddef>
#include <utility>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/rank_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#ifndef LOOM_RANK_NETWORK
#define LOOM_RANK_NETWORK
namespace loom::rank_detail {
/// A network known when the program is built, so that its values stay in registers.
template <int n>
struct Network {
    std::array<Comparator, static_cast<std::size_t>(n* n)> comparators{};
    int count = 0;
    constexpr Network() {
        merge_exchange(n, [this](int first, int second) {
            comparators[static_cast<std::size_t>(count++)] = {static_cast<std::uint16_t>(first),
                                                              static_cast<std::uint16_t>(second)};
        });
    }
};
template <int n>
constexpr Network<n> network{};
}  // namespace loom::rank_detail
#endif

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;
using F = hn::ScalableTag<float>;

using V = hn::Vec<F>;

/// One network for all ranks, in registers.
template <int n>
struct Sorted {
    V v[n];
    template <int k>
    HWY_INLINE void Exchange() {
        constexpr Comparator c = rank_detail::network<n>.comparators[k];
        const V a = v[c.first], b = v[c.second];
        v[c.first] = hn::Min(a, b), v[c.second] = hn::Max(a, b);
    }
    template <std::size_t... k>
    HWY_INLINE void All(std::index_sequence<k...>) {
        (Exchange<static_cast<int>(k)>(), ...);
    }
};

HWY_INLINE void Finish(const RankNetwork& network, const float* below, const float* above, int x, int width, float* out) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const V a = hn::Load(f, below), b = hn::Load(f, above);
    const V result = hn::MulAdd(hn::Set(f, network.share), hn::Sub(b, a), a);
    if (x + lanes <= width)
        hn::StoreU(result, f, out + x);
    else if (x < width)
        hn::BlendedStore(result, hn::FirstN(f, static_cast<std::size_t>(width - x)), f, out + x);
}

template <int side>
HWY_INLINE void RankFixed(const RankNetwork& network, const float* const* rows, int width, float* HWY_RESTRICT out) {
    const F f;
    constexpr int count = side * side;
    const int lanes = static_cast<int>(hn::Lanes(f));
    HWY_ALIGN float values[count * hn::MaxLanes(f)];
    for (int x = 0; x < width; x += lanes) {
        Sorted<count> sorted;
        for (int j = 0; j < side; ++j)
            for (int i = 0; i < side; ++i) sorted.v[j * side + i] = hn::LoadU(f, rows[j] + x + i);
        sorted.All(std::make_index_sequence<rank_detail::network<count>.count>());
        for (int k = 0; k < count; ++k) hn::Store(sorted.v[k], f, values + k * lanes);
        Finish(network, values + network.lower * lanes, values + network.upper * lanes, x, width, out);
    }
}

/// Two vectors side by side, as most comparators wait for one not long before.
void RankAny(const RankNetwork& network, const float* const* rows, int row_count, int columns, int width,
             float* HWY_RESTRICT out) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    HWY_ALIGN float values[256 * hn::MaxLanes(f)];
    auto at = [&](int k) { return values + 2 * k * lanes; };
    for (int x = 0; x < width; x += 2 * lanes) {
        int count = 0;
        for (int j = 0; j < row_count; ++j)
            for (int i = 0; i < columns; ++i, ++count) {
                hn::Store(hn::LoadU(f, rows[j] + x + i), f, at(count));
                hn::Store(hn::LoadU(f, rows[j] + x + i + lanes), f, at(count) + lanes);
            }
        for (int k = 0; k < network.comparator_count; ++k) {
            float *first = at(network.comparators[k].first), *second = at(network.comparators[k].second);
            const V a = hn::Load(f, first), b = hn::Load(f, second);
            const V c = hn::Load(f, first + lanes), d = hn::Load(f, second + lanes);
            hn::Store(hn::Min(a, b), f, first), hn::Store(hn::Min(c, d), f, first + lanes);
            hn::Store(hn::Max(a, b), f, second), hn::Store(hn::Max(c, d), f, second + lanes);
        }
        Finish(network, at(network.lower), at(network.upper), x, width, out);
        Finish(network, at(network.lower) + lanes, at(network.upper) + lanes, x + lanes, width, out);
    }
}

void RankRow(const RankNetwork& network, const float* const* rows, int row_count, int columns, int width,
             float* HWY_RESTRICT out) {
    if (row_count == 3 && columns == 3)
        RankFixed<3>(network, rows, width, out);
    else if (row_count == 5 && columns == 5)
        RankFixed<5>(network, rows, width, out);
    else
        RankAny(network, rows, row_count, columns, width, out);
}

HWY_INLINE void MoveBins(std::int32_t* HWY_RESTRICT sums, const std::uint16_t* HWY_RESTRICT entering,
                         const std::uint16_t* HWY_RESTRICT leaving) {
    for (int k = 0; k < 16; ++k) sums[k] += static_cast<std::int32_t>(entering[k]) - static_cast<std::int32_t>(leaving[k]);
}
HWY_INLINE void AddBins(std::int32_t* HWY_RESTRICT sums, const std::uint16_t* HWY_RESTRICT entering) {
    for (int k = 0; k < 16; ++k) sums[k] += entering[k];
}

/// The bin of 16 in which the running count passes `target`; `below` is carried along.
HWY_INLINE int Passed(const std::int32_t* counts, int target, int& below) {
    int k = 0;
    while (k < 15 && below + counts[k] < target) below += counts[k++];
    return k;
}

void RankColumnsRow(const RankColumns& given, float* HWY_RESTRICT out) {
    const RankColumns c = given;
    HWY_ALIGN std::int32_t groups[rank_groups] = {}, bins[rank_bins];
    int reached[rank_groups];
    const std::int32_t* column = c.column + c.radius + 1;  // so that column[x] is that of x
    auto coarse = [&](int x) { return c.coarse + static_cast<std::ptrdiff_t>(column[x]) * rank_groups; };
    auto fine = [&](int x, int group) {
        return c.fine + static_cast<std::ptrdiff_t>(column[x]) * rank_bins + group * rank_group;
    };
    for (int x = -c.radius; x <= c.radius; ++x) AddBins(groups, coarse(x));
    // Nothing is known of any group's bins.
    for (int& known : reached) known = -4 * c.radius - 4;
    const int target = static_cast<int>(c.target) + (static_cast<double>(static_cast<int>(c.target)) < c.target ? 1 : 0);
    for (int x = 0; x < c.width; ++x) {
        int below = 0;
        const int group = Passed(groups, target, below);
        std::int32_t* sums = bins + group * rank_group;
        if (x - reached[group] > c.radius) {
            for (int k = 0; k < rank_group; ++k) sums[k] = 0;
            for (int k = x - c.radius; k <= x + c.radius; ++k) AddBins(sums, fine(k, group));
        } else {
            for (int k = reached[group] + 1; k <= x; ++k)
                MoveBins(sums, fine(k + c.radius, group), fine(k - c.radius - 1, group));
        }
        reached[group] = x;
        const int bin = Passed(sums, target, below);
        const auto inside = static_cast<float>(sums[bin]);
        float share = inside > 0 ? static_cast<float>(c.target - below) / inside : 0.5f;
        share = share < 0 ? 0 : share > 1 ? 1 : share;
        const float place = static_cast<float>(group * rank_group + bin) - 0.5f + share;
        out[x] = place < 0 ? 0 : place > 255 ? 255 : place;
        MoveBins(groups, coarse(x + c.radius + 1), coarse(x - c.radius));
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(RankRow);
HWY_EXPORT(RankColumnsRow);
void rank_row(const RankNetwork& network, const float* const* rows, int row_count, int columns, int width, float* out) {
    HWY_DYNAMIC_DISPATCH(RankRow)(network, rows, row_count, columns, width, out);
}
void rank_columns(const RankColumns& columns, float* out) { HWY_DYNAMIC_DISPATCH(RankColumnsRow)(columns, out); }
}  // namespace loom
#endif
