// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/formula/formula.h"

#include <cmath>
#include <functional>

#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{80, 50};

Bundle made(const std::string& text, const Inputs& inputs = {}, const Bundle* strand = nullptr) {
    return applied("formula", {{"expression", text}, {"inputs", inputs}, {"strand", std::string(strand ? "s" : "")}}, nullptr,
                   size, 3, 0, strand);
}

double pixel_u(int x) { return (x + 0.5) / size.width; }
double pixel_v(int y) { return (y + 0.5) / size.height; }
double fraction(double t) { return t - std::floor(t); }

}  // namespace

TEST_CASE("formulas compute what C++ computes", "[formula]") {
    using Reference = std::function<double(double u, double v)>;
    const std::pair<const char*, Reference> cases[] = {
        {"u", [](double u, double) { return u; }},
        {"x / 80 + y / 50", [](double u, double v) { return u + v; }},
        {"2 + 3 * u ^ 2", [](double u, double) { return 2 + 3 * u * u; }},
        {"(u - 0.5) ^ 2 + (v - 0.5) ^ 3 + (u - 2) ^ (0 - 1)",
         [](double u, double v) { return std::pow(u - 0.5, 2) + std::pow(v - 0.5, 3) + std::pow(u - 2, -1); }},
        {"(0 - u - 1) ^ 0.5 + (v - 0.5) ^ 0", [](double, double) { return 1.0; }},
        {"-u + +v - -1", [](double u, double v) { return -u + v + 1; }},
        {"2 - 3 - 4", [](double, double) { return -5.0; }},
        {"2 ^ 3 ^ 2 / 512 * u", [](double u, double) { return u; }},
        {"(u + v) * (u - v)", [](double u, double v) { return u * u - v * v; }},
        {"sin(u * 6) + cos(v * 5)", [](double u, double v) { return std::sin(u * 6) + std::cos(v * 5); }},
        {"tan(u)", [](double u, double) { return std::tan(u); }},
        {"exp(u) * log(v + 1)", [](double u, double v) { return std::exp(u) * std::log(v + 1); }},
        {"sqrt(u) + abs(v - 0.5)", [](double u, double v) { return std::sqrt(u) + std::abs(v - 0.5); }},
        {"floor(u * 7) + ceil(v * 3) - round(u * 2 - v)",
         [](double u, double v) { return std::floor(u * 7) + std::ceil(v * 3) - std::nearbyint(u * 2 - v); }},
        {"min(u, v) + max(u, v) * 2", [](double u, double v) { return std::min(u, v) + 2 * std::max(u, v); }},
        {"mod(u * 9, 2) + u * 5 % 1", [](double u, double) { return std::fmod(u * 9, 2) + std::fmod(u * 5, 1); }},
        {"mod(0 - u, 1)", [](double u, double) { return fraction(-u); }},
        {"mix(u, v, 0.25)", [](double u, double v) { return u + 0.25 * (v - u); }},
        {"if(u < 0.5 && v >= 0.25 || u == 7, 1, 2)", [](double u, double v) { return u < 0.5 && v >= 0.25 ? 1.0 : 2.0; }},
        {"(u != v) + (u > v) * 2 + (u <= v) * 4", [](double u, double v) { return (u != v) + (u > v) * 2.0 + (u <= v) * 4.0; }},
        {"step(0.3, u) + smoothstep(0.2, 0.8, v)",
         [](double u, double v) {
             const double t = std::clamp((v - 0.2) / 0.6, 0.0, 1.0);
             return (u >= 0.3) + t * t * (3 - 2 * t);
         }},
        {"clamp(u * 2, 0.5, 1.5) + sign(u - v)",
         [](double u, double v) { return std::clamp(u * 2, 0.5, 1.5) + (u > v) - (u < v); }},
        {"wave(u * 3) + tri(v * 2) + saw(u * 5)",
         [](double u, double v) {
             const double t = fraction(v * 2);
             return 0.5 + 0.5 * std::sin(6.283185307179586 * u * 3) + std::min(2 * t, 2 - 2 * t) + fraction(u * 5);
         }},
        {"pow(u, v) + pi", [](double u, double v) { return std::pow(u, v) + 3.14159265358979; }},
        {"r", [](double u, double v) { return std::hypot(u - 0.5, v - 0.5); }},
        {"a", [](double u, double v) { return fraction(std::atan2(0.5 - v, u - 0.5) / 6.283185307179586); }},
    };
    for (const auto& [text, reference] : cases) {
        INFO(text);
        REQUIRE_FALSE(read_formula(text).fault);
        const Bundle result = made(text);
        REQUIRE(result.grey());
        for (int y = 0; y < size.height; y += 3)
            for (int x = 0; x < size.width; ++x)
                REQUIRE(result.channel(0).at(x, y) == Approx(reference(pixel_u(x), pixel_v(y))).margin(3e-5).epsilon(1e-4));
    }
}

TEST_CASE("a fault is told at its character, in words", "[formula]") {
    const struct {
        const char* text;
        std::size_t at;
        const char* words;
    } cases[] = {
        {"", 0, "empty"},
        {"u +", 3, "missing at the end"},
        {"u * (v + 1", 10, "not closed"},
        {"u ) + 1", 2, "bracket"},
        {"2 v", 2, "operator is missing"},
        {"wobble(u)", 0, "no function 'wobble'"},
        {"u + wave", 4, "write wave(t)"},
        {"u(3)", 0, "no function"},
        {"mix(u, v)", 8, "too few"},
        {"sin(u, v)", 8, "too many"},
        {"u = 3", 2, "write =="},
        {"u ? 1 : 2", 2, "write if(condition, then, else)"},
        {"u # v", 2, "means nothing"},
        {"u + \xc3\xa9", 4, "means nothing"},
        {"u, v", 0, "three for colour"},
        {"1 + noise(u, v, u)", 4, "same everywhere"},
        {"noise(u, v, 4) + clouds(u, v, 4, 40)", 17, "octaves"},
        {"noise(u, v)", 0, "takes 3 numbers"},
        {"* u", 0, "nothing for"},
    };
    for (const auto& each : cases) {
        const FormulaReading reading = read_formula(each.text);
        INFO(each.text);
        REQUIRE(reading.fault);
        INFO(reading.fault->at << ": " << reading.fault->message);
        CHECK(reading.fault->at == each.at);
        CHECK_THAT(reading.fault->message, Catch::Contains(each.words));
        CHECK(lines_in(reading.fault->message) == 0);
        const Parameter& p = *find_step("formula")->parameter("expression");
        CHECK_THAT(refuses(p, Value(std::string(each.text))).value_or(""), Catch::Contains("character"));
    }
    CHECK_THAT(refuses(*find_step("formula")->parameter("expression"), Value(std::string(5000, 'u'))).value_or(""),
               Catch::Contains("4096"));
}

TEST_CASE("every word is documented and works as its form says", "[formula]") {
    for (const FormulaWord& word : formula_words()) {
        INFO(word.word);
        CHECK(word.help.ends_with("."));
        const bool of_plane = word.kind == FormulaWord::Kind::plane;
        CHECK(word.form.substr(of_plane ? 2 : 0).starts_with(word.word));
        // What some strands are made of takes no name from the inputs of a formula.
        CHECK(read_formula(word.word).inputs.empty() != of_plane);
        std::string form(word.form);
        // The letters of the forms become inputs, places or counts.
        for (const auto& [from, to] : {std::pair{", n", ", 4"}, std::pair{", octaves", ", 3"}})
            if (const auto at = form.find(from); at != std::string::npos) {
                const std::string rest = form.substr(at + std::string(from).size());
                form.resize(at);
                form.append(to).append(rest);
            }
        const FormulaReading reading = read_formula(form);
        CHECK_FALSE(reading.fault);
        CHECK(reading.program.results.size() == 1);
    }
}

TEST_CASE("a name becomes an input with a slider, and its value, range and note are kept", "[formula]") {
    const FormulaReading reading = read_formula("speed * u + depth_2 - speed");
    CHECK(reading.inputs == std::vector<std::string>{"speed", "depth_2"});
    const Inputs kept{{"depth_2", 3, -5, 5, "How deep."}};
    const Inputs present = find_step("formula")->inputs({{"expression", std::string("speed * u + depth_2")}, {"inputs", kept}});
    REQUIRE(present.size() == 2);
    CHECK(present[0] == Input{"speed", 0.5, 0, 1, ""});
    CHECK(present[1] == kept[0]);
    CHECK(made("speed + depth_2 * 0 + u * 0", {{"speed", 0.25, 0, 1, ""}}).channel(0).at(3, 3) == Approx(0.25));
    std::string many = "u";
    for (int k = 0; k < 13; ++k) many += " + n", many += std::to_string(k);
    CHECK_THAT(read_formula(many).fault.value_or(TextFault{}).message, Catch::Contains("thirteenth"));
    // A single input can be set, and driven by a dial, by its name.
    Recipe recipe = recipe_of({strand_of("a", {{"formula", {{"expression", std::string("speed * u")}}}})});
    const Address at{"a", "s1", "inputs.speed"};
    CHECK(value_at(recipe, at) == Value(0.5));
    CHECK_FALSE(refuses(recipe, at, Value(0.75)));
    CHECK_THAT(refuses(recipe, at, Value(2.0)).value_or(""), Catch::Contains("from 0 to 1"));
    recipe = with_value(std::move(recipe), at, Value(0.75));
    CHECK(value_at(recipe, at) == Value(0.75));
    CHECK_FALSE(value_at(recipe, {"a", "s1", "inputs.other"}));
    const Reading back = read_recipe(write_recipe(recipe));
    CHECK_FALSE(back.first_fault());
    CHECK(back.recipe == recipe);
    recipe.dials.push_back({"Speed", 50, {{at, 0, 1}}});
    CHECK(value_at(with_dial(recipe, "Speed", 20), at) == Value(0.2));
}

TEST_CASE("formulas give grey, colour, or colour with coverage", "[formula]") {
    const Bundle colour = made("u, v, 0.5");
    CHECK(colour.colour.size() == 3);
    CHECK(colour.channel(1).at(4, 20) == Approx(pixel_v(20)));
    const Bundle covered = made("1, 0.5, 0, u");
    REQUIRE(covered.coverage);
    CHECK(covered.coverage->at(40, 2) == Approx(pixel_u(40)));
    CHECK(covered.channel(1).at(40, 2) == Approx(0.5 * pixel_u(40)));
}

TEST_CASE("noise in a formula is a function: periodic, and the same wherever it is called", "[formula]") {
    for (const char* call : {"noise(u + k, v, 5)", "clouds(u, v + k, 4, 5)", "cells(u + k, v + k, 6)", "celltone(u, v - k, 6)",
                             "celledge(u - k, v, 6)"}) {
        INFO(call);
        const Bundle here = made(call, {{"k", 0, 0, 9, ""}}), there = made(call, {{"k", 3, 0, 9, ""}});
        double least = 9, most = -9;
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            least = std::min(least, static_cast<double>(here.colour[0]->data()[i]));
            most = std::max(most, static_cast<double>(here.colour[0]->data()[i]));
        }
        CHECK(most - least > 0.3);
        // Whole tiles away; the fraction loses its last bits to the whole part.
        if (std::string_view(call).starts_with("celltone")) {
            int other = 0;
            for (std::size_t i = 0; i < size.pixels(); ++i) other += here.colour[0]->data()[i] != there.colour[0]->data()[i];
            CHECK(other < 10);
        } else {
            CHECK(greatest_difference(here, there) < 2e-3);
        }
    }
    CHECK(greatest_difference(made("noise(u, v, 5) - noise(u, v, 5)"), made("0 * u")) == 0);
    CHECK(greatest_difference(made("noise(u, v, 5)"), made("noise(u, v, 5, 1)")) > 0.2);
    CHECK(greatest_difference(made("lot(floor(u * 9))"), made("lot(floor(u * 9) + 0.2)")) == 0);
}

TEST_CASE("a formula reads another strand and its objects", "[formula][objects]") {
    Recipe recipe =
        recipe_of({strand_of("stones", {{"cells", {{"size", 24.0}}, 2}}),
                   strand_of("made", {{"formula",
                                       {{"expression", std::string("lot1, object_u * object_v, if(object > 0, height, 9)")},
                                        {"strand", std::string("stones")}}}})},
                  128);
    const Bundle result = cloth(recipe, {128, 128});
    CHECK(deviation_of(result.channel(0)) > 0.2);
    CHECK(deviation_of(result.channel(1)) > 0.1);
    CHECK(mean_of(result.channel(2)) < 1.2);
    CHECK(mean_of(result.channel(2)) > 0.2);
    // A colour that is partly covered is read straight.
    const Bundle covered = random_bundle(size, 4, true);
    const Bundle red = made("red", {}, &covered);
    for (std::size_t i = 0; i < size.pixels(); i += 7)
        if (covered.coverage->data()[i] > 0.1f)
            CHECK(red.colour[0]->data()[i] == Approx(covered.colour[0]->data()[i] / covered.coverage->data()[i]).margin(1e-4));
}

TEST_CASE("a formula cannot run away or hand on what is no number", "[formula]") {
    for (const char* text : {"1 / (u - u)", "log(0 * u)", "sqrt(0 - u)", "exp(u * 1e9)", "(0 - u) ^ 0.5", "u / 0 - u / 0",
                             "tan(pi / 2 * (u * 0 + 1))", "noise(u * 1e30, v / 0, 7)", "cells(u / 0, v, 3)", "lot(u * 1e30)"}) {
        INFO(text);
        const Bundle result = made(text);
        for (std::size_t i = 0; i < size.pixels(); ++i) REQUIRE(std::isfinite(result.colour[0]->data()[i]));
    }
    // As deep and as long as may be.
    std::string deep(1500, '(');
    deep += 'u', deep.append(1500, ')');
    CHECK_FALSE(read_formula(deep).fault);
    std::string wide = "u";
    while (wide.size() < 4080) wide += "+sin(u)*v";
    REQUIRE_FALSE(read_formula(wide).fault);
    // Registers are shared: a long sum needs no more room than a short one.
    CHECK(read_formula(wide).program.registers < static_cast<int>(formula_sources().size()) + 16);
    CHECK(std::isfinite(made(wide).channel(0).at(1, 1)));
}

TEST_CASE("faults in the lines of a formula are told at their place", "[formula]") {
    const auto fault = [](const char* text) {
        const auto found = read_formula(text).fault;
        return found ? std::to_string(found->at) + ": " + found->message : std::string();
    };
    CHECK(fault("a1 = u; a1 * 2").empty());
    CHECK(fault("a1 = u; ") == "8: the last line gives the value: write it after the ;");
    CHECK(fault("a1 = u").starts_with("3: write == to compare"));
    CHECK(fault("u; v") == "0: a line before the last names something: write name = ...;");
    CHECK(fault("wave = 2; 1") == "0: 'wave' is a word already: choose another name");
    CHECK(fault("k = m + 1; m = 2; k").find("'m' is used before its line has given it") != std::string::npos);
    CHECK(fault("k = 1; k = 2; k") == "7: 'k' has been given a line before");
    CHECK(fault("k = 1, 2, 3; k").find("a line gives its name one value") != std::string::npos);
    CHECK(fault("k = u +; k").find("7: ") == 0);
    CHECK(fault("b.nothing") == "0: a strand has no 'nothing'");
    CHECK(fault("tone(2)") == "0: 'tone' is no function");
    CHECK(fault("x = 3; x") == "0: 'x' is a word already: choose another name");
}
