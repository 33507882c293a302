// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The "channel" parameter that several tuning steps share.
#pragma once

#include <vector>

#include "core/catalogue/description.h"

namespace loom {

enum class Channels { all, red, green, blue };

inline std::vector<Choice> channel_choices() { return {{"all", "All"}, {"red", "Red"}, {"green", "Green"}, {"blue", "Blue"}}; }
constexpr std::string_view channel_help = "Which channels change.";

/// One channel alone makes a grey picture coloured.
inline Shape chosen_shape(Channels channel, Shape in) { return {channel == Channels::all ? in.channels : 3, in.coverage}; }

/// Calls `change` with the values of each chosen channel.
template <class Change>
void for_chosen(Channels channel, PixelRow& row, Change&& change) {
    if (channel == Channels::all) {
        for (int c = 0; c < row.channels; ++c) change(row.channel[c]);
        return;
    }
    row.to_colour();
    change(row.channel[static_cast<int>(channel) - 1]);
}

}  // namespace loom
