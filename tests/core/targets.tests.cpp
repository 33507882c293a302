// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The same picture whatever instructions the processor knows: within half an 8-bit step between them, to the byte on one machine.
#include <hwy/targets.h>

#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// All kernels run as on a machine that knows no more than this.
class Forced {
public:
    explicit Forced(std::int64_t target) {
        hwy::SetSupportedTargetsForTest(target);
        hwy::GetChosenTarget().DeInit();
    }
    Forced(const Forced&) = delete;
    ~Forced() {
        hwy::SetSupportedTargetsForTest(0);
        hwy::GetChosenTarget().DeInit();
    }
};

const Size size{96, 80};

Bundle soft(std::uint32_t seed) {
    Bundle colour;
    for (std::uint32_t c = 0; c < 3; ++c)
        colour.colour.push_back(
            applied("clouds", {{"size-x", 24.0}, {"size-y", 24.0}}, nullptr, size, 3 * seed + c, 1).colour.front());
    return colour;
}

}  // namespace

TEST_CASE("every step looks the same with every instruction set", "[targets][over-steps]") {
    const auto targets = hwy::SupportedAndGeneratedTargets();
    if (targets.size() < 2) SKIP_TEST("this build or machine knows one instruction set only");
    const Bundle in = soft(1), other = soft(2);
    for (const StepDescription& step : steps_tried())
        for (const Values& values : settings_of(step, 1)) {
            // Lines of a field part where its direction is not clear, and ranks and marks jump where two tones are one.
            const bool jumps = step.id == "flow" || step.id == "streaks" || step.id == "dashes" || step.id == "stipple" ||
                               step.id == "threshold" || step.id == "posterise" || step.id == "closeseams" ||
                               step.id == "scatter";
            const Bundle usual = applied(std::string(step.id), values, &in, size, 4, 1, &other);
            for (std::int64_t target : targets) {
                const Forced forced(target);
                const Bundle made = applied(std::string(step.id), values, &in, size, 4, 1, &other);
                INFO(words_of({.step = step, .values = values}) << " with " << hwy::TargetName(target));
                REQUIRE(made.colour.size() == usual.colour.size());
                for (std::size_t c = 0; c < made.colour.size(); ++c) {
                    if (jumps)
                        CHECK(mean_difference(*made.colour[c], *usual.colour[c]) < 0.5 / 255);
                    else
                        CHECK(greatest_difference(*made.colour[c], *usual.colour[c]) < 0.5 / 255);
                }
            }
        }
}
