// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How sources behave by number: the same at every size, along the directions they are given, and where their marks belong.
#include <cmath>
#include <set>

#include "core/image/gaussian.h"
#include "core/noise/clouds.h"
#include "core/structures/causes.h"
#include "core/structures/stains.h"
#include "core/structures/timber.h"
#include "core/structures/timber_kernel.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{256, 256};
Value word(const char* text) { return Value(std::string(text)); }

/// A make step on a tile of so many design pixels, made so large and brought to a half of the tile; multiplied by what it covers.
Bundle reduced(const std::string& kind, const Values& set, int side, std::uint32_t seed, int tile = 256) {
    const Bundle made = cloth(recipe_of({strand_of("a", {{kind, set, seed}})}, tile), {side, side});
    return resized(made, {tile / 2, tile / 2});
}

double correlation(const Plane& a, const Plane& b) {
    const double mean_a = mean_of(a), mean_b = mean_of(b);
    double together = 0, own_a = 0, own_b = 0;
    for (std::size_t i = 0; i < a.count(); ++i) {
        const double p = static_cast<double>(a.data()[i]) - mean_a, q = static_cast<double>(b.data()[i]) - mean_b;
        together += p * q, own_a += p * p, own_b += q * q;
    }
    return together / std::sqrt(own_a * own_b);
}

/// Where the gradients of a picture point least, in degrees: the way its lines run, 0 to 180, 90 upright.
double lines_of(const Plane& plane) {
    double xx = 0, yy = 0, xy = 0;
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x) {
            const auto gx = static_cast<double>(plane.wrapped(x + 1, y) - plane.wrapped(x - 1, y)),
                       gy = static_cast<double>(plane.wrapped(x, y - 1) - plane.wrapped(x, y + 1));
            xx += gx * gx, yy += gy * gy, xy += gx * gy;
        }
    const double across = 0.5 * std::atan2(2 * xy, xx - yy) * 180 / pi;
    return std::fmod(across + 90 + 360, 180);
}

}  // namespace

TEST_CASE("a source is the same at half, once, twice and four times its size", "[sources][scale]") {
    const struct {
        const char* kind;
        Values set;
        int tile = 256;
    } sources[] = {{"clouds", {}},
                   {"static", {}},
                   {"cells", {}},
                   {"veins", {{"size", 120.0}}},
                   {"facets", {}},
                   {"dashes", {{"count", 300.0}}},
                   {"streaks", {}},
                   {"streaks", {{"width", 1.0}}},
                   {"rings", {{"bands", 18.0}, {"depth", 58.0}, {"knots", 0.0}}, 512},
                   {"weave", {{"warp", 24.0}, {"weft", 16.0}}},
                   {"courses", {{"columns", 2.0}, {"rows", 5.0}}},
                   {"courses", {{"bond", word("planks")}, {"columns", 3.0}, {"rows", 2.0}}},
                   {"stripes", {}},
                   {"scatter", {{"count", 300.0}}},
                   {"scatter", {{"motif", word("stain")}, {"count", 12.0}, {"size", 60.0}}}};
    for (const auto& source : sources)
        for (std::uint32_t seed : tried(std::vector<std::uint32_t>{2, 7, 19})) {
            const Bundle largest = reduced(source.kind, source.set, 4 * source.tile, seed, source.tile);
            for (int side : {source.tile / 2, source.tile, 2 * source.tile}) {
                const Bundle other = reduced(source.kind, source.set, side, seed, source.tile);
                double off = 0;
                for (std::size_t c = 0; c < largest.colour.size(); ++c)
                    off += mean_difference(*largest.colour[c], *other.colour[c]) / static_cast<double>(largest.colour.size());
                INFO(source.kind << " seed " << seed << " at " << side << ": " << 255 * off << " of 255");
                CHECK(255 * off < 3);
            }
        }
}

TEST_CASE("thin streaks keep their places in small pictures, and grow faint instead of broad", "[sources][streaks]") {
    const Values thin{{"width", 0.5}, {"variety", 0.0}, {"tails", 0.0}};
    const Bundle small = reduced("streaks", thin, 128, 3), large = reduced("streaks", thin, 1024, 3);
    CHECK(correlation(small.channel(0), large.channel(0)) > 0.95);
    const double whole = deviation_of(cloth(recipe_of({strand_of("a", {{"streaks", thin}})}, 256), {1024, 1024}).channel(0));
    CHECK(deviation_of(small.channel(0)) < 0.8 * whole);
    // A strand's tone turns them; mid grey leaves them as they are.
    const auto turned = [&](double grey) {
        const auto shade = static_cast<float>(grey);
        Strand toned = strand_of("tone", {{"flat", {{"colour", Colour{shade, shade, shade}}}}});
        toned.on = false;
        const Values set{{"field", word("tone")}, {"strand", word("tone")}, {"tone-turn", 90.0}, {"length", 60.0}};
        return lines_of(cloth(recipe_of({toned, strand_of("own", {{"streaks", set}})}, 256), size).channel(0));
    };
    CHECK(std::abs(std::remainder(turned(0.5), 180)) < 4);
    CHECK(std::abs(turned(0.75) - 45) < 6);
}

TEST_CASE("combing moves rings along the fibres, and no further", "[sources][rings]") {
    TimberSettings plain;
    plain.seed = 7, plain.knots = 0;
    TimberSettings combing = plain;
    combing.comb = 12 / 1024.0;
    const Timber timber(job, combing);
    constexpr int count = 200;
    std::vector<float> u(count), fibre(count), moved(count, 0.0f), phase(count), combed(count), there(count);
    for (int k = 0; k < count; ++k) u[static_cast<std::size_t>(k)] = (static_cast<float>(k) + 0.5f) / count;
    const CombedPhase phases(job, timber, u.data(), count, 1024);
    const float v = 0.37f;
    timber.row(v, u.data(), count, fibre.data(), phase.data());
    timber.comb_row(v, fibre.data(), count, moved.data());
    phases.row(v, moved.data(), combed.data());
    double sum = 0;
    for (std::size_t k = 0; k < count; ++k) {
        // As the plain phase is that much further down; between the rows that are kept it is a straight line.
        timber.row(v + moved[k], u.data(), count, fibre.data(), there.data());
        CHECK(combed[k] == Approx(there[k]).margin(0.03));
        sum += static_cast<double>(moved[k] * moved[k]);
    }
    CHECK(std::sqrt(sum / count) * 1024 == Approx(4.8).epsilon(0.35));
    // The tile closes: a whole tile further down there are as many rings more as the cut has.
    std::vector<float> below(count);
    phases.row(v + 1, moved.data(), below.data());
    CHECK(below[50] - combed[50] == Approx(timber.gain_down()).margin(1e-3));
}

TEST_CASE("knots lie where they are put, and their own seed moves nothing else", "[sources][rings]") {
    const auto timber = [&](Values more) {
        more.insert({{"pores", 0.0}, {"rays", 0.0}});
        return applied("rings", more, nullptr, size, 4);
    };
    const Values placed{{"knots", 1.0}, {"knot-size", 40.0}, {"knot-place", word("first")}, {"knot-x", 25.0}, {"knot-y", 75.0}};
    const Bundle with = timber(placed), without = timber({{"knots", 0.0}});
    double at = 0, away = 0;
    for (int y = -12; y <= 12; ++y)
        for (int x = -12; x <= 12; ++x) {
            const auto off = [&](int cx, int cy) {
                return std::abs(
                    static_cast<double>(with.channel(0).wrapped(cx + x, cy + y) - without.channel(0).wrapped(cx + x, cy + y)));
            };
            at += off(64, 192), away += off(192, 64);
        }
    CHECK(at > 20 * away);
    // Other pores in the same board.
    const Bundle pores = applied("rings", {{"knots", 0.0}}, nullptr, size, 4),
                 others = applied("rings", {{"knots", 0.0}, {"pore-seed", 3.0}}, nullptr, size, 4);
    CHECK(greatest_difference(pores, others) > 0.1);
    CHECK(mean_difference(pores.channel(0), others.channel(0)) < 0.06);
}

TEST_CASE("veins take finer directions than whole tiles, and each closes", "[sources][veins]") {
    std::vector<double> ways;
    for (double direction : {30.0, 45.0, 60.0, 75.0}) {
        double x = 0, y = 0;
        // The mean of several, as doubled angles.
        for (std::uint32_t seed : {1u, 2u, 3u}) {
            const Values set{{"size", 50.0},  {"direction", direction}, {"halo", 0.0},     {"hairlines", 0.0},
                             {"second", 0.0}, {"wander", 0.0},          {"stretch", 400.0}};
            const double way = lines_of(applied("veins", set, nullptr, size, seed).channel(0)) * pi / 90;
            x += std::cos(way), y += std::sin(way);
        }
        ways.push_back(std::fmod(std::atan2(y, x) * 90 / pi + 180, 180));
    }
    for (std::size_t k = 1; k < ways.size(); ++k) {
        INFO(ways[k - 1] << " " << ways[k]);
        CHECK(ways[k] > ways[k - 1] + 4);
    }
}

TEST_CASE("clouds run aslant by whole tiles, and one number says how rough they are", "[sources][clouds]") {
    const auto way = [&](double slant) {
        return lines_of(
            applied("clouds", {{"size-x", 10.0}, {"size-y", 128.0}, {"octaves", 2.0}, {"slant", slant}}, nullptr, size, 3)
                .channel(0));
    };
    CHECK(std::abs(way(0) - 90) < 6);
    CHECK(std::abs(way(1) - 45) < 8);
    CHECK(std::abs(way(-1) - 135) < 8);
    const auto rough = [&](double slope) {
        const Values set{{"weights", word("slope")}, {"slope", slope}, {"contrast", 30.0}};
        const Bundle clouds = applied("clouds", set, nullptr, size, 3);
        const Plane soft = gaussian_blur(clouds.channel(0), 3, 3, job);
        return mean_difference(soft, clouds.channel(0)) / deviation_of(clouds.channel(0));
    };
    CHECK(rough(1) > 1.5 * rough(3));
    CHECK(rough(3) > 1.5 * rough(5));
    // Octaves with half the amplitude each have a quarter of the power at twice the frequency: a slope of 4 over a plane.
    CHECK(greatest_difference(applied("clouds", {{"weights", word("slope")}, {"slope", 4.0}}, nullptr, size, 3),
                              applied("clouds", {}, nullptr, size, 3)) < 1e-5);
    const Bundle grains = applied("static", {{"grain-x", 2.0}, {"grain-y", 32.0}, {"slant", 1.0}}, nullptr, size, 3);
    CHECK(std::abs(lines_of(grains.channel(0)) - 45) < 15);
}

TEST_CASE("a stain is dark where it stopped, half of that behind, less inside, nothing outside", "[sources][scatter]") {
    for (std::uint64_t lots = 0; lots < 12; ++lots) {
        const TideProfile stain(1, lots);
        float line = 0;
        for (float d = 0.96f; d < 1.02f; d += 0.002f) line = std::max(line, stain.at(d));
        CHECK(stain.at(1.1f) == 0);
        CHECK(stain.at(5) == 0);
        CHECK(line > 0.7f);
        const float behind = stain.at(0.88f), inside = stain.at(0.3f);
        CHECK(behind < 0.85f * line);
        CHECK(behind > 0.4f * line);
        CHECK(inside < behind);
        CHECK(inside > 0.15f);
    }
}

TEST_CASE("things are scattered as a strand says, and lean as their law has it", "[sources][scatter]") {
    Strand half = strand_of("half", {{"formula", {{"expression", word("step(0.5, u)")}}}});
    half.on = false;
    const Values set{{"count", 400.0}, {"size", 6.0}, {"density", word("half")}};
    const Bundle thrown = cloth(recipe_of({half, strand_of("a", {{"scatter", set, 2}})}, 256), size);
    double left = 0, right = 0;
    for (int y = 0; y < 256; ++y)
        for (int x = 16; x < 240; ++x)
            if (std::abs(x - 128) > 12) (x < 128 ? left : right) += static_cast<double>(thrown.coverage->at(x, y));
    CHECK(left == 0);
    CHECK(right > 500);
    // Of slopes that are drawn as both parts of a plane's few are level; a bell has most there.
    const auto level_share = [&](const char* law) {
        const auto out = apply_step(*find_step("scatter"),
                                    {{"count", 900.0}, {"size", 14.0}, {"tilt-law", word(law)}, {"steep", 0.0}, {"bend", 0.0}}, 3,
                                    size, nullptr, {}, 0, job, {"id", "tilt-x", "tilt-y"});
        REQUIRE(out);
        std::map<int, double> slopes;
        for (int y = 0; y < 256; ++y)
            for (int x = 0; x < 256; ++x)
                if (const int id = static_cast<int>(out->plane("id")->at(x, y)); id > 0)
                    slopes[id] = std::hypot(out->plane("tilt-x")->at(x, y), out->plane("tilt-y")->at(x, y));
        int level = 0;
        // Under five degrees.
        for (const auto& [id, slope] : slopes) level += slope < 0.087 * 0.5 / 14;
        return level / static_cast<double>(slopes.size());
    };
    CHECK(level_share("bell") > 1.5 * level_share("rayleigh"));
}

TEST_CASE("dirt lies in hollows and under edges and runs down from them, and wear lies on what stands out", "[settle]") {
    // A level shelf across the tile.
    Plane shelf(size, 0.2f);
    for (int y = 96; y < 128; ++y)
        for (int x = 0; x < 256; ++x) shelf.row(y)[x] = 0.8f;
    const Bundle in = Bundle::of(shelf.clone());
    const Values mask{{"height", word("tone")}, {"output", word("mask")}};
    const auto with = [&](Values more) {
        more.insert(mask.begin(), mask.end());
        return more;
    };
    const auto at = [&](const Bundle& bundle, int y) {
        double sum = 0;
        for (int x = 0; x < 256; ++x) sum += static_cast<double>(bundle.channel(0).at(x, y));
        return sum / 256;
    };
    const Bundle under =
        applied("settle", with({{"into", word("under")}, {"run", 0.0}, {"grain", 0.0}, {"share", 6.0}}), &in, size);
    CHECK(at(under, 131) > 0.9);
    CHECK(at(under, 92) < 0.02);
    CHECK(at(under, 110) < 0.02);
    const Bundle hollow =
        applied("settle", with({{"into", word("hollows")}, {"run", 0.0}, {"grain", 0.0}, {"share", 10.0}}), &in, size);
    CHECK(at(hollow, 131) == Approx(at(hollow, 92)).margin(0.02));
    CHECK(at(hollow, 110) < 0.02);
    // It runs down, not up, and turns with its way.
    const Values runs{{"into", word("under")}, {"grain", 0.0}, {"share", 6.0}, {"run", 100.0}, {"run-length", 80.0}};
    const Bundle run = applied("settle", with(runs), &in, size);
    CHECK(at(run, 160) > at(under, 160) + 0.02);
    CHECK(at(run, 160) > 3 * at(run, 70));
    const Bundle worn = applied("wear", with({{"rubs", word("tops")}, {"broken", 0.0}, {"share", 10.0}}), &in, size);
    CHECK(at(worn, 98) > 0.5);
    CHECK(at(worn, 131) < 0.02);
    CHECK(at(worn, 200) < 0.02);
    // So much of the tile as is asked for; nothing where all is level.
    const Bundle hills = cloud_picture(size, 40);
    for (double share : {10.0, 30.0, 60.0}) {
        const Values part{{"into", word("hollows")}, {"run", 0.0}, {"grain", 0.0}, {"softness", 0.0}, {"share", share}};
        CHECK(mean_of(applied("settle", with(part), &hills, size).channel(0)) == Approx(share / 100).margin(0.02));
    }
    const Bundle level = Bundle::of(Plane(size, 0.4f));
    CHECK(mean_of(applied("settle", with({}), &level, size).channel(0)) == 0);
    // One cause, several marks: the colour, the height and the plane agree.
    Bundle surface = Bundle::of(Plane(size, 0.9f));
    surface.named[std::string(height_plane)] = share(hills.channel(0).clone());
    const auto marked = apply_step(*find_step("settle"), {{"colour", Colour{0, 0, 0}}, {"strength", 100.0}, {"thickness", 20.0}},
                                   3, size, &surface, {}, 0, job, {"dirt", std::string(height_plane)});
    REQUIRE(marked);
    for (int y = 0; y < 256; y += 7)
        for (int x = 0; x < 256; x += 5) {
            const float dirt = marked->plane("dirt")->at(x, y);
            CHECK(marked->channel(0).at(x, y) == Approx(0.9f * (1 - dirt)).margin(1e-5));
            CHECK(marked->plane(height_plane)->at(x, y) == Approx(hills.channel(0).at(x, y) + 0.2f * dirt).margin(1e-5));
        }
}

TEST_CASE("other metrics of cells find the borders that looking everywhere finds", "[sources][cells]") {
    for (const char* metric : {"manhattan", "chebyshev"}) {
        const Values set{{"size", 32.0},
                         {"metric", word(metric)},
                         {"show", word("tone")},
                         {"tone-spread", 100.0},
                         {"relaxation", 1.0},
                         {"wander", 0.0},
                         {"gap", 0.0}};
        const auto cells = apply_step(*find_step("cells"), set, 5, size, nullptr, {}, 0, job, {"id"});
        REQUIRE(cells);
        // Each cell is in one piece beside its neighbours: no stray pixels of others within it.
        int stray = 0;
        const Plane& id = *cells->plane("id");
        for (int y = 0; y < 256; ++y)
            for (int x = 0; x < 256; ++x) {
                int same = 0;
                for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}})
                    same += id.wrapped(x + dx, y + dy) == id.at(x, y);
                stray += same == 0;
            }
        CHECK(stray < 4);
        CHECK(deviation_of(cells->channel(0)) > 0.05);
    }
}
