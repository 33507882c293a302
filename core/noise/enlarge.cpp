// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/enlarge.h"

#include <vector>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/noise/enlarge.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void Down(const float* const* rows, const float* weights, int count, float* HWY_RESTRICT out) {
    const hn::ScalableTag<float> f;
    for (int x = 0; x < count; x += static_cast<int>(hn::Lanes(f))) {
        auto sum = hn::Mul(hn::Set(f, weights[0]), hn::LoadU(f, rows[0] + x));
        for (int k = 1; k < 6; ++k) sum = hn::MulAdd(hn::Set(f, weights[k]), hn::LoadU(f, rows[k] + x), sum);
        hn::StoreU(sum, f, out + x);
    }
}

/// `line` has three values before and after what counts.
void Across(const float* line, const float* weights, int count, float* HWY_RESTRICT out) {
    const hn::ScalableTag<float> f;
    for (int x = 0; x < count; x += static_cast<int>(hn::Lanes(f))) {
        // Pixel 2 x lies a quarter before coarse pixel x, pixel 2 x + 1 a quarter behind it.
        auto left = hn::Zero(f), right = hn::Zero(f);
        for (int k = 0; k < 6; ++k) {
            const auto weight = hn::Set(f, weights[k]);
            right = hn::MulAdd(weight, hn::LoadU(f, line + x + k - 2), right);
            left = hn::MulAdd(weight, hn::LoadU(f, line + x + 2 - k), left);
        }
        hn::StoreInterleaved2(left, right, f, out + 2 * x);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Down);
HWY_EXPORT(Across);

namespace {

/// Lagrange weights of the points -2..3 for the place 1/4.
constexpr float weight_of(int k) {
    double product = 1;
    for (int j = -2; j <= 3; ++j)
        if (j != k) product *= (0.25 - j) / (k - j);
    return static_cast<float>(product);
}
constexpr float forward[6] = {weight_of(-2), weight_of(-1), weight_of(0), weight_of(1), weight_of(2), weight_of(3)};
constexpr int margin = 3, room = 64;

}  // namespace

void enlarged_row(const float* const rows[6], int width, float* out) {
    thread_local std::vector<float> line;
    line.resize(static_cast<std::size_t>(width) + 2 * margin + room);
    float* middle = line.data() + margin;
    // A plane's rows are not padded to whole vectors: what is left over is summed one by one.
    const int vectors = width / room * room;
    HWY_DYNAMIC_DISPATCH(Down)(rows, forward, vectors, middle);
    for (int x = vectors; x < width; ++x) {
        float sum = 0;
        for (int k = 0; k < 6; ++k) sum += forward[k] * rows[k][x];
        middle[x] = sum;
    }
    for (int k = 1; k <= margin; ++k) {
        middle[-k] = middle[wrap(-k, width)];
        middle[width + k - 1] = middle[wrap(k - 1, width)];
    }
    HWY_DYNAMIC_DISPATCH(Across)(middle, forward, width, out);
}

}  // namespace loom
#endif
