// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Try sheets from the command line, as a process.
#include <cmath>

#include "core/files/picture.h"
#include "core/files/sheet.h"
#include "core/recipe/container.h"
#include "tests/batch/batch.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

std::string small_recipe(const TemporaryFolder& folder) {
    Join join;
    join.blend = Blend::multiply;
    LoomFile file;
    file.recipe = recipe_of(
        {strand_of("a", {{"clouds", {}, 4}, {"levels", {{"in-black", 0.2}}}}), strand_of("b", {{"static", {}, 7}}, join)});
    file.recipe.name = "Trial";
    REQUIRE(write_loom(folder.path("t.loom"), file));
    return folder.path("t.loom");
}

Bundle sheet(const std::string& arguments, const TemporaryFolder& folder) {
    const Ran ran = batch("sheet " + small_recipe(folder) + " " + arguments + " -o " + folder.path("s.png"));
    INFO(arguments << ": " << ran.err);
    REQUIRE(ran.code == 0);
    auto picture = read_picture(folder.path("s.png"));
    REQUIRE(picture);
    return *picture;
}

/// Pictures of so many pixels in rows and columns with the margins of a sheet; heads and sides take room besides.
Size least_size(int columns, int rows, int side) {
    return {columns * side + (columns - 1) * 12 + 48, rows * side + (rows - 1) * 12 + 48};
}

}  // namespace

TEST_CASE("a sheet shows one value varied, or two as columns and rows", "[batch][sheet]") {
    const TemporaryFolder folder;
    const Bundle one = sheet("--vary a/s2.in-black=0..0.8:6 --size 40 --columns 3", folder);
    CHECK(one.size().width == least_size(3, 2, 40).width);
    CHECK(one.size().height > least_size(3, 2, 40).height);
    const Bundle two = sheet("--vary a/s2.in-black=0..0.8:3 --vary a/s1.octaves=1..4:4 --size 40", folder);
    CHECK(two.size().width > least_size(3, 4, 40).width);
    CHECK(two.size().height > least_size(3, 4, 40).height);
    // The darker the black point the darker the picture: columns differ, and captions are written.
    const auto mean = [&](int column) {
        double sum = 0;
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 40; ++x) sum += one.channel(0).at(24 + column * 52 + x, one.size().height - 24 - 22 - 40 + y);
        return sum / 1600;
    };
    CHECK(mean(0) > mean(2) + 0.02);
    double ink = 0;
    for (int x = 24; x < one.size().width - 24; ++x)
        for (int y = one.size().height - 24 - 20; y < one.size().height - 24; ++y) ink += one.channel(0).at(x, y) < 0.5f;
    CHECK(ink > 20);
}

TEST_CASE("seeds, blends, steps, choices and colourways make sheets too", "[batch][sheet]") {
    const TemporaryFolder folder;
    CHECK(sheet("--vary seed:4 --size 32", folder).size().width == least_size(2, 2, 32).width);
    CHECK(sheet("--vary a/s1.seed:3 --size 32 --columns 3", folder).size().width == least_size(3, 1, 32).width);
    CHECK(sheet("--vary blend@b --size 32 --columns 8", folder).size().width == least_size(8, 4, 32).width);
    CHECK(sheet("--vary steps@a --size 32 --columns 3", folder).size().width == least_size(3, 1, 32).width);
    CHECK(sheet("--vary a/s1.basis --size 32 --columns 3", folder).size().width == least_size(3, 1, 32).width);
    const Ran ran = batch("sheet " + sample("carriage-oak") + " --vary colourways --size 32 -o " + folder.path("w.png"));
    INFO(ran.err);
    CHECK(ran.code == 0);
}

TEST_CASE("a sheet that cannot be made is refused with one line and leaves nothing", "[batch][sheet][faults]") {
    const TemporaryFolder folder;
    const std::string recipe = small_recipe(folder);
    const std::pair<const char*, const char*> wrong[] = {{"--vary a/s2.in-black=0..0.8", "FROM..TO:COUNT"},
                                                         {"--vary a/s2.in-black=0..7:3", "in-black"},
                                                         {"--vary a/s9.in-black=0..1:3", "s9"},
                                                         {"--vary blend@none", "'none'"},
                                                         {"--vary seed:0", "1 to 1024"},
                                                         {"--vary a/s1.octaves:4", "only seeds"},
                                                         {"--vary nonsense", "must be"},
                                                         {"--vary a/s1.basis=1..2:3", "only numbers"},
                                                         {"--vary colourways", "nothing to show"},
                                                         {"--vary seed:900 --vary a/s1.seed:900", "too large"}};
    for (const auto& [arguments, words] : wrong) {
        const Ran ran = batch("sheet " + recipe + " " + std::string(arguments) + " -o " + folder.path("x.png"));
        INFO(arguments << ": " << ran.err);
        CHECK(ran.code == 2);
        CHECK(lines_in(ran.err) == 1);
        CHECK_THAT(ran.err, Catch::Contains(words));
    }
    CHECK(folder.files().size() == 1);
}

TEST_CASE("a sheet frames the present picture and stays within what can be drawn", "[sheet]") {
    Sheet plan;
    plan.columns = 2, plan.marked = 1;
    for (int k = 0; k < 3; ++k) plan.pictures.push_back(Bundle::of(Plane({20, 20}, 0.2f * static_cast<float>(k))));
    plan.captions = {"one", "two & <three>", "a caption that is far too long for so small a picture"};
    const auto whole = sheet_picture(plan);
    REQUIRE(whole);
    // Red round the second, none round the first.
    CHECK(whole->channel(0).at(24 + 32 - 2, 24 + 10) > whole->channel(1).at(24 + 32 - 2, 24 + 10) + 0.3f);
    CHECK(whole->channel(0).at(24 - 2, 24 + 10) == Approx(whole->channel(1).at(24 - 2, 24 + 10)));
    CHECK(whole->channel(0).at(24 + 10, 24 + 10) == 0);
    plan.pictures.assign(40, Bundle::of(Plane({1000, 2}, 0.5f)));
    plan.columns = 40, plan.captions.clear();
    const auto large = sheet_picture(plan);
    REQUIRE_FALSE(large);
    CHECK_THAT(large.error().message, Catch::Contains("32767"));
}
