// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "tests/fuzz/targets.h"

#include <cstdio>
#include <cstdlib>

#include "core/catalogue/description.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/files/wif.h"
#include "core/recipe/clip.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "core/render/render.h"

namespace loom::fuzz {

namespace {

constexpr std::size_t enough_memory = std::size_t{256} << 20;
constexpr int most_steps = 12, small = 24;

int steps_of(const Recipe& recipe) {
    int count = 0;
    for (const StrandRef& strand : recipe.strands)
        for (ChainKind chain : all_chains) count += static_cast<int>(strand->chain(chain).size());
    return count;
}

/// A small picture of it, if it is small itself.
void draw(const Recipe& recipe) {
    if (steps_of(recipe) > most_steps) return;
    RenderOptions options;
    options.threads = 1, options.memory_limit = enough_memory, options.pictures = &picture_reader();
    (void)render_cloth(recipe, size_for(recipe.tile, small), options, Job());
}

Step step_with(const char* kind, std::string_view parameter, Value value) {
    Step step;
    step.id = "s1", step.kind = kind;
    step.set.insert_or_assign(std::string(parameter), std::move(value));
    return step;
}

Recipe recipe_with(std::vector<Step> steps) {
    Strand strand;
    strand.id = "a", strand.name = "a";
    for (Step& step : steps) strand.steps.push_back(std::move(step));
    Recipe recipe;
    recipe.tile.width = recipe.tile.height = 256;
    recipe.strands.push_back(std::make_shared<const Strand>(std::move(strand)));
    return recipe;
}

}  // namespace

void must(bool so, const char* what) {
    if (so) return;
    std::fprintf(stderr, "this should not be: %s\n", what);
    std::abort();
}

void try_recipe(std::string_view bytes) {
    const Reading reading = read_recipe(bytes);
    if (reading.first_fault()) return;
    const std::string text = write_recipe(reading.recipe);
    const Reading again = read_recipe(text);
    must(!again.first_fault(), "a recipe that was written has a fault");
    must(write_recipe(again.recipe) == text, "a recipe that was written and read is written otherwise");
    draw(reading.recipe);
}

void try_container(std::string_view bytes) {
    ReadingBudget budget;
    budget.bytes = enough_memory;
    auto file = inspect_loom_bytes(std::string(bytes), "file", budget);
    if (!file) return;
    for (const Finding& finding : file->findings)
        if (finding.weight == Finding::Weight::fault) return;
    const auto written = loom_bytes(*file);
    must(written.ok(), "what was read cannot be written");
    ReadingBudget second;
    must(inspect_loom_bytes(*written, "file", second).ok(), "what was written cannot be read");
}

void try_wif(std::string_view bytes) {
    const auto draft = read_wif(bytes, "draft");
    if (!draft) return;
    Step weave = step_with("weave", "grid", Value(LongText(draft_text(*draft))));
    weave.set.insert_or_assign("draft", Value(std::string("grid")));
    draw(recipe_with({std::move(weave)}));
}

void try_formula(std::string_view bytes) {
    const StepDescription& step = *find_step("formula");
    const auto value = parse_value(*step.parameter("expression"), bytes);
    if (value) draw(recipe_with({step_with("formula", "expression", *value)}));
}

void try_clip(std::string_view bytes) {
    const auto clip = read_clip(bytes);
    if (!clip) return;
    const Recipe recipe = recipe_with({step_with("clouds", "octaves", Value(3.0))});
    std::vector<std::string> ids;
    const Recipe pasted = clip->of == Clip::Of::steps ? steps_pasted(recipe, *clip, {"a", ChainKind::steps, 1}, ids)
                                                      : strands_pasted(recipe, *clip, 0, ids);
    must(!read_recipe(write_recipe(pasted)).first_fault(), "what was pasted cannot be read");
    draw(pasted);
}

void try_strokes(std::string_view bytes) {
    for (const char* kind : {"paint", "handtone", "handwarp"}) {
        // Where they stand in a file.
        const std::string chain = std::string(kind) == "paint" ? "mask" : "steps";
        const std::string text =
            R"({"format": "keen-loom/1", "tile": {"width": 256, "height": 256}, "strands": [{"id": "a", "steps": [
            {"id": "s1", "step": "clouds"}], ")" +
            chain + R"(": [{"id": "s2", "step": ")" + kind + R"(", "set": {"strokes": )" + std::string(bytes) + "}}]}]}";
        const Reading reading = read_recipe(text);
        if (!reading.first_fault()) draw(reading.recipe);
    }
}

void try_picture(std::string_view bytes) {
    const auto size = decode_size(bytes, 512);
    if (!size) return;
    const auto picture = decode_picture(bytes);
    if (picture) must(picture->size() == *size, "a picture has another size than its head says");
}

void try_drawing(std::string_view bytes) {
    const Job job;
    const auto read = picture_reader().drawing(std::make_shared<const std::string>(bytes), job);
    if (!read) return;
    const DrawingSize size = (*read)->size();
    must(size.width > 0 && size.height > 0, "a drawing has no size");
    Affine placing;
    placing.xx = small / size.width, placing.yy = small / size.height;
    (void)(*read)->drawn(placing, {}, {small, small}, {0, small}, job);
}

const std::vector<std::pair<std::string, void (*)(std::string_view)>>& doors() {
    static const std::vector<std::pair<std::string, void (*)(std::string_view)>> all{
        {"recipe", try_recipe}, {"container", try_container}, {"wif", try_wif},         {"formula", try_formula},
        {"clip", try_clip},     {"strokes", try_strokes},     {"picture", try_picture}, {"drawing", try_drawing}};
    return all;
}

}  // namespace loom::fuzz
