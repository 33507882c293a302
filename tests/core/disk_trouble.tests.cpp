// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Disks that fail at every single call, one after the other: what was there stays, or what is new is whole.
#include "tests/support/disk_trouble.h"

#include <cerrno>
#include <filesystem>

#include "core/base/files.h"
#include "core/files/export.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace fs = std::filesystem;

namespace {

std::map<std::string, std::string> all_in(const std::string& folder) {
    std::map<std::string, std::string> all;
    for (const auto& each : fs::recursive_directory_iterator(folder))
        if (each.is_regular_file()) all[fs::relative(each.path(), folder).string()] = *read_file(each.path().string(), 64 << 20);
    return all;
}

/// Lets `write` write into a folder in which `before` has written, with each call failing in turn; `sound` looks at what is there
/// then and was told to have gone well or not.
void fail_everywhere(const std::string& what, const std::function<Result<Done>(const std::string&)>& before,
                     const std::function<Result<Done>(const std::string&)>& write,
                     const std::function<void(const std::string& folder, bool well)>& sound) {
    int turns = 0;
    {
        const TemporaryFolder folder;
        REQUIRE(before(folder.path()));
        const DiskTrouble none(0, 0);
        REQUIRE(write(folder.path()));
        turns = DiskTrouble::calls();
    }
    CHECK(turns > 2);
    int refused = 0;
    for (int turn = 1; turn <= turns; ++turn)
        for (const int error : {ENOSPC, EIO}) {
            INFO(what << ", call " << turn << " of " << turns << " fails with " << error);
            const TemporaryFolder folder;
            REQUIRE(before(folder.path()));
            const auto done = [&] {
                const DiskTrouble trouble(turn, error);
                return write(folder.path());
            }();
            if (!done) {
                ++refused;
                CHECK(done.error().message.find('\n') == std::string::npos);
                CHECK(done.error().message.size() > 10);
            }
            for (const auto& [name, bytes] : all_in(folder.path()))
                CHECK(name.find(FileWriter::part_prefix) == std::string::npos);
            sound(folder.path(), done.ok());
        }
    // All but the last syncing of a folder, which takes nothing back any more.
    CHECK(refused >= turns);
}

LoomFile file_of(const char* name, std::uint64_t lot) {
    LoomFile file;
    file.recipe = recipe_of({strand_of("a", {{"clouds", {}, 2}})});
    file.recipe.name = name;
    std::string bytes;
    for (std::uint64_t k = 0; k < 3000; ++k) bytes += static_cast<char>(mix64(lot, k) & 0xff);
    const std::string asset = asset_name(bytes, "png");
    file.recipe.assets[asset] = make_asset(asset, bytes);
    return file;
}

}  // namespace

TEST_CASE("a recipe file survives a disk that fails at any call", "[files][disk][trouble]") {
    const LoomFile old_file = file_of("Old", 1), new_file = file_of("New", 2);
    const auto sound = [&](const std::string& path, bool well) {
        const auto back = read_loom(path);
        REQUIRE(back);
        CHECK((back->recipe.name == "New" || (!well && back->recipe.name == "Old")));
        const Recipe& whole = (back->recipe.name == "New" ? new_file : old_file).recipe;
        CHECK(write_recipe(back->recipe) == write_recipe(whole));
        // A folder may keep a file more than it names.
        for (const auto& [name, asset] : whole.assets) {
            REQUIRE(back->recipe.assets.contains(name));
            CHECK(back->recipe.assets.at(name)->bytes == asset->bytes);
        }
    };
    fail_everywhere(
        "an archive", [&](const std::string& folder) { return write_loom(folder + "/a.loom", old_file); },
        [&](const std::string& folder) { return write_loom(folder + "/a.loom", new_file); },
        [&](const std::string& folder, bool well) { sound(folder + "/a.loom", well); });
    fail_everywhere(
        "a folder",
        [&](const std::string& folder) {
            fs::create_directories(folder + "/a");
            return write_loom(folder + "/a", old_file);
        },
        [&](const std::string& folder) { return write_loom(folder + "/a", new_file); },
        [&](const std::string& folder, bool well) { sound(folder + "/a", well); });
}

TEST_CASE("pictures of every format survive a disk that fails at any call", "[files][disk][trouble]") {
    const Bundle old_picture = random_bundle({40, 30}, 1), new_picture = random_bundle({30, 50}, 2);
    for (const PictureFormatInfo& format : picture_format_table) {
        const std::string name = "/a." + std::string(format.extension);
        fail_everywhere(
            std::string(format.id),
            [&](const std::string& folder) { return write_picture(folder + name, old_picture, format.format); },
            [&](const std::string& folder) { return write_picture(folder + name, new_picture, format.format); },
            [&](const std::string& folder, bool well) {
                const auto back = read_picture(folder + name);
                REQUIRE(back);
                CHECK((back->size() == Size{30, 50} || (!well && back->size() == Size{40, 30})));
            });
    }
}

TEST_CASE("an export whose disk fails at any call leaves all that was there, or all that is new", "[files][disk][trouble]") {
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 2}})}, 32);
    ExportPreset preset;
    preset.pictures = {{Map::colour, "", {}, PictureFormat::png}, {Map::height, "", {}, PictureFormat::tiff}};
    preset.sizes = {24}, preset.material = Material::gltf, preset.names = "cloth-{map}";
    std::map<std::string, std::string> before, after;
    const auto write = [&](const std::string& folder, const Recipe& of) -> Result<Done> {
        const auto runs = export_runs(of, preset, folder);
        if (!runs) return runs.error();
        FilesTogether together;
        for (const ExportRun& run : *runs)
            if (const auto done = write_export(run, together, {}, Job()); !done) return done.error();
        return together.finish();
    };
    const Recipe other = with_value(recipe, {"a", "s1", "octaves"}, Value(2.0));
    fail_everywhere(
        "an export",
        [&](const std::string& folder) {
            auto done = write(folder, recipe);
            before = all_in(folder);
            return done;
        },
        [&](const std::string& folder) {
            auto done = write(folder, other);
            if (done) after = all_in(folder);
            return done;
        },
        [&](const std::string& folder, bool well) {
            const auto now = all_in(folder);
            CHECK((now == after || (!well && now == before)));
        });
}
