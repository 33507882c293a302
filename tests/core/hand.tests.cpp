// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strokes of the hand against slow plain versions of what they mean, over the edges, at all sizes, and one after the other.
#include <cmath>
#include <functional>

#include "core/colour/colour.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "core/structures/brush.h"
#include "core/structures/hand_warp.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{96, 80};

Stroke stroke(const std::string& tool, std::vector<std::pair<double, double>> places, double px = 24, double strength = 70) {
    Stroke made;
    made.tool = tool, made.size = px, made.strength = strength, made.softness = 70;
    made.colour = {1.0f, 0.0f, 0.2f};
    for (const auto& [x, y] : places)
        made.points.push_back({static_cast<int>(std::lround(x * StrokePoint::per_px)),
                               static_cast<int>(std::lround(y * StrokePoint::per_px)), 255, 0, 0});
    return made;
}

Strokes list(std::vector<Stroke> all) {
    Strokes strokes;
    for (Stroke& each : all) strokes = strokes.appended(std::move(each));
    return strokes;
}

Strokes moved(const Strokes& strokes, int dx, int dy) {
    Strokes out;
    for (std::size_t k = 0; k < strokes.size(); ++k) {
        Stroke each = strokes[k];
        for (StrokePoint& p : each.points) p.x += dx * StrokePoint::per_px, p.y += dy * StrokePoint::per_px;
        out = out.appended(std::move(each));
    }
    return out;
}

double fall(double q, double soft) {
    const double t = std::clamp((1 - q) / soft, 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

/// How strongly a brush of even pressure works at a place: the strongest of many dabs along its way, each at its nearest copy.
double plain_brush(const Stroke& s, double x, double y) {
    double most = 0;
    for (const BrushPlace& at : places_along(s, 0.05)) {
        const double dx = std::remainder(x - at.x, double(size.width)), dy = std::remainder(y - at.y, double(size.height));
        most = std::max(most, fall(std::hypot(dx, dy) / (s.size / 2), s.softness / 100));
    }
    return most * std::abs(s.strength) / 100;
}

Values with(const Strokes& strokes, Values more = {}) {
    more["strokes"] = Value(strokes);
    return more;
}

double read(const Plane& plane, double x, double y) {
    const double left = std::floor(x), top = std::floor(y), s = x - left, t = y - top;
    const auto v = [&](int dx, int dy) {
        return static_cast<double>(plane.wrapped(static_cast<int>(left) + dx, static_cast<int>(top) + dy));
    };
    return (1 - t) * ((1 - s) * v(0, 0) + s * v(1, 0)) + t * ((1 - s) * v(0, 1) + s * v(1, 1));
}

}  // namespace

TEST_CASE("paint shows and hides as a plain brush does, over all edges", "[hand][paint]") {
    const Strokes strokes = list({stroke("show", {{-6, 20}, {30, 30}, {50, 84}}), stroke("hide", {{20, 30}, {100, 35}}, 18, 100),
                                  stroke("show", {{1, 1}}, 30, 50)});
    const Bundle in = Bundle::of(Plane(size, 0.2f));
    const Bundle out = applied("paint", with(strokes), &in, size);
    double worst = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            double mask = 0.2;
            for (std::size_t k = 0; k < strokes.size(); ++k)
                mask += plain_brush(strokes[k], x + 0.5, y + 0.5) * ((strokes[k].tool == "show" ? 1 : 0) - mask);
            worst = std::max(worst, std::abs(mask - static_cast<double>(out.colour[0]->at(x, y))));
        }
    CHECK(worst < 0.01);
    // Muted strokes are as if they were not there; a strength below nothing is the other way round.
    Stroke quiet = strokes[0];
    quiet.muted = true;
    CHECK(same_bytes(applied("paint", with(list({quiet})), &in, size), applied("paint", {}, &in, size)));
    Stroke negative = strokes[0], hide = strokes[0];
    negative.strength = -negative.strength, hide.tool = "hide";
    CHECK(same_bytes(applied("paint", with(list({negative})), &in, size), applied("paint", with(list({hide})), &in, size)));
}

TEST_CASE("hand tone lightens, darkens and colours as OKLab says", "[hand][handtone]") {
    const Bundle in = random_bundle(size, 5, true);
    const std::vector<std::pair<double, double>> way{{80, 60}, {110, 90}};
    for (const char* tool : {"lighten", "darken", "more-colour", "less-colour", "colour"}) {
        const Stroke s = stroke(tool, way, 30, 80);
        const Bundle out = applied("handtone", with(list({s})), &in, size);
        INFO(tool);
        CHECK(same_bytes(*out.coverage, *in.coverage));
        double worst = 0, most = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double w = plain_brush(s, x + 0.5, y + 0.5);
                const float cover = in.coverage->at(x, y);
                const auto straight = [&](int c) { return in.channel(c).at(x, y) / cover; };
                const Colour before{straight(0), straight(1), straight(2)};
                Lab lab = to_oklab(before);
                Colour wanted = before;
                const auto f = static_cast<float>(w);
                if (s.tool == "lighten" || s.tool == "darken")
                    lab.lightness += (s.tool == "lighten" ? 0.4f : -0.4f) * f, wanted = from_oklab(lab);
                if (s.tool == "more-colour") lab.a *= 1 + f, lab.b *= 1 + f, wanted = from_oklab(lab);
                if (s.tool == "less-colour") lab.a *= 1 - f, lab.b *= 1 - f, wanted = from_oklab(lab);
                if (s.tool == "colour")
                    wanted = {before.red + f * (s.colour.red - before.red), before.green + f * (s.colour.green - before.green),
                              before.blue + f * (s.colour.blue - before.blue)};
                const float values[3] = {wanted.red, wanted.green, wanted.blue};
                for (int c = 0; c < 3; ++c) {
                    worst = std::max(worst, static_cast<double>(std::abs(values[c] * cover - out.channel(c).at(x, y))));
                    most = std::max(most, static_cast<double>(std::abs(in.channel(c).at(x, y) - out.channel(c).at(x, y))));
                }
            }
        CHECK(worst < 0.01);
        CHECK(most > 0.05);
    }
}

TEST_CASE("a blurred stroke mixes in the direct convolution, over a corner too", "[hand][handtone]") {
    const Bundle in = random_bundle(size, 9, false, 1);
    const Stroke s = stroke("blur", {{90, 74}, {99, 85}}, 24, 100);
    const Bundle out = applied("handtone", with(list({s})), &in, size);
    const double sigma = s.size / 8;
    double worst = 0;
    for (int y = 60; y < 100; y += 3)
        for (int x = 70; x < 120; x += 3) {
            const int px = wrap(x, size.width), py = wrap(y, size.height);
            double sum = 0, weights = 0;
            for (int dy = -12; dy <= 12; ++dy)
                for (int dx = -12; dx <= 12; ++dx) {
                    const double w = std::exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
                    sum += w * static_cast<double>(in.colour[0]->wrapped(px + dx, py + dy)), weights += w;
                }
            const double how_much = plain_brush(s, px + 0.5, py + 0.5), before = static_cast<double>(in.colour[0]->at(px, py));
            worst = std::max(
                worst, std::abs(before + how_much * (sum / weights - before) - static_cast<double>(out.colour[0]->at(px, py))));
        }
    CHECK(worst < 0.005);
}

TEST_CASE("smudging drags what is under the brush along, as a plain version does", "[hand][handtone]") {
    const Bundle in = cloud_picture(size, 24);
    const Stroke s = stroke("smudge", {{20, 40}, {60, 40}}, 20, 100);
    const Bundle out = applied("handtone", with(list({s})), &in, size);
    Plane plain = in.colour[0]->clone();
    const auto places = dabs_along(s, std::max(0.5, s.size / 12));
    for (std::size_t n = 1; n < places.size(); ++n) {
        const Plane before = plain.clone();
        const double dx = places[n].x - places[n - 1].x, dy = places[n].y - places[n - 1].y;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double q = std::hypot(x + 0.5 - places[n].x, y + 0.5 - places[n].y) / (s.size / 2);
                const double w = fall(q, s.softness / 100);
                if (w > 0)
                    plain.row(y)[x] +=
                        static_cast<float>(w * (read(before, x - dx, y - dy) - static_cast<double>(before.at(x, y))));
            }
    }
    // Places of dabs are kept to eighths of px.
    CHECK(mean_difference(plain, *out.colour[0]) < 0.002);
    CHECK(greatest_difference(plain, *out.colour[0]) < 0.06);
    CHECK(mean_difference(*in.colour[0], *out.colour[0]) > 0.004);
}

TEST_CASE("hand warp bends as a plain version at four times the resolution does", "[hand][handwarp]") {
    const Size tile{256, 256};
    for (const char* tool : {"push", "swell", "pinch", "turn", "restore"}) {
        Stroke first = stroke("push", {{60, 60}, {120, 90}}, 60, 80),
               second = stroke(tool, {{80, 70}, {100, 100}, {110, 104}}, 64, 60);
        HandWarp warp(tile, 1);
        warp.add(first, job);
        warp.add(second, job);
        // In double, each place followed back through all dabs: no grid at all, so restore, which scales what there is, is exact
        // only for the dabs before it.
        struct Dab {
            const Stroke* s;
            double x, y, mx, my;
        };
        std::vector<Dab> dabs;
        for (const Stroke* s : {&first, &second}) {
            const auto places = dabs_along(*s, std::max(0.5, s->size / 4));
            for (std::size_t k = 0; k < places.size(); ++k)
                dabs.push_back(
                    {s, places[k].x, places[k].y, k ? places[k].x - places[k - 1].x : 0, k ? places[k].y - places[k - 1].y : 0});
        }
        std::function<std::pair<double, double>(std::size_t, double, double)> way = [&](std::size_t count, double x,
                                                                                        double y) -> std::pair<double, double> {
            if (count == 0) return {0, 0};
            const Dab& d = dabs[count - 1];
            const double dx = x - d.x, dy = y - d.y, w = fall(std::hypot(dx, dy) / (d.s->size / 2), 0.7), k = d.s->strength / 100;
            if (d.s->tool == "restore") {
                const auto before = way(count - 1, x, y);
                const double keep = 1 - 0.35 * w * k;
                return {before.first * keep, before.second * keep};
            }
            double vx = 0, vy = 0;
            if (d.s->tool == "push") vx = -w * k * d.mx, vy = -w * k * d.my;
            if (d.s->tool == "swell") vx = -dx * 0.09 * k * w, vy = -dy * 0.09 * k * w;
            if (d.s->tool == "pinch") vx = dx * 0.09 * k * w, vy = dy * 0.09 * k * w;
            if (d.s->tool == "turn") {
                const double a = 0.14 * k * w;
                vx = dx * std::cos(a) - dy * std::sin(a) - dx, vy = dx * std::sin(a) + dy * std::cos(a) - dy;
            }
            const auto before = way(count - 1, x + vx, y + vy);
            return {vx + before.first, vy + before.second};
        };
        double worst = 0, most = 0;
        const Size grid = warp_grid(tile);
        for (int y = 0; y < grid.height; y += 5)
            for (int x = 0; x < grid.width; x += 5) {
                const auto wanted = way(dabs.size(), (x + 0.5) * tile.width / grid.width, (y + 0.5) * tile.height / grid.height);
                worst = std::max({worst, std::abs(wanted.first - static_cast<double>(warp.across.at(x, y))),
                                  std::abs(wanted.second - static_cast<double>(warp.down.at(x, y)))});
                most = std::max(most, std::hypot(wanted.first, wanted.second));
            }
        INFO(tool);
        CHECK(most > 8);
        // The grid is as coarse as a design px, and reads itself between its places with every dab.
        CHECK(worst < 0.06 * most);
    }
}

TEST_CASE("what is pushed goes the way of the hand, and swells, pinches and turns go both ways", "[hand][handwarp]") {
    // A spot, and where it is after.
    Plane spot(size, 0.0f);
    for (int y = 36; y < 44; ++y)
        for (int x = 36; x < 44; ++x) spot.row(y)[x] = 1;
    const Bundle in = Bundle::of(std::move(spot));
    const auto middle = [](const Bundle& b) {
        double x = 0, y = 0, sum = 0;
        for (int j = 0; j < size.height; ++j)
            for (int i = 0; i < size.width; ++i) {
                const double v = static_cast<double>(b.colour[0]->at(i, j));
                x += v * i, y += v * j, sum += v;
            }
        return std::tuple{x / sum, y / sum, sum};
    };
    const auto [x0, y0, sum0] = middle(in);
    const auto [x1, y1, sum1] =
        middle(applied("handwarp", with(list({stroke("push", {{30, 40}, {56, 40}}, 40, 100)})), &in, size));
    CHECK(x1 > x0 + 6);
    CHECK(std::abs(y1 - y0) < 1);
    Stroke grow = stroke("swell", {{40, 40}, {40, 40}, {40, 40}, {40, 40}}, 40, 100), shrink = grow;
    shrink.strength = -100;
    CHECK(std::get<2>(middle(applied("handwarp", with(list({grow})), &in, size))) > sum0 * 1.3);
    CHECK(std::get<2>(middle(applied("handwarp", with(list({shrink})), &in, size))) < sum0 * 0.8);
    // Drawn together before the brush, as cloth is before a hand.
    CHECK(sum1 > 0.2 * sum0);
    // Churned without a way to go nothing is lost on the whole, and another seed stirs otherwise.
    const Bundle clouds = cloud_picture(size, 20);
    Stroke stir = stroke("churn", {{30, 30}, {60, 50}}, 50, 100);
    const Bundle one = applied("handwarp", with(list({stir})), &clouds, size, 1),
                 two = applied("handwarp", with(list({stir})), &clouds, size, 2);
    CHECK(mean_difference(*one.colour[0], *clouds.colour[0]) > 0.003);
    CHECK(mean_difference(*one.colour[0], *two.colour[0]) > 0.003);
    // No strength, no change.
    CHECK(same_bytes(applied("handwarp", with(list({grow}), {{"strength", 0.0}}), &in, size), in));
}

TEST_CASE("strokes over all four edges and corners leave no seam", "[hand][wraps]") {
    const Bundle in = cloud_picture(size, 16);
    for (const char* kind : {"handwarp", "handtone", "paint"}) {
        const Parameter& p = *find_step(kind)->parameter_of(Kind::strokes);
        std::vector<Stroke> all;
        for (const Choice& tool : p.choices) {
            if (tool.id == "churn") continue;  // its eddies lie still on the tile
            all.push_back(stroke(std::string(tool.id), {{-10, 10}, {10, -10}, {96, 70}, {104, 90}}, 22));
            all.push_back(stroke(std::string(tool.id), {{48, 76}, {50, 86}}, 14));
        }
        const Strokes strokes = list(all);
        const Bundle a = rolled(applied(kind, with(strokes), &in, size), 37, 23);
        const Bundle turned = rolled(in, 37, 23);
        const Bundle b = applied(kind, with(moved(strokes, 37, 23)), &turned, size);
        INFO(kind);
        for (std::size_t c = 0; c < a.colour.size(); ++c) CHECK(greatest_difference(*a.colour[c], *b.colour[c]) < 2e-3);
        // By whole tiles they are the same strokes, to the byte but for rounding of places far away.
        const Bundle there = applied(kind, with(strokes), &in, size),
                     round = applied(kind, with(moved(strokes, 96, -160)), &in, size);
        CHECK(greatest_difference(there, round) < 2e-3);
    }
}

TEST_CASE("strokes replayed at several sizes and made small look alike", "[hand][scale]") {
    for (const std::string& kind : tried<std::string>({"handwarp", "handtone", "paint"})) {
        const StepDescription& step = *find_step(kind);
        const Values values = by_hand(step, {1024, 1024});
        const auto at = [&](int side) {
            Recipe recipe = recipe_of(
                {strand_of("a", {{"clouds", {{"size-x", 200.0}, {"size-y", 200.0}, {"octaves", 2.0}}, 3}, {kind, values, 1}})},
                1024);
            return resized(cloth(recipe, {side, side}), {128, 128});
        };
        const Bundle small = at(512), plain = at(1024), large = at(4096);
        INFO(kind);
        for (std::size_t c = 0; c < plain.colour.size(); ++c) {
            CHECK(mean_difference(*small.colour[c], *large.colour[c]) < 0.012);
            CHECK(mean_difference(*plain.colour[c], *large.colour[c]) < 0.006);
        }
    }
}

TEST_CASE("a stroke more is worked out from those before it, to the same bytes", "[hand][cache]") {
    for (const char* kind : {"handwarp", "handtone", "paint"}) {
        const Parameter& p = *find_step(kind)->parameter_of(Kind::strokes);
        const auto recipe_with = [&](int count) {
            Strokes strokes;
            for (int k = 0; k < count; ++k) {
                const double x = (k * 37) % 96, y = (k * 53) % 80;
                const std::size_t tool = static_cast<std::size_t>(k) % p.choices.size();
                strokes = strokes.appended(stroke(std::string(p.choices[tool].id), {{x, y}, {x + 12, y + 7}}, 16, 40));
            }
            Strand strand = strand_of("a", {{"clouds", {{"size-x", 24.0}}, 3}});
            const bool masks = std::string(kind) == "paint";
            Step step;
            step.id = "hand", step.kind = kind, step.set["strokes"] = Value(strokes);
            strand.chain(masks ? ChainKind::mask : ChainKind::steps).push_back(step);
            return recipe_of({strand}, 96);
        };
        Cache cache(std::size_t{1} << 28);
        for (int count : {1, 2, 63, 64, 65, 66, 130, 131, 520, 521}) {
            INFO(kind << " " << count);
            const Recipe recipe = recipe_with(count);
            CHECK(same_bytes(cloth(recipe, {96, 96}, 2, &cache), cloth(recipe, {96, 96}, 1)));
        }
        // With everything before it in the cache, a new stroke is one node of strokes and not all of them.
        RenderOptions options;
        options.cache = &cache;
        REQUIRE(render(recipe_with(522), {96, 96}, {Wanted{}}, options, job));
        const auto next = render(recipe_with(523), {96, 96}, {Wanted{}}, options, job);
        REQUIRE(next);
        int fresh = 0;
        for (const NodeTiming& timing : next->timings) fresh += !timing.cached && timing.label == "a/hand";
        CHECK(fresh <= 3);
    }
}

TEST_CASE("strokes are written small and read as they were", "[hand][file]") {
    Strokes strokes;
    for (int k = 0; k < 5000; ++k) {
        Stroke each = stroke(k % 2 ? "push" : "turn", {}, 40 + k % 7, 50);
        for (int n = 0; n < 20; ++n)
            each.points.push_back({k + 9 * n, 2 * k - 5 * n, 255 - (k % 3 ? 0 : 4 * n), k % 5 ? 0 : n, 0});
        strokes = strokes.appended(std::move(each));
    }
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}}, {"handwarp", with(strokes)}})});
    const std::string json = write_recipe(recipe);
    // 20 points a stroke.
    CHECK(json.size() < 5000 * 350);
    const Reading back = read_recipe(json);
    REQUIRE_FALSE(back.first_fault());
    CHECK(back.recipe == recipe);
    const Strokes read = as<Strokes>(back.recipe.step({"a", "s2", ""})->set.at("strokes"));
    CHECK(read.hash() == strokes.hash());
    CHECK(read.hash_of_first(4321) == strokes.first(4321).hash());
    CHECK(strokes.without(77).size() == 4999);
    CHECK(strokes.replaced(9, strokes[10])[9] == strokes[10]);
    CHECK(strokes.first(100).with(strokes, 100, 5000) == strokes);
}

TEST_CASE("a pen that is pressed lightly works less and narrower, and one that leans draws longer", "[hand]") {
    const auto area = [](int pressure, int tilt) {
        Stroke dab = stroke("show", {{48, 40}}, 30, 100);
        dab.points[0].pressure = pressure, dab.points[0].tilt_x = tilt;
        const Bundle in = Bundle::of(Plane(size, 0.0f));
        const Bundle out = applied("paint", with(list({dab})), &in, size);
        double wide = 0, high = 0, sum = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double v = static_cast<double>(out.colour[0]->at(x, y));
                sum += v, wide += v * std::abs(x + 0.5 - 48), high += v * std::abs(y + 0.5 - 40);
            }
        return std::tuple{sum, wide / sum, high / sum};
    };
    const auto [full, fw, fh] = area(255, 0);
    const auto [light, lw, lh] = area(64, 0);
    const auto [leaning, tw, th] = area(255, 60);
    CHECK(light < full / 4);
    CHECK(lw < fw);
    CHECK(fw == Approx(fh).epsilon(0.02));
    CHECK(tw > 1.7 * fw);
    CHECK(th == Approx(fh).epsilon(0.05));
    CHECK(leaning > 1.5 * full);
    CHECK(lh == Approx(lw).epsilon(0.05));
}
