// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Curves, balance, ranges, local contrast, matching and the steps for masks, against references of their own.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/colour/likeness.h"
#include "core/image/guided.h"
#include "core/image/tally.h"
#include "core/structures/tone_curve.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{64, 48};

Bundle plain(const Colour& c) { return Bundle::of(Plane(size, c.red), Plane(size, c.green), Plane(size, c.blue)); }
Colour colour_at(const Bundle& b, int x = 3, int y = 4) {
    return {b.channel(0).at(x, y), b.channel(1).at(x, y), b.channel(2).at(x, y)};
}
Lch lch_at(const Bundle& b, int x = 3, int y = 4) { return to_lch(to_oklab(colour_at(b, x, y))); }
Bundle lit(const Bundle& in, const char* kind, Values set, const Bundle* other = nullptr) {
    return applied(kind, set, &in, in.size(), 0, 0, other);
}
float tone_as(float tone) { return std::cbrt(to_linear(tone)); }

}  // namespace

TEST_CASE("a tone curve is the monotone cubic of its paper", "[curve]") {
    // By scipy's PchipInterpolator, which is the same method.
    const ToneCurve five({{0, 0.05}, {0.25, 0.1}, {0.6, 0.8}, {0.8, 0.75}, {1, 1}});
    const double at[] = {0.1, 0.2, 0.3, 0.5, 0.7, 0.79, 0.9, 0.97},
                 is[] = {0.059252174, 0.083669565, 0.151552795, 0.668322981, 0.775, 0.7503625, 0.825, 0.9414625};
    for (std::size_t k = 0; k < std::size(at); ++k) {
        CHECK(five.exactly(at[k]) == Approx(is[k]).margin(1e-8));
        CHECK(five(static_cast<float>(at[k])) == Approx(is[k]).margin(1e-5));
    }
    const ToneCurve three({{0.1, 0.9}, {0.5, 0.3}, {0.9, 0.2}});
    const double in[] = {0.15, 0.3, 0.49, 0.6, 0.85}, out[] = {0.795214844, 0.515178571, 0.304662388, 0.260267857, 0.201953125};
    for (std::size_t k = 0; k < std::size(in); ++k) CHECK(three.exactly(in[k]) == Approx(out[k]).margin(1e-8));
    CHECK(three.exactly(0) == 0.9);
    CHECK(three.exactly(1) == 0.2);
    const ToneCurve straight(straight_curve());
    for (double t : {0.0, 0.31, 1.0}) CHECK(straight.exactly(t) == Approx(t));
}

TEST_CASE("curves change channels apart, then all, then lightness, which keeps hue", "[steps][curves]") {
    const Bundle in = plain({0.6f, 0.4f, 0.3f});
    CHECK(greatest_difference(lit(in, "curves", {}), in) == 0);
    const CurvePoints lifted{{0, 0.2}, {1, 1}}, turned{{0, 1}, {1, 0}};
    CHECK(colour_at(lit(in, "curves", {{"green", lifted}})).green == Approx(0.2 + 0.8 * 0.4).margin(1e-5));
    CHECK(colour_at(lit(in, "curves", {{"green", lifted}})).red == 0.6f);
    CHECK(colour_at(lit(in, "curves", {{"green", lifted}, {"all", turned}})).green == Approx(1 - (0.2 + 0.8 * 0.4)).margin(1e-5));
    const Lch before = lch_at(in), after = lch_at(lit(in, "curves", {{"lightness", lifted}}));
    CHECK(after.hue == Approx(before.hue).margin(2e-3));
    CHECK(after.chroma == Approx(before.chroma).margin(2e-3));
    const float tone = to_encoded(before.lightness * before.lightness * before.lightness);
    CHECK(after.lightness == Approx(tone_as(0.2f + 0.8f * tone)).margin(2e-3));
    // Of greys lightness is the tone.
    const Bundle grey = Bundle::of(Plane(size, 0.3f));
    CHECK(lit(grey, "curves", {{"lightness", lifted}}).channel(0).at(1, 1) == Approx(0.2 + 0.8 * 0.3).margin(1e-5));
    CHECK(lit(grey, "curves", {{"lightness", lifted}}).grey());
    CHECK_FALSE(lit(grey, "curves", {{"blue", lifted}}).grey());
}

TEST_CASE("levels of lightness keep hue where levels of all channels turn it", "[steps][levels]") {
    const Bundle in = plain({0.7f, 0.45f, 0.25f});
    const Values tight{{"in-black", 0.2}, {"in-white", 0.8}};
    Values of_lightness = tight;
    of_lightness["channel"] = std::string("lightness");
    const float turned = std::abs(lch_at(lit(in, "levels", tight)).hue - lch_at(in).hue);
    CHECK(std::abs(lch_at(lit(in, "levels", of_lightness)).hue - lch_at(in).hue) < 3e-3);
    CHECK(turned > 0.02);
}

TEST_CASE("balance moves shadows, middles and lights apart and can keep lightness", "[steps][balance]") {
    CHECK(greatest_difference(lit(plain({0.6f, 0.4f, 0.3f}), "balance", {}), plain({0.6f, 0.4f, 0.3f})) == 0);
    const Values red{{"dark-red", 40.0}, {"keep", false}};
    const auto moved = [&](float tone) {
        return double(colour_at(lit(plain({tone, tone, tone}), "balance", red)).red) - double(tone);
    };
    // Bernstein's weights over a grey's tone.
    for (float tone : {0.0f, 0.3f, 0.8f, 1.0f}) CHECK(moved(tone) == Approx(0.2 * (1 - tone) * (1 - tone)).margin(2e-4));
    const Bundle in = plain({0.5f, 0.5f, 0.5f});
    const Bundle kept = lit(in, "balance", {{"middle-blue", 80.0}});
    CHECK(lch_at(kept).lightness == Approx(lch_at(in).lightness).margin(2e-3));
    CHECK(colour_at(kept).blue > colour_at(kept).red + 0.05f);
}

TEST_CASE("auto range spreads what is covered from black to white", "[steps][autorange]") {
    Bundle in =
        Bundle::of(random_plane(size, 1, 0.3f, 0.5f), random_plane(size, 2, 0.4f, 0.7f), random_plane(size, 3, 0.2f, 0.3f));
    const Bundle apart = lit(in, "autorange", {{"clip", 0.0}, {"way", std::string("apart")}});
    for (int c = 0; c < 3; ++c) {
        const ToneSpan extent = tone_span_of(apart.channel(c), nullptr, job);
        CHECK(extent.least == Approx(0).margin(1e-5));
        CHECK(extent.greatest == Approx(1).margin(1e-5));
    }
    // Together every channel is changed alike.
    const Bundle together = lit(in, "autorange", {{"clip", 0.0}});
    float low = 1, high = 0;
    for (int c = 0; c < 3; ++c)
        for (std::size_t i = 0; i < size.pixels(); ++i)
            low = std::min(low, in.channel(c).data()[i]), high = std::max(high, in.channel(c).data()[i]);
    for (int c = 0; c < 3; ++c)
        for (std::size_t i = 0; i < size.pixels(); ++i)
            REQUIRE(together.channel(c).data()[i] == Approx((in.channel(c).data()[i] - low) / (high - low)).margin(1e-4));
    // So much of the area becomes quite black, and as much quite white.
    const Bundle clipped = lit(Bundle::of(random_plane({256, 256}, 4, 0.2f, 0.9f)), "autorange", {{"clip", 5.0}});
    double black = 0, white = 0;
    for (std::size_t i = 0; i < clipped.size().pixels(); ++i)
        black += clipped.channel(0).data()[i] <= 0, white += clipped.channel(0).data()[i] >= 1;
    CHECK(black / 65536 == Approx(0.05).margin(0.003));
    CHECK(white / 65536 == Approx(0.05).margin(0.003));
    const Lch before = lch_at(in), after = lch_at(lit(in, "autorange", {{"way", std::string("lightness")}}));
    CHECK(after.hue == Approx(before.hue).margin(5e-3));
    // One tone has no range; what is not covered does not count.
    CHECK(greatest_difference(lit(plain({0.4f, 0.4f, 0.4f}), "autorange", {}), plain({0.4f, 0.4f, 0.4f})) < 1e-6);
    Bundle part = Bundle::of(Plane(size, 0.0f));
    Plane tone(size, 0.0f), cover(size, 0.0f);
    for (int x = 0; x < 20; ++x) tone.row(5)[x] = 0.5f * (0.4f + 0.01f * static_cast<float>(x)), cover.row(5)[x] = 0.5f;
    part.colour = {share(std::move(tone))}, part.coverage = share(std::move(cover));
    const Bundle spread = lit(part, "autorange", {{"clip", 0.0}});
    CHECK(spread.channel(0).at(19, 5) == Approx(0.5).margin(1e-4));
    CHECK(spread.channel(0).at(0, 5) == Approx(0).margin(1e-4));
}

TEST_CASE("local contrast is a base and the detail upon it", "[steps][localcontrast]") {
    const Bundle in = cloud_picture({96, 96}, 20);
    const Plane base = guided_smooth(in.channel(0), 10, 10, 0.12f, job);
    const Values still{{"radius", 10.0}, {"strength", 0.0}};
    CHECK(greatest_difference(lit(in, "localcontrast", still).channel(0), in.channel(0)) < 1e-6);
    const Bundle more = lit(in, "localcontrast", {{"radius", 10.0}, {"strength", 150.0}});
    const Bundle none = lit(in, "localcontrast", {{"radius", 10.0}, {"strength", -100.0}});
    const Bundle dark = lit(in, "localcontrast", {{"radius", 10.0}, {"strength", 100.0}, {"lights", 0.0}});
    for (std::size_t i = 0; i < in.size().pixels(); ++i) {
        const double low = base.data()[i], detail = in.channel(0).data()[i] - low;
        REQUIRE(more.channel(0).data()[i] == Approx(low + 2.5 * detail).margin(1e-4));
        REQUIRE(none.channel(0).data()[i] == Approx(low).margin(1e-4));
        const double t = std::clamp(low, 0.0, 1.0), share = 1 - t * t * (3 - 2 * t);
        REQUIRE(dark.channel(0).data()[i] == Approx(low + (1 + share) * detail).margin(1e-4));
    }
    const Bundle flat = lit(in, "localcontrast", {{"radius", 10.0}, {"strength", -100.0}, {"compress", 100.0}});
    CHECK(deviation_of(flat.channel(0)) < 1e-4);
    CHECK(mean_of(flat.channel(0)) == Approx(mean_of(base)).margin(1e-3));
}

TEST_CASE("matching gives a picture the tones and colours of another", "[steps][match]") {
    const Bundle clouds = cloud_picture({128, 128}, 24);
    const Bundle in =
        applied("gradientmap", {{"stops", Stops{{0, {0.1f, 0.2f, 0.4f}, 0}, {1, {0.7f, 0.8f, 0.9f}, 0}}}}, &clouds, {128, 128});
    const Bundle noise = applied("static", {{"amount", 60.0}, {"grain-x", 3.0}}, nullptr, {80, 60}, 7);
    const Bundle other =
        applied("gradientmap",
                {{"stops", Stops{{0, {0.3f, 0.12f, 0.05f}, 0}, {0.5, {0.5f, 0.36f, 0.16f}, 0}, {1, {0.8f, 0.62f, 0.42f}, 0}}}},
                &noise, {80, 60});
    const Bundle out = lit(in, "match", {{"onto", std::string("strand")}, {"strand", std::string("other")}}, &other);
    const ColourSpread from = spread_of(out, job), to = spread_of(other, job);
    CHECK(from.mean_a == Approx(to.mean_a).margin(2e-3));
    CHECK(from.mean_b == Approx(to.mean_b).margin(2e-3));
    CHECK(from.bb == Approx(to.bb).margin(1e-4));
    CHECK(from.ab == Approx(to.ab).margin(1e-4));
    for (double share : {0.05, 0.3, 0.5, 0.8, 0.97})
        CHECK(from.lightness.tone_above(share) == Approx(to.lightness.tone_above(share)).margin(0.012));
    // Tone alone leaves the colour's mean, and a picture matched onto itself stays.
    const Bundle toned =
        lit(in, "match", {{"onto", std::string("strand")}, {"strand", std::string("other")}, {"colour", 0.0}}, &other);
    CHECK(spread_of(toned, job).mean_b == Approx(spread_of(in, job).mean_b).margin(6e-3));
    const Bundle same = lit(in, "match", {{"onto", std::string("strand")}, {"strand", std::string("other")}}, &in);
    CHECK(greatest_difference(same, in) < 0.02);
    CHECK(greatest_difference(lit(in, "match", {}), in) == 0);
}

TEST_CASE("a gate shows tones between two shoulders and meets the mask before it", "[steps][gate]") {
    const Bundle mask = Bundle::of(random_plane(size, 1)), beneath = Bundle::of(random_plane(size, 2));
    const Values set{{"from", 0.3}, {"to", 0.6}, {"soft-from", 0.2}, {"soft-to", 0.05}};
    const auto smooth = [](double t) {
        return std::clamp(t, 0.0, 1.0) * std::clamp(t, 0.0, 1.0) * (3 - 2 * std::clamp(t, 0.0, 1.0));
    };
    for (const char* meets : {"alone", "within", "added", "taken"}) {
        Values with = set;
        with["meets"] = std::string(meets);
        const Bundle out = lit(mask, "gate", with, &beneath);
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const double t = beneath.channel(0).data()[i], before = mask.channel(0).data()[i];
            const double shown = smooth((t - 0.1) / 0.2) * smooth((0.65 - t) / 0.05);
            const std::string_view how = meets;
            const double expected = how == "alone"    ? shown
                                    : how == "within" ? before * shown
                                    : how == "added"  ? std::max(before, shown)
                                                      : before * (1 - shown);
            REQUIRE(out.channel(0).data()[i] == Approx(expected).margin(1e-4));
        }
    }
    // Its own tones, and open ends.
    const Bundle own = lit(mask, "gate", {{"look", std::string("own")}, {"from", 0.0}, {"to", 0.5}, {"soft-to", 0.0}}, &beneath);
    for (std::size_t i = 0; i < size.pixels(); ++i)
        REQUIRE(own.channel(0).data()[i] == (mask.channel(0).data()[i] <= 0.5f ? 1.0f : 0.0f));
    // Nothing beneath, nothing shown.
    CHECK(mean_of(lit(mask, "gate", set).channel(0)) == 0);
}

TEST_CASE("a pick takes what hangs together with a point, over the tile's edges", "[steps][pick]") {
    // Two bars of one tone; one of them runs over the edge.
    Plane tone(size, 0.2f);
    for (int y = 0; y < size.height; ++y) {
        for (int x : {60, 61, 62, 63, 0, 1, 2, 3}) tone.row(y)[x] = 0.8f;
        for (int x = 30; x < 36; ++x) tone.row(y)[x] = 0.8f;
    }
    const Bundle picture = Bundle::of(std::move(tone)), mask = Bundle::of(Plane(size, 1.0f));
    const Values at{{"x", 100.0 * 61.5 / 64}, {"y", 50.0}};
    const Bundle joined = lit(mask, "pick", at, &picture);
    Values wide = at;
    wide["joined"] = false;
    const Bundle all = lit(mask, "pick", wide, &picture);
    for (int y = 0; y < size.height; y += 5)
        for (int x = 0; x < size.width; ++x) {
            const bool first = x >= 60 || x < 4, second = x >= 30 && x < 36;
            REQUIRE(joined.channel(0).at(x, y) == (first ? 1.0f : 0.0f));
            REQUIRE(all.channel(0).at(x, y) == (first || second ? 1.0f : 0.0f));
        }
    // Against a slow flood over noise: what is reached grows until nothing is added.
    const Bundle noise = cloud_picture(size, 12);
    const Bundle soft =
        lit(mask, "pick", {{"x", 40.0}, {"y", 60.0}, {"tolerance", 0.15}, {"softness", 0.1}, {"look", std::string("beneath")}},
            &noise);
    const Bundle everywhere =
        lit(mask, "pick", {{"x", 40.0}, {"y", 60.0}, {"tolerance", 0.15}, {"softness", 0.1}, {"joined", false}}, &noise);
    std::set<std::pair<int, int>> reached{{static_cast<int>(0.4 * size.width), static_cast<int>(0.6 * size.height)}};
    for (std::size_t before = 0; before != reached.size();) {
        before = reached.size();
        for (const auto& [x, y] : std::set<std::pair<int, int>>(reached))
            for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
                const std::pair next{wrap(x + dx, size.width), wrap(y + dy, size.height)};
                if (everywhere.channel(0).at(next.first, next.second) > 0) reached.insert(next);
            }
    }
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            REQUIRE(soft.channel(0).at(x, y) == (reached.contains({x, y}) ? everywhere.channel(0).at(x, y) : 0.0f));
    // By colour, where tone tells nothing apart.
    Plane red(size, 0.5f), green(size, 0.4f), blue(size, 0.4f);
    for (int x = 0; x < 32; ++x)
        for (int y = 0; y < size.height; ++y) red.row(y)[x] = 0.3f, green.row(y)[x] = 0.5016949f;
    const Bundle hues = Bundle::of(std::move(red), std::move(green), std::move(blue));
    CHECK(mean_of(lit(mask, "pick", {{"x", 25.0}, {"tolerance", 0.04}}, &hues).channel(0)) == Approx(1));
    CHECK(mean_of(lit(mask, "pick", {{"x", 25.0}, {"tolerance", 0.04}, {"like", std::string("colour")}}, &hues).channel(0)) ==
          Approx(0.5).margin(0.02));
}
