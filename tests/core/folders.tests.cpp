// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Recipe folders of somebody else: nothing outside of them is read or written, whatever lies in them.
#include <sys/stat.h>

#include <filesystem>

#include "core/base/files.h"
#include "core/base/own_folder.h"
#include "core/recipe/container.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace fs = std::filesystem;

namespace {

LoomFile plain_file() {
    LoomFile file;
    file.recipe = recipe_of({strand_of("a", {{"clouds", {}}})});
    file.recipe.name = "Guest";
    return file;
}

struct Guest {
    TemporaryFolder folder;
    std::string path = folder.path("guest"), secret = folder.path("secret");

    Guest() {
        fs::create_directories(path + "/assets");
        REQUIRE(write_loom(path, plain_file()));
        REQUIRE(write_file(secret, "what nobody was to read"));
    }
    std::string refusal() const {
        const auto read = read_loom(path);
        return read ? std::string() : read.error().message;
    }
};

}  // namespace

TEST_CASE("no link in a recipe folder is followed when it is read", "[files][folders]") {
    for (const char* name : {"recipe.json", "preview.png", "assets/wood.png", "assets"}) {
        const Guest guest;
        const std::string at = guest.path + "/" + name;
        fs::remove_all(at);
        fs::create_symlink(std::string(name) == "assets" ? guest.folder.path() : guest.secret, at);
        INFO(name);
        CHECK_THAT(guest.refusal(), Catch::Contains("'" + at + "'") && Catch::Contains("link"));
        CHECK(lines_in(guest.refusal()) == 0);
    }
    // The folder itself may be reached over one.
    const Guest guest;
    fs::create_symlink(guest.path, guest.folder.path("way"));
    CHECK(read_loom(guest.folder.path("way")));
}

TEST_CASE("what is no ordinary file in a recipe folder is refused by name", "[files][folders]") {
    const Guest guest;
    REQUIRE(::mkfifo((guest.path + "/assets/pipe").c_str(), 0600) == 0);
    CHECK_THAT(guest.refusal(), Catch::Contains("assets/pipe"));
    fs::remove(guest.path + "/assets/pipe");
    fs::create_directories(guest.path + "/assets/sub");
    CHECK_THAT(guest.refusal(), Catch::Contains("assets/sub"));
    fs::remove(guest.path + "/assets/sub");
    REQUIRE(write_file(guest.path + "/assets/two\nlines", "x"));
    CHECK_THAT(guest.refusal(), Catch::Contains("two?lines"));
    CHECK(lines_in(guest.refusal()) == 0);
}

TEST_CASE("nothing is written through a link in a recipe folder", "[files][folders]") {
    LoomFile file = plain_file();
    file.preview_png = "a preview";
    const std::string name = asset_name("kept", "png");
    file.recipe.assets[name] = make_asset(name, "kept");
    for (const std::string& link : {std::string("recipe.json"), std::string("preview.png"), name}) {
        const Guest guest;
        const std::string at = guest.path + "/" + link;
        fs::remove(at);
        fs::create_symlink(guest.secret, at);
        INFO(link);
        const auto written = write_loom(guest.path, file);
        REQUIRE_FALSE(written);
        CHECK_THAT(written.error().message, Catch::Contains(at));
        CHECK(*read_file(guest.secret, 100) == "what nobody was to read");
        CHECK(fs::is_symlink(at));
    }
    // The folder of what is kept led away.
    const Guest guest;
    fs::remove_all(guest.path + "/assets");
    fs::create_directories(guest.folder.path("elsewhere"));
    fs::create_symlink(guest.folder.path("elsewhere"), guest.path + "/assets");
    CHECK_FALSE(write_loom(guest.path, file));
    CHECK(fs::is_empty(guest.folder.path("elsewhere")));
    // Nor under a name that leads away.
    for (const char* wrong : {"assets/../../secret", "assets//etc/x", "elsewhere/x", "assets/.hidden", "assets/a\nb"}) {
        const Guest other;
        LoomFile bad = plain_file();
        bad.recipe.assets[wrong] = make_asset(wrong, "x");
        const auto written = write_loom(other.path, bad);
        INFO(wrong);
        REQUIRE_FALSE(written);
        CHECK_THAT(written.error().message, Catch::Contains("not allowed"));
        CHECK(lines_in(written.error().message) == 0);
        CHECK(*read_file(other.secret, 100) == "what nobody was to read");
    }
}

TEST_CASE("a folder stays the one that was opened, whatever becomes of its path", "[files][folders]") {
    const TemporaryFolder folder;
    fs::create_directories(folder.path("first"));
    fs::create_directories(folder.path("second"));
    const auto own = OwnFolder::open(folder.path("first"));
    REQUIRE(own);
    fs::rename(folder.path("first"), folder.path("moved"));
    fs::create_symlink(folder.path("second"), folder.path("first"));
    REQUIRE(own->write("f", "here"));
    CHECK(folder.files() == std::vector<std::string>{"moved/f"});
    CHECK(*own->read("f", 10) == "here");
    CHECK_FALSE(own->read("f", 3));
    CHECK(*own->names() == std::vector<std::string>{"f"});
    own->remove("f");
    CHECK(own->there("f") == OwnFolder::There::nothing);
}

TEST_CASE("files that wait for each other are all as they were when one of them cannot take its place", "[files]") {
    for (const std::size_t blocked : {std::size_t{0}, std::size_t{2}, std::size_t{4}}) {
        const TemporaryFolder folder;
        const std::vector<std::string> names{"a", "b", "c", "d", "e"};
        // Some were there, with modes of their own, and some are new.
        for (const char* old : {"a", "c", "e"}) REQUIRE(write_file(folder.path(old), std::string("old ") + old));
        REQUIRE(::chmod(folder.path("c").c_str(), 0640) == 0);
        FilesTogether together;
        for (const std::string& name : names) REQUIRE(together.add(folder.path(name), "new " + name));
        fs::remove(folder.path(names[blocked]));
        fs::create_directories(folder.path(names[blocked]) + "/in the way");
        INFO(names[blocked]);
        const auto done = together.finish();
        REQUIRE_FALSE(done);
        CHECK_THAT(done.error().message, Catch::Contains(folder.path(names[blocked])));
        for (const char* old : {"a", "c", "e"})
            if (old != names[blocked]) CHECK(*read_file(folder.path(old), 100) == std::string("old ") + old);
        struct stat info {};
        if (blocked != 2) REQUIRE(::stat(folder.path("c").c_str(), &info) == 0);
        if (blocked != 2) CHECK((info.st_mode & 07777) == 0640);
        for (const char* fresh : {"b", "d"}) CHECK_FALSE(fs::exists(folder.path(fresh)));
        CHECK(folder.files().size() == 3 - 1);
    }
    const TemporaryFolder folder;
    REQUIRE(write_file(folder.path("a"), "old"));
    FilesTogether together;
    REQUIRE(together.add(folder.path("a"), "new"));
    REQUIRE(together.add(folder.path("b"), "new"));
    REQUIRE(together.finish());
    CHECK(folder.files() == std::vector<std::string>{"a", "b"});
    CHECK(*read_file(folder.path("a"), 100) == "new");
}
