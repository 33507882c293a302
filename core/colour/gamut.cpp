// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/colour/gamut.h"

#include <algorithm>
#include <cmath>

namespace loom {

namespace {

bool on_screen(const Colour& linear) {
    constexpr float hair = 1e-5f;
    return std::min({linear.red, linear.green, linear.blue}) >= -hair &&
           std::max({linear.red, linear.green, linear.blue}) <= 1 + hair;
}

Colour encoded(const Colour& linear) {
    const auto part = [](float value) { return to_encoded(std::clamp(value, 0.0f, 1.0f)); };
    return {part(linear.red), part(linear.green), part(linear.blue)};
}

}  // namespace

Colour into_gamut(Lch oklch) { return into_gamut(from_lch(oklch)); }

Colour into_gamut(Lab oklab) {
    const float lightness = std::clamp(oklab.lightness, 0.0f, 1.0f), a = oklab.a, b = oklab.b;
    const Colour wanted = linear_from_oklab({lightness, a, b});
    if (on_screen(wanted)) return encoded(wanted);
    constexpr float alpha = 0.5f;
    const float away = lightness - 0.5f, e = 0.5f + std::abs(away) + alpha * std::sqrt(a * a + b * b);
    const float grey = 0.5f * (1 + std::copysign(e - std::sqrt(e * e - 2 * std::abs(away)), away));
    float inside = 0, outside = 1;
    Colour shown = linear_from_oklab({grey, 0, 0});
    // Finer than a step of eight bits.
    for (int step = 0; step < 12; ++step) {
        const float t = (inside + outside) / 2;
        const Colour there = linear_from_oklab({grey + t * (lightness - grey), t * a, t * b});
        if (on_screen(there))
            inside = t, shown = there;
        else
            outside = t;
    }
    return encoded(shown);
}

}  // namespace loom
