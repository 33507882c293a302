// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What sources hold besides numbers, as the command line gives it: files that are kept, formulas and their inputs, drafts.
#include <algorithm>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/recipe/container.h"
#include "core/recipe/json.h"
#include "tests/batch/batch.h"

using namespace loom;
using namespace loom::test;
using Catch::Contains;

namespace {

/// JSON written with single quotes.
std::string json_of(std::string text) {
    std::replace(text.begin(), text.end(), '\'', '"');
    return text;
}

}  // namespace

TEST_CASE("files that a step keeps are given by their paths, and formulas by their text", "[batch][sources]") {
    const TemporaryFolder folder;
    const std::string picture = folder.path("in.png"), out = folder.path("out");
    REQUIRE(write_picture(picture, random_bundle({64, 48}, 3), PictureFormat::png));
    const std::string made_of = json_of(
        "{'format': 'keen-loom/1', 'name': 'Made', 'tile': {'width': 128, 'height': 128}, 'strands': ["
        "{'id': 'a', 'steps': [{'id': 'p', 'step': 'image', 'set': {'fit': 'repeat'}}]},"
        "{'id': 'f', 'steps': [{'id': 'w', 'step': 'formula', 'set': {'expression': 'speed * u'}}]}]}");
    REQUIRE(write_file(folder.path("r.json"), made_of));
    const std::string render = "render " + folder.path("r.json") + " -o " + out;
    REQUIRE(batch(render + " --set a/p.file=" + picture + " --set f/w.inputs.speed=0.25").code == 0);
    const auto made = read_picture(out + "/made-colour.png");
    REQUIRE(made);
    CHECK(made->channel(0).at(127, 5) == Approx(0.25).margin(0.01));
    check_refused(batch(render + " --set a/p.file=" + folder.path("none.png")), 1, "none.png");
    check_refused(batch(render + " --set f/w.inputs.speed=7"), 2, "from 0 to 1");
    check_refused(batch(render + " --set 'f/w.expression=u * (v'"), 2, "character 7");
    check_refused(batch(render + " --set f/w.inputs.other=1"), 2, "other");

    REQUIRE(batch("apply image --set file=" + picture + " --set fit=stretch --size 64x48 -o " + folder.path("same.png")).code ==
            0);
    CHECK(greatest_difference(*read_picture(folder.path("same.png")), *read_picture(picture)) < 1.0 / 255);
    REQUIRE(batch("apply recipe --set file=" + sample("rail-steel") + " --size 96 -o " + folder.path("steel.png")).code == 0);
    CHECK(read_picture(folder.path("steel.png"))->size() == Size{96, 96});
    check_refused(batch("apply recipe --set file=" + picture + " -o " + folder.path("x.png")), 2, "in.png");
    REQUIRE(batch("apply formula --set 'expression=wave(4 * u)' --size 32 -o " + folder.path("w.png")).code == 0);

    // A formula that is wrong in a file is told of with its place.
    const std::string wrong = json_of(
        "{'format': 'keen-loom/1', 'strands': [{'id': 'f', 'steps': [{'step': 'formula', 'set': {'expression': "
        "'wobble(u)'}}]}]}");
    REQUIRE(write_file(folder.path("bad.json"), wrong));
    const Ran checked = batch("check " + folder.path("bad.json"));
    CHECK(checked.code == 2);
    CHECK_THAT(checked.err, Catch::Contains("/strands/0/steps/0/set/expression") && Catch::Contains("no function 'wobble'"));
}

TEST_CASE("inputs of a formula are reached by --set, dials and colourways", "[batch][sources]") {
    const TemporaryFolder folder;
    REQUIRE(
        write_file(folder.path("r.json"), json_of(R"({'format': 'keen-loom/1', 'name': 'r', 'tile': {'width': 16, 'height': 16},
        'strands': [{'id': 'a', 'steps': [{'id': 's1', 'step': 'formula', 'set': {'expression': 'k + 0 * u'}}]}],
        'dials': [{'name': 'Level', 'drives': [{'at': 'a/s1.inputs.k', 'from': 0, 'to': 1}]}],
        'colourways': [{'name': 'Dark', 'set': {'a/s1.inputs.k': 0.2}}]})")));
    CHECK(batch("check " + folder.path("r.json")).code == 0);
    const std::pair<const char*, double> calls[] = {
        {"", 0.5}, {" --set a/s1.inputs.k=0.8", 0.8}, {" --dial Level=30", 0.3}, {" --colourway Dark", 0.2}};
    for (const auto& [options, tone] : calls) {
        INFO(options);
        const Ran ran = batch("render " + folder.path("r.json") + " -o " + folder.path("out") + options);
        INFO(ran.err);
        REQUIRE(ran.code == 0);
        CHECK(read_picture(folder.path("out/r-colour.png"))->channel(0).at(3, 3) == Approx(tone).margin(0.003));
    }
    check_refused(batch("render " + folder.path("r.json") + " -o " + folder.path("out") + " --set a/s1.inputs.k=2"), 2,
                  "from 0 to 1");
    check_refused(batch("render " + folder.path("r.json") + " -o " + folder.path("out") + " --set a/s1.inputs.z=1"), 2,
                  "inputs.z");
}

TEST_CASE("a draft is given by its rows or as a WIF file, and a damaged one is refused", "[batch][wif]") {
    const TemporaryFolder folder;
    const std::string good = folder.path("plain.wif"), bad = folder.path("bad.wif"), out = folder.path("out.png");
    REQUIRE(write_file(good,
                       "[WIF]\nVersion=1.1\n[WEAVING]\nShafts=2\nRising Shed=yes\n[WARP]\nThreads=4\n[WEFT]\nThreads=2\n"
                       "[THREADING]\n1=1\n2=2\n3=1\n4=2\n[LIFTPLAN]\n1=1\n2=2\n"));
    REQUIRE(write_file(bad, "[WIF]\nVersion=1.1\n[WARP]\nThreads=four\n[WEFT]\nThreads=2\n"));
    const std::string weave = "apply weave --size 64 --set draft=grid --set warp=8 --set weft=8 -o ";
    REQUIRE(batch(weave + out + " --set grid=" + good).code == 0);
    // The file says plain weave, as the rows and the choice of that name do.
    REQUIRE(batch(weave + folder.path("rows.png") + " --set 'grid=#./.#'").code == 0);
    REQUIRE(batch("apply weave --size 64 --set draft=plain --set warp=8 --set weft=8 -o " + folder.path("plain.png")).code == 0);
    const auto from_file = read_picture(out), from_rows = read_picture(folder.path("rows.png")),
               plain = read_picture(folder.path("plain.png"));
    REQUIRE((from_file && from_rows && plain));
    CHECK(greatest_difference(*from_file, *from_rows) == 0);
    CHECK(greatest_difference(*from_file, *plain) == 0);
    check_refused(batch(weave + folder.path("x.png") + " --set grid=" + bad), 1, "bad.wif");
    check_refused(batch(weave + folder.path("x.png") + " --set grid=" + folder.path("none.wif")), 1, "none.wif");
    check_refused(batch(weave + folder.path("x.png") + " --set 'grid=#x/.#'"), 2, "grid");
    for (const std::string& file : folder.files()) CHECK(file != "x.png");
}
