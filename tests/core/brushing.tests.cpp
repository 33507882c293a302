// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Brushing: what is read from lines of known direction, how several meet, what is written of it, and what light makes of it.
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/files/packed_bands.h"
#include "core/files/material.h"
#include "core/maps/lit.h"
#include "core/recipe/edits.h"
#include "core/structures/brushing.h"
#include "tests/support/exported.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Waves of so many periods across and down; lines of equal tone run along (down, across), y up.
Bundle waves(Size size, int across, int down) {
    Plane plane(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            plane.row(y)[x] = static_cast<float>(0.5 + 0.4 * std::sin(2 * pi *
                                                                      (static_cast<double>(across) * x / size.width +
                                                                       static_cast<double>(down) * y / size.height)));
    return Bundle::of(std::move(plane));
}

struct Brushed {
    double x, y, strength;
    /// Of the angle between two directions without a sign.
    double away(double degrees) const { return std::abs(x * std::sin(degrees * pi / 180) - y * std::cos(degrees * pi / 180)); }
};
Brushed at(const Bundle& map, int x, int y) {
    return {2.0 * map.channel(0).at(x, y) - 1, 2.0 * map.channel(1).at(x, y) - 1, map.channel(2).at(x, y)};
}

Bundle uniform(Size size, double degrees, float strength, float cover) {
    const auto value = [&](double v) { return Plane(size, static_cast<float>(v) * strength * cover); };
    Bundle bundle = Bundle::of(value(std::cos(2 * degrees * pi / 180)), value(std::sin(2 * degrees * pi / 180)), value(1));
    if (cover < 1) bundle.coverage = share(Plane(size, cover));
    return bundle;
}

Recipe brushed_recipe(double direction, int size = 128) {
    Strand strand = strand_of("a", {{"static", {}, 3}, {"directional", {{"length", 60.0}, {"direction", direction}}}});
    strand.routes[Map::brushing] = {};
    return recipe_of({strand}, size);
}

}  // namespace

TEST_CASE("lines of any direction are read as they run, whatever the slope's sign", "[brushing]") {
    const Size size{96, 96};
    const std::pair<int, int> ways[] = {{8, 0}, {0, 8}, {7, 7}, {7, -7}, {9, 4}, {-3, 9}, {4, -9}};
    for (const auto& [across, down] : ways) {
        INFO(across << " " << down);
        const Bundle map = brushing_map(brushing_of(waves(size, across, down), 4, job), job);
        for (const auto& [x, y] : {std::pair{0, 0}, {40, 17}, {95, 95}}) {
            const Brushed found = at(map, x, y);
            CHECK(found.away(std::atan2(across, down) * 180 / pi) < 0.02);
            CHECK(std::hypot(found.x, found.y) == Approx(1).margin(1e-4));
            CHECK(found.strength > 0.98);
        }
    }
    // Waves both ways, and nothing at all, have no direction.
    const Bundle one = waves(size, 8, 0), other = waves(size, 0, 8);
    Plane both = one.channel(0).alike();
    for (std::size_t i = 0; i < both.count(); ++i) both.data()[i] = (one.channel(0).data()[i] + other.channel(0).data()[i]) / 2;
    CHECK(at(brushing_map(brushing_of(Bundle::of(std::move(both)), 8, job), job), 30, 30).strength < 0.1);
    CHECK(at(brushing_map(brushing_of(Bundle::of(Plane(size, 0.4f)), 4, job), job), 30, 30).strength < 1e-3);
}

TEST_CASE("the rim of a form does not count as a line", "[brushing]") {
    const Size size{96, 96};
    Bundle form = waves(size, 8, 0);
    Plane cover(size), covered = form.channel(0).alike();
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            cover.row(y)[x] = y >= 30 && y < 70 ? 1.0f : 0.0f;
            covered.row(y)[x] = form.channel(0).row(y)[x] * cover.row(y)[x];
        }
    form.colour = {share(std::move(covered))}, form.coverage = share(std::move(cover));
    const Bundle brushing = brushing_of(form, 4, job);
    const Bundle map = brushing_map(brushing, job);
    for (int y : {30, 31, 50, 69}) {
        INFO(y);
        CHECK(at(map, 20, y).away(90) < 0.02);
        CHECK(at(map, 20, y).strength > 0.95);
    }
    CHECK(at(map, 20, 10).strength == 0);
}

TEST_CASE("brushings meet by share and blend, and take strength from each other where they cross", "[brushing]") {
    const Size size{4, 4};
    const auto met = [&](const Bundle& under, const Bundle& over, Blend blend, float amount) {
        Joining joining;
        joining.settings = {blend, amount, false};
        joining.tile = size;
        return at(brushing_map(brushings_joined(under, over, joining, job), job), 1, 1);
    };
    const Bundle right = uniform(size, 0, 0.8f, 1), up = uniform(size, 90, 0.8f, 1), none = uniform(size, 0, 0, 1);
    CHECK(met(right, up, Blend::normal, 1).away(90) < 1e-3);
    CHECK(met(right, up, Blend::normal, 1).strength == Approx(0.8).margin(1e-4));
    CHECK(met(right, up, Blend::normal, 0.5f).strength == Approx(0).margin(1e-4));
    CHECK(met(right, uniform(size, 60, 0.8f, 1), Blend::normal, 0.5f).away(30) < 1e-3);
    CHECK(met(none, uniform(size, 130, 0.6f, 0.5f), Blend::normal, 1).strength == Approx(0.3).margin(1e-4));
    CHECK(met(none, uniform(size, 130, 0.6f, 0.5f), Blend::normal, 1).away(130) < 1e-3);
    CHECK(met(right, uniform(size, 0, 0.5f, 1), Blend::multiply, 1).strength == Approx(0.4).margin(1e-4));
    // Never more than all, and what is added where nothing was is what it was.
    CHECK(met(right, uniform(size, 0, 0.8f, 1), Blend::plus, 1).strength == Approx(1).margin(1e-4));
    CHECK(met(none, up, Blend::plus, 0.5f).strength == Approx(0.4).margin(1e-4));
}

TEST_CASE("a strand of drawn out grains feeds the brushing map the way it was drawn, at every size", "[brushing][maps]") {
    const Wanted wanted{Wanted::What::map, "", "", Map::brushing};
    for (double direction : {0.0, 90.0, 35.0})
        for (int size : {128, 256}) {
            INFO(direction << " at " << size);
            const auto rendered = render(brushed_recipe(direction), {size, size}, {wanted}, {}, job);
            REQUIRE(rendered);
            const Bundle& map = rendered->results.at(wanted);
            double away = 0, strength = 0;
            for (int k = 0; k < 64; ++k) {
                const Brushed found = at(map, k % 8 * size / 8, k / 8 * size / 8);
                away += found.away(direction) / 64, strength += found.strength / 64;
            }
            CHECK(away < 0.1);
            CHECK(strength > 0.6);
        }
    // Nothing feeds it: nothing is brushed.
    const Recipe bare = with_route(brushed_recipe(0), "a", Map::brushing, std::nullopt);
    const auto rendered = render(bare, {32, 32}, {wanted}, {}, job);
    REQUIRE(rendered);
    CHECK(at(rendered->results.at(wanted), 7, 7).strength == 0);
    CHECK(at(rendered->results.at(wanted), 7, 7).x == Approx(1));
}

TEST_CASE("a brushed ball mirrors the lamp as a streak across the brushing", "[brushing][lit]") {
    const Size size{160, 160};
    LitLight light;
    light.direction = 90, light.elevation = 80;
    const LitGeometry ball = lit_geometry(LitShape::ball, size, 2, 1);
    // Mean distances of bright pixels from their middle, across and up.
    const auto spread = [&](double degrees, float strength) {
        LitMaps maps;
        const Size tile{16, 16};
        maps.colour = Bundle::of(Plane(tile, 0.8f), Plane(tile, 0.8f), Plane(tile, 0.8f));
        maps.roughness = share(Plane(tile, 0.45f)), maps.metalness = share(Plane(tile, 1.0f));
        maps.brushing = brushing_map(uniform(tile, degrees, strength, 1), job);
        const auto pixels = lit_picture(LitMaterial(maps, job), ball, light, 0, job);
        std::uint32_t brightest = 0;
        for (std::uint32_t pixel : pixels) brightest = std::max(brightest, pixel >> 8 & 255);
        double n = 0, sx = 0, sy = 0, xx = 0, yy = 0;
        for (std::size_t i = 0; i < pixels.size(); ++i) {
            if ((pixels[i] >> 8 & 255) * 100 < brightest * 85) continue;
            const auto x = static_cast<double>(i % 160), y = static_cast<double>(i / 160);
            n += 1, sx += x, sy += y, xx += x * x, yy += y * y;
        }
        return std::pair{std::sqrt(xx / n - sx / n * sx / n), std::sqrt(yy / n - sy / n * sy / n)};
    };
    const auto [level_x, level_y] = spread(0, 0);
    const auto [along_x, along_y] = spread(0, 0.9f);
    const auto [up_x, up_y] = spread(90, 0.9f);
    CHECK(along_y / along_x > 1.5 * level_y / level_x);
    CHECK(up_x / up_y > 1.5 * level_x / level_y);
}

TEST_CASE("materials take brushing along where there is some, pointing up whatever the pictures do", "[brushing][export]") {
    const TemporaryFolder folder;
    ExportPreset preset;
    preset.pictures = {{Map::brushing, "", {}, PictureFormat::png}};
    preset.green_down = true;
    preset.sizes = {64};
    for (Material material : {Material::gltf, Material::materialx}) {
        preset.material = material;
        const auto runs = export_runs(brushed_recipe(35), preset, folder.path());
        REQUIRE(runs);
        const auto written = exported(runs->front());
        INFO((written ? std::string() : written.error().message));
        REQUIRE(written);
        CHECK(std::count_if(runs->front().files.begin(), runs->front().files.end(),
                            [](const MapFile& file) { return file.picture.map == Map::brushing; }) == 2);
        const auto text = read_file(runs->front().material_path, 1 << 20);
        REQUIRE(text);
        if (material == Material::gltf) {
            const auto document = nlohmann::json::parse(*text);
            const auto& brushing = document["materials"][0]["extensions"]["KHR_materials_anisotropy"];
            CHECK(brushing["anisotropyStrength"] == 1);
            CHECK(brushing["anisotropyRotation"].get<double>() == Approx(pi / 2));
            CHECK(document["images"][brushing["anisotropyTexture"]["index"].get<std::size_t>()]["uri"].get<std::string>().find(
                      "material-brushing") != std::string::npos);
        } else {
            CHECK(text->find("specular_anisotropy") != std::string::npos);
            CHECK(text->find("specular_rotation") != std::string::npos);
        }
    }
    const Recipe bare = with_route(brushed_recipe(35), "a", Map::brushing, std::nullopt);
    for (const ExportPicture& picture : material_pictures(Material::gltf, bare)) CHECK(picture.map != Map::brushing);
    const Bundle up = brushing_map(uniform({2, 2}, 35, 1, 1), job), down = with_green_down(up);
    CHECK(down.channel(1).at(0, 0) == Approx(1 - up.channel(1).at(0, 0)));
    for (const char* word : {"brushing-x", "1-brushing", "brushing-y"}) CHECK(channel_text(*find_channel(word)) == word);
}
