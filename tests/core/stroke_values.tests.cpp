// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strokes in a file that cannot be: each with what is wrong, and where.
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("strokes that cannot be are refused with what is wrong", "[hand][faults]") {
    const auto fault = [](const std::string& strokes) {
        const Reading reading = read_recipe(
            R"({"format": "keen-loom/1", "name": "x", "strands": [{"id": "a", "name": "a", "steps": [{"id": "s1", "step": "clouds"}, {"id": "s2", "step": "handwarp", "set": {"strokes": )" +
            strokes + "}}]}]}");
        return reading.first_fault() ? reading.first_fault()->pointer + " " + reading.first_fault()->message : std::string();
    };
    CHECK(fault(R"([{"tool": "push", "points": "8 8,1 1"}])").empty());
    for (const auto& [strokes, what] : std::vector<std::pair<std::string, std::string>>{
             {R"("push")", "list of strokes"},
             {R"([{"tool": "brush", "points": "8 8"}])", "one of push"},
             {R"([{"tool": "push", "points": ""}])", "points"},
             {R"([{"tool": "push", "points": "8"}])", "/points"},
             {R"([{"tool": "push", "points": "8 8 1 1"}])", "/points"},
             {R"([{"tool": "push", "points": "8 8,x"}])", "/points"},
             {R"([{"tool": "push", "points": "99999999999 0"}])", "/points"},
             {R"([{"tool": "push", "points": "1048576 0,1048576 0"}])", "/points"},
             {R"([{"tool": "push", "points": "8 8 9"}])", "pressure"},
             {R"([{"tool": "push", "size": 0, "points": "8 8"}])", "/size"},
             {R"([{"tool": "push", "strength": -101, "points": "8 8"}])", "/strength"},
             {R"([{"tool": "push", "colour": 3, "points": "8 8"}])", "/colour"},
             {R"([7])", "object"}}) {
        INFO(strokes);
        CHECK_THAT(fault(strokes), Catch::Contains(what));
    }
    std::string long_one = "8 8";
    for (int k = 0; k < 5000; ++k) long_one += ",1 0";
    CHECK_THAT(fault(R"([{"tool": "push", "points": ")" + long_one + R"("}])"), Catch::Contains("4096"));
}
