// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the fuzzers begin from, and what they once found, is taken at every door without harm.
#include <filesystem>

#include "core/base/files.h"
#include "tests/fuzz/targets.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace fs = std::filesystem;

TEST_CASE("what is kept for each door is taken there, whole, cut and with digits turned", "[fuzz][faults]") {
    const fs::path root = std::string(KEEN_LOOM_ROOT) + "/tests/fuzz";
    for (const auto& [door, knock] : fuzz::doors()) {
        int files = 0;
        for (const char* folder : {"corpus", "finds"}) {
            if (!fs::is_directory(root / folder / door)) continue;
            for (const auto& entry : fs::directory_iterator(root / folder / door)) {
                INFO(entry.path().string());
                const auto bytes = read_file(entry.path().string(), 1 << 20);
                REQUIRE(bytes);
                ++files;
                knock(*bytes);
                for (std::size_t k = 1; k < 12; ++k) {
                    knock(std::string_view(*bytes).substr(0, bytes->size() * k / 12));
                    std::string turned = *bytes;
                    if (!turned.empty()) turned[turned.size() * k / 12] ^= static_cast<char>(1 << (k % 8));
                    knock(turned);
                }
            }
        }
        INFO(door);
        CHECK(files > 0);
    }
}
