// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures and recipes that a recipe keeps inside.
#include "core/recipe/assets.h"

#include <cmath>
#include <fstream>

#include "core/base/files.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// A picture whose red grows to the right and whose green grows downwards.
Bundle ramp(Size size) {
    Plane red(size), green(size), blue(size, 0.25f);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            red.row(y)[x] = (static_cast<float>(x) + 0.5f) / static_cast<float>(size.width);
            green.row(y)[x] = (static_cast<float>(y) + 0.5f) / static_cast<float>(size.height);
        }
    return Bundle::of(std::move(red), std::move(green), std::move(blue));
}

Recipe keeping(const std::string& kind, const std::string& name, std::shared_ptr<const Asset> asset, Values set = {},
               int tile = 128) {
    set["file"] = name;
    return with_asset(recipe_of({strand_of("a", {{kind, set}})}, tile), name, std::move(asset));
}

Recipe keeping_picture(const Bundle& picture, const Values& set, int tile = 128) {
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("in.png"), picture, PictureFormat::png16));
    auto bytes = read_kept_picture(folder.path("in.png"));
    REQUIRE(bytes);
    const std::string name = asset_name(*bytes, "png");
    return keeping("image", name, make_asset(name, std::move(*bytes)), set, tile);
}

Result<Rendering> rendered(const Recipe& recipe, Size size) {
    RenderOptions options;
    options.pictures = &picture_reader();
    return render(recipe, size, {Wanted{}}, options, job);
}

Bundle woven(const Recipe& recipe, Size size) {
    auto rendering = rendered(recipe, size);
    REQUIRE(rendering);
    CHECK(rendering->warnings.empty());
    return rendering->results.begin()->second;
}

/// A sample-like recipe with a dial and a colourway, as a file.
std::string inner_file(const TemporaryFolder& folder, int tile = 64) {
    Recipe recipe = recipe_of({strand_of("base", {{"flat", {}}}), strand_of("lines", {{"stripes", {{"size", 16.0}}}})}, tile);
    recipe.name = "Inner";
    Strand lines = *recipe.strands[1];
    lines.join.blend = Blend::multiply;
    lines.routes[Map::height] = {};
    recipe.strands[1] = std::make_shared<const Strand>(lines);
    recipe.dials.push_back({"Share", 50, {{{"lines", "s1", "duty"}, 0, 100}}});
    recipe.colourways.push_back({"Red", {{{"base", "s1", "colour"}, Value(Colour{0.8f, 0.1f, 0.1f})}}});
    LoomFile file;
    file.recipe = recipe;
    REQUIRE(write_loom(folder.path("inner.loom"), file));
    return folder.path("inner.loom");
}

}  // namespace

TEST_CASE("an asset is named by what it holds", "[assets]") {
    // The digest of the empty text and of "abc" stand in FIPS 180-4.
    CHECK(asset_name("", "png") == "assets/e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855.png");
    CHECK(asset_name("abc", "x") == "assets/ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad.x");
    CHECK(extension_in("/a/Wall.PNG") == "png");
    CHECK(extension_in("/a.b/wall") == "picture");
}

TEST_CASE("a picture lies on the tile as its fit says", "[assets][image]") {
    const Bundle in = ramp({200, 100});
    SECTION("stretched") {
        const Bundle out = woven(keeping_picture(in, {{"fit", std::string("stretch")}}), {100, 100});
        CHECK(out.channel(0).at(25, 50) == Approx(25.5 / 100).margin(0.01));
        CHECK(out.channel(1).at(25, 75) == Approx(75.5 / 100).margin(0.01));
    }
    SECTION("whole, with room beside it") {
        const Bundle out = woven(keeping_picture(in, {{"fit", std::string("fit")}}), {128, 128});
        REQUIRE(out.coverage);
        CHECK(out.coverage->at(64, 10) == 0);
        CHECK(out.coverage->at(64, 64) == 1);
        CHECK(out.channel(0).at(32, 64) == Approx(32.5 / 128).margin(0.01));
    }
    SECTION("filling the tile") {
        const Bundle out = woven(keeping_picture(in, {{"fit", std::string("fill")}}), {128, 128});
        CHECK(out.channel(0).at(0, 64) == Approx(0.25).margin(0.01));
        CHECK(out.channel(0).at(127, 64) == Approx(0.75).margin(0.01));
    }
    SECTION("repeated in whole pieces") {
        const Bundle out = woven(keeping_picture(in, {{"fit", std::string("repeat")}}, 410), {410, 410});
        // 410 holds two pictures across and four down.
        CHECK(out.channel(0).at(102, 10) == Approx(0.5).margin(0.02));
        CHECK(out.channel(0).at(307, 10) == Approx(0.5).margin(0.02));
        CHECK(out.channel(1).at(10, 51) == Approx(0.5).margin(0.02));
    }
}

TEST_CASE("closing its edges makes any picture repeat", "[assets][image]") {
    const Bundle in = ramp({160, 160});
    auto jump = [](const Bundle& out) {
        double sum = 0;
        for (int k = 0; k < out.size().height; ++k)
            sum += std::abs(out.channel(0).at(0, k) - out.channel(0).at(out.size().width - 1, k)) +
                   std::abs(out.channel(1).at(k, 0) - out.channel(1).at(k, out.size().height - 1));
        return sum / out.size().height;
    };
    CHECK(jump(woven(keeping_picture(in, {{"fit", std::string("stretch")}}), {128, 128})) > 1.5);
    for (double overlap : {5.0, 30.0})
        CHECK(jump(woven(keeping_picture(in, {{"fit", std::string("stretch")}, {"tile-it", true}, {"overlap", overlap}}),
                         {128, 128})) < 0.2);
}

TEST_CASE("a picture survives in the file, and what nothing names goes when it is saved", "[assets][files]") {
    const TemporaryFolder folder;
    LoomFile file;
    file.recipe = keeping_picture(ramp({30, 20}), {});
    const std::string name = file.recipe.assets.begin()->first;
    REQUIRE(write_loom(folder.path("a.loom"), file));
    const auto back = read_loom(folder.path("a.loom"));
    REQUIRE(back);
    CHECK(back->recipe == file.recipe);
    CHECK(back->recipe.assets.at(name)->bytes == file.recipe.assets.at(name)->bytes);
    CHECK(without_unused_assets(back->recipe).assets.size() == 1);
    const Recipe emptied = step_removed(back->recipe, "a", "s1");
    CHECK(without_unused_assets(emptied).assets.empty());
}

TEST_CASE("pictures that are missing, damaged, too large or none at all are told of and lose nothing", "[assets][refusals]") {
    const TemporaryFolder folder;
    auto text_of = [](const auto& result) { return result ? std::string() : result.error().message; };
    CHECK_THAT(text_of(read_kept_picture(folder.path("none.png"))), Catch::Contains("none.png"));
    std::ofstream(folder.path("note.png")) << "not a picture";
    CHECK_THAT(text_of(read_kept_picture(folder.path("note.png"))), Catch::Contains("no picture"));
    REQUIRE(write_picture(folder.path("whole.png"), ramp({64, 64}), PictureFormat::png));
    const std::string whole = *read_file(folder.path("whole.png"), 1 << 20);
    std::ofstream(folder.path("cut.png"), std::ios::binary) << whole.substr(0, whole.size() / 2);
    CHECK_THAT(text_of(read_kept_picture(folder.path("cut.png"))), Catch::Contains("damaged"));
    REQUIRE(write_picture(folder.path("wide.png"), Bundle::of(Plane({greatest_picture + 1, 1}, 0.5f)), PictureFormat::png));
    CHECK_THAT(text_of(read_kept_picture(folder.path("wide.png"))), Catch::Contains("16384"));

    // A file with a damaged picture opens; the picture is left out with a word.
    const std::string name = asset_name("x", "png");
    for (const std::string& bytes : {std::string("not a picture"), whole.substr(0, whole.size() / 2)}) {
        const auto rendering = rendered(keeping("image", name, make_asset(name, bytes)), {32, 32});
        REQUIRE(rendering);
        REQUIRE(rendering->warnings.size() == 1);
        CHECK_THAT(rendering->warnings[0], Catch::Contains("left out"));
    }
    // One that is not in the file is a fault with its place.
    LoomFile file;
    file.recipe = keeping("image", name, make_asset(name, "x"));
    file.recipe.assets.clear();
    std::filesystem::create_directories(folder.path("folder"));
    REQUIRE(write_loom(folder.path("folder"), file));
    CHECK_THAT(text_of(read_loom(folder.path("folder"))), Catch::Contains("/strands/0/steps/0/set/file"));
    // The memory a picture takes is counted before it is read.
    RenderOptions tight;
    tight.pictures = &picture_reader(), tight.memory_limit = 100000;
    const auto refused = render(keeping_picture(ramp({400, 400}), {}), {32, 32}, {Wanted{}}, tight, job);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().fault == Fault::memory);
}

TEST_CASE("a recipe within a recipe gives its cloth, its maps, its colourways and its dials", "[assets][recipe]") {
    const TemporaryFolder folder;
    std::string name;
    const auto asset = recipe_asset(inner_file(folder), name);
    REQUIRE(asset);
    REQUIRE((*asset)->recipe);
    const Bundle alone = cloth(*(*asset)->recipe, {64, 64});
    auto with = [&](const Values& set, int side = 128) { return woven(keeping("recipe", name, *asset, set), {side, side}); };
    // Two of it across and down, pixel for pixel.
    const Bundle plain = with({});
    for (int y = 0; y < 128; y += 7)
        for (int x = 0; x < 128; x += 5) REQUIRE(plain.channel(0).at(x, y) == alone.channel(0).at(x % 64, y % 64));
    const Bundle moved = with({{"x", 25.0}});
    CHECK(greatest_difference(rolled(plain, 32, 0), moved) < 1e-6);
    CHECK(with({{"map", std::string("height")}}).grey());
    CHECK(mean_of(with({{"colourway", std::string("Red")}}).channel(2)) < mean_of(plain.channel(2)));
    CHECK(mean_of(with({{"dials", Inputs{{"Share", 100, 0, 100, ""}}}}).channel(0)) > 1.5 * mean_of(plain.channel(0)));
    // At 200 % one of it fills the tile; sizes that do not divide still close.
    CHECK(greatest_difference(with({{"scale", 200.0}}, 64), resized(cloth(*(*asset)->recipe, {64, 64}), {64, 64})) < 1e-6);
    CHECK(with({{"scale", 70.0}}, 100).size() == Size{100, 100});
    // What it does not have is told of.
    const auto warned = rendered(keeping("recipe", name, *asset, {{"colourway", std::string("Blue")}}), {32, 32});
    REQUIRE(warned);
    CHECK_THAT(warned->warnings.at(0), Catch::Contains("no colourway 'Blue'"));
}

TEST_CASE("a file keeps its recipes within, and too deep ones and broken ones are refused", "[assets][recipe][files]") {
    const TemporaryFolder folder;
    std::string path = inner_file(folder), name;
    for (int depth = 1; depth <= deepest_recipe + 1; ++depth) {
        auto asset = recipe_asset(path, name);
        if (depth > deepest_recipe) {
            REQUIRE_FALSE(asset);
            CHECK_THAT(asset.error().message, Catch::Contains("deep"));
            break;
        }
        REQUIRE(asset);
        LoomFile outer;
        outer.recipe = keeping("recipe", name, *asset);
        path = folder.path("outer" + std::to_string(depth) + ".loom");
        REQUIRE(write_loom(path, outer));
        const auto back = read_loom(path);
        REQUIRE(back);
        CHECK(recipe_depth(back->recipe) == depth);
        CHECK(rendered(back->recipe, {64, 64})->warnings.empty());
    }
    LoomFile broken;
    broken.recipe = keeping("recipe", "assets/a.loom", make_asset("assets/a.loom", "PK broken"));
    REQUIRE(write_loom(folder.path("broken.loom"), broken));
    const auto back = read_loom(folder.path("broken.loom"));
    REQUIRE_FALSE(back);
    CHECK_THAT(back.error().message, Catch::Contains("no sound recipe"));
}
