// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What has to hold for every step, whoever adds it.
#include <cmath>
#include <limits>
#include <set>

#include "core/catalogue/json_reader.h"
#include "core/image/gaussian.h"
#include "core/measure/measure.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

bool is_word(std::string_view text) {
    if (text.empty()) return false;
    for (char c : text)
        if (!((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-')) return false;
    return true;
}

/// Settings that make every step do something, beside its defaults.
std::vector<Values> variants(const StepDescription& step) {
    std::vector<Values> all{{}};
    for (const Parameter& p : step.parameters) {
        if (p.kind == Kind::choice)
            for (const Choice& choice : p.choices) all.push_back({{std::string(p.id), Value(std::string(choice.id))}});
        if (p.kind == Kind::toggle) all.push_back({{std::string(p.id), Value(!as<bool>(p.fallback))}});
        if (p.kind == Kind::number)
            all.push_back({{std::string(p.id), Value(p.slider_min + 0.3 * (p.slider_max - p.slider_min))}});
    }
    if (Values hand = by_hand(step, {96, 80}); !hand.empty()) all.push_back(std::move(hand));
    return tried(std::move(all));
}

/// Whether a step hands on a picture that comes from somewhere else.
bool shows_another(const StepDescription& step) {
    return step.id == "beneath" || step.id == "borrow" || step.id == "image" || step.id == "recipe";
}

Bundle picture(Size size, std::uint32_t seed = 3) {
    return applied("clouds", {{"size-x", 32.0}, {"size-y", 32.0}}, nullptr, size, seed);
}

std::string words(const StepDescription& step, const Values& values) {
    std::string text(step.id);
    for (const auto& [id, value] : values) text += " " + id + "=" + show_value(*step.parameter(id), value);
    return text;
}

}  // namespace

TEST_CASE("every description is complete", "[catalogue][over-steps]") {
    std::set<std::string_view> ids, titles;
    for (const StepDescription& step : steps_tried()) {
        INFO(step.id);
        CHECK(is_word(step.id));
        CHECK(ids.insert(step.id).second);
        CHECK(titles.insert(step.title).second);
        CHECK(step.summary.ends_with("."));
        CHECK(bool(step.run) != bool(step.per_pixel));
        CHECK((step.tiles == Tiling::keeps || !step.tiles_note.empty()));
        CHECK(find_step(step.id) == &step);
        std::set<std::string_view> parameters;
        for (const Parameter& p : step.parameters) {
            INFO(p.id);
            CHECK(is_word(p.id));
            CHECK(parameters.insert(p.id).second);
            CHECK_FALSE(p.title.empty());
            CHECK(p.help.ends_with("."));
            CHECK_FALSE(refuses(p, p.fallback));
            for (std::string_view common : {"amount-of-step", "on", "seed", "where"}) CHECK(p.id != common);
            if (p.kind == Kind::number || p.kind == Kind::count) {
                CHECK(p.min < p.max);
                CHECK(p.slider_min >= p.min);
                CHECK(p.slider_max <= p.max);
                CHECK(p.slider_min < p.slider_max);
                for (double wrong : {p.min - 1, p.max + 1, std::nan(""), std::numeric_limits<double>::infinity()})
                    CHECK(refuses(p, Value(wrong)));
            }
            if (p.kind == Kind::choice || p.kind == Kind::strokes) CHECK(p.choices.size() > 1);
            CHECK(refuses(p, p.kind == Kind::toggle ? Value(1.0) : Value(true)));
            for (std::string_view id : p.when.ids()) CHECK(step.parameter(id));
            Values values;
            CHECK(made_relevant(step, p, values));
            CHECK(when_text(step, p).empty() == p.when.always());
            if (p.visual) CHECK(p.kind == Kind::choice);
            if (!p.curve) continue;
            // Choices that are curves can be told apart by them.
            std::set<std::string> curves;
            for (std::size_t k = 0; k < p.choices.size(); ++k) {
                std::string heights;
                for (double x = 0; x <= 1; x += 1.0 / 16) {
                    const double height = p.curve(k, x);
                    CHECK((height >= -1e-4 && height <= 1 + 1e-4));
                    heights += std::to_string(height) + " ";
                }
                curves.insert(heights);
            }
            CHECK(curves.size() == p.choices.size());
        }
        for (std::string_view id : step.headline) CHECK(step.parameter(id));
        for (const Pair& pair : step.pairs)
            for (std::string_view id : {pair.across, pair.down}) {
                const Parameter* p = step.parameter(id);
                REQUIRE(p);
                CHECK((p->kind == Kind::number || p->kind == Kind::count));
                CHECK(p->section == step.parameter(pair.across)->section);
            }
        // A section is one piece, and is not for one parameter alone.
        std::vector<std::pair<std::string_view, int>> sections;
        for (const Parameter& p : step.parameters) {
            if (sections.empty() || sections.back().first != p.section) sections.emplace_back(p.section, 0);
            ++sections.back().second;
        }
        for (std::size_t k = 0; k < sections.size(); ++k)
            for (std::size_t j = 0; j < k; ++j) CHECK(sections[j].first != sections[k].first);
    }
}

TEST_CASE("values survive being written as text and as JSON", "[catalogue][over-steps]") {
    for (const StepDescription& step : steps_tried())
        for (const Parameter& p : step.parameters) {
            INFO(step.id << " " << p.id);
            const auto read = parse_value(p, kind_of(p).text(p.fallback));
            REQUIRE(read);
            std::vector<Finding> findings;
            json_reading::Reader reader(findings);
            const auto from_json = reader.value(p, kind_of(p).write(p.fallback), "");
            REQUIRE(from_json);
            CHECK(findings.empty());
            // A colour has 8 bits a channel in both, and notes have no place in text.
            CHECK(kind_of(p).text(*read) == kind_of(p).text(p.fallback));
            CHECK(kind_of(p).write(*from_json) == kind_of(p).write(p.fallback));
            CHECK(&kind_of(p.kind) == &kind_of(p));
        }
    const Parameter* stops = find_step("gradientmap")->parameter("stops");
    const auto read = parse_value(*stops, "0 #000000, 0.5 #808080 25, 1 #ffffff");
    REQUIRE(read);
    CHECK(as<Stops>(*read)[1].grain == 25);
    for (const char* wrong : {"0", "0 black", "0 #000000 1 2", "x #000000"}) CHECK_FALSE(parse_value(*stops, wrong));
    CHECK_FALSE(parse_value(*find_step("static")->parameter("strength"), "1e999"));
}

TEST_CASE("every step gives the same bytes at 1, 2 and 5 threads", "[catalogue][threads][over-steps]") {
    const Size size{96, 80};
    const Bundle in = picture(size), other = applied("clouds", {{"size-x", 48.0}}, nullptr, size, 9);
    for (const StepDescription& step : steps_tried())
        for (const Values& values : variants(step)) {
            INFO(words(step, values));
            const Bundle one = applied(std::string(step.id), values, &in, size, 4, 1, &other);
            for (int threads : {2, 5})
                CHECK(same_bytes(one, applied(std::string(step.id), values, &in, size, 4, threads, &other)));
        }
}

TEST_CASE("every step that keeps the tile commutes with moving the tile, or draws its own lots",
          "[catalogue][wraps][over-steps]") {
    const Size size{96, 80};
    const Bundle in = picture(size);
    const Bundle moved = rolled(in, 31, 17);
    for (const StepDescription& step : steps_tried()) {
        if (step.tiles != Tiling::keeps || step.family == Family::make || step.seeded) continue;
        for (const Values& values : variants(step)) {
            // A near lamp and a step's own place are tied to the tile.
            if (step.id == "relief" && values.contains("lamp")) continue;
            if (values == by_hand(step, size) && !values.empty()) continue;
            if (std::any_of(step.handles.begin(), step.handles.end(),
                            [](const Handle& h) { return h.form == Handle::Form::point; }))
                continue;
            INFO(words(step, values));
            const Bundle a = rolled(applied(std::string(step.id), values, &in, size, 0, 0, &in), 31, 17);
            const Bundle b = applied(std::string(step.id), values, &moved, size, 0, 0, &moved);
            if (step.id == "flow") {
                // Streamlines are followed over rounded places, so that single ones part where no direction is clear.
                for (std::size_t c = 0; c < a.colour.size(); ++c) CHECK(mean_difference(*a.colour[c], *b.colour[c]) < 1e-4);
                continue;
            }
            CHECK(greatest_difference(a, b) < 2e-4);
        }
    }
}

TEST_CASE("what steps make and draw closes at the tile edge, over several seeds", "[catalogue][wraps][over-steps]") {
    const Size size{128, 128};
    for (const StepDescription& step : steps_tried()) {
        if (step.tiles == Tiling::breaks || (step.tiles == Tiling::depends && step.id != "streaks")) continue;
        if (step.family == Family::make && !step.seeded) continue;
        for (const Values& values : variants(step)) {
            // Fibres around a point meet as in a mirror.
            if (const auto field = values.find("field"); field != values.end() && field->second == Value(std::string("point")))
                continue;
            // Grains of several pixels are sharp at the edge, where a grain and a pixel begin together, and softened
            // elsewhere where they do not; that is no seam.
            if (values.contains("grain-x") || values.contains("grain-y") || (step.id == "grain" && values.contains("size")) ||
                step.id == "stipple")
                continue;
            INFO(words(step, values));
            int visible = 0, sum_of_ranks = 0;
            constexpr int seeds = races_watched || bounds_watched ? 2 : 6;
            for (std::uint32_t seed = 0; seed < seeds; ++seed) {
                const Bundle in = picture(size, 10 + seed);
                const Bundle result = applied(std::string(step.id), values, &in, size, seed);
                const Seam across = seam_across(result), down = seam_down(result);
                visible += (across.ratio > 1.3) + (down.ratio > 1.3);
                sum_of_ranks += across.rank > 0.9;
            }
            // A single line can lie high by chance; a seam would lie high every time.
            CHECK(visible <= 2);
            CHECK((sum_of_ranks < seeds || seeds < 6));
        }
    }
}

namespace {

/// Details of about `radius` pixels: what a blur that wide keeps and one twice as wide does not.
Plane band_of(const Plane& plane, double radius) {
    Plane band = gaussian_blur(plane, radius, radius, job);
    const Plane wide = gaussian_blur(plane, 2 * radius, 2 * radius, job);
    for (std::size_t i = 0; i < band.count(); ++i) band.data()[i] -= wide.data()[i];
    return band;
}

/// How two pictures that ought to look the same differ; "" if they do not. A mean over everything hides what is lost in one size
/// of detail: each from `least` pixels on is compared by itself, against how much of it there is.
std::string looks_other(const Bundle& a, const Bundle& b, double least = 1.5) {
    double mean = 0;
    for (int c = 0; c < 3; ++c) mean += mean_difference(a.channel(c), b.channel(c)) / 3;
    if (mean > 2.0 / 255) return "the mean difference is " + std::to_string(mean * 255) + " of 255";
    for (int c = 0; c < (a.grey() && b.grey() ? 1 : 3); ++c)
        for (double radius : {1.5, 3.0, 6.0, 12.0, 24.0}) {
            if (radius < least) continue;
            const Plane one = band_of(a.channel(c), radius);
            Plane apart = band_of(b.channel(c), radius);
            for (std::size_t i = 0; i < one.count(); ++i) apart.data()[i] -= one.data()[i];
            const double all = deviation_of(one), differs = deviation_of(apart);
            // The finest are where pixels lie.
            const double most = (0.15 / 255 + 0.08 * all) * (radius < 3 ? 3 : 1);
            if (differs > most)
                return "details of " + std::to_string(radius) + " pixels deviate by " + std::to_string(255 * all) +
                       " of 255, and differ by " + std::to_string(255 * differs);
        }
    return {};
}

}  // namespace

TEST_CASE("every step looks the same at twice the size, in every size of detail", "[catalogue][scale][over-steps]") {
    const Size small{256, 256}, large{512, 512};
    for (const StepDescription& step : steps_tried())
        for (const Values& values : variants(step)) {
            Recipe recipe =
                recipe_of({strand_of("a", {{"clouds", {{"size-x", 64.0}, {"size-y", 64.0}, {"octaves", 3.0}}, 5}})}, 256);
            Strand strand = *recipe.strands[0];
            if (step.family == Family::make) strand.steps = {};
            Step made;
            made.id = "x", made.kind = std::string(step.id), made.set = values, made.seed = 2;
            strand.steps.push_back(made);
            recipe.strands[0] = std::make_shared<const Strand>(strand);
            // A cut runs where pixels happen to fit best, which is elsewhere with more of them.
            const double least = step.id == "closeseams" ? 100 : 0;
            const std::string fault = looks_other(cloth(recipe, small), resized(cloth(recipe, large), small), least);
            if (!fault.empty()) FAIL_CHECK(words(step, values) << ": " << fault);
        }
}

TEST_CASE("what is lost in one size of detail is found, however faint it is", "[catalogue][scale]") {
    const Size size{128, 128};
    Plane soft = picture(size).channel(0).clone();
    for (std::size_t i = 0; i < soft.count(); ++i) soft.data()[i] = 0.45f + 0.1f * soft.data()[i];
    const Bundle base = Bundle::of(std::move(soft));
    const auto with_waves = [&](double length) {
        Plane plane = base.channel(0).clone();
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                plane.row(y)[x] += 0.012f * static_cast<float>(std::sin(2 * pi * x / length) * std::sin(2 * pi * y / length));
        return Bundle::of(std::move(plane));
    };
    CHECK(looks_other(with_waves(16), with_waves(16)).empty());
    CHECK(mean_difference(with_waves(16).channel(0), base.channel(0)) < 1.5 / 255);
    CHECK_FALSE(looks_other(with_waves(16), Bundle::of(base.channel(0).clone())).empty());
    CHECK_FALSE(looks_other(with_waves(16), with_waves(8)).empty());
}

TEST_CASE("seeds matter to the steps that draw lots", "[catalogue][over-steps]") {
    const Size size{64, 64};
    Bundle in = picture(size);
    // Something with an edge.
    in.coverage = applied("shape", {{"width", 40.0}, {"height", 40.0}}, nullptr, size).coverage;
    for (const StepDescription& step : steps_tried()) {
        if (!step.seeded) continue;
        Values values;
        // Without grain a ramp has nothing to draw.
        if (step.parameter("stops")) values["stops"] = Stops{{0, {0, 0, 0}, 50}, {1, {1, 1, 1}, 50}};
        if (step.parameter("brushed")) values["brushed"] = 50.0;
        if (step.id == "edgetone") values["grain"] = 80.0;
        for (auto& [id, value] : by_hand(step, size)) values[id] = value;
        INFO(step.id);
        CHECK_FALSE(
            same_bytes(applied(std::string(step.id), values, &in, size, 1), applied(std::string(step.id), values, &in, size, 2)));
        CHECK(
            same_bytes(applied(std::string(step.id), values, &in, size, 1), applied(std::string(step.id), values, &in, size, 1)));
    }
}

TEST_CASE("a step in a cancelled job ends at once", "[catalogue][cancel][over-steps]") {
    const Size size{64, 64};
    const Bundle in = picture(size);
    for (const StepDescription& step : steps_tried()) {
        if (step.id == "flat" || shows_another(step)) continue;  // nothing to cut short
        Job job;
        job.cancel();
        const std::map<std::string, const Bundle*, std::less<>> none;
        const auto result = apply_step(step, {}, 0, size, &in, none, 0, job);
        INFO(step.id);
        REQUIRE_FALSE(result);
        CHECK(result.error().fault == Fault::cancelled);
    }
}
