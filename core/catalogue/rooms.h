// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The rooms in which a cloth can be lit: said once for recipe files, the window and the light itself.
#pragma once

#include <string_view>

namespace loom {

enum class RoomKind { workshop, platform, signal, store };

struct RoomInfo {
    RoomKind room;
    std::string_view id, title;
};
constexpr RoomInfo room_table[] = {
    {RoomKind::workshop, "workshop", "Workshop: a soft ceiling and tall windows"},
    {RoomKind::platform, "platform", "Platform: an overcast sky"},
    {RoomKind::signal, "signal-box", "Signal box: windows all round"},
    {RoomKind::store, "lamp-store", "Lamp store: dark, with small warm lamps"},
};

}  // namespace loom
