// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Blends against the formulas of W3C Compositing and Blending Level 1, written out here once more in double, and
// against cairo's operators.
#include <cairo.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/colour/blend.h"
#include "core/colour/colour.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

using Rgb3 = std::array<double, 3>;

double separable(Blend blend, double b, double s) {
    switch (blend) {
        case Blend::normal: return s;
        case Blend::multiply: return b * s;
        case Blend::screen: return b + s - b * s;
        case Blend::overlay: return separable(Blend::hard_light, s, b);
        case Blend::darken: return std::min(b, s);
        case Blend::lighten: return std::max(b, s);
        case Blend::colour_dodge: return b == 0 ? 0 : s == 1 ? 1 : std::min(1.0, b / (1 - s));
        case Blend::colour_burn: return b == 1 ? 1 : s == 0 ? 0 : 1 - std::min(1.0, (1 - b) / s);
        case Blend::hard_light: return s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1);
        case Blend::soft_light: {
            const double d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
            return s <= 0.5 ? b - (1 - 2 * s) * b * (1 - b) : b + (2 * s - 1) * (d - b);
        }
        case Blend::difference: return std::abs(b - s);
        case Blend::exclusion: return b + s - 2 * b * s;
        default: return b + s;
    }
}

double lum(const Rgb3& c) { return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]; }
double sat(const Rgb3& c) { return *std::max_element(c.begin(), c.end()) - *std::min_element(c.begin(), c.end()); }
Rgb3 set_lum(Rgb3 c, double l) {
    const double d = l - lum(c);
    for (double& v : c) v += d;
    const double n = *std::min_element(c.begin(), c.end()), x = *std::max_element(c.begin(), c.end());
    if (n < 0)
        for (double& v : c) v = l + (v - l) * l / (l - n);
    if (x > 1)
        for (double& v : c) v = l + (v - l) * (1 - l) / (x - l);
    return c;
}
/// The document's SetSat, by sorting.
Rgb3 set_sat(const Rgb3& c, double s) {
    std::array<int, 3> order{0, 1, 2};
    std::sort(order.begin(), order.end(), [&](int i, int j) { return c[size_t(i)] < c[size_t(j)]; });
    Rgb3 out{};
    const double low = c[size_t(order[0])], mid = c[size_t(order[1])], high = c[size_t(order[2])];
    if (high > low) {
        out[size_t(order[1])] = (mid - low) * s / (high - low);
        out[size_t(order[2])] = s;
    }
    return out;
}

Rgb3 reference(Blend blend, const Rgb3& b, const Rgb3& s) {
    switch (blend) {
        case Blend::hue: return set_lum(set_sat(s, sat(b)), lum(b));
        case Blend::saturation: return set_lum(set_sat(b, sat(s)), lum(b));
        case Blend::colour: return set_lum(s, lum(b));
        case Blend::luminosity: return set_lum(b, lum(s));
        default: return {separable(blend, b[0], s[0]), separable(blend, b[1], s[1]), separable(blend, b[2], s[2])};
    }
}

double at(const Bundle& bundle, int c, std::size_t i) { return bundle.channel(c).data()[i]; }

}  // namespace

TEST_CASE("every blend follows the formula of the W3C document, with coverage and amount", "[blend]") {
    const Job job;
    for (bool covered : {false, true})
        for (float amount : {1.0f, 0.35f}) {
            const Bundle under = random_bundle({31, 17}, 1, covered), over = random_bundle({31, 17}, 50, covered);
            for (const BlendName& name : blend_names()) {
                if (name.blend == Blend::plus) continue;
                INFO(name.id << (covered ? " covered " : " opaque ") << amount);
                const Bundle result = blended(under, over, {name.blend, amount, false}, nullptr, job);
                double worst = 0;
                for (std::size_t i = 0; i < under.size().pixels(); ++i) {
                    const double ab = covered ? under.coverage->data()[i] : 1.0,
                                 as = (covered ? over.coverage->data()[i] : 1.0) * amount;
                    Rgb3 b, s;
                    for (int c = 0; c < 3; ++c) {
                        b[size_t(c)] = ab > 0 ? at(under, c, i) / ab : 0;
                        s[size_t(c)] = as > 0 ? at(over, c, i) / (as / amount) : 0;
                    }
                    const Rgb3 mixed = reference(name.blend, b, s);
                    for (int c = 0; c < 3; ++c) {
                        const double expected =
                            as * (1 - ab) * s[size_t(c)] + as * ab * mixed[size_t(c)] + (1 - as) * ab * b[size_t(c)];
                        worst = std::max(worst, std::abs(at(result, c, i) - expected));
                    }
                    if (covered) worst = std::max(worst, std::abs(result.coverage->data()[i] - (as + ab - as * ab)));
                }
                CHECK(worst < 1e-4);
            }
        }
}

TEST_CASE("blends agree with cairo's operators within its 8 bits", "[blend][cairo]") {
    const std::pair<Blend, cairo_operator_t> pairs[] = {{Blend::normal, CAIRO_OPERATOR_OVER},
                                                        {Blend::multiply, CAIRO_OPERATOR_MULTIPLY},
                                                        {Blend::screen, CAIRO_OPERATOR_SCREEN},
                                                        {Blend::overlay, CAIRO_OPERATOR_OVERLAY},
                                                        {Blend::darken, CAIRO_OPERATOR_DARKEN},
                                                        {Blend::lighten, CAIRO_OPERATOR_LIGHTEN},
                                                        {Blend::colour_dodge, CAIRO_OPERATOR_COLOR_DODGE},
                                                        {Blend::colour_burn, CAIRO_OPERATOR_COLOR_BURN},
                                                        {Blend::hard_light, CAIRO_OPERATOR_HARD_LIGHT},
                                                        {Blend::soft_light, CAIRO_OPERATOR_SOFT_LIGHT},
                                                        {Blend::difference, CAIRO_OPERATOR_DIFFERENCE},
                                                        {Blend::exclusion, CAIRO_OPERATOR_EXCLUSION},
                                                        {Blend::hue, CAIRO_OPERATOR_HSL_HUE},
                                                        {Blend::saturation, CAIRO_OPERATOR_HSL_SATURATION},
                                                        {Blend::colour, CAIRO_OPERATOR_HSL_COLOR},
                                                        {Blend::luminosity, CAIRO_OPERATOR_HSL_LUMINOSITY},
                                                        {Blend::plus, CAIRO_OPERATOR_ADD}};
    const Job job;
    const Size size{64, 64};
    auto surface_of = [&](std::uint64_t seed) {
        cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, size.width, size.height);
        const Bundle picture = random_bundle(size, seed, true);
        unsigned char* data = cairo_image_surface_get_data(surface);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                auto* pixel = reinterpret_cast<std::uint32_t*>(data + y * cairo_image_surface_get_stride(surface)) + x;
                auto byte = [](float v) { return static_cast<std::uint32_t>(std::lround(v * 255)); };
                const std::uint32_t a = byte(picture.coverage->at(x, y));
                auto part = [&](int c) { return std::min(a, byte(picture.channel(c).at(x, y))); };
                *pixel = a << 24 | part(0) << 16 | part(1) << 8 | part(2);
            }
        cairo_surface_mark_dirty(surface);
        return surface;
    };
    auto bundle_of = [&](cairo_surface_t* surface) {
        cairo_surface_flush(surface);
        Plane planes[4] = {Plane(size), Plane(size), Plane(size), Plane(size)};
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const std::uint32_t pixel = reinterpret_cast<std::uint32_t*>(cairo_image_surface_get_data(surface) +
                                                                             y * cairo_image_surface_get_stride(surface))[x];
                for (int c = 0; c < 4; ++c)
                    planes[c].row(y)[x] = static_cast<float>(pixel >> (c == 3 ? 24 : 16 - 8 * c) & 255) / 255.0f;
            }
        Bundle bundle = Bundle::of(std::move(planes[0]), std::move(planes[1]), std::move(planes[2]));
        bundle.coverage = share(std::move(planes[3]));
        return bundle;
    };
    for (const auto& [blend, op] : pairs) {
        INFO(blend_id(blend));
        cairo_surface_t *under = surface_of(7), *over = surface_of(9);
        const Bundle ours = blended(bundle_of(under), bundle_of(over), {blend, 1, false}, nullptr, job);
        cairo_t* context = cairo_create(under);
        cairo_set_operator(context, op);
        cairo_set_source_surface(context, over, 0, 0);
        cairo_paint(context);
        cairo_destroy(context);
        const Bundle theirs = bundle_of(under);
        // Premultiplied 8-bit values lose precision where coverage is thin; on average they must agree closely.
        double sum = 0, worst = 0;
        for (int c = 0; c < 3; ++c)
            for (std::size_t i = 0; i < size.pixels(); ++i) {
                const double difference = std::abs(std::min(1.0, at(ours, c, i)) - at(theirs, c, i));
                sum += difference, worst = std::max(worst, difference);
            }
        CHECK(sum / (3.0 * static_cast<double>(size.pixels())) < 1.0 / 255);
        CHECK(worst < 8.0 / 255);
        cairo_surface_destroy(under);
        cairo_surface_destroy(over);
    }
}

TEST_CASE("linear light blends what the lamps would", "[blend]") {
    const Job job;
    const Bundle black = Bundle::of(Plane({1, 1}, 0.0f)), white = Bundle::of(Plane({1, 1}, 1.0f));
    const Bundle half = blended(black, white, {Blend::normal, 0.5f, true}, nullptr, job);
    CHECK(half.channel(0).at(0, 0) == Approx(to_encoded(0.5f)).margin(1e-4));
    CHECK(blended(black, white, {Blend::normal, 0.5f, false}, nullptr, job).channel(0).at(0, 0) == Approx(0.5f));
}

TEST_CASE("keeping within a mask cuts what lies over", "[blend]") {
    const Job job;
    const Bundle under = random_bundle({8, 8}, 1), over = random_bundle({8, 8}, 2);
    const PlaneRef none = share(Plane({8, 8}, 0.0f)), all = share(Plane({8, 8}, 1.0f));
    CHECK(greatest_difference(blended(under, over, {Blend::multiply, 1, false}, none, job), under) < 1e-6);
    CHECK(greatest_difference(blended(under, over, {Blend::multiply, 1, false}, all, job),
                              blended(under, over, {Blend::multiply, 1, false}, nullptr, job)) < 1e-6);
}

TEST_CASE("every blend is found by its word", "[blend]") {
    for (const BlendName& name : blend_names()) {
        CHECK(find_blend(name.id) == name.blend);
        CHECK(blend_id(name.blend) == name.id);
    }
    CHECK(blend_names().size() == 17);
    CHECK_FALSE(find_blend("colour_dodge"));
}
