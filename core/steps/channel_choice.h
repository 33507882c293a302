// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The "channel" parameter that several tuning steps share.
#pragma once

#include <vector>

#include "core/catalogue/description.h"

namespace loom {

enum class Channels { all, red, green, blue, lightness };

inline std::vector<Choice> channel_choices() {
    return {{"all", "All"}, {"red", "Red"}, {"green", "Green"}, {"blue", "Blue"}, {"lightness", "Lightness"}};
}
constexpr std::string_view channel_help =
    "Which channels change. Lightness (OKLab's, as a tone) changes alone: hue stays, and chroma as far as the screen can show "
    "it.";

/// One channel alone makes a grey picture coloured.
inline Shape chosen_shape(Channels channel, Shape in) {
    return {channel == Channels::all || channel == Channels::lightness ? in.channels : 3, in.coverage};
}

/// Lightness as the tone of the grey that looks as light.
float lightness_tone(const Colour& colour);
/// The colour with another such tone, in hue and, as far as can be shown, in chroma as it is.
Colour with_lightness_tone(const Colour& colour, float tone);

/// Calls `change` with the values of each chosen channel.
template <class Change>
void for_chosen(Channels channel, PixelRow& row, Change&& change) {
    if (channel == Channels::all || (channel == Channels::lightness && row.channels == 1)) {
        for (int c = 0; c < row.channels; ++c) change(row.channel[c]);
        return;
    }
    if (channel == Channels::lightness) {
        const auto colour = [&](int x) { return Colour{row.channel[0][x], row.channel[1][x], row.channel[2][x]}; };
        std::vector<float> before(static_cast<std::size_t>(row.count));
        for (int x = 0; x < row.count; ++x) before[static_cast<std::size_t>(x)] = lightness_tone(colour(x));
        std::vector<float> after = before;
        change(after.data());
        for (int x = 0; x < row.count; ++x) {
            const auto k = static_cast<std::size_t>(x);
            // What keeps its lightness stays exactly.
            if (after[k] == before[k]) continue;
            const Colour lit = with_lightness_tone(colour(x), after[k]);
            row.channel[0][x] = lit.red, row.channel[1][x] = lit.green, row.channel[2][x] = lit.blue;
        }
        return;
    }
    row.to_colour();
    change(row.channel[static_cast<int>(channel) - 1]);
}

}  // namespace loom
