// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/colour/colour.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <cstdio>

#include "core/base/quick_math.h"

namespace loom {

namespace {

double linear_of(double encoded) { return encoded <= 0.04045 ? encoded / 12.92 : std::pow((encoded + 0.055) / 1.055, 2.4); }

double encoded_of(double linear) { return linear <= 0.0031308 ? linear * 12.92 : 1.055 * std::pow(linear, 1.0 / 2.4) - 0.055; }

constexpr int table_steps = 4096;

/// Values at even steps; between them a straight line is exact to 3e-8.
const std::array<float, table_steps + 2>& linear_table() {
    static const auto table = [] {
        std::array<float, table_steps + 2> values{};
        for (int i = 0; i <= table_steps + 1; ++i)
            values[static_cast<std::size_t>(i)] = static_cast<float>(linear_of(static_cast<double>(i) / table_steps));
        return values;
    }();
    return table;
}

/// Encoded values over the square root of the linear one, which straightens the steep start.
const std::array<float, table_steps + 2>& encoded_table() {
    static const auto table = [] {
        std::array<float, table_steps + 2> values{};
        for (int i = 0; i <= table_steps + 1; ++i) {
            const double root = static_cast<double>(i) / table_steps;
            values[static_cast<std::size_t>(i)] = static_cast<float>(encoded_of(root * root));
        }
        return values;
    }();
    return table;
}

float read_table(const std::array<float, table_steps + 2>& table, float place) {
    const float scaled = place * table_steps;
    const int index = static_cast<int>(scaled);
    const auto at = static_cast<std::size_t>(index);
    return table[at] + (scaled - static_cast<float>(index)) * (table[at + 1] - table[at]);
}

/// To rounding: a guess from the bits of the number, and Halley's rule twice.
float cube_root(float x) {
    const float size = std::abs(x);
    if (!(size > 1e-30f)) return 0;
    float y = std::bit_cast<float>(std::bit_cast<std::uint32_t>(size) / 3 + 709921077u);
    for (int step = 0; step < 2; ++step) {
        const float cube = y * y * y;
        y *= (cube + 2 * size) / (2 * cube + size);
    }
    return std::copysign(y, x);
}

}  // namespace

float to_linear(float encoded) {
    if (encoded < 0) return -to_linear(-encoded);
    if (encoded <= 1) return read_table(linear_table(), encoded);
    return static_cast<float>(linear_of(encoded));
}

void make_linear(float* values, std::size_t count) {
    // Straight between places: the curve bends by less than 4 over a unit, by nothing where it is darkest.
    constexpr int steps = 4096, places = 3 * steps;
    static const auto table = [] {
        std::array<float, places + 2> made{};
        for (std::size_t k = 0; k < made.size(); ++k)
            made[k] = to_linear(static_cast<float>(static_cast<int>(k) - steps) / steps);
        return made;
    }();
    for (std::size_t k = 0; k < count; ++k) {
        const float at = (values[k] + 1) * steps;
        if (!(at >= 0 && at < places)) {
            values[k] = to_linear(values[k]);
            continue;
        }
        const auto cell = static_cast<std::size_t>(at);
        values[k] = table[cell] + (table[cell + 1] - table[cell]) * (at - static_cast<float>(cell));
    }
}

float to_encoded(float linear) {
    if (linear < 0) return -to_encoded(-linear);
    if (linear <= 1) return read_table(encoded_table(), std::sqrt(linear));
    return static_cast<float>(encoded_of(linear));
}

void make_encoded(float* values, std::size_t count) {
    for (std::size_t i = 0; i < count; ++i) values[i] = to_encoded(values[i]);
}

Lab to_oklab(Colour encoded) {
    const float r = to_linear(encoded.red), g = to_linear(encoded.green), b = to_linear(encoded.blue);
    const float l = cube_root(0.4122214708f * r + 0.5363325363f * g + 0.0514459929f * b);
    const float m = cube_root(0.2119034982f * r + 0.6806995451f * g + 0.1073969566f * b);
    const float s = cube_root(0.0883024619f * r + 0.2817188376f * g + 0.6299787005f * b);
    return {0.2104542553f * l + 0.7936177850f * m - 0.0040720468f * s, 1.9779984951f * l - 2.4285922050f * m + 0.4505937099f * s,
            0.0259040371f * l + 0.7827717662f * m - 0.8086757660f * s};
}

Colour linear_from_oklab(Lab lab) {
    const float l = lab.lightness + 0.3963377774f * lab.a + 0.2158037573f * lab.b;
    const float m = lab.lightness - 0.1055613458f * lab.a - 0.0638541728f * lab.b;
    const float s = lab.lightness - 0.0894841775f * lab.a - 1.2914855480f * lab.b;
    const float l3 = l * l * l, m3 = m * m * m, s3 = s * s * s;
    return {4.0767416621f * l3 - 3.3077115913f * m3 + 0.2309699292f * s3,
            -1.2684380046f * l3 + 2.6097574011f * m3 - 0.3413193965f * s3,
            -0.0041960863f * l3 - 0.7034186147f * m3 + 1.7076147010f * s3};
}

Colour from_oklab(Lab lab) {
    const Colour linear = linear_from_oklab(lab);
    return {to_encoded(linear.red), to_encoded(linear.green), to_encoded(linear.blue)};
}

Lch to_lch(Lab lab) { return {lab.lightness, std::hypot(lab.a, lab.b), std::atan2(lab.b, lab.a)}; }

Lab from_lch(Lch lch) { return {lch.lightness, lch.chroma * std::cos(lch.hue), lch.chroma * std::sin(lch.hue)}; }

namespace {
constexpr float white_x = 0.95047f, white_z = 1.08883f;
constexpr float cie_knee = 216.0f / 24389.0f, cie_slope = 24389.0f / 27.0f;

float cie_root(float t) { return t > cie_knee ? cube_root(t) : (cie_slope * t + 16.0f) / 116.0f; }
float cie_cube(float f) {
    const float cube = f * f * f;
    return cube > cie_knee ? cube : (116.0f * f - 16.0f) / cie_slope;
}
}  // namespace

Lab to_cielab(Colour encoded) {
    const float r = to_linear(encoded.red), g = to_linear(encoded.green), b = to_linear(encoded.blue);
    const float fx = cie_root((0.4124564f * r + 0.3575761f * g + 0.1804375f * b) / white_x);
    const float fy = cie_root(0.2126729f * r + 0.7151522f * g + 0.0721750f * b);
    const float fz = cie_root((0.0193339f * r + 0.1191920f * g + 0.9503041f * b) / white_z);
    return {1.16f * fy - 0.16f, 5.0f * (fx - fy), 2.0f * (fy - fz)};
}

Colour from_cielab(Lab lab) {
    const float fy = (lab.lightness + 0.16f) / 1.16f;
    const float x = white_x * cie_cube(fy + lab.a / 5.0f), y = cie_cube(fy), z = white_z * cie_cube(fy - lab.b / 2.0f);
    return {to_encoded(3.2404542f * x - 1.5371385f * y - 0.4985314f * z),
            to_encoded(-0.9692660f * x + 1.8760108f * y + 0.0415560f * z),
            to_encoded(0.0556434f * x - 0.2040259f * y + 1.0572252f * z)};
}

std::optional<Colour> parse_colour(std::string_view text) {
    if (text.empty() || text.front() != '#' || (text.size() != 7 && text.size() != 4)) return std::nullopt;
    auto digit = [](char c) {
        if (c >= '0' && c <= '9') return c - '0';
        if (c >= 'a' && c <= 'f') return c - 'a' + 10;
        if (c >= 'A' && c <= 'F') return c - 'A' + 10;
        return -1;
    };
    float parts[3];
    const bool brief = text.size() == 4;
    for (std::size_t k = 0; k < 3; ++k) {
        const int high = digit(text[brief ? 1 + k : 1 + 2 * k]);
        const int low = brief ? high : digit(text[2 + 2 * k]);
        if (high < 0 || low < 0) return std::nullopt;
        parts[k] = static_cast<float>(high * 16 + low) / 255.0f;
    }
    return Colour{parts[0], parts[1], parts[2]};
}

std::string write_colour(Colour colour) {
    auto byte = [](float value) { return static_cast<int>(std::lround(within(value, 0.0f, 1.0f) * 255.0f)); };
    char text[8];
    std::snprintf(text, sizeof text, "#%02x%02x%02x", byte(colour.red), byte(colour.green), byte(colour.blue));
    return text;
}

}  // namespace loom
