// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/formula/formula.h"

#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/structures/meeting.h"

namespace loom {

namespace formula_step {
namespace {

struct Settings {
    std::string expression = "wave(round(lines) * v + bend * clouds(u, v, 3, 6))";
    Inputs inputs{{"lines", 9, 1, 64, "Lines down the tile; whole, so that they close."},
                  {"bend", 1.4, 0, 6, "How far they wind."}};
    std::string strand;
    Meets meets = Meets::alone;
};

std::optional<TextFault> check(std::string_view text) { return read_formula(text).fault; }

Input fresh_input(const std::string& name) {
    Input input;
    input.name = name;
    return input;
}

/// All inputs that the expression names, in its order.
Inputs present(const Settings& s) {
    Inputs result;
    for (const std::string& name : read_formula(s.expression, s.inputs).inputs) {
        const auto known = std::find_if(s.inputs.begin(), s.inputs.end(), [&](const Input& input) { return input.name == name; });
        result.push_back(known == s.inputs.end() ? fresh_input(name) : *known);
    }
    return result;
}

Shape shape_of(const Settings& s, Shape in) {
    const std::size_t results = read_formula(s.expression, s.inputs).program.results.size();
    return met_shape(s.meets, {results >= 3 ? 3 : 1, results == 4}, in);
}

std::vector<std::string> reads(const Settings& s) {
    const FormulaReading reading = read_formula(s.expression, s.inputs);
    std::vector<std::string> planes;
    for (const auto& [word, plane] : {std::pair<std::string_view, std::string_view>{"height", height_plane},
                                      {"object", objects::id},
                                      {"object_u", objects::u},
                                      {"object_v", objects::v},
                                      {"lot1", objects::random[0]},
                                      {"lot2", objects::random[1]},
                                      {"lot3", objects::random[2]}})
        for (std::size_t k = 0; k < reading.program.reads.size(); ++k)
            if (reading.program.reads[k] && formula_words()[k].word == word) planes.emplace_back(plane);
    return planes;
}

/// Rows that words are read from; null: zeros.
class Sources {
public:
    explicit Sources(const StepContext& context) : context_(context) {
        const Bundle* source = context.other("strand");
        if (!source || source->empty()) return;
        tone_ = tone_of(*source, *context.job);
        coverage_ = coverage_of(*source);
        covered_ = static_cast<bool>(source->coverage);
        for (int c = 0; c < 3; ++c) colour_[c] = source->colour[source->grey() ? 0 : static_cast<std::size_t>(c)];
        height_ = source->plane(height_plane) ? source->plane(height_plane) : tone_;
        const std::string_view names[] = {objects::id,        objects::u,         objects::v,
                                          objects::random[0], objects::random[1], objects::random[2]};
        for (std::size_t k = 0; k < 6; ++k) objects_[k] = source->plane(names[k]);
    }

    /// Values of the word with this index for pixels from x on.
    void fill(std::size_t word, int x, int y, int count, float* out) const {
        const Size size = context_.size, tile = context_.tile;
        auto each = [&](auto value) {
            for (int k = 0; k < count; ++k)
                out[k] = static_cast<float>(value((x + k + 0.5) / size.width, (y + 0.5) / size.height));
        };
        switch (word) {
            case 0: return each([&](double u, double) { return u * tile.width; });
            case 1: return each([&](double, double v) { return v * tile.height; });
            case 2: return each([](double u, double) { return u; });
            case 3: return each([](double, double v) { return v; });
            case 4: return each([](double u, double v) { return std::hypot(u - 0.5, v - 0.5); });
            case 5:
                return each([](double u, double v) {
                    const double turn = std::atan2(0.5 - v, u - 0.5) / 6.283185307179586;
                    return turn < 0 ? turn + 1 : turn;
                });
            case 6: return copy(tone_, x, y, count, out);
            case 7:
            case 8:
            case 9:
                copy(colour_[word - 7], x, y, count, out);
                for (int k = 0; covered_ && k < count; ++k) {
                    const float cover = coverage_->row(y)[x + k];
                    out[k] = cover > 0 ? out[k] / cover : 0.0f;
                }
                return;
            case 10: return copy(coverage_, x, y, count, out);
            case 11: return copy(height_, x, y, count, out);
            default: return copy(objects_[word - 12], x, y, count, out);
        }
    }

private:
    static void copy(const PlaneRef& plane, int x, int y, int count, float* out) {
        if (plane)
            std::copy_n(plane->row(y) + x, count, out);
        else
            std::fill_n(out, count, 0.0f);
    }
    const StepContext& context_;
    bool covered_ = false;
    PlaneRef tone_, coverage_, height_, colour_[3], objects_[6];
};

Bundle run(const Settings& s, const StepContext& context) {
    const FormulaReading reading = read_formula(s.expression, s.inputs);
    if (reading.fault) {
        context.job->warn("the formula goes wrong at character " + std::to_string(reading.fault->at + 1) + ": " +
                          reading.fault->message);
        return Bundle::of(context.plane(0.0f));
    }
    const FormulaProgram& program = reading.program;
    const Sources sources(context);
    const Size size = context.size;
    std::vector<Plane> out;
    for (std::size_t k = 0; k < program.results.size(); ++k) out.push_back(context.plane());
    const Rows wanted = context.wanted_rows();
    for_ranges(*context.job, wanted.count, std::max(4, size.height / 32), [&](int first, int last) {
        first += wanted.first, last += wanted.first;
        FormulaRun runner(program, context.seed);
        for (int y = first; y < last; ++y) {
            context.job->check();
            for (int x = 0; x < size.width; x += formula_block) {
                const int count = std::min(formula_block, size.width - x);
                for (std::size_t word = 0; word < program.reads.size(); ++word)
                    if (program.reads[word] && (formula_words()[word].kind == FormulaWord::Kind::place ||
                                                formula_words()[word].kind == FormulaWord::Kind::strand))
                        sources.fill(word, x, y, count, runner.word(word));
                runner.run(count);
                for (std::size_t k = 0; k < out.size(); ++k) std::copy_n(runner.result(k), count, out[k].row(y) + x);
                if (out.size() == 4)
                    for (int i = x; i < x + count; ++i) {
                        float& cover = out[3].row(y)[i];
                        cover = std::clamp(cover, 0.0f, 1.0f);
                        for (std::size_t k = 0; k < 3; ++k) out[k].row(y)[i] *= cover;
                    }
            }
        }
    });
    if (out.size() == 1) return met_form(s.meets, Bundle::of(std::move(out[0])), context);
    Bundle result = Bundle::of(std::move(out[0]), std::move(out[1]), std::move(out[2]));
    if (out.size() == 4) result.coverage = share(std::move(out[3]));
    return met_form(s.meets, std::move(result), context);
}

}  // namespace
}  // namespace formula_step

StepDescription describe_formula() {
    using namespace formula_step;
    StepDescription base;
    base.id = "formula", base.title = "Formula", base.family = Family::make;
    base.scratch_planes = 1;
    base.summary = "A value for each pixel by a formula; its inputs become sliders.";
    base.words = "maths expression calculate function code script";
    base.tiles = Tiling::depends;
    base.tiles_note =
        "it repeats if what the formula makes of u, v, x, y, r and a does: waves with whole counts, noise, clouds and cells do";
    base.seeded = true;
    base.headline = {"expression"};
    Describe<Settings> describe(std::move(base));
    describe
        .formula(
            "expression", "Formula", &Settings::expression,
            "One value for grey, three with commas for colour, four for colour and coverage. Any name that is no word of the "
            "formula becomes an input.",
            check)
        .inputs("inputs", "Inputs", &Settings::inputs, "The names that the formula uses, each with its value, range and note.",
                present)
        .strand("strand", "Reads strand", &Settings::strand,
                "The strand that tone, red, green, blue, coverage, height and object mean.")
        .shape(shape_of)
        .reads(reads)
        .draws([](const Settings& s) {
            const auto program = read_formula(s.expression, s.inputs).program;
            return std::any_of(program.steps.begin(), program.steps.end(),
                               [](const auto& step) { return step.op >= FormulaOp::noise; });
        })
        .pixelwise();
    return describe_meeting(describe).run(run);
}

}  // namespace loom
