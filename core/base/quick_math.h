// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Functions for the inner loops of steps that are drawn pixel by pixel: no call into the mathematics library, errors far below
// an 8-bit step.
#pragma once

#include <bit>
#include <cmath>
#include <cstdint>

namespace loom {

inline float least(float a, float b) { return a < b ? a : b; }
inline float most(float a, float b) { return a > b ? a : b; }
/// std::clamp, but `low` for what is no number: what counts or looks something up by a value of a picture goes through this.
template <class Number>
constexpr Number within(Number value, Number low, Number high) {
    return value > low ? (value < high ? value : high) : low;
}
/// 0 for what is no number or has no end.
inline float finite(float value) { return (std::bit_cast<std::uint32_t>(value) & 0x7f800000u) == 0x7f800000u ? 0 : value; }
/// Cut to 0..1.
inline float unit_cut(float t) { return least(most(t, 0), 1); }

/// The whole number at or below a value, as a float.
inline float quick_floor(float x) {
    const auto cut = static_cast<float>(static_cast<int>(x));
    return cut - (x < cut ? 1.0f : 0.0f);
}

/// e^x within 2e-6 of it, for x from -80 to 80; beyond, as there.
inline float quick_exp(float x) {
    x = x < -80 ? -80 : x > 80 ? 80 : x;
    const float t = x * 1.44269504f, whole = quick_floor(t), r = t - whole;
    float p = 1.8775767e-3f;
    p = p * r + 8.9893397e-3f, p = p * r + 5.5826318e-2f, p = p * r + 2.4015361e-1f, p = p * r + 6.9315308e-1f,
    p = p * r + 0.99999994f;
    return p * std::bit_cast<float>((static_cast<std::int32_t>(whole) + 127) << 23);
}

/// The cosine of a number of turns from -1/2 to 1/2, within 3e-7: its series.
inline float quick_cosine(float turns) {
    const float x = turns * 6.28318531f, s = x * x;
    float p = 4.77947733e-14f;
    p = p * s - 1.14707456e-11f, p = p * s + 2.08767570e-9f, p = p * s - 2.75573192e-7f, p = p * s + 2.48015873e-5f;
    p = p * s - 1.38888889e-3f, p = p * s + 4.16666667e-2f, p = p * s - 0.5f;
    return p * s + 1;
}

/// The arc sine within 7e-5 (Abramowitz & Stegun 4.4.45), for x from -1 to 1.
inline float quick_asin(float x) {
    const float size = x < 0 ? -x : x;
    const float angle =
        1.5707963f - std::sqrt(1 - size) * (1.5707288f + size * (-0.2121144f + size * (0.0742610f - 0.0187293f * size)));
    return x < 0 ? -angle : angle;
}

}  // namespace loom
