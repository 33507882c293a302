// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/ramps.h"

#include <algorithm>
#include <initializer_list>
#include <vector>

namespace loom {

namespace {

/// Colours at equal steps.
NamedRamp ramp(std::string_view name, std::initializer_list<std::string_view> colours) {
    NamedRamp made{name, {}};
    double place = 0;
    for (std::string_view each : colours) {
        made.stops.push_back({place, parse_colour(each).value(), 0});
        place += 1.0 / static_cast<double>(colours.size() - 1);
    }
    made.stops.back().place = 1;
    return made;
}

/// At its strongest.
double grain_of(const Stops& stops) {
    double most = 0;
    for (const Stop& stop : stops) most = std::max(most, stop.grain);
    return most;
}

}  // namespace

Stops with_grain_of(Stops stops, const Stops& like) {
    for (Stop& stop : stops) stop.grain = grain_of(like);
    return stops;
}

Stops turned_round(Stops stops) {
    std::reverse(stops.begin(), stops.end());
    for (Stop& stop : stops) stop.place = 1 - stop.place;
    return stops;
}

Stops evenly_spaced(Stops stops) {
    for (std::size_t k = 0; stops.size() > 1 && k < stops.size(); ++k)
        stops[k].place = static_cast<double>(k) / static_cast<double>(stops.size() - 1);
    return stops;
}

Stops ramp_of(const std::vector<PaletteColour>& colours, const Stops& like) {
    Stops stops;
    double passed = 0;
    for (const PaletteColour& each : colours) {
        stops.push_back({passed + each.share / 2, each.colour, 0});
        passed += each.share;
    }
    if (stops.size() > 1) stops.front().place = 0, stops.back().place = 1;
    return with_grain_of(std::move(stops), like);
}

std::span<const NamedRamp> ramp_library() {
    // Shadows are not the same hue as lights: woods redden downwards, metals cool, stones turn.
    static const std::vector<NamedRamp> ramps = {
        ramp("Honey oak", {"#3b2413", "#7a4f27", "#b98143", "#dcb072", "#f0d6a4"}),
        ramp("Smoked oak", {"#1b1613", "#3c3029", "#62513f", "#8a755a", "#b6a184"}),
        ramp("Walnut", {"#1d1009", "#3f2616", "#664127", "#8d6240", "#b98e66"}),
        ramp("Mahogany", {"#240806", "#581a10", "#8a3419", "#b4592c", "#d88e58"}),
        ramp("Cedar", {"#3f1a14", "#80412c", "#b56c49", "#d99a70", "#f2c9a3"}),
        ramp("Ash wood", {"#5f5242", "#98866b", "#c4b293", "#e0d3b9", "#f5eddd"}),
        ramp("Saddle leather", {"#22100a", "#5a2c14", "#945226", "#c07d42", "#dcaa76"}),
        ramp("Oxblood", {"#16060a", "#40101a", "#6a1f27", "#924038", "#b86f5c"}),
        ramp("Indigo", {"#0a1024", "#1a2a4f", "#34507f", "#6c86ad", "#c3d0e0"}),
        ramp("Linen", {"#6d6353", "#9f937e", "#c7bba4", "#e2d9c7", "#f6f1e6"}),
        ramp("Old gold", {"#1c1205", "#5b3d0f", "#a87a24", "#e3bf5c", "#fff3c2"}),
        ramp("Rose gold", {"#2a100c", "#713a30", "#b97563", "#e6b3a0", "#ffeadf"}),
        ramp("Steel", {"#0e1114", "#343b42", "#6a737b", "#a5adb3", "#e9edf0"}),
        ramp("Rust", {"#1a0e0a", "#4d2413", "#8f4318", "#c4702e", "#dda56c"}),
        ramp("Verdigris", {"#101b18", "#26433a", "#42786a", "#7fb3a0", "#cfe3d4"}),
        ramp("Carrara", {"#4a4d55", "#8f9197", "#c4c5c8", "#e4e4e4", "#fbfaf8"}),
        ramp("Green marble", {"#06120e", "#12342a", "#2a5c49", "#639682", "#d6e6da"}),
        ramp("Sandstone", {"#4a2f20", "#8c6445", "#bf9669", "#dec097", "#f4e4c8"}),
    };
    return ramps;
}

}  // namespace loom
