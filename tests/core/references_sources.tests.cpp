// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Sources against plain versions in double, and against what chance promises: areas, counts and places.
#include <cmath>
#include <functional>
#include <set>

#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{160, 120};

double nearest(double t) { return t - std::round(t); }

/// Place along a gradient's ramp in double, by its words.
double ramp_place(const std::string& form, const std::string& repeat, double fx, double fy, double tx, double ty, double turns,
                  double u, double v) {
    const double W = size.width, H = size.height, dx = (tx - fx) / 100 * W, dy = (ty - fy) / 100 * H, length = std::hypot(dx, dy);
    double x = u - fx / 100, y = v - fy / 100;
    if (form != "linear") x = nearest(x), y = nearest(y);
    x *= W, y *= H;
    const double along = (x * dx + y * dy) / length, across = (y * dx - x * dy) / length;
    double t = 0;
    if (form == "linear") t = along / length;
    if (form == "reflected") t = std::abs(along) / length;
    if (form == "radial") t = std::hypot(x, y) / length;
    if (form == "square") t = std::max(std::abs(along), std::abs(across)) / length;
    if (form == "angular") t = std::atan2(across, along) / (2 * pi), t -= std::floor(t);
    t *= turns;
    if (repeat == "mirror") {
        t -= 2 * std::floor(t / 2);
        return t <= 1 ? t : 2 - t;
    }
    if (repeat == "loop" || form == "angular") return t - std::floor(t);
    return std::clamp(t, 0.0, 1.0);
}

}  // namespace

TEST_CASE("gradients of every form and repeat lie where a plain version puts them", "[references][gradient]") {
    const Stops stops{{0, {0, 0, 0}, 0}, {1, {1, 1, 1}, 0}};
    for (const char* form : {"linear", "reflected", "radial", "angular", "square"})
        for (const char* repeat : {"once", "loop", "mirror"})
            for (const auto& [fx, fy, tx, ty, turns] :
                 {std::tuple{0.0, 0.0, 0.0, 100.0, 1.0}, std::tuple{50.0, 50.0, 80.0, 65.0, 2.0},
                  std::tuple{-20.0, 130.0, 70.0, 10.0, 3.7}}) {
                INFO(form << " " << repeat << " " << fx << " " << turns);
                const Bundle out = applied("gradient",
                                           {{"form", std::string(form)},
                                            {"repeat", std::string(repeat)},
                                            {"from-x", fx},
                                            {"from-y", fy},
                                            {"to-x", tx},
                                            {"to-y", ty},
                                            {"turns", turns},
                                            {"stops", stops},
                                            {"mix", std::string("srgb")}},
                                           nullptr, size);
                int wrong = 0;
                for (int y = 0; y < size.height; ++y)
                    for (int x = 0; x < size.width; ++x) {
                        const double t =
                            ramp_place(form, repeat, fx, fy, tx, ty, turns, (x + 0.5) / size.width, (y + 0.5) / size.height);
                        const double away = std::abs(double(out.channel(1).at(x, y)) - t);
                        // Where a ramp jumps from end to end, a rounding may fall to either side.
                        wrong += away > 1e-3 && away < 0.999;
                    }
                // An angular one that ends elsewhere than it began has a spoke, along which the same holds.
                CHECK(wrong <= (std::string(form) == "angular" && turns != std::floor(turns) ? 40 : 0));
            }
}

TEST_CASE("stripes, checks and dots are what a plain version draws", "[references][stripes]") {
    // Six across and five down, with edges a pixel soft.
    const int across = 6, down = 5;
    const double duty = 0.4, soft = 3;
    auto edge = [&](double inside) { return std::clamp(0.5 + inside / soft, 0.0, 1.0); };
    auto bar = [&](double t, double period) { return edge((duty / 2 - std::abs(t - 0.5)) * period); };
    for (const char* form : {"sine", "triangle", "saw", "bar", "check", "dots"}) {
        const bool crossed = std::string(form) == "check" || std::string(form) == "dots";
        const Bundle out = applied("stripes",
                                   {{"form", std::string(form)},
                                    {"by", std::string("counts")},
                                    {"count-x", double(across)},
                                    {"count-y", double(crossed ? down : 0)},
                                    {"duty", duty * 100},
                                    {"softness", soft}},
                                   nullptr, size);
        double worst = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double a = across * (x + 0.5) / size.width, t = a - std::floor(a), b = down * (y + 0.5) / size.height,
                             s = b - std::floor(b);
                const double px = double(size.width) / across, py = double(size.height) / down;
                double value = 0;
                const std::string word = form;
                if (word == "sine") value = 0.5 - 0.5 * std::cos(2 * pi * t);
                if (word == "triangle") value = 1 - std::abs(2 * t - 1);
                if (word == "saw") value = t < 1 - soft / px ? t / (1 - soft / px) : (1 - t) / (soft / px);
                if (word == "bar") value = bar(t, px);
                if (word == "check") value = bar(t, px) + bar(s, py) - 2 * bar(t, px) * bar(s, py);
                if (word == "dots") value = edge(std::sqrt(duty * px * py / pi) - std::hypot((t - 0.5) * px, (s - 0.5) * py));
                worst = std::max(worst, std::abs(value - double(out.channel(0).at(x, y))));
            }
        INFO(form);
        CHECK(worst < 2e-3);
    }
}

TEST_CASE("scattered discs cover what chance promises, and each as much as its size", "[references][scatter]") {
    const Size field{400, 400};
    for (double count : {200.0, 900.0}) {
        // Free discs of one size: what stays open is exp(-n A).
        const Bundle out = applied("scatter",
                                   {{"motif", std::string("disc")},
                                    {"overlap", std::string("free")},
                                    {"count", count},
                                    {"size", 20.0},
                                    {"size-spread", 0.0}},
                                   nullptr, field, 5);
        REQUIRE(out.coverage);
        const double expected = 1 - std::exp(-count * pi * 100 / (400.0 * 400.0));
        INFO(count);
        CHECK(mean_of(*out.coverage) == Approx(expected).margin(0.03));
    }
    // Spaced ones never overlap: their areas add up.
    const auto apart = apply_step(*find_step("scatter"),
                                  {{"motif", std::string("disc")},
                                   {"overlap", std::string("spaced")},
                                   {"count", 150.0},
                                   {"size", 18.0},
                                   {"size-spread", 40.0}},
                                  3, field, nullptr, {}, 0, job, {"id"});
    REQUIRE(apart);
    std::map<float, int> pixels;
    for (int y = 0; y < 400; ++y)
        for (int x = 0; x < 400; ++x) ++pixels[apart->plane(objects::id)->at(x, y)];
    pixels.erase(0.0f);
    CHECK(pixels.size() == 150);
    double area = 0;
    for (const auto& [id, n] : pixels) area += n;
    CHECK(area / (400.0 * 400.0) == Approx(mean_of(*apart->coverage)).margin(0.01));
    // Squares and polygons, stretched: half as high, half the area.
    for (const char* motif : {"square", "disc"}) {
        auto covered = [&](double stretch) {
            return mean_of(*applied("scatter",
                                    {{"motif", std::string(motif)},
                                     {"overlap", std::string("free")},
                                     {"count", 60.0},
                                     {"size", 24.0},
                                     {"size-spread", 0.0},
                                     {"stretch", stretch}},
                                    nullptr, field, 8)
                                .coverage);
        };
        INFO(motif);
        CHECK(covered(50) == Approx(0.5 * covered(100)).epsilon(0.08));
        CHECK(covered(200) > 1.7 * covered(100));
    }
}

TEST_CASE("many layers of things show the same as all of them would", "[references][scatter][dashes]") {
    // So many that the lowest are left out: covered whole, by the topmost, with owners everywhere.
    for (const char* overlap : {"free", "stacked"}) {
        const auto out =
            apply_step(*find_step("scatter"), {{"count", 60000.0}, {"size", 30.0}, {"overlap", std::string(overlap)}}, 2,
                       {128, 128}, nullptr, {}, 0, job, {"id", "height"});
        REQUIRE(out);
        CHECK(mean_of(*out->coverage) > 0.9999);
        int unowned = 0;
        for (std::size_t i = 0; i < 128 * 128; ++i) unowned += out->plane(objects::id)->data()[i] == 0;
        INFO(overlap);
        CHECK(unowned == 0);
        // Ids are those of the throws, however many were left out.
        float most = 0;
        for (std::size_t i = 0; i < 128 * 128; ++i) most = std::max(most, out->plane(objects::id)->data()[i]);
        CHECK(most > 1000);
    }
    const Bundle strokes = applied("dashes", {{"count", 200000.0}, {"length", 40.0}, {"width", 4.0}}, nullptr, {128, 128}, 2);
    CHECK(mean_of(*strokes.coverage) > 0.999);
}

TEST_CASE("a stroke covers length times width", "[references][dashes]") {
    for (const auto& [length, width] : {std::pair{60.0, 4.0}, std::pair{200.0, 1.0}, std::pair{30.0, 0.4}}) {
        const Bundle out = applied(
            "dashes",
            {{"count", 40.0}, {"length", length}, {"length-spread", 0.0}, {"width", width}, {"taper", 0.0}, {"curl", 0.0}},
            nullptr, {512, 512}, 6);
        INFO(length << " x " << width);
        // Widths scatter by a fifth, ends are round, and some strokes cross.
        CHECK(mean_of(*out.coverage) * 512 * 512 == Approx(40 * (length * width + 0.78 * width * width)).epsilon(0.16));
    }
}

TEST_CASE("a picture is stretched, fitted, filled and repeated to the tile", "[references][image]") {
    // Told by two waves again; twice as wide as high, on a square tile.
    const Size own{192, 96}, tile{128, 128};
    Plane plane(own);
    auto waves = [](double u, double v) { return 0.5 + 0.2 * std::sin(2 * pi * u) + 0.2 * std::cos(2 * pi * v); };
    for (int y = 0; y < own.height; ++y)
        for (int x = 0; x < own.width; ++x)
            plane.row(y)[x] = static_cast<float>(waves((x + 0.5) / own.width, (y + 0.5) / own.height));
    const Bundle file = Bundle::of(plane.clone());
    constexpr double at_edge = -2;
    auto worst = [&](const Values& set, const std::function<double(double, double)>& expected) {
        const Bundle out = applied("image", set, nullptr, tile, 0, 0, &file);
        double most = 0;
        for (int y = 0; y < tile.height; ++y)
            for (int x = 0; x < tile.width; ++x) {
                const double value = expected((x + 0.5) / tile.width, (y + 0.5) / tile.height);
                if (value == at_edge) continue;
                if (value >= 0) most = std::max(most, std::abs(value - double(out.channel(0).at(x, y))));
                // Below 0: nothing there.
                if (value < 0 && out.coverage) most = std::max(most, double(out.coverage->at(x, y)));
            }
        return most;
    };
    CHECK(worst({{"fit", std::string("stretch")}}, waves) < 0.02);
    CHECK(worst({{"fit", std::string("fill")}}, [&](double u, double v) { return waves(0.25 + u / 2, v); }) < 0.02);
    CHECK(worst({{"fit", std::string("fit")}}, [&](double u, double v) {
              const double t = (v - 0.25) * 2;
              if (std::abs(t) < 0.02 || std::abs(t - 1) < 0.02) return at_edge;
              return t < 0 || t > 1 ? -1 : waves(u, t);
          }) < 0.02);
    CHECK(worst({{"fit", std::string("repeat")}, {"scale", 100.0}}, [&](double u, double v) { return waves(u, v); }) < 0.02);
}

TEST_CASE("another recipe's cloth is what that recipe renders by itself", "[references][recipe]") {
    LoomFile inner;
    inner.recipe = recipe_of({strand_of("a", {{"clouds", {{"size-x", 20.0}, {"size-y", 20.0}}, 4}, {"gradientmap", {}}})}, 64);
    inner.recipe.colourways.push_back({"Pale", {{{"a", "s2", "reverse"}, Value(true)}}});
    inner.recipe.dials.push_back({"Size", 50, {{{"a", "s1", "octaves"}, 1, 8}}});
    const std::string bytes = *loom_bytes(inner), name = asset_name(bytes, "loom");
    auto outer = [&](Values set) {
        set["file"] = name;
        Recipe recipe = recipe_of({strand_of("a", {{"recipe", set}})}, 128);
        recipe.assets[name] = make_asset(name, bytes);
        return cloth(recipe, {128, 128});
    };
    // Its tile of 64 goes twice into one of 128, each way.
    const Bundle own = cloth(inner.recipe, {64, 64}), shown = outer({});
    double worst = 0;
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 128; ++y)
            for (int x = 0; x < 128; ++x)
                worst = std::max(worst, std::abs(double(shown.channel(c).at(x, y)) - double(own.channel(c).at(x % 64, y % 64))));
    CHECK(worst < 1e-5);
    CHECK(greatest_difference(outer({{"scale", 200.0}}), cloth(inner.recipe, {128, 128})) < 1e-5);
    const Bundle pale = cloth(with_colourway(inner.recipe, "Pale"), {64, 64}),
                 shown_pale = outer({{"colourway", std::string("Pale")}});
    CHECK(std::abs(shown_pale.channel(0).at(70, 9) - pale.channel(0).at(6, 9)) < 1e-5);
    const Bundle dialled = cloth(with_dial(inner.recipe, "Size", 0), {64, 64}),
                 shown_dialled = outer({{"dials", Inputs{{"Size", 0, 0, 100, ""}}}});
    CHECK(std::abs(shown_dialled.channel(0).at(70, 9) - dialled.channel(0).at(6, 9)) < 1e-5);
    // Moved by a quarter.
    const Bundle moved = outer({{"x", 25.0}});
    CHECK(std::abs(moved.channel(1).at(40, 9) - shown.channel(1).at(8, 9)) < 1e-5);
}

TEST_CASE("what lies beneath and what is borrowed are the strands themselves", "[references][strands]") {
    const std::vector<StepOrder> first{{"clouds", {}, 1}, {"gradientmap", {}}}, second{{"cells", {}, 2}};
    const Recipe under = recipe_of({strand_of("a", first), strand_of("b", second, {Blend::multiply, 60})}, 64);
    Recipe over = under;
    over.strands.push_back(std::make_shared<const Strand>(strand_of("c", {{"beneath", {}}, {"invert", {}}})));
    const Bundle below = cloth(under, {64, 64}), turned = cloth(over, {64, 64});
    for (int c = 0; c < 3; ++c)
        CHECK(double(turned.channel(c).at(20, 30)) == Approx(1 - double(below.channel(c).at(20, 30))).margin(1e-6));
    for (const auto& [output, plane] : {std::pair{"height", height_plane}, std::pair{"object", objects::id},
                                        std::pair{"object-u", objects::u}, std::pair{"lot-2", objects::random[1]}}) {
        const auto cells = apply_step(*find_step("cells"), {}, 2, {64, 64}, nullptr, {}, 0, job, {std::string(plane)});
        REQUIRE(cells);
        Strand hidden = strand_of("b", second);
        hidden.on = false;
        const Recipe lent = recipe_of(
            {hidden, strand_of("c", {{"borrow", {{"strand", std::string("b")}, {"output", std::string(output)}}}})}, 64);
        INFO(output);
        CHECK(same_bytes(cloth(lent, {64, 64}).channel(0), *cells->plane(plane)));
    }
}
