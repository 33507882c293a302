// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Whatever a step is set to within its ranges, it gives a picture of the right size without anything that is no number.
#include <cmath>
#include <set>

#include "core/base/hash.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{40, 24}, tile{1600, 960};

/// The value at one end of a parameter's range; counts as far as their slider goes, as each one costs its time.
std::optional<Value> end_of(const Parameter& p, bool high) {
    switch (p.kind) {
        case Kind::number: return Value(high ? p.max : p.min);
        case Kind::count: return Value(high ? std::min(p.slider_max, 3000.0) : p.min);
        case Kind::toggle: return Value(high);
        case Kind::choice: return Value(std::string((high ? p.choices.back() : p.choices.front()).id));
        case Kind::colour: return Value(high ? Colour{1, 1, 1} : Colour{0, 0, 0});
        default: return std::nullopt;
    }
}

/// A drawn value within the range.
std::optional<Value> drawn(const Parameter& p, std::uint64_t lots) {
    const double t = static_cast<double>(unit_float(mix64(lots)));
    switch (p.kind) {
        case Kind::number: return Value(p.min + t * t * (p.max - p.min));
        case Kind::count: return Value(std::floor(p.min + t * t * (std::min(p.slider_max, 2000.0) - p.min)));
        case Kind::toggle: return Value(t < 0.5);
        case Kind::choice:
            return Value(std::string(
                p.choices[static_cast<std::size_t>(t * static_cast<double>(p.choices.size())) % p.choices.size()].id));
        default: return std::nullopt;
    }
}

/// What is read of a step besides its picture: a step makes no more than that, so each way of asking is a way through it.
enum class Asked { all, height, nothing };
constexpr Asked every_asked[] = {Asked::all, Asked::height, Asked::nothing};

void check_runs(const StepDescription& step, const Values& values, const Bundle& input, const Bundle& other, std::uint32_t seed,
                Asked asked) {
    std::string words(step.id);
    for (const auto& [id, value] : values) words += " " + id + "=" + show_value(*step.parameter(id), value);
    INFO(words);
    StepContext context;
    context.size = size, context.tile = tile, context.seed = seed, context.job = &job;
    context.input = step.family == Family::make ? nullptr : &input;
    const std::set<std::string, std::less<>> none, height{std::string(height_plane)};
    if (asked != Asked::all) context.wanted = asked == Asked::height ? &height : &none;
    for (const Parameter& p : step.parameters)
        if (p.kind == Kind::strand) context.others[std::string(p.id)] = &other;
    Bundle out;
    if (step.run) {
        out = step.run(values, context);
    } else {
        out = applied(std::string(step.id), values, &input, size, seed);
    }
    int wrong = 0;
    auto look = [&](const Plane& plane) {
        CHECK(plane.size() == size);
        for (std::size_t i = 0; i < plane.size().pixels(); ++i) wrong += !std::isfinite(plane.data()[i]);
    };
    for (const PlaneRef& plane : out.colour) look(*plane);
    if (out.coverage) look(*out.coverage);
    for (const auto& [name, plane] : out.named) look(*plane);
    CHECK(wrong == 0);
    for (const auto& [name, plane] : out.named)
        for (std::string_view own : {objects::u, objects::v, objects::random[0]})
            if (name == own)
                for (std::size_t i = 0; i < size.pixels(); ++i) {
                    wrong += plane->data()[i] < 0;
                    wrong += plane->data()[i] > 1;
                }
    CHECK(wrong == 0);
}

Bundle things() {
    StepContext context;
    context.size = size, context.tile = tile, context.seed = 2, context.job = &job;
    return find_step("courses")->run({{"columns", 2.0}, {"rows", 4.0}}, context);
}

}  // namespace

TEST_CASE("every step bears both ends of each of its ranges", "[catalogue][extremes][over-steps]") {
    const Bundle input = random_bundle(size, 5, true), other = things();
    for (const StepDescription& step : steps_tried())
        for (const Parameter& p : step.parameters)
            for (bool high : {false, true})
                if (const auto value = end_of(p, high))
                    for (Asked asked : every_asked) check_runs(step, {{std::string(p.id), *value}}, input, other, 1, asked);
}

TEST_CASE("every step bears any settings within its ranges", "[catalogue][extremes][over-steps]") {
    const Bundle grey = random_bundle(size, 6, false, 1), colour = random_bundle(size, 7, true), other = things();
    for (const StepDescription& step : steps_tried())
        for (std::uint32_t trial = 0; trial < 6; ++trial) {
            Values values;
            std::uint64_t which = 0;
            for (const Parameter& p : step.parameters)
                if (const auto value = drawn(p, mix64(trial * 977 + 13, ++which))) values[std::string(p.id)] = *value;
            check_runs(step, values, trial % 2 ? grey : colour, other, trial, every_asked[trial % 3]);
        }
}
