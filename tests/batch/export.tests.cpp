// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Export on the command line: materials before the Khronos validator, packed channels, names, presets, jobs.
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/recipe/container.h"
#include "core/recipe/json.h"
#include "tests/batch/batch.h"

using namespace loom;
using namespace loom::test;
using nlohmann::json;

namespace {

/// Where scripts/gltf-validator puts it.
const std::string validator = std::string(KEEN_LOOM_ROOT) + "/build/tools/gltf-validator/package";

/// What the Khronos validator says of a file.
json validated(const std::string& path) {
    const Ran node = run_command(std::string("node ") + KEEN_LOOM_ROOT + "/tests/batch/check-gltf.js " + validator + " " + path);
    INFO(node.err);
    REQUIRE(node.code == 0);
    return json::parse(node.out);
}

}  // namespace

TEST_CASE("glTF materials pass the Khronos validator without an error or a warning", "[export]") {
    if (!std::filesystem::exists(validator + "/index.js"))
        SKIP_TEST("the glTF validator could not be had; scripts/gltf-validator says why");
    for (const char* kind : {"glb", "gltf"})
        for (const char* recipe : {"rail-steel", "gauge-dial"}) {
            INFO(kind << " " << recipe);
            const TemporaryFolder folder;
            const Ran ran = batch("render " + sample(recipe) + " -o " + folder.path() + " --size 128 --material " + kind +
                                  (std::string(recipe) == "rail-steel" ? " --set finish.coat=60 --set finish.sheen=30" : ""));
            INFO(ran.err);
            REQUIRE(ran.code == 0);
            const json report = validated(folder.path(std::string(recipe) + "-material." + kind));
            INFO(report.dump(1));
            CHECK(report["issues"]["numErrors"] == 0);
            CHECK(report["issues"]["numWarnings"] == 0);
            CHECK(report["issues"]["numInfos"] == 0);
            const json& info = report["info"];
            CHECK(info["materialCount"] == 1);
            const auto used = info.value("extensionsUsed", json::array()).dump();
            for (const char* extension : {"KHR_materials_clearcoat", "KHR_materials_sheen"})
                CHECK((used.find(extension) != std::string::npos) == (std::string(recipe) == "rail-steel"));
            CHECK(info["drawCallCount"] == 2);
            CHECK(info["resources"].size() >= 4);
        }
}

TEST_CASE("a MaterialX document names files that are there, and its nodes name each other", "[export]") {
    const TemporaryFolder folder;
    REQUIRE(batch("render " + sample("rail-steel") + " -o " + folder.path() + " --size 64 --material materialx").code == 0);
    const auto text = read_file(folder.path("rail-steel-material.mtlx"), 1 << 20);
    REQUIRE(text);
    // Every name that is referred to is one that is given.
    for (const char* kind : {"nodename=\"", "output=\"", "nodegraph=\""})
        for (auto at = text->find(kind); at != std::string::npos; at = text->find(kind, at + 1)) {
            const auto from = at + std::string_view(kind).size();
            const std::string name = text->substr(from, text->find('"', from) - from);
            INFO(name);
            CHECK(text->find(" name=\"" + name + "\"") != std::string::npos);
        }
    int pictures = 0;
    for (auto at = text->find("type=\"filename\" value=\""); at != std::string::npos;
         at = text->find("type=\"filename\" value=\"", at + 1)) {
        const auto from = at + std::string_view("type=\"filename\" value=\"").size();
        CHECK(read_picture(folder.path(text->substr(from, text->find('"', from) - from))));
        ++pictures;
    }
    CHECK(pictures == 6);
}

TEST_CASE("packs, names, colourways and formats are as they are asked for", "[export]") {
    const TemporaryFolder folder;
    const Ran ran =
        batch("render " + sample("carriage-oak") + " -o " + folder.path() +
              " --size 64x64 --maps colour --pack orm=occlusion,roughness,metalness --format exr-float --all-colourways"
              " --name '{colourway}/{map}-{size}' --json");
    INFO(ran.err);
    REQUIRE(ran.code == 0);
    const json report = json::parse(ran.out);
    const auto recipe = read_loom(sample("carriage-oak"));
    REQUIRE(report["files"].size() == 2 * recipe->recipe.colourways.size());
    CHECK(report["bytes"].size() == report["files"].size());
    for (const auto& path : report["files"]) {
        INFO(path);
        CHECK_THAT(path.get<std::string>(), Catch::EndsWith("-64.exr"));
        const auto picture = read_picture(path.get<std::string>());
        REQUIRE(picture);
        CHECK(picture->size() == Size{64, 64});
    }
    check_refused(batch("render " + sample("carriage-oak") + " -o " + folder.path() + " --pack orm=rust"), 2,
                  "'rust' must be of");
    check_refused(batch("render " + sample("carriage-oak") + " -o " + folder.path() + " --pack a=,"), 2, "takes nothing");
    check_refused(batch("render " + sample("carriage-oak") + " -o " + folder.path() + " --name ../up"), 2,
                  "lead out of the folder");
    check_refused(batch("render " + sample("carriage-oak") + " -o " + folder.path() + " --material obj"), 2,
                  "glb, gltf or materialx");
    check_refused(batch("render " + sample("carriage-oak") + " -o " + folder.path() + " --preset Game"), 2, "has no preset");
    check_refused(batch("render " + sample("carriage-oak") + " -o " + folder.path() + " --all-colourways --name x"), 2,
                  "two files");
}

TEST_CASE("the jobs that are listed write the same files one by one", "[export]") {
    const TemporaryFolder folder;
    auto loom = read_loom(sample("rail-steel"));
    REQUIRE(loom);
    ExportPreset preset;
    const auto material = GENERATE(Material::glb, Material::gltf, Material::materialx);
    preset.name = "Game, small", preset.sizes = {32, 48}, preset.material = material, preset.green_down = true;
    preset.pictures = {{Map::colour, "", {}, PictureFormat::png}, {Map::normal, "", {}, PictureFormat::png16}};
    ExportPicture pack;
    pack.pack = "rm", pack.channels = {*find_channel("1-roughness"), *find_channel("metalness")};
    preset.pictures.push_back(pack);
    loom->recipe.exports = {preset};
    const std::string recipe = folder.path("it's steel.loom"), quoted = "\"" + recipe + "\"";
    REQUIRE(write_loom(recipe, *loom));
    const std::string together = folder.path("together"), alone = folder.path("alone");
    const Ran whole = batch("render " + quoted + " -o " + together + " --preset 'Game, small'");
    INFO(whole.err);
    REQUIRE(whole.code == 0);
    const Ran listed = batch("render " + quoted + " -o " + alone + " --preset 'Game, small' --list-jobs");
    REQUIRE(listed.code == 0);
    CHECK_FALSE(std::filesystem::exists(alone));
    std::istringstream lines(listed.out);
    int jobs = 0;
    for (std::string line; std::getline(lines, line); ++jobs) {
        INFO(line);
        REQUIRE(line.starts_with("keen-loom-batch "));
        const Ran ran = batch(line.substr(std::string_view("keen-loom-batch ").size()));
        INFO(ran.err);
        REQUIRE(ran.code == 0);
    }
    // The two sizes' pictures, what a material beside its pictures needs besides them, and the material.
    CHECK(jobs == (material == Material::glb ? 8 : material == Material::gltf ? 14 : 18));
    std::size_t same = 0;
    for (const auto& entry : std::filesystem::directory_iterator(together)) {
        INFO(entry.path());
        const auto one = read_file(entry.path().string(), 1 << 26),
                   other = read_file(alone + "/" + entry.path().filename().string(), 1 << 26);
        REQUIRE(other);
        const bool equal = *one == *other;
        CHECK(equal);
        ++same;
    }
    CHECK(same == (material == Material::glb ? 8u : material == Material::gltf ? 16u : 18u));
}
