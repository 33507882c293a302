// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "batch/step_reference.h"

#include <algorithm>
#include <cctype>
#include <filesystem>
#include <map>
#include <vector>

#include "core/structures/edge.h"
#include "core/base/files.h"
#include "core/catalogue/step_page.h"
#include "core/catalogue/value_kind.h"
#include "core/files/picture.h"
#include "core/render/render.h"
#include "core/steps/formula/formula.h"

namespace loom::batch {

namespace {

bool ranged(const Parameter& p) { return p.kind == Kind::number || p.kind == Kind::count; }

std::string capital(std::string_view word_of) {
    std::string text(word_of);
    text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
    return text;
}

std::vector<const StepDescription*> steps_of(Family family) {
    std::vector<const StepDescription*> steps;
    for (const StepDescription& step : all_steps())
        if (step.family == family) steps.push_back(&step);
    return steps;
}

/// What the sheet of pictures shows, in its order.
std::string sheet_words(Family family) {
    const std::string id(word(family));
    std::string text("\n![Every step of this family at its defaults](");
    text += id;
    text += ".png)\n\n";
    text += family == Family::make ? "At their defaults, one tile each; from left to right, row by row: "
                                   : "At their defaults, before and after; from left to right, row by row: ";
    std::string names;
    for (const StepDescription* step : steps_of(family)) {
        if (!names.empty()) names += ", ";
        names += step->title;
    }
    text += names;
    text += ".\n";
    return text;
}

std::string formula_table() {
    std::string text("\n| word of a formula | meaning |\n|---|---|\n");
    for (const FormulaWord& word_of : formula_words()) {
        text += "| `";
        text += word_of.form;
        text += "` | ";
        text += word_of.help;
        text += " |\n";
    }
    return text;
}

constexpr int picture_side = 160, margin = 8, columns = 5;

Result<Bundle> made(std::string_view kind, const Values& values, std::uint32_t seed, const Bundle* in,
                    const std::map<std::string, const Bundle*, std::less<>>& others, Size size, const Job& job) {
    return apply_step(*find_step(kind), values, seed, size, in, others, 0, job);
}

/// The picture that treatments are shown on, and that stands for other strands: brown pebbles.
Result<Bundle> example(Size size, const Job& job) {
    auto pebbles = made("cells", {}, 4, nullptr, {}, size, job);
    if (!pebbles) return pebbles;
    return made("gradientmap", {}, 0, &*pebbles, {}, size, job);
}

/// The upper left corner of a picture, shrunk.
Bundle part(const Bundle& picture, int from, Size size) {
    auto cut = [&](const PlaneRef& plane) {
        Plane corner({from, from});
        for (int y = 0; y < from; ++y) std::copy_n(plane->row(y), from, corner.row(y));
        return share(resized(corner, size));
    };
    Bundle result;
    for (const PlaneRef& plane : picture.colour) result.colour.push_back(cut(plane));
    if (picture.coverage) result.coverage = cut(picture.coverage);
    return result;
}

/// Copies a picture into a sheet at a place; what is not covered is chequered.
void paste(const Bundle& picture, std::vector<Plane>& sheet, int left, int top) {
    for (int y = 0; y < picture.size().height; ++y)
        for (int x = 0; x < picture.size().width; ++x) {
            const float cover = picture.coverage ? picture.coverage->at(x, y) : 1.0f;
            const float ground = (x / 10 + y / 10) % 2 ? 0.66f : 0.8f;
            for (int c = 0; c < 3; ++c)
                sheet[static_cast<std::size_t>(c)].row(top + y)[left + x] = picture.channel(c).at(x, y) + (1 - cover) * ground;
        }
}

/// Settings that show what a step does whose defaults wait for a hand: a stroke of each tool, side by side, or a point dragged.
Values shown_values(const StepDescription& step, Size tile) {
    Values values;
    for (const Parameter& p : step.parameters) {
        if (p.kind == Kind::moves) values[std::string(p.id)] = Value(Moves{{40, 40, 60, 52}, {80, 80, 80, 80}, {20, 80, 20, 80}});
        if (p.kind != Kind::strokes) continue;
        Strokes strokes;
        const double across = 0.6 * tile.width, apart = static_cast<double>(tile.height) / static_cast<double>(p.choices.size());
        for (std::size_t k = 0; k < p.choices.size(); ++k) {
            Stroke stroke;
            stroke.tool = p.choices[k].id, stroke.size = 0.9 * apart, stroke.strength = 90;
            stroke.colour = {0.66f, 0.18f, 0.28f};
            for (int n = 0; n <= 12; ++n)
                stroke.points.push_back({static_cast<int>((0.2 * tile.width + across * n / 12) * StrokePoint::per_px),
                                         static_cast<int>((static_cast<double>(k) + 0.5) * apart * StrokePoint::per_px), 255, 0,
                                         0});
            strokes = strokes.appended(std::move(stroke));
        }
        values[std::string(p.id)] = Value(strokes);
    }
    return values;
}

/// The picture cut to a form, for steps that work along an edge.
Bundle cut_out(const Bundle& picture, Size tile, const Job& job) {
    const auto form = made("shape", {{"corner", 120.0}}, 0, nullptr, {}, tile, job);
    if (!form) return picture;
    Bundle cut = picture;
    for (PlaneRef& plane : cut.colour) {
        Plane product = plane->clone();
        for (std::size_t i = 0; i < product.count(); ++i) product.data()[i] *= form->coverage->data()[i];
        plane = share(std::move(product));
    }
    cut.coverage = form->coverage;
    return cut;
}

bool along_edge(const StepDescription& step) {
    if (!step.reads) return false;
    const auto names = step.reads({});
    return std::find(names.begin(), names.end(), form_name) != names.end();
}

Outcome write_sheet(Family family, const std::string& path, const Job& job) {
    // Made at the design's own scale and shrunk, so that a small picture shows the whole tile.
    const Size tile{1024, 1024}, side{picture_side, picture_side};
    const auto steps = steps_of(family);
    const bool makes = family == Family::make;
    auto before = example(tile, job);
    if (!before) return before.error();
    const Bundle form = cut_out(*before, tile, job);
    const int width = makes ? picture_side : 2 * picture_side + 2, across = makes ? columns : 2;
    const int rows = (static_cast<int>(steps.size()) + across - 1) / across;
    std::vector<Plane> sheet;
    for (int c = 0; c < 3; ++c)
        sheet.emplace_back(Size{across * (width + margin) + margin, rows * (picture_side + margin) + margin}, 1.0f);
    for (std::size_t k = 0; k < steps.size(); ++k) {
        std::map<std::string, const Bundle*, std::less<>> others;
        for (const Parameter& p : steps[k]->parameters)
            if ((names_kept(p.kind) && p.kind != Kind::drawing) || (makes && p.kind == Kind::strand && p.id == "strand"))
                others[std::string(p.id)] = &*before;
        if (steps[k]->reads_beneath({})) others["beneath"] = &*before;
        const Bundle& in = along_edge(*steps[k]) ? form : *before;
        auto after = made(steps[k]->id, shown_values(*steps[k], tile), 4, &in, others, tile, job);
        if (!after) return after.error();
        // What light alone shows is lit.
        if (steps[k]->shown_lit) {
            after = made("relief", {{"depth", 14.0}, {"result", std::string("light")}}, 0, &*after, {}, tile, job);
            if (!after) return after.error();
        }
        const int left = margin + static_cast<int>(k) % across * (width + margin);
        const int top = margin + static_cast<int>(k) / across * (picture_side + margin);
        // Treatments are seen near: a part of the tile.
        const bool by_hand = steps[k]->parameter_of(Kind::strokes) || steps[k]->parameter_of(Kind::moves);
        const bool whole =
            makes || by_hand || along_edge(*steps[k]) || !steps[k]->handles.empty() || steps[k]->tiles == Tiling::breaks;
        auto shown = [&](const Bundle& picture) {
            return whole ? resized(picture, side) : part(picture, 2 * picture_side, side);
        };
        if (!makes) paste(shown(in), sheet, left, top);
        paste(shown(*after), sheet, left + width - picture_side, top);
    }
    if (auto done =
            write_picture(path, Bundle::of(std::move(sheet[0]), std::move(sheet[1]), std::move(sheet[2])), PictureFormat::png);
        !done)
        return done.error();
    return 0;
}

}  // namespace

nlohmann::ordered_json steps_json() {
    using json = nlohmann::ordered_json;
    json steps = json::array();
    for (const StepDescription& step : all_steps()) {
        json parameters = json::array();
        for (const Parameter& p : step.parameters) {
            json choices = json::array();
            for (const Choice& choice : p.choices) choices.push_back(choice.id);
            parameters.push_back({{"id", p.id},
                                  {"title", p.title},
                                  {"kind", word(p.kind)},
                                  {"unit", word(p.unit)},
                                  {"min", ranged(p) ? json(p.min) : json()},
                                  {"max", ranged(p) ? json(p.max) : json()},
                                  {"default", kind_of(p).write(p.fallback)},
                                  {"choices", choices},
                                  {"help", p.help},
                                  {"section", p.section},
                                  {"only-where", when_text(step, p)}});
        }
        steps.push_back({{"id", step.id},
                         {"title", step.title},
                         {"family", word(step.family)},
                         {"summary", step.summary},
                         {"tiles", word(step.tiles)},
                         {"parameters", parameters}});
    }
    return {{"steps", steps}};
}

std::string steps_markdown(std::optional<Family> family) {
    std::string text("# ");
    text += family ? capital(word(*family)) : std::string("Steps");
    text += "\n\nMade from the step descriptions by `keen-loom-batch steps";
    text += family ? " --pages docs/steps`" : " --markdown`";
    text += "; do not edit by hand.\n";
    if (family) text += sheet_words(*family);
    for (const StepDescription& step : all_steps()) {
        if (family && step.family != *family) continue;
        text += "\n";
        text += step_page(step);
        if (step.parameter_of(Kind::formula)) text += formula_table();
    }
    return text;
}

Outcome write_step_pages(const std::string& folder, const Job& job) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (error) return file_error("cannot write into", folder, error.value());
    std::string index(
        "# All steps\n\nMade from the step descriptions by `keen-loom-batch steps --pages docs/steps`; do not edit by hand.\n");
    for (Family family : {Family::make, Family::soften, Family::roughen, Family::bend, Family::shade, Family::tune, Family::mask,
                          Family::finish}) {
        const auto steps = steps_of(family);
        if (steps.empty()) continue;
        const std::string id(word(family));
        index += "\n## [" + capital(id) + "](" + id + ".md)\n\n";
        for (const StepDescription* step : steps) {
            index += "- **";
            index += step->title;
            index += "**: ";
            index += step->summary;
            index += "\n";
        }
        if (auto done = write_file(folder + "/" + id + ".md", steps_markdown(family)); !done) return done.error();
        if (auto done = write_sheet(family, folder + "/" + id + ".png", job); !done) return done;
    }
    if (auto done = write_file(folder + "/README.md", index); !done) return done.error();
    return 0;
}

std::string steps_text() {
    std::string text;
    for (const StepDescription& step : all_steps()) {
        std::string id(step.id);
        id.resize(std::max<std::size_t>(14, id.size() + 1), ' ');
        text += id + std::string(step.summary) + "\n";
    }
    return text;
}

}  // namespace loom::batch
