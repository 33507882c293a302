// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What becomes of files when disks are full, links lie in the way and processes are killed.
#include <fcntl.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <filesystem>

#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace fs = std::filesystem;

namespace {

std::string bytes_of(const std::string& path) { return *read_file(path, 64 << 20); }

/// Files of this process may grow to so many bytes only: a disk that fills while it is written to.
class SmallDisk {
public:
    explicit SmallDisk(rlim_t bytes) {
        ::getrlimit(RLIMIT_FSIZE, &before_);
        before_handler_ = ::signal(SIGXFSZ, SIG_IGN);
        rlimit limit = before_;
        limit.rlim_cur = bytes;
        ::setrlimit(RLIMIT_FSIZE, &limit);
    }
    ~SmallDisk() {
        ::setrlimit(RLIMIT_FSIZE, &before_);
        ::signal(SIGXFSZ, before_handler_);
    }
    SmallDisk(const SmallDisk&) = delete;
    SmallDisk& operator=(const SmallDisk&) = delete;

private:
    rlimit before_{};
    void (*before_handler_)(int);
};

LoomFile noisy_file() {
    LoomFile file;
    file.recipe = recipe_of({strand_of("a", {{"clouds", {}, 2}})});
    const std::string noise(40000, 'x');
    std::string bytes;
    for (std::size_t k = 0; k < noise.size(); ++k) bytes += static_cast<char>(mix64(k) & 0xff);
    const std::string name = asset_name(bytes, "png");
    file.recipe.assets[name] = make_asset(name, bytes);
    return file;
}

}  // namespace

TEST_CASE("a disk that fills while a file is written keeps what was there, whatever the format", "[files][disk]") {
    const TemporaryFolder folder;
    const Bundle picture = random_bundle({200, 200}, 5);
    for (const PictureFormatInfo& written_as : picture_format_table) {
        const PictureFormat format = written_as.format;
        const std::string path = folder.path("p." + std::string(extension_of(format)));
        INFO(picture_format_id(format));
        REQUIRE(write_file(path, "the good one"));
        // Room for all but the last byte.
        REQUIRE(write_picture(folder.path("whole"), picture, format));
        const auto room = static_cast<rlim_t>(fs::file_size(folder.path("whole")) - 1);
        fs::remove(folder.path("whole"));
        {
            const SmallDisk disk(room);
            const auto written = write_picture(path, picture, format);
            REQUIRE_FALSE(written);
            CHECK(written.error().fault == Fault::file);
            CHECK_THAT(written.error().message, Catch::StartsWith("cannot write"));
        }
        CHECK(bytes_of(path) == "the good one");
        fs::remove(path);
        CHECK(folder.files().empty());
    }
    const LoomFile file = noisy_file();
    REQUIRE(write_file(folder.path("r.loom"), "the good one"));
    fs::create_directories(folder.path("as-folder"));
    {
        const SmallDisk disk(20000);
        CHECK_FALSE(write_loom(folder.path("r.loom"), file));
        CHECK_FALSE(write_loom(folder.path("as-folder"), file));
        CHECK_FALSE(write_file(folder.path("r.loom"), std::string(20001, 'x')));
    }
    CHECK(bytes_of(folder.path("r.loom")) == "the good one");
    CHECK(folder.files() == std::vector<std::string>{"r.loom"});
}

TEST_CASE("a device that is always full says so, and is not replaced by a file", "[files][disk]") {
    const Bundle picture = random_bundle({64, 64}, 5);
    for (const PictureFormatInfo& written_as : picture_format_table) {
        const PictureFormat format = written_as.format;
        const auto written = write_picture("/dev/full", picture, format);
        REQUIRE_FALSE(written);
        CHECK_THAT(written.error().message, Catch::Contains("'/dev/full': the disk is full"));
    }
    CHECK(fs::is_character_file("/dev/full"));
    CHECK(write_file("/dev/null", "x"));
    CHECK(fs::is_character_file("/dev/null"));
}

TEST_CASE("links are followed, and the mode of a file is kept", "[files]") {
    const TemporaryFolder folder;
    fs::create_directories(folder.path("real"));
    REQUIRE(write_file(folder.path("real/f"), "old"));
    REQUIRE(::chmod(folder.path("real/f").c_str(), 0640) == 0);
    fs::create_symlink("real/f", folder.path("link"));
    fs::create_symlink("link", folder.path("link-to-link"));
    fs::create_symlink("real/new", folder.path("dangling"));
    REQUIRE(write_file(folder.path("link-to-link"), "new"));
    CHECK(fs::is_symlink(folder.path("link")));
    CHECK(fs::is_symlink(folder.path("link-to-link")));
    CHECK(bytes_of(folder.path("real/f")) == "new");
    struct stat info {};
    REQUIRE(::stat(folder.path("real/f").c_str(), &info) == 0);
    CHECK((info.st_mode & 07777) == 0640);
    REQUIRE(write_file(folder.path("dangling"), "made"));
    CHECK(bytes_of(folder.path("real/new")) == "made");
    const mode_t mask = ::umask(027);
    REQUIRE(write_file(folder.path("fresh"), "x"));
    ::umask(mask);
    REQUIRE(::stat(folder.path("fresh").c_str(), &info) == 0);
    CHECK((info.st_mode & 0777) == 0640);
}

TEST_CASE("what a killed process left is removed at the next writing, what another still writes is not", "[files]") {
    const TemporaryFolder folder;
    const pid_t child = ::fork();
    if (child == 0) {
        auto half = FileWriter::open(folder.path("killed"));
        if (half) (void)half->write("half");
        ::raise(SIGKILL);
    }
    int status = 0;
    REQUIRE(::waitpid(child, &status, 0) == child);
    REQUIRE(folder.files().size() == 1);
    auto writing = FileWriter::open(folder.path("other"));
    REQUIRE(writing);
    CHECK(folder.files().size() == 1);  // the leftover went, ours came
    REQUIRE(write_file(folder.path("third"), "x"));
    CHECK(folder.files().size() == 2);
    REQUIRE(writing->write("whole"));
    REQUIRE(writing->finish());
    CHECK(folder.files() == std::vector<std::string>{"other", "third"});
    CHECK(bytes_of(folder.path("other")) == "whole");
}

TEST_CASE("two that write the same file at once leave one of both, whole", "[files]") {
    const TemporaryFolder folder;
    auto first = FileWriter::open(folder.path("f")), second = FileWriter::open(folder.path("f"));
    REQUIRE(first);
    REQUIRE(second);
    for (int k = 0; k < 100; ++k) {
        REQUIRE(first->write("1"));
        REQUIRE(second->write("2"));
    }
    REQUIRE(first->finish());
    CHECK(bytes_of(folder.path("f")) == std::string(100, '1'));
    REQUIRE(second->finish());
    CHECK(bytes_of(folder.path("f")) == std::string(100, '2'));
}

TEST_CASE("a recipe folder keeps no pictures that its recipe has given up, and everything that is not ours",
          "[files][container]") {
    const TemporaryFolder folder;
    LoomFile file = noisy_file();
    fs::create_directories(folder.path("r/assets"));
    REQUIRE(write_file(folder.path("r/assets/notes.txt"), "by hand"));
    REQUIRE(write_loom(folder.path("r"), file));
    CHECK(folder.files().size() == 3);
    file.recipe.assets.clear();
    REQUIRE(write_loom(folder.path("r"), file));
    CHECK(folder.files() == std::vector<std::string>{"r/assets/notes.txt", "r/recipe.json"});
}

TEST_CASE("a kept picture counts by what it is, and must be what its hash says", "[files][container]") {
    const TemporaryFolder folder;
    const auto png = [&](float tone) {
        REQUIRE(write_picture(folder.path("p.png"), Bundle::of(Plane({4, 4}, tone)), PictureFormat::png));
        return bytes_of(folder.path("p.png"));
    };
    // The same name in two recipes, and a cache that has seen the first.
    Cache cache(1 << 20);
    const auto reader_of = [&](float tone) {
        Recipe recipe = recipe_of({strand_of("a", {{"image", {{"file", std::string("assets/photo.png")}}}})});
        recipe.assets["assets/photo.png"] = make_asset("assets/photo.png", png(tone));
        return recipe;
    };
    const auto shown = [&](const Recipe& recipe) {
        const auto cloth = render_cloth(recipe, {8, 8}, {.cache = &cache, .pictures = &picture_reader()}, job);
        REQUIRE(cloth);
        return cloth->channel(0).at(3, 3);
    };
    CHECK(shown(reader_of(0.2f)) == Approx(0.2).margin(0.01));
    CHECK(shown(reader_of(0.8f)) == Approx(0.8).margin(0.01));

    Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}}})});
    const std::string bytes = png(0.5f), name = asset_name(bytes, "png");
    recipe.assets[name] = make_asset(name, bytes);
    std::vector<Finding> findings;
    check_assets(recipe, findings);
    CHECK(findings.empty());
    recipe.assets[name] = make_asset(name, png(0.6f));
    check_assets(recipe, findings);
    REQUIRE(findings.size() == 1);
    CHECK_THAT(findings[0].message, Catch::Contains("does not hold what its name says"));
}

TEST_CASE("recipes within recipes share one budget of depth, entries and bytes", "[files][container]") {
    auto packed = [](int depth) {
        LoomFile file;
        file.recipe = recipe_of({strand_of("a", {{"flat", {}}})});
        for (int k = 0; k < depth; ++k) {
            const std::string inner = *loom_bytes(file), name = asset_name(inner, "loom");
            file = {};
            file.recipe = recipe_of({strand_of("a", {{"recipe", {{"file", name}}}})});
            file.recipe.assets[name] = make_asset(name, inner);
        }
        return *loom_bytes(file);
    };
    ReadingBudget budget;
    const auto deep = inspect_loom_bytes(packed(deepest_recipe), "r.loom", budget);
    REQUIRE(deep);
    CHECK(deep->findings.empty());
    CHECK(budget.depth == deepest_recipe);
    CHECK(budget.entries < ReadingBudget{}.entries - 2 * deepest_recipe);
    const std::string too_deep = packed(deepest_recipe + 3);
    budget = {};
    const auto deeper = inspect_loom_bytes(too_deep, "r.loom", budget);
    REQUIRE(deeper);
    REQUIRE_FALSE(deeper->findings.empty());
    CHECK_THAT(deeper->findings.back().text(), Catch::Contains("more than 4 deep"));
    // What lies below the greatest depth is not unpacked.
    CHECK(budget.entries > ReadingBudget{}.entries - 3 * (deepest_recipe + 1));
    budget = {};
    budget.entries = 4;
    const auto many = inspect_loom_bytes(packed(3), "r.loom", budget);
    REQUIRE(many);
    CHECK_FALSE(many->findings.empty());
    budget = {};
    budget.bytes = 100;
    const auto large = inspect_loom_bytes(packed(1), "r.loom", budget);
    REQUIRE_FALSE(large);
    CHECK_THAT(large.error().message, Catch::Contains("unpacks to more than"));
}
