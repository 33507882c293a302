// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/formula/formula.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <unordered_map>

#include "core/catalogue/describe.h"
#include "core/structures/meeting.h"
#include "core/structures/object_edges.h"
#include "core/structures/object_middles.h"

namespace loom {

namespace formula_step {
namespace {

struct Settings {
    std::string expression = "wave(round(lines) * v + bend * clouds(u, v, 3, 6))";
    Inputs inputs{{"lines", 9, 1, 64, "Lines down the tile; whole, so that they close."},
                  {"bend", 1.4, 0, 6, "How far they wind."}};
    std::string strand, strand_b, strand_c, strand_d;
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

/// What a word of a strand needs of it.
struct WordPlane {
    std::string_view word, plane;
    bool whole = false;  ///< looks at all of the object
    bool near = false;   ///< looks at the pixels round
};
constexpr WordPlane word_planes[] = {{"tone", ""},
                                     {"red", ""},
                                     {"green", ""},
                                     {"blue", ""},
                                     {"coverage", ""},
                                     {"height", height_plane},
                                     {"object", objects::id},
                                     {"object_u", objects::u},
                                     {"object_v", objects::v},
                                     {"lot1", objects::random[0]},
                                     {"lot2", objects::random[1]},
                                     {"lot3", objects::random[2]},
                                     {"slope_x", height_plane, false, true},
                                     {"slope_y", height_plane, false, true},
                                     {"tilt_x", objects::tilt[0]},
                                     {"tilt_y", objects::tilt[1]},
                                     {"object_x", objects::id, true},
                                     {"object_y", objects::id, true},
                                     {"object_w", objects::id, true},
                                     {"object_h", objects::id, true},
                                     {"object_second", objects::id, false, true},
                                     {"object_share", objects::id, false, true}};
WordPlane plane_of(std::size_t index) {
    const FormulaWord& word = formula_words()[index];
    if (word.kind == FormulaWord::Kind::plane) return {word.word, word.plane};
    return *std::find_if(std::begin(word_planes), std::end(word_planes),
                         [&](const WordPlane& each) { return each.word == word.word; });
}

/// Calls use(source, its number) for what the formula reads of strands.
template <class Use>
void for_strand_words(const FormulaProgram& program, Use&& use) {
    for (std::size_t k = 0; k < program.reads.size(); ++k)
        if (const FormulaSource& source = formula_sources()[k]; program.reads[k] && formula_words()[source.word].of_strand())
            use(source, k);
}

std::vector<std::string> reads(const Settings& s) {
    std::vector<std::string> planes;
    for_strand_words(read_formula(s.expression, s.inputs).program, [&](const FormulaSource& source, std::size_t) {
        const std::string_view plane = plane_of(source.word).plane;
        if (!plane.empty() && std::find(planes.begin(), planes.end(), plane) == planes.end()) planes.emplace_back(plane);
    });
    return planes;
}

Footprint footprint(const Settings& s, const Scales& at) {
    bool whole = false, near = false;
    for_strand_words(read_formula(s.expression, s.inputs).program, [&](const FormulaSource& source, std::size_t) {
        whole = whole || plane_of(source.word).whole, near = near || plane_of(source.word).near;
    });
    if (whole) return Footprint::whole();
    const int reach = near ? std::max(1, static_cast<int>(std::lround(std::max(at.x(), at.y())))) : 0;
    return near ? Footprint::near(reach, reach) : Footprint::pixel();
}

/// What is read of one strand; null planes are zeros.
class StrandSource {
public:
    StrandSource(const Bundle* source, const StepContext& context, bool extents) : context_(context) {
        if (!source || source->empty()) return;
        tone_ = tone_of(*source, *context.job);
        coverage_ = coverage_of(*source);
        covered_ = static_cast<bool>(source->coverage);
        for (int c = 0; c < 3; ++c) colour_[c] = source->colour[source->grey() ? 0 : static_cast<std::size_t>(c)];
        height_ = source->plane(height_plane) ? source->plane(height_plane) : tone_;
        named_ = source->named;
        if (const PlaneRef ids = source->plane(objects::id)) {
            edges_.emplace(ids);
            if (extents) extents_ = object_extents(*ids, *context.job);
        }
    }
    void fill(const FormulaWord& asked, int x, int y, int count, float* out) const {
        if (asked.kind == FormulaWord::Kind::plane) return copy(plane(asked.plane), x, y, count, out);
        const std::string_view word = asked.word;
        const auto each = [&](auto value) {
            for (int k = 0; k < count; ++k) out[k] = static_cast<float>(value(x + k));
        };
        if (word == "tone") return copy(tone_, x, y, count, out);
        if (word == "red" || word == "green" || word == "blue") {
            copy(colour_[word == "red" ? 0 : word == "green" ? 1 : 2], x, y, count, out);
            for (int k = 0; covered_ && k < count; ++k) {
                const float cover = coverage_->row(y)[x + k];
                out[k] = cover > 0 ? out[k] / cover : 0.0f;
            }
            return;
        }
        if (word == "coverage") return copy(coverage_, x, y, count, out);
        if (word == "height") return copy(height_, x, y, count, out);
        if (word == "slope_x" || word == "slope_y") return slope(word == "slope_x", x, y, count, out);
        if (word == "object_second" || word == "object_share") {
            const bool second = word == "object_second";
            return each([&](int at) {
                if (!edges_) return second ? 0.0f : 1.0f;
                const ObjectEdges::Owners owners = edges_->at(at, y);
                return second ? owners.second : owners.share;
            });
        }
        if (const std::size_t at = std::string_view("xywh").find(word.back());
            word.starts_with("object_") && word.size() == 8 && at != std::string_view::npos) {
            const PlaneRef ids = plane(objects::id);
            return each([&](int place) {
                const auto found = ids ? extents_.find(static_cast<int>(ids->row(y)[place])) : extents_.end();
                if (found == extents_.end()) return 0.0;
                const ObjectExtent& extent = found->second;
                return at == 0   ? (extent.x + 0.5) / context_.scale_x()
                       : at == 1 ? (extent.y + 0.5) / context_.scale_y()
                       : at == 2 ? extent.width / context_.scale_x()
                                 : extent.height / context_.scale_y();
            });
        }
        copy(plane(plane_of_word(word)), x, y, count, out);
        // Planes of tilts tell how they rise downwards.
        if (word == "tilt_y")
            for (int k = 0; k < count; ++k) out[k] = -out[k];
    }

private:
    static std::string_view plane_of_word(std::string_view word) {
        return std::find_if(std::begin(word_planes), std::end(word_planes),
                            [&](const WordPlane& each) { return each.word == word; })
            ->plane;
    }
    PlaneRef plane(std::string_view name) const {
        const auto found = named_.find(name);
        return found == named_.end() ? nullptr : found->second;
    }
    /// Over a design pixel to both sides, so that it is the same at every size.
    void slope(bool across, int x, int y, int count, float* out) const {
        if (!height_) return copy(nullptr, x, y, count, out);
        const Size size = context_.size;
        const double scale = across ? context_.scale_x() : context_.scale_y();
        const int step = std::max(1, static_cast<int>(std::lround(scale)));
        const auto per_px = static_cast<float>(scale / (2 * step));
        const float *here = height_->row(y), *above = height_->row(wrap(y - step, size.height)),
                    *below = height_->row(wrap(y + step, size.height));
        for (int k = 0; k < count; ++k)
            out[k] = per_px * (across ? here[wrap(x + k + step, size.width)] - here[wrap(x + k - step, size.width)]
                                      : above[x + k] - below[x + k]);
    }
    static void copy(const PlaneRef& plane, int x, int y, int count, float* out) {
        if (plane)
            std::copy_n(plane->row(y) + x, count, out);
        else
            std::fill_n(out, count, 0.0f);
    }
    const StepContext& context_;
    bool covered_ = false;
    PlaneRef tone_, coverage_, height_, colour_[3];
    NamedPlanes named_;
    std::optional<ObjectEdges> edges_;
    std::unordered_map<int, ObjectExtent> extents_;
};

constexpr std::string_view strand_names[formula_strands] = {"strand", "strand-b", "strand-c", "strand-d"};

/// Rows that words are read from.
class Sources {
public:
    Sources(const FormulaProgram& program, const StepContext& context) : context_(context) {
        bool used[formula_strands] = {}, extents[formula_strands] = {};
        for_strand_words(program, [&](const FormulaSource& source, std::size_t) {
            used[source.strand] = true;
            extents[source.strand] = extents[source.strand] || plane_of(source.word).whole;
        });
        for (std::size_t k = 0; k < formula_strands; ++k)
            strands_.emplace_back(used[k] ? context.other(strand_names[k]) : nullptr, context, extents[k]);
    }

    /// Values of a source for pixels from x on.
    void fill(const FormulaSource& source, int x, int y, int count, float* out) const {
        const Size size = context_.size, tile = context_.tile;
        const FormulaWord& word = formula_words()[source.word];
        if (word.of_strand()) return strands_[static_cast<std::size_t>(source.strand)].fill(word, x, y, count, out);
        auto each = [&](auto value) {
            for (int k = 0; k < count; ++k)
                out[k] = static_cast<float>(value((x + k + 0.5) / size.width, (y + 0.5) / size.height));
        };
        switch (word.word.front()) {
            case 'x': return each([&](double u, double) { return u * tile.width; });
            case 'y': return each([&](double, double v) { return v * tile.height; });
            case 'u': return each([](double u, double) { return u; });
            case 'v': return each([](double, double v) { return v; });
            case 'r': return each([](double u, double v) { return std::hypot(u - 0.5, v - 0.5); });
            default:
                return each([](double u, double v) {
                    const double turn = std::atan2(0.5 - v, u - 0.5) / 6.283185307179586;
                    return turn < 0 ? turn + 1 : turn;
                });
        }
    }

private:
    const StepContext& context_;
    std::vector<StrandSource> strands_;
};

Bundle run(const Settings& s, const StepContext& context) {
    const FormulaReading reading = read_formula(s.expression, s.inputs);
    if (reading.fault) {
        context.job->warn("the formula goes wrong at character " + std::to_string(reading.fault->at + 1) + ": " +
                          reading.fault->message);
        return Bundle::of(context.plane(0.0f));
    }
    const FormulaProgram& program = reading.program;
    const Sources sources(program, context);
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
                for (std::size_t k = 0; k < program.reads.size(); ++k)
                    if (program.reads[k]) sources.fill(formula_sources()[k], x, y, count, runner.word(k));
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
            "formula becomes an input. Lines before it that end with ; name parts, as in bend = clouds(u, v, 3, 6); and so on.",
            check)
        .inputs("inputs", "Inputs", &Settings::inputs, "The names that the formula uses, each with its value, range and note.",
                present)
        .strand("strand", "Reads strand", &Settings::strand,
                "The strand that tone, red, green, blue, coverage, height and object mean, with or without an a. before them.")
        .strand("strand-b", "Reads as b", &Settings::strand_b, "The strand that b.tone, b.height and so on mean.")
        .strand("strand-c", "Reads as c", &Settings::strand_c, "The strand that c.tone and so on mean.")
        .strand("strand-d", "Reads as d", &Settings::strand_d, "The strand that d.tone and so on mean.")
        .shape(shape_of)
        .reads(reads)
        .draws([](const Settings& s) {
            const auto program = read_formula(s.expression, s.inputs).program;
            return std::any_of(program.steps.begin(), program.steps.end(),
                               [](const auto& step) { return step.op >= FormulaOp::noise; });
        })
        .footprint(footprint);
    return describe_meeting(describe).run(run);
}

}  // namespace loom
