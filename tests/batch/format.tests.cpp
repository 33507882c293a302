// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// docs/recipe-format.md says what the program does: its tables are the program's, and its examples run.
#include <fstream>
#include <sstream>

#include "core/base/files.h"
#include "tests/batch/batch.h"

using namespace loom;
using namespace loom::test;

namespace {

std::string page() { return *read_file(KEEN_LOOM_ROOT "/docs/recipe-format.md", 1 << 20); }

/// What stands between ``` fences of a language.
std::vector<std::string> fenced(const std::string& text, const std::string& language) {
    std::vector<std::string> blocks;
    const std::string open = "```" + language + "\n";
    for (std::size_t at = text.find(open); at != std::string::npos; at = text.find(open, at)) {
        at += open.size();
        blocks.push_back(text.substr(at, text.find("```", at) - at));
    }
    return blocks;
}

}  // namespace

TEST_CASE("the tables of the format's page are the program's", "[batch][docs]") {
    const Ran ran = batch("steps --tables");
    REQUIRE(ran.code == 0);
    const std::string text = page();
    std::size_t tables = 0;
    for (std::size_t at = 0; at < ran.out.size();) {
        const std::size_t end = std::min(ran.out.size(), ran.out.find("\n\n", at));
        std::string table = ran.out.substr(at, end - at);
        while (!table.empty() && table.back() == '\n') table.pop_back();
        INFO(table);
        CHECK(text.find(table) != std::string::npos);
        ++tables, at = end + 2;
    }
    CHECK(tables == 6);
}

TEST_CASE("the examples of the format's page run without a finding", "[batch][docs]") {
    const TemporaryFolder folder;
    const auto recipes = fenced(page(), "json");
    REQUIRE(recipes.size() == 1);
    REQUIRE(write_file(folder.path("example.json"), recipes[0]));
    const Ran checked = batch("check " + folder.path("example.json"));
    INFO(checked.err);
    CHECK(checked.code == 0);
    int calls = 0;
    for (const std::string& block : fenced(page(), "sh")) {
        std::istringstream lines(block);
        for (std::string line; std::getline(lines, line);) {
            const std::string program = "keen-loom-batch ";
            REQUIRE(line.starts_with(program));
            const Ran ran = batch(line.substr(program.size()), "cd " + folder.path() + ";");
            INFO(line << "\n" << ran.err);
            CHECK(ran.code == 0);
            CHECK(ran.err.empty());
            ++calls;
        }
    }
    CHECK(calls >= 3);
    CHECK(folder.files() == std::vector<std::string>{"example.json", "out/bench-top-colour.png", "out/bench-top-height.png"});
}
