// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Disks that are full, small or read-only, made for the call alone; processes that are ended; help without a display.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <filesystem>
#include <thread>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "tests/batch/batch.h"

using namespace loom;
using namespace loom::test;

namespace fs = std::filesystem;

namespace {

/// Runs the command line with a disk of its own at `folder`; `before` is done on that disk first, `after` then, and what that
/// prints comes back in `out`. The code is the command line's.
Ran on_disk(const TemporaryFolder& folder, const std::string& options, const std::string& before, const std::string& call,
            const std::string& after) {
    const std::string program = std::string(KEEN_LOOM_BIN) + "/keen-loom-batch ";
    const std::string script = "mount -t tmpfs -o " + options + " tmpfs " + folder.path() + " || exit 77; cd " + folder.path() +
                               "; " + before + "; " + program + call + "; code=$?; " + after + "; exit $code";
    // Root may mount in a namespace of its own; others in one in which they are root.
    const TemporaryFolder notes;
    const std::string command = std::string("unshare ") + (::geteuid() == 0 ? "-m" : "-rm") + " sh -c '" + script + "' >" +
                                notes.path("out") + " 2>" + notes.path("err");
    const int status = std::system(command.c_str());
    return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, *read_file(notes.path("out"), 1 << 20),
            *read_file(notes.path("err"), 1 << 20)};
}

/// Why no disks can be made here; "" if they can.
std::string no_disks() {
    const TemporaryFolder folder;
    const Ran ran = on_disk(folder, "size=64k", ":", "--version >/dev/null", ":");
    return ran.code == 0 ? "" : "no disks can be made here (unshare, mount): " + ran.err;
}

}  // namespace

TEST_CASE("a full disk keeps the good picture, in every format, and says so", "[batch][disk]") {
    if (const std::string why = no_disks(); !why.empty()) SKIP_TEST(why);
    const TemporaryFolder folder, work;
    // Noise, which is large in every format.
    REQUIRE(write_file(
        work.path("grit.json"),
        R"({"format": "keen-loom/1", "name": "grit", "strands": [{"id": "a", "steps": [{"id": "s1", "step": "static"}]}]})"));
    for (const PictureFormatInfo& written_as : picture_format_table) {
        const PictureFormat format = written_as.format;
        const std::string id(picture_format_id(format));
        const std::string name = "grit-colour." + std::string(extension_of(format));
        // On a disk too small from the start, and on one that the picture that is there leaves too little of.
        for (const char* before : {"echo good >", "head -c 500000 /dev/zero > filler; echo good >"}) {
            const Ran ran = on_disk(folder, "size=600k", before + name,
                                    "render " + work.path("grit.json") + " -o . --size 1024 --format " + id,
                                    "cat " + name + "; ls -A | grep -v filler");
            INFO(id << ": " << ran.err);
            CHECK(ran.code == 1);
            CHECK(lines_in(ran.err) == 1);
            CHECK_THAT(ran.err, Catch::Contains(name) && Catch::Contains("disk is full"));
            CHECK(ran.out == "good\n" + name + "\n");
        }
    }
}

TEST_CASE("a full or read-only disk takes no recipe, folder or sheet, and loses none", "[batch][disk]") {
    if (const std::string why = no_disks(); !why.empty()) SKIP_TEST(why);
    const TemporaryFolder folder, work;
    // A recipe that keeps a picture which does not shrink.
    REQUIRE(write_picture(work.path("noise.png"), random_bundle({300, 300}, 7), PictureFormat::png));
    REQUIRE(write_file(
        work.path("r.json"),
        R"({"format": "keen-loom/1", "name": "r", "strands": [{"id": "a", "steps": [{"id": "s1", "step": "image"}]}]})"));
    auto file = read_loom(work.path("r.json"));
    REQUIRE(file);
    const std::string bytes = *read_file(work.path("noise.png"), 1 << 24), name = asset_name(bytes, "png");
    file->recipe.assets[name] = make_asset(name, bytes);
    REQUIRE(write_loom(work.path("big.loom"), *file));

    Ran ran = on_disk(folder, "size=100k", "echo good > big.loom", "unpack " + work.path("big.loom") + " big",
                      "cat big.loom; find big -type f");
    CHECK(ran.code == 1);
    CHECK_THAT(ran.err, Catch::Contains("disk is full"));
    CHECK(ran.out == "good\n");
    fs::create_directories(work.path("folder"));
    REQUIRE(write_loom(work.path("folder"), *file));
    ran =
        on_disk(folder, "size=100k", "echo good > big.loom", "pack " + work.path("folder") + " big.loom", "cat big.loom; ls -A");
    CHECK(ran.code == 1);
    CHECK(ran.out == "good\nbig.loom\n");
    ran = on_disk(folder, "size=40k", ":", "steps --pages .", "ls -A | grep -c part");
    CHECK(ran.code == 1);
    CHECK(ran.out == "0\n");
    // Read-only, also for root.
    ran = on_disk(folder, "size=600k", "echo good > big.loom; mount -o remount,ro " + folder.path(),
                  "pack " + work.path("folder") + " big.loom", "cat big.loom");
    CHECK(ran.code == 1);
    CHECK(lines_in(ran.err) == 1);
    CHECK(ran.out == "good\n");
    ran = on_disk(folder, "size=600k", "mount -o remount,ro " + folder.path(), "render " + oak + " -o out --size 32", "ls -A");
    CHECK(ran.code == 1);
    CHECK(ran.out.empty());
}

TEST_CASE("a process is ended within a second, whatever it is doing", "[batch][cancel]") {
    const TemporaryFolder folder;
    const std::string program = std::string(KEEN_LOOM_BIN) + "/keen-loom-batch", out = folder.path("x.png");
    // Working on many rows, and at work that no rows tell of: points of cells relaxed over and over.
    const std::vector<std::vector<std::string>> calls = {
        {"apply", "clouds", "--set", "octaves=12", "--size", "8000", "-o", out},
        {"apply", "cells", "--set", "size=4", "--set", "relaxation=40", "--size", "2048", "-o", out},
        {"apply", "veins", "--set", "size=16", "--set", "width=256", "--size", "512", "-o", out}};
    for (const auto& call : calls) {
        const pid_t child = ::fork();
        if (child == 0) {
            std::freopen("/dev/null", "w", stderr);
            std::vector<char*> words{const_cast<char*>(program.c_str())};
            for (const std::string& word : call) words.push_back(const_cast<char*>(word.c_str()));
            words.push_back(nullptr);
            ::execv(program.c_str(), words.data());
            ::_exit(127);
        }
        REQUIRE(child > 0);
        std::this_thread::sleep_for(std::chrono::milliseconds(300));
        const auto start = std::chrono::steady_clock::now();
        ::kill(child, SIGTERM);
        int status = 0;
        REQUIRE(::waitpid(child, &status, 0) == child);
        const std::chrono::duration<double> took = std::chrono::steady_clock::now() - start;
        INFO(call[1] << ": " << took.count() << " s");
        CHECK(WIFEXITED(status));
        CHECK((WEXITSTATUS(status) == 1 || WEXITSTATUS(status) == 0));
        CHECK(took.count() < 1.0);
    }
}

TEST_CASE("the window's program answers for itself without a display", "[batch][help]") {
    const TemporaryFolder home;
    const std::string bare = "env -i HOME=" + home.path("");
    if (!fs::exists(std::string(KEEN_LOOM_BIN) + "/keen-loom")) SKIP_TEST("the window is not built");
    for (const char* option : {"--version", "--help", "-h", "-v"}) {
        const Ran ran = run("keen-loom", option, bare);
        INFO(option << ran.err);
        CHECK(ran.code == 0);
        CHECK_THAT(ran.out, Catch::Contains("keen-loom"));
    }
    const Ran ran = run("keen-loom", "", bare);
    CHECK(ran.code == 1);
    CHECK(lines_in(ran.err) == 1);
    CHECK_THAT(ran.err, Catch::Contains("no display"));
}

TEST_CASE("a small picture needs neither the picture module nor half a second", "[batch][start]") {
    const TemporaryFolder folder;
    REQUIRE(write_file(
        folder.path("r.json"),
        R"({"format": "keen-loom/1", "name": "r", "tile": {"width": 256, "height": 256}, "strands": [{"id": "a", "steps": [{"id": "s1", "step": "flat"}]}]})"));
    const std::string call = "render " + folder.path("r.json") + " -o " + folder.path("out");
    // The loader says what it opens.
    const Ran ran = batch(call, "LD_DEBUG=files LD_DEBUG_OUTPUT=" + folder.path("loads"));
    REQUIRE(ran.code == 0);
    std::string loaded;
    for (const std::string& name : folder.files())
        if (name.starts_with("loads")) loaded += *read_file(folder.path(name), 1 << 24);
    CHECK_THAT(loaded, Catch::Contains("libspng"));
    CHECK(loaded.find("keen-loom-pictures") == std::string::npos);
    CHECK(loaded.find("OpenImageIO") == std::string::npos);
    CHECK(read_picture(folder.path("out/r-colour.png")));
}
