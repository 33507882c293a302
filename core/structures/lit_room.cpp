// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/lit_room.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <span>

namespace loom {

namespace {

constexpr double degree = std::numbers::pi / 180;

/// x right, y up, z towards who looks; sharpness; red, green and blue. All made by ourselves.
constexpr LitLobe workshop[] = {
    {0.0f, 0.90f, 0.44f, 6.0f, 0.86f, 0.90f, 0.96f},   {-0.89f, 0.22f, 0.40f, 18.0f, 1.00f, 0.98f, 0.94f},
    {0.93f, 0.12f, 0.35f, 26.0f, 0.70f, 0.72f, 0.76f}, {0.25f, 0.32f, 0.91f, 9.0f, 0.10f, 0.10f, 0.10f},
    {0.0f, -0.90f, 0.43f, 3.0f, 0.17f, 0.15f, 0.13f},  {-0.35f, 0.60f, 0.72f, 60.0f, 0.85f, 0.85f, 0.85f},
};
/// A wide grey sky, brighter towards where the sun would be, gravel below, and the dark line of a roof.
constexpr LitLobe platform[] = {
    {0.0f, 0.35f, 0.94f, 1.3f, 0.42f, 0.45f, 0.50f},
    {-0.50f, 0.62f, 0.60f, 3.5f, 0.60f, 0.60f, 0.58f},
    {0.0f, -0.95f, 0.31f, 2.2f, 0.20f, 0.18f, 0.15f},
    {0.75f, 0.48f, 0.46f, 7.0f, -0.16f, -0.16f, -0.15f},
};
/// Panes one beside the other at every side, dark posts between them, and a low ceiling.
constexpr LitLobe signal_box[] = {
    {-0.94f, 0.05f, 0.34f, 40.0f, 1.10f, 1.12f, 1.16f}, {-0.62f, 0.70f, 0.36f, 40.0f, 1.10f, 1.12f, 1.16f},
    {0.02f, 0.93f, 0.36f, 40.0f, 1.20f, 1.20f, 1.20f},  {0.66f, 0.66f, 0.36f, 40.0f, 1.00f, 1.02f, 1.06f},
    {0.94f, 0.02f, 0.34f, 40.0f, 0.90f, 0.92f, 0.98f},  {0.40f, -0.83f, 0.38f, 30.0f, 0.40f, 0.40f, 0.42f},
    {0.10f, 0.22f, 0.97f, 6.0f, 0.26f, 0.25f, 0.23f},   {0.0f, -0.90f, 0.43f, 3.0f, 0.16f, 0.13f, 0.10f},
};
/// Little but some warm points and what the walls give back of them.
constexpr LitLobe lamp_store[] = {
    {-0.55f, 0.52f, 0.65f, 220.0f, 5.50f, 4.30f, 2.80f}, {0.70f, 0.40f, 0.59f, 320.0f, 4.60f, 3.50f, 2.20f},
    {0.20f, -0.60f, 0.77f, 260.0f, 2.60f, 2.00f, 1.30f}, {0.05f, 0.88f, 0.47f, 420.0f, 5.00f, 4.00f, 2.70f},
    {0.0f, 0.55f, 0.84f, 2.0f, 0.20f, 0.15f, 0.10f},     {0.0f, -0.85f, 0.53f, 3.0f, 0.10f, 0.07f, 0.05f},
};

struct Around {
    std::span<const LitLobe> lobes;
    float ambient;
};
Around around(RoomKind room) {
    switch (room) {
        case RoomKind::platform: return {platform, 0.16f};
        case RoomKind::signal: return {signal_box, 0.08f};
        case RoomKind::store: return {lamp_store, 0.03f};
        case RoomKind::workshop: break;
    }
    return {workshop, 0.05f};
}

/// Light of equal brightness, from amber at 1 to blue at -1.
struct Tint {
    float red, green, blue;
};
Tint tint_of(double warm) {
    const double red = 1 + 0.12 * warm, blue = 1 - 0.22 * warm, green = (1 - 0.2126 * red - 0.0722 * blue) / 0.7152;
    return {static_cast<float>(red), static_cast<float>(green), static_cast<float>(blue)};
}

}  // namespace

LitRoom room_for(const LitLight& light, const LitFinish& finish) {
    LitRoom room{};
    const double elevation = light.elevation * degree, direction = light.direction * degree;
    const Tint warm = tint_of(light.warmth / 100), cool = tint_of(-0.5 * light.warmth / 100);
    const auto fill = static_cast<float>(light.fill / 100), strength = static_cast<float>(light.strength / 100);
    const auto lamp = [&](double up, double way, float bright, const Tint& tint, float wide) {
        return LitLamp{static_cast<float>(std::cos(up) * std::cos(way)),
                       static_cast<float>(std::cos(up) * std::sin(way)),
                       static_cast<float>(std::sin(up)),
                       bright * tint.red,
                       bright * tint.green,
                       bright * tint.blue,
                       wide};
    };
    // A lamp of some width blurs what it is mirrored in (Karis 2013).
    const double half = light.width / 2 * degree;
    room.key = lamp(elevation, direction, 2.6f * strength, warm, static_cast<float>(half / 3));
    room.penumbra = static_cast<float>(std::max(2 * std::tan(half), 0.01));
    // Opposite, lower and broad.
    room.second = lamp(0.62, direction + std::numbers::pi * 0.83, 0.75f * fill, cool, 0.22f);
    const Around surroundings = around(light.room);
    const float ambient = surroundings.ambient * fill;
    room.ambient[0] = ambient * cool.red, room.ambient[1] = ambient * cool.green, room.ambient[2] = ambient * cool.blue;
    room.lobes = static_cast<int>(surroundings.lobes.size());
    const auto c = static_cast<float>(std::cos(light.turn * degree)), s = static_cast<float>(std::sin(light.turn * degree));
    for (int k = 0; k < room.lobes; ++k) {
        LitLobe lobe = surroundings.lobes[static_cast<std::size_t>(k)];
        const float x = lobe.x, y = lobe.y;
        lobe.x = c * x - s * y, lobe.y = s * x + c * y;
        lobe.red *= fill * cool.red, lobe.green *= fill * cool.green, lobe.blue *= fill * cool.blue;
        room.lobe[k] = lobe;
    }
    room.exposure = static_cast<float>(0.95 * std::exp2(light.exposure));
    room.sheen = static_cast<float>(finish.sheen / 100), room.coat = static_cast<float>(finish.coat / 100);
    const double rough = std::max(finish.coat_rough / 100, 0.03);
    room.coat_alpha = static_cast<float>(rough * rough);
    room.wrap = static_cast<float>(0.35 * finish.spread / 100);
    return room;
}

}  // namespace loom
