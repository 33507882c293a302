// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Remedies: each brings its measure nearer to where it is good, by ordinary steps, or says that it does not.
#include "core/measure/judgement.h"
#include "core/measure/repeat.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

double measured(const Recipe& recipe, MeasureKind kind, int size = 256) {
    return value_of(measure(cloth(recipe, size_for(recipe.tile, size)), Job()), kind);
}

/// As it comes from a file, which leaves defaults out.
Recipe settled(const Recipe& recipe) { return read_recipe(write_recipe(recipe)).recipe; }

/// What was added is sound: the recipe can be written and read.
void check_sound(const Recipe& recipe) {
    const Reading back = read_recipe(write_recipe(recipe));
    CHECK(back.findings.empty());
    CHECK(back.recipe == recipe);
}

}  // namespace

TEST_CASE("a seam is closed after the step that opens it, or over the whole cloth", "[measure][remedies]") {
    const Recipe ramp = settled(recipe_of({strand_of("a", {{"gradient", {}}, {"grain", {}, 3}})}, 256));
    REQUIRE(std::max(measured(ramp, MeasureKind::across), measured(ramp, MeasureKind::down)) > seam_visible);
    const auto closed = remedied(ramp, Remedy::close_seams, {}, Job());
    REQUIRE(closed);
    check_sound(*closed);
    CHECK(std::max(measured(*closed, MeasureKind::across), measured(*closed, MeasureKind::down)) <= seam_visible);
    CHECK(closed->strands.size() == 1);
}

TEST_CASE("a covered ramp leaves a band that is said, and is closed by drawing it otherwise", "[measure][remedies]") {
    for (const char* method : {"fade", "cut", "histogram"})
        for (double width : {10.0, 30.0, 45.0}) {
            const Recipe covered = settled(recipe_of(
                {strand_of("a", {{"gradient", {}}, {"closeseams", {{"method", std::string(method)}, {"width", width}}}})}, 256));
            const Measures measures = measure(cloth(covered, {256, 256}), Job());
            INFO(method << " " << width << ": " << measures.down.ratio << ", " << measures.down.band);
            CHECK(measures.down.band > band_visible);
            if (measures.down.ratio > seam_good) continue;
            const Judgement judged = judgement_of(measures, MeasureKind::down);
            CHECK(judged.verdict == Verdict::some);
            CHECK(judged.sentence.find("band") != std::string_view::npos);
            CHECK(judged.remedies == std::vector{Remedy::close_seams});
            const auto closed = remedied(covered, Remedy::close_seams, {}, Job());
            REQUIRE(closed);
            check_sound(*closed);
            CHECK(closed->strands.front()->steps.size() == 1);
            const Measures after = measure(cloth(*closed, {256, 256}), Job());
            CHECK(judgement_of(after, MeasureKind::down).verdict == Verdict::good);
            CHECK(judgement_of(after, MeasureKind::across).verdict == Verdict::good);
        }
    // What repeats by construction has none.
    for (std::uint32_t seed = 1; seed <= 6; ++seed)
        for (const char* kind : {"clouds", "cells", "rings", "veins", "streaks"}) {
            const Measures measures = measure(cloth(recipe_of({strand_of("a", {{kind, {}, seed}})}, 512), {256, 256}), Job());
            INFO(kind << " " << seed);
            CHECK(measures.across.band < band_visible);
            CHECK(measures.down.band < band_visible);
        }
}

TEST_CASE("uneven light and a blob are evened out", "[measure][remedies]") {
    const Recipe uneven = settled(
        recipe_of({strand_of("a", {{"clouds", {{"size-x", 256.0}, {"size-y", 256.0}, {"octaves", 2.0}, {"contrast", 300.0}}, 3},
                                   {"grain", {}, 4}})},
                  256));
    REQUIRE(measured(uneven, MeasureKind::evenness) < 0.8);
    const auto evened = remedied(uneven, Remedy::even_out, {}, Job());
    REQUIRE(evened);
    check_sound(*evened);
    CHECK(measured(*evened, MeasureKind::evenness) > measured(uneven, MeasureKind::evenness) + 0.05);
    for (Remedy remedy : {Remedy::soften_standout, Remedy::other_seed}) {
        INFO(remedy_info(remedy).id);
        const auto helped = remedied(uneven, remedy, {}, Job());
        INFO((helped ? std::string() : helped.error().message));
        REQUIRE(helped);
        check_sound(*helped);
        CHECK(measured(*helped, MeasureKind::standout) < measured(uneven, MeasureKind::standout));
    }
}

TEST_CASE("a strand is varied, or follows another, and the surface comes nearer to a real one", "[measure][remedies]") {
    const Recipe flat = settled(
        recipe_of({strand_of("a", {{"clouds", {{"size-x", 60.0}, {"size-y", 60.0}}, 3}, {"gradientmap", {}}}),
                   strand_of("b", {{"static", {{"spread", std::string("gaussian")}}, 4}}, {Blend::soft_light, 70, false})},
                  256));
    const Measures before = measure(cloth(flat, {512, 512}), Job());
    REQUIRE(before.life.kinship < real_kinship.low);
    for (Remedy remedy : {Remedy::vary_strength, Remedy::one_cause}) {
        INFO(remedy_info(remedy).id);
        const auto helped = remedied(flat, remedy, {}, Job());
        INFO((helped ? std::string() : helped.error().message));
        REQUIRE(helped);
        check_sound(*helped);
        const Measures after = measure(cloth(*helped, {512, 512}), Job());
        CHECK((after.life.kinship > before.life.kinship || after.life.spark > before.life.spark));
    }
}

TEST_CASE("a second colour gives play to a surface whose colour follows its tone", "[measure][remedies]") {
    const Recipe flat =
        settled(recipe_of({strand_of("a", {{"clouds", {{"size-x", 60.0}, {"size-y", 60.0}}, 3}, {"gradientmap", {}}})}, 256));
    const Measures before = measure(cloth(flat, {512, 512}), Job());
    REQUIRE(before.life.play < real_play.low);
    const auto coloured = remedied(flat, Remedy::second_colour, {}, Job());
    REQUIRE(coloured);
    check_sound(*coloured);
    const Measures after = measure(cloth(*coloured, {512, 512}), Job());
    CHECK(after.life.play >= real_play.low);
    // Tone is left alone.
    CHECK(std::abs(after.histogram.mean - before.histogram.mean) < 0.03);
}

TEST_CASE("each measure has a sentence and, where it is not good, something that may help", "[measure]") {
    for (const MeasureInfo& info : measure_table) {
        INFO(info.id);
        const double good = info.high < none_above ? (info.low + info.high) / 2 : info.low;
        CHECK(verdict_of(good, info) == Verdict::good);
        CHECK(remedies_of(good, info.kind).empty());
        for (double value : {info.least, good, info.most}) CHECK_FALSE(sentence_of(value, info.kind).empty());
        CHECK(remedies_of(info.least - 1, info.kind).size() + remedies_of(info.most + 1, info.kind).size() > 0);
    }
    for (const RemedyInfo& info : remedy_table) CHECK(find_remedy(info.id) == info.remedy);
}

TEST_CASE("marks along a seam are high where it opens, and the broad share of contrast is all or nothing", "[measure]") {
    const Size size{128, 96};
    // A step of tone between right and left, in the upper half alone.
    Plane plane = random_plane(size, 4, 0.4f, 0.45f);
    for (int y = 0; y < size.height / 2; ++y)
        for (int x = 0; x < size.width / 2; ++x) plane.row(y)[x] += 0.3f;
    const RepeatMarks marks = repeat_marks(Bundle::of(plane.clone()), Job());
    REQUIRE(marks.across.size() == 64);
    CHECK(marks.across[10] > 4 * marks.across[50]);
    CHECK(marks.grid > 0.5);
    const RepeatMarks noise = repeat_marks(Bundle::of(random_plane(size, 5)), Job());
    for (double mark : noise.across) CHECK(mark < 4);
    CHECK(noise.grid < 0.2);
    CHECK(repeat_marks(Bundle::of(Plane(size, 0.5f)), Job()).grid == 0);
}
