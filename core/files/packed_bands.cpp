// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/packed_bands.h"

#include <algorithm>

namespace loom {

namespace {

/// A plane made value by value from another's, or from two.
template <class Of>
PlaneRef made(const Plane& from, Of&& of) {
    Plane to = from.alike();
    for (std::size_t i = 0; i < from.count(); ++i) to.data()[i] = of(i);
    return share(std::move(to));
}

PlaneRef channel_plane(const Channel& channel, const Bundle& from) {
    const Plane& first = *from.colour.front();
    const Plane* cover = from.coverage.get();
    if (channel.of == Channel::Of::coverage) return cover ? from.coverage : made(first, [](std::size_t) { return 1.0f; });
    const bool straightened = cover && !map_info(channel.map).data;
    if (!straightened) return from.colour[from.grey() ? 0 : static_cast<std::size_t>(channel.plane)];
    const Plane& colour = from.channel(channel.plane);
    return made(first, [&](std::size_t i) { return cover->data()[i] > 0 ? colour.data()[i] / cover->data()[i] : 0.0f; });
}

PlaneRef inverse(const Plane& plane) {
    return made(plane, [&](std::size_t i) { return 1 - plane.data()[i]; });
}

}  // namespace

Bundle with_green_down(const Bundle& directions) {
    Bundle turned = directions;
    turned.colour[1] = inverse(*directions.colour[1]);
    return turned;
}

Bundle packed(const ExportPicture& picture, const std::map<Map, Bundle>& maps) {
    const Plane& any = *maps.begin()->second.colour.front();
    std::vector<PlaneRef> planes;
    for (const Channel& channel : picture.channels) {
        const auto from = map_of(channel);
        PlaneRef plane = from ? channel_plane(channel, maps.at(*from)) : made(any, [](std::size_t) { return 0.0f; });
        planes.push_back(channel.inverse ? inverse(*plane) : plane);
    }
    if (planes.size() == 2) planes.push_back(made(any, [](std::size_t) { return 0.0f; }));
    Bundle result;
    if (planes.size() > 3) result.coverage = planes[3];
    result.colour.assign(planes.begin(), planes.begin() + static_cast<std::ptrdiff_t>(std::min<std::size_t>(planes.size(), 3)));
    return result;
}

std::optional<Bundle> PackedBands::add(Map map, const Bundle& band) {
    const Bundle turned = points(map) && green_down_ ? with_green_down(band) : band;
    if (picture_.pack.empty()) return turned;
    waiting_[map].push_back(turned);
    return next();
}

std::optional<Bundle> PackedBands::next() {
    if (waiting_.empty() || waiting_.size() < picture_.reads().size()) return std::nullopt;
    int rows = -1;
    for (const auto& [each, bands] : waiting_) {
        if (bands.empty()) return std::nullopt;
        const int here = bands.front().rows().count;
        rows = rows < 0 ? here : std::min(rows, here);
    }
    std::map<Map, Bundle> maps;
    for (auto& [each, bands] : waiting_) {
        const Rows all = bands.front().rows();
        maps[each] = part_of(bands.front(), {all.first, rows});
        if (all.count == rows)
            bands.pop_front();
        else
            bands.front() = part_of(bands.front(), {all.first + rows, all.count - rows});
    }
    return packed(picture_, maps);
}

}  // namespace loom
