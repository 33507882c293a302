// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Bands of the maps that a picture file reads, brought together into bands of the picture.
#pragma once

#include <deque>
#include <map>
#include <optional>
#include <vector>

#include "core/recipe/export_preset.h"
#include "core/render/plan.h"

namespace loom {

/// The rows of a packed picture from rows of the maps it reads; each of one size and with the same rows. One channel is grey, two
/// and three are red, green and blue; the fourth stands as coverage, and nothing is multiplied by it.
Bundle packed(const ExportPicture& picture, const std::map<Map, Bundle>& maps);
/// Normals, or directions, whose y points down.
Bundle with_green_down(const Bundle& directions);

/// Takes bands as they come, from top to bottom for each map, and gives out what is whole.
class PackedBands {
public:
    PackedBands(ExportPicture picture, bool green_down) : picture_(std::move(picture)), green_down_(green_down) {}
    /// The next rows of the picture, as many as all of its maps have now; nothing if one lags behind. next() has what follows.
    std::optional<Bundle> add(Map map, const Bundle& band);
    std::optional<Bundle> next();

private:
    ExportPicture picture_;
    bool green_down_;
    std::map<Map, std::deque<Bundle>> waiting_;
};

}  // namespace loom
