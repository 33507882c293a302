// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a recipe is written to: names, packed channels, presets in the file, materials, and that nothing is left half-written.
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/files/gltf.h"
#include "core/files/packed_bands.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "tests/support/exported.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Something in every map: two strands with routes, a colourway of each kind of light.
Recipe material_recipe() {
    Recipe recipe = recipe_of({strand_of("a", {{"clouds", {{"size-x", 40.0}}, 1}, {"gradientmap", {}}}),
                               strand_of("b", {{"cells", {{"size", 30.0}}, 2}}, {Blend::soft_light, 60, false})},
                              96);
    recipe.name = "Test tile";
    Strand first = *recipe.strands[0];
    first.routes[Map::height] = {}, first.routes[Map::roughness] = {Blend::normal, 70};
    recipe.strands[0] = std::make_shared<const Strand>(first);
    Strand second = *recipe.strands[1];
    second.routes[Map::metalness] = {}, second.routes[Map::height] = {Blend::plus, 20};
    recipe.strands[1] = std::make_shared<const Strand>(second);
    recipe.tile.wide_cm = 20;
    const Address at{"a", "s1", "size-x"};
    recipe.colourways = {{"Fine", {{at, Value(20.0)}}}, {"Broad", {{at, Value(90.0)}}}};
    return recipe;
}

ExportPicture pack_of(std::vector<std::string> words, PictureFormat format = PictureFormat::png16) {
    ExportPicture picture;
    picture.pack = "packed", picture.format = format;
    for (const std::string& word : words) picture.channels.push_back(*find_channel(word));
    return picture;
}

ExportPreset preset_of(std::vector<ExportPicture> pictures) {
    ExportPreset preset;
    preset.name = "Trial", preset.pictures = std::move(pictures);
    return preset;
}

std::vector<std::string> names_of(const Result<std::vector<ExportRun>>& runs, const std::string& folder) {
    std::vector<std::string> names;
    for (const ExportRun& run : *runs)
        for (const std::string& path : run.paths()) names.push_back(path.substr(folder.size() + 1));
    return names;
}

}  // namespace

TEST_CASE("names follow their pattern, and those that cannot be are refused in a line", "[export]") {
    const ExportWords words{"Stoker's Denim", "normal", "Deep blue", 2048, 1024};
    CHECK(*export_name("{name}-{map}", words) == "stokers-denim-normal");
    CHECK(*export_name("{colourway}/{name}_{size}_{width}x{height}", words) == "deep-blue/stokers-denim_2048_2048x1024");
    CHECK(*export_name("plain", words) == "plain");
    CHECK(*export_name("{colourway}", {"n", "m", "", 1, 1}) == "plain");
    for (const char* pattern : {"", "../{name}", "a/../b", "/etc/{name}", "{name}/", "{nme}", "{name", "a\\b", "a\nb", "."}) {
        INFO(pattern);
        const auto refused = export_name(pattern, words);
        REQUIRE_FALSE(refused);
        CHECK(lines_in(refused.error().message + "\n") == (std::string(pattern) == "a\nb" ? 2 : 1));
    }
}

TEST_CASE("an export is one run for each colourway and size, and no two files have one name", "[export]") {
    const Recipe recipe = material_recipe();
    ExportPreset preset = preset_of({{Map::colour, "", {}, PictureFormat::png}, {Map::normal, "", {}, PictureFormat::exr}});
    CHECK(names_of(export_runs(recipe, preset, "out"), "out") ==
          std::vector<std::string>{"test-tile-colour.png", "test-tile-normal.exr"});
    preset.sizes = {32, 64}, preset.every_colourway = true, preset.pictures.pop_back();
    CHECK(names_of(export_runs(recipe, preset, "out"), "out") ==
          std::vector<std::string>{"test-tile-fine-colour-32.png", "test-tile-fine-colour-64.png",
                                   "test-tile-broad-colour-32.png", "test-tile-broad-colour-64.png"});
    const auto runs = export_runs(recipe, preset, "out");
    CHECK(as<double>(*value_at((*runs)[2].recipe, {"a", "s1", "size-x"})) == 90);
    CHECK((*runs)[1].size == Size{64, 64});
    for (const char* pattern : {"{name}-{size}", "{name}-{colourway}"}) {
        preset.names = pattern;
        const auto clash = export_runs(recipe, preset, "out");
        REQUIRE_FALSE(clash);
        CHECK_THAT(clash.error().message, Catch::Contains("two files would be called"));
    }
    preset = preset_of({});
    CHECK_FALSE(export_runs(recipe, preset, "out"));
    preset = preset_of({pack_of({"", ""})});
    CHECK_FALSE(export_runs(recipe, preset, "out"));
    preset = preset_of({{Map::colour, "", {}, PictureFormat::png}});
    preset.sizes = {greatest_picture + 1};
    CHECK_THAT(export_runs(recipe, preset, "out").error().message,
               Catch::Contains("a size of 16385 pixels") && Catch::Contains("from 1 to 16384"));
    // What is said is what was asked for.
    CHECK_THAT(export_runs(recipe, preset, "out", Size{20000, 20001}).error().message,
               Catch::Contains("a size of 20000x20001 pixels"));
    CHECK_THAT(export_runs(recipe, preset, "out", Size{0, 5}).error().message, Catch::Contains("0x5"));
}

TEST_CASE("packed pictures hold the maps they name, whole or from 1, whether bands come together or not", "[export]") {
    const Recipe recipe = material_recipe();
    const Size size{96, 96};
    std::vector<Wanted> wanted{{}};
    for (Map map : {Map::height, Map::roughness, Map::metalness, Map::normal}) wanted.push_back({Wanted::What::map, "", "", map});
    const auto whole = render(recipe, size, wanted, {}, job);
    REQUIRE(whole);
    const auto map = [&](std::size_t k) -> const Bundle& { return whole->results.at(wanted[k]); };
    const TemporaryFolder folder;
    const std::vector<MapFile> files{{pack_of({"roughness", "metalness", "1-height"}), folder.path("three.png")},
                                     {pack_of({"red", "", "normal-y", "roughness"}), folder.path("four.png")},
                                     {pack_of({"height"}), folder.path("one.png")}};
    for (const RenderWay way : {RenderWay::whole, RenderWay::bands}) {
        RenderOptions options;
        options.way = way;
        FilesTogether together;
        REQUIRE(write_maps(recipe, size, files, together, options, job));
        REQUIRE(together.finish());
        const auto three = read_picture(folder.path("three.png")), four = read_picture(folder.path("four.png")),
                   one = read_picture(folder.path("one.png"));
        REQUIRE((three && four && one));
        constexpr double step = 0.51 / 65535;
        CHECK(greatest_difference(three->channel(0), map(2).channel(0)) <= step);
        CHECK(greatest_difference(three->channel(1), map(3).channel(0)) <= step);
        CHECK(one->grey());
        CHECK(greatest_difference(one->channel(0), map(1).channel(0)) <= step);
        REQUIRE(four->coverage);
        CHECK(greatest_difference(*four->coverage, map(2).channel(0)) <= step);
        double inverse = 0, red = 0, green = 0, y = 0;
        for (int v = 0; v < 96; ++v)
            for (int u = 0; u < 96; ++u) {
                inverse = std::max(inverse, std::abs(three->channel(2).at(u, v) - (1.0 - double(map(1).channel(0).at(u, v)))));
                // Reading multiplies by what stands as alpha; the file itself holds the channel as it is.
                const double alpha = four->coverage->at(u, v);
                if (alpha < 0.01) continue;
                red = std::max(red, std::abs(four->channel(0).at(u, v) / alpha - double(map(0).channel(0).at(u, v))));
                green = std::max(green, std::abs(double(four->channel(1).at(u, v))));
                y = std::max(y, std::abs(four->channel(2).at(u, v) / alpha - double(map(4).channel(1).at(u, v))));
            }
        CHECK(inverse <= step);
        CHECK(red <= 2e-5);
        CHECK(green == 0);
        CHECK(y <= 2e-5);
    }
}

TEST_CASE("bands of a packed picture wait for the map that is behind", "[export]") {
    const Bundle height = random_bundle({8, 20}, 1, false, 1), rough = random_bundle({8, 20}, 2, false, 1);
    const ExportPicture picture = pack_of({"height", "roughness", "height"});
    PackedBands bands(picture, false);
    CHECK_FALSE(bands.add(Map::height, part_of(height, {0, 7})));
    CHECK_FALSE(bands.add(Map::height, part_of(height, {7, 13})));
    std::vector<Rows> rows;
    for (auto band = bands.add(Map::roughness, rough); band; band = bands.next()) {
        rows.push_back(band->rows());
        for (int y = band->rows().first; y < band->rows().end(); ++y) {
            CHECK(band->channel(0).at(3, y) == height.channel(0).at(3, y));
            CHECK(band->channel(1).at(3, y) == rough.channel(0).at(3, y));
        }
    }
    CHECK(rows == std::vector<Rows>{{0, 7}, {7, 13}});
}

TEST_CASE("presets come back from the file as they were, and those of another version stay", "[export][recipe]") {
    Recipe recipe = material_recipe();
    ExportPreset preset =
        preset_of({{Map::colour, "", {}, PictureFormat::tiff}, pack_of({"1-roughness", "", "normal-x", "coverage"})});
    preset.sizes = {512, 4096}, preset.names = "{name}_{map}", preset.material = Material::gltf;
    preset.every_colourway = preset.green_down = true;
    recipe.exports = {preset};
    const Reading back = read_recipe(write_recipe(recipe));
    CHECK(back.findings.empty());
    CHECK(back.recipe == recipe);
    auto json = nlohmann::json::parse(write_recipe(recipe));
    json["export"].push_back({{"name", "Later"}, {"pictures", {{{"map", "subsurface"}, {"format", "png"}}}}, {"depth", 3}});
    const Reading later = read_recipe(json.dump());
    REQUIRE_FALSE(later.first_fault());
    CHECK_FALSE(later.findings.empty());
    CHECK(nlohmann::json::parse(write_recipe(later.recipe))["export"][1] == json["export"][1]);
    const std::pair<const char*, nlohmann::json> faults[] = {
        {"/sizes", {{99999}}}, {"/sizes", {{0.5}}}, {"/green", "left"}, {"/every-colourway", 3}};
    for (const auto& [pointer, value] : faults) {
        auto wrong = nlohmann::json::parse(write_recipe(recipe));
        wrong["export"][0][nlohmann::json::json_pointer(pointer)] = std::string(pointer) == "/sizes" ? value[0] : value;
        const Reading refused = read_recipe(wrong.dump());
        REQUIRE(refused.first_fault());
        CHECK_THAT(refused.first_fault()->pointer, Catch::StartsWith(std::string("/export/0") + pointer));
    }
}

TEST_CASE("a material is written with its pictures, or nothing is", "[export]") {
    const Recipe recipe = material_recipe();
    for (Material material : {Material::glb, Material::gltf, Material::materialx}) {
        INFO(material_info(material).id);
        const TemporaryFolder folder;
        ExportPreset preset = preset_of({{Map::colour, "", {}, PictureFormat::png}});
        preset.material = material, preset.sizes = {48};
        const auto runs = export_runs(recipe, preset, folder.path());
        REQUIRE(runs);
        const auto written = exported(runs->front(), job);
        INFO((written ? std::string() : written.error().message));
        REQUIRE(written);
        std::vector<std::string> names = names_of(runs, folder.path());
        std::sort(names.begin(), names.end());
        CHECK(folder.files() == names);
        for (const ExportedFile& file : written->files) CHECK(file.bytes > 0);
        // One colour picture serves both.
        CHECK(std::count_if(names.begin(), names.end(),
                            [](const std::string& name) { return name.find("colour") != std::string::npos; }) == 1);
        // Given up half way: nothing, not even what came before.
        const TemporaryFolder other;
        Job given_up([&](double) {});
        const auto again = export_runs(recipe, preset, other.path());
        given_up.cancel();
        const auto cancelled = exported(again->front(), given_up);
        REQUIRE_FALSE(cancelled);
        CHECK(cancelled.error().fault == Fault::cancelled);
        CHECK(other.files().empty());
    }
}

TEST_CASE("several runs appear together, and one that is given up takes the others with it", "[export]") {
    const TemporaryFolder folder;
    ExportPreset preset = preset_of({{Map::colour, "", {}, PictureFormat::png}, {Map::height, "", {}, PictureFormat::exr}});
    preset.every_colourway = true, preset.sizes = {48}, preset.material = Material::gltf;
    const auto runs = export_runs(material_recipe(), preset, folder.path());
    REQUIRE(runs);
    REQUIRE(runs->size() == 2);
    REQUIRE(write_file(runs->back().files[0].path, "what was there"));
    const auto before = folder.files();
    {
        FilesTogether together;
        REQUIRE(write_export(runs->front(), together, {}, Job()));
        // Whole and synced, under names of their own.
        CHECK(together.files().size() == runs->front().paths().size());
        CHECK_FALSE(std::filesystem::exists(runs->front().paths().front()));
        Job given_up;
        given_up.cancel();
        const auto second = write_export(runs->back(), together, {}, given_up);
        REQUIRE_FALSE(second);
        CHECK(second.error().fault == Fault::cancelled);
    }
    CHECK(folder.files() == before);
    CHECK(*read_file(runs->back().files[0].path, 100) == "what was there");
    // A place that is taken meanwhile: what was put there before goes away again, what was there is there again.
    FilesTogether together;
    for (const ExportRun& run : *runs) REQUIRE(write_export(run, together, {}, Job()));
    std::filesystem::create_directories(runs->back().material_path + "/in the way");
    CHECK_FALSE(together.finish());
    CHECK_FALSE(std::filesystem::exists(runs->front().paths().front()));
    CHECK(*read_file(runs->back().files[0].path, 100) == "what was there");
    std::filesystem::remove_all(runs->back().material_path);
    CHECK(folder.files() == before);
    FilesTogether again;
    for (const ExportRun& run : *runs) {
        const auto written = write_export(run, again, {}, Job());
        REQUIRE(written);
        REQUIRE(written->files.size() == run.paths().size());
        for (std::size_t k = 0; k < run.paths().size(); ++k) CHECK(written->files[k].path == run.paths()[k]);
    }
    REQUIRE(again.finish());
    std::vector<std::string> all = names_of(runs, folder.path());
    std::sort(all.begin(), all.end());
    CHECK(folder.files() == all);
}

TEST_CASE("what waits for a packed picture counts against the memory that is allowed", "[export][memory]") {
    ExportPreset preset = preset_of({pack_of({"occlusion", "roughness", "metalness"})});
    preset.sizes = {96};
    const TemporaryFolder folder;
    const auto runs = export_runs(material_recipe(), preset, folder.path());
    REQUIRE(runs);
    RenderOptions options;
    options.threads = 1;
    const std::size_t all = announced_bytes(runs->front(), options, Job()), waiting = 3 * 96 * 96 * sizeof(float);
    for (const auto& [limit, fits] : {std::pair{all, true}, {all - waiting / 2, false}}) {
        FilesTogether together;
        options.memory_limit = limit;
        const auto written = write_export(runs->front(), together, options, Job());
        CHECK(static_cast<bool>(written) == fits);
        if (!written) CHECK(written.error().fault == Fault::memory);
    }
    CHECK(folder.files().empty());
}

TEST_CASE("what a glTF says of its tile is the tile's size, and its ball is round and closed", "[export]") {
    const GltfMesh tile = tile_mesh(0.2, 0.1);
    CHECK(tile.least == std::vector<float>{-0.1f, -0.05f, 0});
    CHECK(tile.most == std::vector<float>{0.1f, 0.05f, 0});
    const GltfMesh ball = ball_mesh(0.2, 0.1);
    const double radius = 4 * 0.2 / (2 * 3.14159265358979);
    for (const GltfMesh* mesh : {&tile, &ball})
        for (std::size_t k = 0; k < mesh->triangles.size(); k += 3) {
            // Each triangle is seen from where its normals point.
            double edge[2][3], across[3], facing = 0, area = 0;
            for (int e = 0; e < 2; ++e)
                for (std::size_t c = 0; c < 3; ++c)
                    edge[e][c] = mesh->places[3 * mesh->triangles[k + 1 + static_cast<std::size_t>(e)] + c] -
                                 mesh->places[3 * mesh->triangles[k] + c];
            for (std::size_t c = 0; c < 3; ++c) {
                const std::size_t d = (c + 1) % 3, f = (c + 2) % 3;
                across[c] = edge[0][d] * edge[1][f] - edge[0][f] * edge[1][d];
                facing +=
                    across[c] * double(mesh->normals[3 * mesh->triangles[k] + c] + mesh->normals[3 * mesh->triangles[k + 1] + c] +
                                       mesh->normals[3 * mesh->triangles[k + 2] + c]);
                area += across[c] * across[c];
            }
            CHECK(facing > 0);
            CHECK(area > 0);
        }
    for (std::size_t k = 0; k < ball.places.size(); k += 3)
        CHECK(std::hypot(ball.places[k], ball.places[k + 1], ball.places[k + 2]) == Approx(radius).epsilon(1e-4));
}

TEST_CASE("an estimate is near what writing then takes", "[export]") {
    const Recipe recipe = material_recipe();
    const TemporaryFolder folder;
    ExportPreset preset = preset_of({{Map::colour, "", {}, PictureFormat::png16}, {Map::height, "", {}, PictureFormat::exr}});
    preset.sizes = {768}, preset.material = Material::glb;
    const auto runs = export_runs(recipe, preset, folder.path());
    REQUIRE(runs);
    const auto estimate = estimated(*runs, {}, job);
    REQUIRE(estimate);
    REQUIRE(estimate->bytes.size() == 3);
    const auto written = exported(runs->front(), job);
    REQUIRE(written);
    REQUIRE(written->files.size() == 3);
    for (std::size_t k = 0; k < 3; ++k) {
        INFO(written->files[k].path);
        CHECK(estimate->bytes[k] > 0.5 * static_cast<double>(written->files[k].bytes));
        CHECK(estimate->bytes[k] < 2.5 * static_cast<double>(written->files[k].bytes));
    }
    CHECK(announced_bytes(runs->front(), {}, Job()) > 0);
    CHECK(folder.files().size() == 3);
}

TEST_CASE("a strand that hardly covers hardly raises the height map", "[maps]") {
    Strand domes = strand_of("b", {{"cells", {{"show", std::string("dome")}, {"size", 30.0}}, 2}});
    Step thin;
    thin.id = "m1", thin.kind = "flat", thin.set["colour"] = Value(Colour{0.01f, 0.01f, 0.01f});
    domes.mask.push_back(thin);
    domes.routes[Map::height] = {};
    const Recipe recipe = recipe_of({strand_of("a", {{"flat", {}, 1}}), domes}, 96);
    const auto rendered = render(recipe, {96, 96}, {{Wanted::What::map, "", "", Map::height}}, {}, Job());
    REQUIRE(rendered);
    for (const float value :
         {rendered->results.begin()->second.channel(0).at(10, 10), rendered->results.begin()->second.channel(0).at(60, 40)})
        CHECK(value == Approx(0.5).margin(0.011));
}
