// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The rooms in which a cloth can be lit: said once for recipe files, the window and the light itself.
#pragma once

#include <string_view>

namespace loom {

enum class Room { workshop, platform, signal, store };

struct RoomInfo {
    Room room;
    std::string_view id, title;
};
constexpr RoomInfo room_table[] = {
    {Room::workshop, "workshop", "Workshop: a soft ceiling and tall windows"},
    {Room::platform, "platform", "Platform: an overcast sky"},
    {Room::signal, "signal-box", "Signal box: windows all round"},
    {Room::store, "lamp-store", "Lamp store: dark, with small warm lamps"},
};

}  // namespace loom
