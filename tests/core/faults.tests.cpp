// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <clocale>
#include <cstdlib>
#include <filesystem>
#include <new>
#include <stdexcept>

#include "core/base/guard.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("whatever is thrown becomes an error that names what was being done", "[guard]") {
    const std::pair<std::function<void()>, Fault> cases[] = {
        {[] { throw Cancelled{}; }, Fault::cancelled},
        {[] { throw std::bad_alloc(); }, Fault::memory},
        {[] { throw std::length_error("vector"); }, Fault::memory},
        {[] { throw std::runtime_error("a wheel came off"); }, Fault::file},
        {[] { throw std::filesystem::filesystem_error("no", "/some/path", std::make_error_code(std::errc::permission_denied)); },
         Fault::file},
        {[] { throw 7; }, Fault::file}};
    for (const auto& [thrower, fault] : cases) {
        const auto result = guarded("weaving 'Oak'", [&, throws = thrower]() -> Result<Done> {
            throws();
            return Done{};
        });
        REQUIRE_FALSE(result);
        CHECK(result.error().fault == fault);
        CHECK(result.error().message.find('\n') == std::string::npos);
        if (fault != Fault::cancelled) CHECK_THAT(result.error().message, Catch::StartsWith("weaving 'Oak'"));
    }
    CHECK(guarded("nothing", []() -> Result<int> { return 3; }).value() == 3);
}

TEST_CASE("a step that throws fails its rendering with a sentence", "[guard][render]") {
    StepDescription broken = *find_step("invert");
    broken.per_pixel = nullptr;
    broken.run = [](const Values&, const StepContext&) -> Bundle { throw std::runtime_error("a wheel came off"); };
    const Bundle in = random_bundle({8, 8}, 1);
    const auto result = apply_step(broken, {}, 0, {8, 8}, &in, {}, 1, job);
    REQUIRE_FALSE(result);
    CHECK_THAT(result.error().message, Catch::Contains("Invert") && Catch::Contains("a wheel came off"));
}

TEST_CASE("numbers too large for a computer and lists too deep are faults of the file", "[guard][json]") {
    const std::string deep = "{\"format\": \"keen-loom/1\", \"x\": " + std::string(100000, '[') + std::string(100000, ']') + "}";
    for (const std::string& text : {std::string(R"({"format": "keen-loom/1", "seed": 1e999, "strands": []})"), deep}) {
        const Reading reading = read_recipe(text);
        REQUIRE(reading.first_fault());
        CHECK_THAT(reading.first_fault()->message, Catch::Contains("no readable JSON"));
    }
}

TEST_CASE("numbers are written with a point, whatever the system's language", "[guard][locale]") {
    // A language that writes a comma, made for this test alone.
    const TemporaryFolder folder;
    const std::string made = folder.path("de_DE.UTF-8");
    if (std::system(("localedef -i de_DE -f UTF-8 " + made + " 2>/dev/null").c_str()) != 0 && !std::filesystem::exists(made))
        FAIL("localedef cannot make a language; the package locales is missing");
    ::setenv("LOCPATH", folder.path().c_str(), 1);
    REQUIRE(std::setlocale(LC_ALL, "de_DE.UTF-8"));
    char comma[16];
    std::snprintf(comma, sizeof comma, "%.1f", 0.5);
    CHECK(std::string(comma) == "0,5");
    const Parameter& p = *find_step("gaussian")->parameter("radius");
    const std::string shown = show_value(p, Value(2.5)), written = write_number(2.5);
    const Bundle formula = applied("formula", {{"expression", std::string("0.25 + 0 * u")}}, nullptr, {4, 4});
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {{"roughness", 12.5}}}})});
    const Reading back = read_recipe(write_recipe(recipe));
    std::setlocale(LC_ALL, "C");
    ::unsetenv("LOCPATH");
    CHECK(shown == "2.5 px");
    CHECK(written == "2.5");
    CHECK(formula.channel(0).at(1, 1) == Approx(0.25));
    CHECK(back.recipe == recipe);
}
