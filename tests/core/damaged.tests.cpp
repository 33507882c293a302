// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Recipes that somebody's script or a careless hand has changed: whatever stands in a place of a sample, it is refused with
// words about that place, or it is understood, keeps through saving and renders.
#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/hash.h"
#include "core/recipe/container.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;
using nlohmann::json;

namespace {

std::vector<std::string> sample_names() {
    std::vector<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator(std::string(KEEN_LOOM_ROOT) + "/samples"))
        if (entry.path().extension() == ".loom") names.push_back(entry.path().stem());
    std::sort(names.begin(), names.end());
    return names;
}

/// Every place of a document, containers too; the root itself is left out.
std::vector<json::json_pointer> places(const json& root) {
    std::vector<json::json_pointer> found;
    const std::function<void(const json&, const json::json_pointer&)> walk = [&](const json& here, const json::json_pointer& at) {
        if (!at.empty()) found.push_back(at);
        if (here.is_object())
            for (const auto& [name, value] : here.items()) walk(value, at / name);
        if (here.is_array())
            for (std::size_t k = 0; k < here.size(); ++k) walk(here[k], at / k);
    };
    walk(root, json::json_pointer());
    return found;
}

const json wrong[] = {
    nullptr,        true,           -1, 0.5, 1e300, 4294967296.0, "", "zz", "s1", json::array(), json::array({1}),
    json::object(), json{{"zz", 1}}};

/// Reads; the recipe if nothing stood in the way. Every word about it is one line with a place that can be followed.
std::optional<Recipe> understood(const json& root) {
    Reading reading = read_recipe(root.dump());
    for (const Finding& finding : reading.findings) {
        CHECK(finding.text().find('\n') == std::string::npos);
        CHECK((finding.pointer.empty() || finding.pointer.front() == '/'));
        CHECK(finding.message.size() > 5);
        CHECK(finding.text().size() < 700);
    }
    if (reading.first_fault()) return std::nullopt;
    return std::move(reading.recipe);
}

}  // namespace

TEST_CASE("a wrong value anywhere in a sample is refused or kept, and what is kept opens again as it was",
          "[recipe][faults][fuzz]") {
    const auto names = sample_names();
    REQUIRE(names.size() >= 3);
    int refused = 0, kept = 0, rendered = 0;
    for (std::size_t n = 0; n < names.size(); ++n) {
        const auto file = read_loom(sample(names[n]));
        REQUIRE(file.ok());
        const json whole = json::parse(write_recipe(file->recipe));
        const auto all = places(whole);
        for (std::size_t k = 0; k < 500; ++k) {
            const std::uint64_t lot = mix64(n * 1000 + k);
            const auto& at = all[lot % all.size()];
            json root = whole;
            const json& value = wrong[(lot >> 32) % std::size(wrong)];
            root[at] = value;
            INFO(names[n] << at.to_string() << " = " << value.dump());
            const auto recipe = understood(root);
            if (!recipe) {
                ++refused;
                continue;
            }
            ++kept;
            const std::string text = write_recipe(*recipe);
            const Reading again = read_recipe(text);
            CHECK(!again.first_fault());
            CHECK(write_recipe(again.recipe) == text);
            if (++rendered % 24 == 0) CHECK(cloth(*recipe, {32, 32}).size() == Size{32, 32});
        }
    }
    // Neither answer is given to everything.
    CHECK(refused > 60);
    CHECK(kept > 60);
}

TEST_CASE("whatever is missing from a sample, the rest is read or the gap is named", "[recipe][faults][fuzz]") {
    for (const std::string& name : sample_names()) {
        const auto file = read_loom(sample(name));
        REQUIRE(file.ok());
        const json whole = json::parse(write_recipe(file->recipe));
        const auto all = places(whole);
        for (std::size_t k = 0; k < 80; ++k) {
            const auto& at = all[mix64(k * 77 + name.size()) % all.size()];
            json root = whole;
            json& parent = root[at.parent_pointer()];
            if (parent.is_array())
                parent.erase(std::stoul(at.back()));
            else
                parent.erase(at.back());
            INFO(name << " without " << at.to_string());
            if (const auto recipe = understood(root)) CHECK(!read_recipe(write_recipe(*recipe)).first_fault());
        }
    }
}
