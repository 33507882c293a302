// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Every step through the command line as people call it, and processes that are killed while they write.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <thread>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "tests/batch/batch.h"

using namespace loom;
using namespace loom::test;

namespace fs = std::filesystem;

TEST_CASE("apply runs every step there is, and says the same as the core", "[batch][apply][every]") {
    const TemporaryFolder folder;
    const Bundle in = random_bundle({64, 48}, 3);
    REQUIRE(write_picture(folder.path("in.tif"), in, PictureFormat::tiff));
    const auto read = read_picture(folder.path("in.tif"));
    REQUIRE(read);
    for (const StepDescription& step : all_steps()) {
        // These need something of a recipe round them.
        if (step.id == "beneath" || step.id == "borrow" || step.id == "recipe" || step.id == "image") continue;
        const bool makes = step.family == Family::make;
        const std::string out = folder.path(std::string(step.id) + ".exr");
        const Ran ran =
            batch("apply " + std::string(step.id) + (makes ? " --size 64x48" : " --in " + folder.path("in.tif")) + " -o " + out);
        INFO(step.id << " " << ran.err);
        REQUIRE(ran.code == 0);
        CHECK(ran.err.empty());
        const auto picture = read_picture(out);
        REQUIRE(picture);
        CHECK(picture->size() == Size{64, 48});
        for (std::size_t i = 0; i < 64 * 48; ++i) REQUIRE(std::isfinite(picture->channel(0).data()[i]));
        const Job job;
        const auto own = apply_step(step, {}, 0, {64, 48}, makes ? nullptr : &*read, {}, 0, job);
        REQUIRE(own);
        // Half floats in linear light keep three digits.
        if (!own->coverage) CHECK(mean_difference(own->channel(0), picture->channel(0)) < 4e-3);
    }
}

TEST_CASE("every parameter of every step is refused beyond its range, by name", "[batch][apply][every][faults]") {
    const TemporaryFolder folder;
    int refused = 0;
    for (const StepDescription& step : all_steps())
        for (const Parameter& p : step.parameters) {
            // One of each kind a step is enough: each is a process.
            if (&p != step.parameter_of(p.kind)) continue;
            std::string wrong;
            if (p.kind == Kind::number || p.kind == Kind::count) wrong = write_number(p.max * 2 + 1);
            if (p.kind == Kind::toggle) wrong = "maybe";
            if (p.kind == Kind::choice) wrong = "neither";
            if (p.kind == Kind::colour) wrong = "reddish";
            if (p.kind == Kind::stops || p.kind == Kind::curve || p.kind == Kind::strokes || p.kind == Kind::moves ||
                p.kind == Kind::outline)
                wrong = "here";
            if (wrong.empty()) continue;
            const Ran ran = batch("apply " + std::string(step.id) + " --size 16 --set " + std::string(p.id) + "=" + wrong +
                                  " -o " + folder.path("x.png"));
            INFO(step.id << " " << p.id << ": " << ran.err);
            CHECK(ran.code == 2);
            CHECK(lines_in(ran.err) == 1);
            CHECK_THAT(ran.err, Catch::Contains(std::string(p.id)));
            ++refused;
        }
    CHECK(refused > 100);
    CHECK(folder.files().empty());
}

TEST_CASE("a process that is killed while it writes loses nothing and leaves nothing for long", "[batch][disk][kill]") {
    const TemporaryFolder folder;
    const std::string program = std::string(KEEN_LOOM_BIN) + "/keen-loom-batch", out = folder.path("out"),
                      recipe = folder.path("r.json");
    REQUIRE(write_file(
        recipe,
        R"({"format": "keen-loom/1", "name": "r", "strands": [{"id": "a", "steps": [{"id": "s1", "step": "static", "set": {"colour": "coloured"}}]}]})"));
    REQUIRE(batch("render " + recipe + " -o " + out + " --size 1500").code == 0);
    const std::string good = *read_file(out + "/r-colour.png", 1 << 28);
    // A recipe file of some size that is saved over and over.
    const std::string unpacked = folder.path("kept"), packed = folder.path("kept.loom");
    std::filesystem::create_directories(unpacked);
    LoomFile kept;
    kept.recipe = recipe_of({strand_of("a", {{"clouds", {}, 2}})});
    std::string noise;
    for (std::uint64_t k = 0; k < 400000; ++k) noise += static_cast<char>(mix64(k) & 0xff);
    const std::string asset = asset_name(noise, "svg");
    kept.recipe.assets[asset] = make_asset(asset, noise);
    REQUIRE(write_loom(unpacked, kept));
    REQUIRE(batch("pack " + unpacked + " " + packed).code == 0);
    const std::string good_file = *read_file(packed, 1 << 28);
    // scripts/nightly asks for more.
    const char* asked = std::getenv("KEEN_LOOM_KILLS");
    const int kills = asked ? std::atoi(asked) : 20;
    int killed = 0;
    for (int k = 0; k < kills; ++k) {
        const bool saves = k % 2 == 1;
        const pid_t child = ::fork();
        if (child == 0) {
            if (saves)
                ::execl(program.c_str(), program.c_str(), "pack", unpacked.c_str(), packed.c_str(), nullptr);
            else
                ::execl(program.c_str(), program.c_str(), "render", recipe.c_str(), "-o", out.c_str(), "--size", "1500", nullptr);
            ::_exit(127);
        }
        REQUIRE(child > 0);
        const int moment = k / 2 % 14;
        std::this_thread::sleep_for(std::chrono::milliseconds(saves ? 2 + 4 * moment : 20 + 25 * moment));
        ::kill(child, SIGKILL);
        int status = 0;
        REQUIRE(::waitpid(child, &status, 0) == child);
        killed += WIFSIGNALED(status);
        // The whole picture is there at any moment.
        REQUIRE(*read_file(out + "/r-colour.png", 1 << 28) == good);
        REQUIRE(*read_file(packed, 1 << 28) == good_file);
    }
    CHECK(killed > kills / 4);
    REQUIRE(batch("render " + recipe + " -o " + out + " --size 64").code == 0);
    REQUIRE(batch("pack " + unpacked + " " + packed).code == 0);
    CHECK(folder.files() ==
          std::vector<std::string>{"kept.loom", "kept/" + asset, "kept/recipe.json", "out/r-colour.png", "r.json"});
}

TEST_CASE("timing books reading, each node, and writing", "[batch][render][timing]") {
    const TemporaryFolder folder;
    const Ran ran =
        batch("render " + sample("rail-steel") + " -o " + folder.path("out") + " --size 300 --threads 1 --timing --json");
    REQUIRE(ran.code == 0);
    const auto document = nlohmann::json::parse(ran.out);
    double nodes = 0;
    for (const auto& node : document["nodes"]) nodes += node["ms"].get<double>();
    const double rendered = document["render-ms"], total = document["total-ms"], read = document["read-ms"],
                 written = document["write-ms"];
    CHECK(document["nodes"].size() > 3);
    CHECK(nodes <= rendered + 0.5);
    CHECK(nodes > 0.5 * rendered);
    CHECK(read > 0);
    CHECK(written > 0);
    CHECK(read + rendered + written == Approx(total).margin(5));
    CHECK(document["files"].size() == 1);
}
