// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The one thing that is read of a photograph's Exif data: how the camera was held (Exif 2.3, tag 274).
#pragma once

#include <cstdint>
#include <string_view>

#include "core/image/plane.h"

namespace loom {

/// 1 (as it is stored) to 8; 1 too if there is nothing or nothing that can be understood. `exif` begins with the TIFF head "II*"
/// or "MM", or with "Exif" before it.
inline int exif_orientation(std::string_view exif) {
    using namespace std::string_view_literals;
    if (exif.starts_with("Exif\0\0"sv)) exif.remove_prefix(6);
    const bool little = exif.starts_with("II");
    if (!little && !exif.starts_with("MM")) return 1;
    const auto number = [&](std::size_t at, std::size_t bytes) {
        std::uint32_t value = 0;
        if (at + bytes > exif.size()) return value;
        for (std::size_t k = 0; k < bytes; ++k)
            value = value << 8 | static_cast<std::uint8_t>(exif[little ? at + bytes - 1 - k : at + k]);
        return value;
    };
    const std::size_t directory = number(4, 4);
    constexpr std::uint32_t orientation = 274, a_short = 3;
    for (std::size_t k = 0, count = number(directory, 2); k < count; ++k) {
        const std::size_t entry = directory + 2 + 12 * k;
        if (number(entry, 2) != orientation) continue;
        const std::uint32_t value = number(entry + 8, 2);
        return number(entry + 2, 2) == a_short && value >= 1 && value <= 8 ? static_cast<int>(value) : 1;
    }
    return 1;
}

/// From 5 on rows are columns.
constexpr bool lies_on_its_side(int orientation) { return orientation >= 5; }

/// The size that is shown of one that is stored.
constexpr Size upright(Size stored, int orientation) {
    return lies_on_its_side(orientation) ? Size{stored.height, stored.width} : stored;
}

struct ShownPixel {
    int x, y;
};
/// Where the stored pixel (x, y) is shown.
constexpr ShownPixel upright(int x, int y, Size stored, int orientation) {
    const int right = stored.width - 1 - x, below = stored.height - 1 - y;
    switch (orientation) {
        case 2: return {right, y};
        case 3: return {right, below};
        case 4: return {x, below};
        case 5: return {y, x};
        case 6: return {below, x};
        case 7: return {below, right};
        case 8: return {y, right};
        default: return {x, y};
    }
}

}  // namespace loom
