// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <fstream>
#include <iterator>
#include <nlohmann/json.hpp>

#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "core/recipe/references.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const char* const small = R"({
  "format": "keen-loom/1", "name": "Test", "seed": 7, "tile": {"width": 64, "height": 32, "wide-cm": 4.5}, "light": "linear",
  "strands": [
    {"id": "a", "name": "First", "on": true,
     "steps": [{"id": "s1", "step": "static", "set": {"spread": "even", "strength": 40, "grain-x": 2}, "seed": 5},
               {"id": "s2", "step": "levels", "set": {"in-black": 0.25}, "amount": 60, "where": "b", "on": false, "name": "Tight"}],
     "mask": [{"id": "m1", "step": "clouds"}], "edge": [{"id": "e1", "step": "invert"}],
     "join": {"blend": "soft-light", "amount": 82, "within": true},
     "routes": {"height": {"blend": "plus", "amount": 40}, "roughness": {}}},
    {"id": "b", "steps": [{"id": "s1", "step": "gradientmap", "set": {"stops": [{"place": 0, "colour": "#102030", "grain": 12}, {"place": 1, "colour": "#ffeedd"}]}}]}
  ],
  "dials": [{"name": "Tightness", "value": 30, "drives": [{"at": "a/s2.in-black", "from": 0, "to": 0.5}]}],
  "colourways": [{"name": "Night", "set": {"b/s1.reverse": true, "a/s1.seed": 9}}],
  "export": [{"anything": 1}]
})";

/// The small recipe with one member replaced, removed (discarded) or added at a JSON pointer.
std::string changed(const std::string& pointer, const std::string& value) {
    auto root = nlohmann::json::parse(small);
    root[nlohmann::json::json_pointer(pointer)] = nlohmann::json::parse(value);
    return root.dump();
}

std::string first_fault(const std::string& text) {
    const Reading reading = read_recipe(text);
    const Finding* fault = reading.first_fault();
    return fault ? fault->text() : "none";
}

}  // namespace

TEST_CASE("a recipe is read with all it says", "[recipe][json]") {
    const Reading reading = read_recipe(small);
    for (const Finding& finding : reading.findings) INFO(finding.text());
    CHECK_FALSE(reading.first_fault());
    const Recipe& r = reading.recipe;
    CHECK(r.name == "Test");
    CHECK(r.seed == 7);
    CHECK(r.tile.size() == Size{64, 32});
    CHECK(r.tile.wide_cm == 4.5);
    CHECK(r.linear_light);
    REQUIRE(r.strands.size() == 2);
    const Strand& a = *r.strands[0];
    CHECK(a.name == "First");
    CHECK(r.strands[1]->name == "b");
    CHECK(a.join == Join{Blend::soft_light, 82, true});
    CHECK(a.routes.at(Map::height) == Route{Blend::plus, 40});
    CHECK(a.routes.at(Map::roughness) == Route{});
    CHECK(a.steps[0].seed == 5);
    CHECK(as<std::string>(a.steps[0].set.at("spread")) == "even");
    CHECK(a.steps[1].amount == 60);
    CHECK_FALSE(a.steps[1].on);
    CHECK(a.steps[1].where == "b");
    CHECK(a.steps[1].name == "Tight");
    CHECK(a.mask.size() == 1);
    CHECK(a.edge.size() == 1);
    CHECK(as<Stops>(r.strands[1]->steps[0].set.at("stops"))[0].grain == 12);
    CHECK(r.dials[0].drives[0].at == Address{"a", "s2", "in-black"});
    CHECK(r.colourways[0].set.at({"a", "s1", "seed"}) == Value(9.0));
}

TEST_CASE("writing and reading a recipe changes nothing", "[recipe][json]") {
    const Recipe once = read_recipe(small).recipe;
    const std::string text = write_recipe(once);
    const Reading again = read_recipe(text);
    CHECK_FALSE(again.first_fault());
    CHECK(again.recipe == once);
    CHECK(write_recipe(again.recipe) == text);
    CHECK(nlohmann::json::parse(text)["export"][0]["anything"] == 1);
}

TEST_CASE("the samples round trip and have no findings", "[recipe][json][samples]") {
    for (const char* name : {"carriage-oak", "rail-steel", "glove-suede"}) {
        INFO(name);
        std::ifstream file(sample(name) + "/recipe.json");
        const std::string text{std::istreambuf_iterator<char>(file), {}};
        const Reading reading = read_recipe(text);
        for (const Finding& finding : reading.findings) FAIL_CHECK(finding.text());
        CHECK(read_recipe(write_recipe(reading.recipe)).recipe == reading.recipe);
        CHECK(reading.recipe.dials.size() >= 3);
        CHECK(reading.recipe.colourways.size() >= 2);
        CHECK(reading.recipe.tile.wide_cm);
    }
}

TEST_CASE("a default is not written, whoever set it", "[recipe][json]") {
    const Recipe r = read_recipe(changed("/strands/0/steps/0/set/strength", "60")).recipe;
    CHECK_FALSE(r.strands[0]->steps[0].set.contains("strength"));
}

TEST_CASE("unknown steps, parameters and fields are kept, warned about and written back untouched", "[recipe][json]") {
    auto root = nlohmann::json::parse(small);
    root["strands"][0]["steps"][1] = {
        {"id", "s2"}, {"step", "quilt"}, {"set", {{"patches", 4}, {"deep", {{"er", nullptr}}}}}, {"mood", "calm"}};
    root["strands"][0]["steps"][0]["set"]["sparkle"] = 3;
    root["strands"][0]["weight"] = 12;
    root["strands"][0]["routes"]["glow"] = {{"amount", 5}};
    root["weather"] = "rain";
    root["dials"] = nlohmann::json::array();
    const Reading reading = read_recipe(root.dump());
    CHECK_FALSE(reading.first_fault());
    std::string all;
    for (const Finding& finding : reading.findings) all += finding.text() + "\n";
    for (const char* place :
         {"/strands/0/steps/1/step", "/strands/0/steps/0/set/sparkle", "/strands/0/weight", "/strands/0/routes/glow", "/weather"})
        CHECK_THAT(all, Catch::Contains(place));
    const auto back = nlohmann::json::parse(write_recipe(reading.recipe));
    CHECK(back["strands"][0]["steps"][1]["set"] == root["strands"][0]["steps"][1]["set"]);
    CHECK(back["strands"][0]["steps"][1]["mood"] == "calm");
    CHECK(back["strands"][0]["steps"][0]["set"]["sparkle"] == 3);
    CHECK(back["strands"][0]["weight"] == 12);
    CHECK(back["strands"][0]["routes"]["glow"]["amount"] == 5);
    CHECK(back["weather"] == "rain");
}

TEST_CASE("each kind of fault is named with its place, in one line", "[recipe][json][faults]") {
    const std::pair<std::string, std::string> cases[] = {
        {"{\"format\": ", "/: no readable JSON"},
        {"[]", "/: must be an object"},
        {"{}", "/format: must be \"keen-loom/1\""},
        {changed("/format", "\"keen-loom/9\""), "/format: must be \"keen-loom/1\", not 'keen-loom/9'"},
        {changed("/name", "5"), "/name: must be a text"},
        {changed("/seed", "-1"), "/seed: must be a whole number from 0 to 4294967295"},
        {changed("/seed", "1.5"), "/seed: must be a whole number"},
        {changed("/tile/width", "100000"), "/tile/width: must be a whole number from 16 to 16384"},
        {changed("/tile/height", "\"big\""), "/tile/height"},
        {changed("/light", "\"dim\""), "/light: must be"},
        {changed("/strands", "{}"), "/strands: must be a list"},
        {changed("/strands/0", "3"), "/strands/0: must be an object"},
        {changed("/strands/0/id", "\"\""), "/strands/0/id: the strand's id is missing"},
        {changed("/strands/1/id", "\"a\""), "/strands/1/id: there is another strand 'a'"},
        {changed("/strands/0/on", "1"), "/strands/0/on: must be true or false"},
        {changed("/strands/0/steps/1/id", "\"s1\""), "/strands/0/steps/1/id: the strand has another step 's1'"},
        {changed("/strands/0/steps/0/step", "\"\""), "/strands/0/steps/0/step"},
        {changed("/strands/0/steps/0/amount", "101"), "/strands/0/steps/0/amount: must be a number from 0 to 100"},
        {changed("/strands/0/steps/0/set/strength", "900"),
         "/strands/0/steps/0/set/strength: strength must be a number from 0 to 400"},
        {changed("/strands/0/steps/0/set/strength", "\"much\""), "/strands/0/steps/0/set/strength: strength must be a number"},
        {changed("/strands/0/steps/0/set/spread", "\"odd\""),
         "/strands/0/steps/0/set/spread: spread must be one of even, gaussian, sparse"},
        {changed("/strands/0/mask/0/set", "{\"octaves\": 2.5}"), "/strands/0/mask/0/set/octaves: octaves must be a whole number"},
        {changed("/strands/1/steps/0/set/stops", "[]"), "needs at least one stop"},
        {changed("/strands/1/steps/0/set/stops/0/colour", "\"blue\""), "/strands/1/steps/0/set/stops/0/colour: must be a colour"},
        {changed("/strands/1/steps/0/set/stops/0/place", "2"), "/strands/1/steps/0/set/stops/0/place"},
        {changed("/strands/0/join/blend", "\"mush\""), "/strands/0/join/blend: there is no blend 'mush'"},
        {changed("/strands/0/join/amount", "-5"), "/strands/0/join/amount"},
        {changed("/strands/0/routes/height/amount", "400"), "/strands/0/routes/height/amount"},
        {changed("/strands/0/steps/1/where", "\"z\""), "/strands/0/steps/1/where: there is no strand 'z'"},
        {changed("/dials/0/value", "400"), "/dials/0/value"},
        {changed("/dials/0/drives/0/at", "\"nonsense\""), "/dials/0/drives/0/at"},
        {changed("/dials/0/drives/0/at", "\"a/s9.x\""), "names nothing in this recipe"},
        {changed("/dials/0/drives/0/to", "5"), "/dials/0/drives/0: a/s2.in-black must be a number from 0 to 1"},
        {changed("/colourways/0/set", "{\"b/s1.reverse\": 4}"), "/colourways/0/set/b~1s1.reverse: reverse must be true or false"},
    };
    for (const auto& [text, expected] : cases) {
        const std::string fault = first_fault(text);
        CHECK_THAT(fault, Catch::Contains(expected));
        CHECK(fault.find('\n') == std::string::npos);
    }
}

TEST_CASE("all faults are named, not only the first", "[recipe][json][faults]") {
    auto root = nlohmann::json::parse(small);
    root["seed"] = -1;
    root["strands"][0]["steps"][0]["amount"] = 300;
    root["strands"][1]["steps"][0]["set"]["reverse"] = "yes";
    // The second strand begins with a step that makes nothing: a warning beside the three faults, and another for a preset that
    // has no name.
    const Reading reading = read_recipe(root.dump());
    CHECK(reading.findings.size() == 5);
    CHECK(std::count_if(reading.findings.begin(), reading.findings.end(),
                        [](const Finding& f) { return f.weight == Finding::Weight::fault; }) == 3);
}

TEST_CASE("a circle of borrowed strands is a fault that names the strands", "[recipe][faults]") {
    auto root = nlohmann::json::parse(small);
    root["strands"][0]["steps"][1] = {{"id", "s2"}, {"step", "borrow"}, {"set", {{"strand", "b"}}}};
    root["strands"][1]["steps"][0] = {{"id", "s1"}, {"step", "borrow"}, {"set", {{"strand", "a"}}}};
    root["dials"] = root["colourways"] = nlohmann::json::array();
    CHECK_THAT(first_fault(root.dump()), Catch::Contains("strands go round in a circle: a needs b needs a"));
    // Oneself is the smallest circle.
    root["strands"][1]["steps"][0]["set"]["strand"] = "b";
    CHECK_THAT(first_fault(root.dump()), Catch::Contains("b needs b"));
    // What lies beneath counts too: the left strand borrows the right one, which works on the left one.
    root["strands"][1]["steps"][0] = {{"id", "s1"}, {"step", "beneath"}};
    CHECK_THAT(first_fault(root.dump()), Catch::Contains("circle"));
}

TEST_CASE("texts of a shape that would be read for ever are refused before they are read", "[recipe][faults]") {
    const auto first = [](const std::string& text) {
        const Reading reading = read_recipe(text);
        REQUIRE(reading.first_fault());
        return reading.first_fault()->message;
    };
    std::string members;
    for (int k = 0; k < 300000; ++k) members += ",\"m" + std::to_string(k) + "\":0";
    CHECK_THAT(first("{\"format\":\"keen-loom/1\"" + members + "}"), Catch::Contains("4096 members"));
    CHECK_THAT(first(std::string(65, '[') + std::string(65, ']')), Catch::Contains("64 deep"));
    // Brackets and commas within words are words; long lists are read at once, and told of by their place.
    std::string steps;
    for (int k = 0; k < 300000; ++k) steps += (k ? "," : "") + std::string("{\"id\":\"s\"}");
    CHECK_THAT(first("{\"format\":\"keen-loom/1\",\"strands\":[" + steps + "]}"), Catch::Contains("more than 4096 entries"));
    const std::string words = "{\"format\":\"keen-loom/1\",\"name\":\"" + std::string(100, '[') + "\\\"" +
                              std::string(5000, ',') + "{\",\"strands\":[]}";
    const Reading reading = read_recipe(words);
    CHECK_FALSE((reading.first_fault() && reading.first_fault()->message.find("no readable JSON") != std::string::npos));
}

TEST_CASE("nothing in a damaged text makes the reader stumble", "[recipe][faults]") {
    const std::string text = small;
    for (std::size_t length = 0; length < text.size() - 2; length += 7) {
        INFO(length);
        CHECK(read_recipe(text.substr(0, length)).first_fault());
    }
    for (std::size_t at = 0; at < text.size(); at += 3) {
        std::string broken = text;
        broken[at] = static_cast<char>(broken[at] ^ 5);
        for (const Finding& finding : read_recipe(broken).findings) REQUIRE(finding.text().find('\n') == std::string::npos);
    }
    CHECK(read_recipe(std::string(200000, '[')).first_fault());
}

TEST_CASE("recipes with what steps were called before open with a word about it, and keep it", "[recipe][json]") {
    const std::string text = R"({"format": "keen-loom/1", "strands": [{"id": "a", "steps": [{"id": "s1", "step": "clouds"},
        {"id": "s2", "step": "press", "set": {"source": "canvas", "size": 140, "invert": true, "depth": 5}},
        {"id": "s3", "step": "wave", "set": {"count": 3, "shortest": 40, "longest": 200}},
        {"id": "s4", "step": "dapple", "set": {"definition": 80, "softness": 20}},
        {"id": "s5", "step": "crinkle", "set": {"across": 20, "edge": 10, "size": 60}},
        {"id": "s6", "step": "huesat", "set": {"range": "blues", "hue": 20}}]}]})";
    const Reading reading = read_recipe(text);
    CHECK_FALSE(reading.first_fault());
    CHECK(reading.findings.size() == 10);
    const Strand& a = *reading.recipe.strand("a");
    CHECK(a.steps[1].set.at("depth") == Value(5.0));
    CHECK(a.steps[4].set.at("size") == Value(60.0));
    const std::string again = write_recipe(reading.recipe);
    for (const char* word :
         {"\"source\": \"canvas\"", "\"shortest\": 40", "\"definition\": 80", "\"edge\": 10", "\"range\": \"blues\""})
        CHECK(again.find(word) != std::string::npos);
}
