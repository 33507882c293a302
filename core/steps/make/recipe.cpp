// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/catalogue/maps.h"
#include "core/structures/laid.h"

namespace loom {

namespace recipe_step {
namespace {

enum class Output { colour, height, roughness, metalness };

struct Settings {
    std::string file;
    Output map = Output::colour;
    std::string colourway;
    Inputs dials;
    double scale = 100;
    double x = 0, y = 0;
};

constexpr Map maps[] = {Map::colour, Map::height, Map::roughness, Map::metalness};

std::vector<Choice> map_choices() {
    std::vector<Choice> choices;
    for (Map map : maps) choices.push_back({map_info(map).id, map_info(map).title});
    return choices;
}

Inner inner(const Settings& s) {
    return {std::string(map_id(maps[static_cast<std::size_t>(s.map)])), s.colourway, s.dials, s.scale};
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* cloth = context.other("file");
    if (!cloth || cloth->empty()) return Bundle::nothing(context.size);
    const Size size = context.size, own = cloth->size();
    // It was rendered so that this many of it fill the picture.
    const int across = std::max(1, (size.width + own.width / 2) / own.width),
              down = std::max(1, (size.height + own.height / 2) / own.height);
    return laid(
        *cloth, size,
        [&](double u, double v, double& x, double& y) {
            x = (u - s.x / 100) * across * own.width - 0.5;
            y = (v - s.y / 100) * down * own.height - 0.5;
            x -= std::floor((x + 0.5) / own.width) * own.width, y -= std::floor((y + 0.5) / own.height) * own.height;
            // Pixels that fall onto pixels are taken as they are.
            if (std::abs(x - std::round(x)) < 1e-6) x = std::round(x);
            if (std::abs(y - std::round(y)) < 1e-6) y = std::round(y);
        },
        {}, *context.job);
}

}  // namespace
}  // namespace recipe_step

StepDescription describe_recipe() {
    using namespace recipe_step;
    StepDescription base;
    base.id = "recipe", base.title = "Recipe", base.family = Family::make;
    base.summary = "The cloth of another recipe, kept inside this one.";
    base.words = "texture material nested another insert reuse";
    base.tiles = Tiling::depends;
    base.tiles_note = "it repeats if the recipe within does";
    base.headline = {"map", "scale"};
    const Range share{-100, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .recipe("file", "Recipe", &Settings::file, "The recipe; it is copied into this one as it is now.", inner)
        .choice("map", "Map", &Settings::map, map_choices(), "What to take of it.")
        .text("colourway", "Colourway", &Settings::colourway, "One of its colourways, or nothing for its own colours.")
        .inputs("dials", "Dials", &Settings::dials, "Its dials, where they are to stand elsewhere than in the recipe itself.",
                [](const Settings& s) { return s.dials; })
        .number("scale", "Scale", &Settings::scale, {1, 1000, Unit::percent, 400, Scale::root},
                "Size of its tile beside this one; rounded so that whole ones fill the tile.")
        .number("x", "Right", &Settings::x, share, "How far to the right, as a share of the tile.")
        .number("y", "Down", &Settings::y, share, "How far down, as a share of the tile.")
        .shape([](const Settings&, Shape) {
            return Shape{3, true};
        })
        .notice([](const Settings& s) { return std::string(s.file.empty() ? "No recipe is chosen yet." : ""); })
        .needs_whole()
        .run(run);
}

}  // namespace loom
