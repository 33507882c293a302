// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Blends against the formulas of W3C Compositing and Blending Level 1, of the trade, of CIE 15 and of Ottosson 2020 and 2021,
// written out here once more in double, and against cairo's operators.
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
        case Blend::normal:
        // What more they are is in core/structures/join.h, tested in joins.tests.cpp.
        case Blend::stipple:
        case Blend::height_aware: return s;
        // Of tones within 0..1; beyond in heights.tests.cpp. The smooth ones over a tenth.
        case Blend::add_relief: return b + s - 0.5;
        case Blend::minimum: return std::min(b, s);
        case Blend::maximum: return std::max(b, s);
        case Blend::smooth_minimum: return std::min(b, s) - std::pow(std::max(0.1 - std::abs(b - s), 0.0), 2) / 0.4;
        case Blend::smooth_maximum: return std::max(b, s) + std::pow(std::max(0.1 - std::abs(b - s), 0.0), 2) / 0.4;
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
        case Blend::linear_burn: return std::clamp(b + s - 1, 0.0, 1.0);
        case Blend::linear_light: return std::clamp(b + 2 * s - 1, 0.0, 1.0);
        case Blend::vivid_light:
            return s <= 0.5 ? separable(Blend::colour_burn, b, 2 * s) : separable(Blend::colour_dodge, b, 2 * s - 1);
        case Blend::pin_light: return b < 2 * s - 1 ? 2 * s - 1 : b > 2 * s ? 2 * s : b;
        case Blend::hard_mix: return b < 1 - s ? 0 : 1;
        case Blend::subtract: return std::max(0.0, b - s);
        case Blend::divide: return b == 0 ? 0 : std::min(1.0, b / s);
        case Blend::reflect: return b == 0 ? 0 : s == 1 ? 1 : std::min(1.0, b * b / (1 - s));
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

// Colour spaces from XYZ, by the matrices of their papers.
using Matrix = std::array<Rgb3, 3>;
Rgb3 times(const Matrix& m, const Rgb3& v) {
    Rgb3 out{};
    for (std::size_t i = 0; i < 3; ++i) out[i] = m[i][0] * v[0] + m[i][1] * v[1] + m[i][2] * v[2];
    return out;
}
Matrix inverse(const Matrix& m) {
    Matrix out;
    const auto cofactor = [&](std::size_t i, std::size_t j) {
        return m[(i + 1) % 3][(j + 1) % 3] * m[(i + 2) % 3][(j + 2) % 3] -
               m[(i + 1) % 3][(j + 2) % 3] * m[(i + 2) % 3][(j + 1) % 3];
    };
    const double determinant = m[0][0] * cofactor(0, 0) + m[0][1] * cofactor(0, 1) + m[0][2] * cofactor(0, 2);
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j) out[j][i] = cofactor(i, j) / determinant;
    return out;
}
const Matrix srgb_to_xyz{
    {{0.4124564, 0.3575761, 0.1804375}, {0.2126729, 0.7151522, 0.0721750}, {0.0193339, 0.1191920, 0.9503041}}};
const Matrix ottosson_1{{{0.8189330101, 0.3618667424, -0.1288597137},
                         {0.0329845436, 0.9293118715, 0.0361456387},
                         {0.0482003018, 0.2643662691, 0.6338517070}}};
const Matrix ottosson_2{{{0.2104542553, 0.7936177850, -0.0040720468},
                         {1.9779984951, -2.4285922050, 0.4505937099},
                         {0.0259040371, 0.7827717662, -0.8086757660}}};
Rgb3 each(const Rgb3& v, double (*f)(double)) { return {f(v[0]), f(v[1]), f(v[2])}; }
double decoded(double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); }
double coded(double v) { return v <= 0.0031308 ? v * 12.92 : 1.055 * std::pow(v, 1 / 2.4) - 0.055; }
double cut(double v) { return std::clamp(v, 0.0, 1.0); }

Rgb3 oklab(const Rgb3& rgb) {
    return times(ottosson_2,
                 each(times(ottosson_1, times(srgb_to_xyz, each(rgb, decoded))), [](double v) { return std::cbrt(v); }));
}
Rgb3 linear_of_oklab(const Rgb3& lab) {
    return times(inverse(srgb_to_xyz),
                 times(inverse(ottosson_1), each(times(inverse(ottosson_2), lab), [](double v) { return v * v * v; })));
}
/// Step by step from the colour that is wanted to the grey, until it can be shown.
Rgb3 shown(double lightness, double a, double b) {
    const double chroma = std::hypot(a, b), ld = lightness - 0.5, e1 = 0.5 + std::abs(ld) + 0.5 * chroma;
    const double grey = 0.5 * (1 + (ld < 0 ? -1 : 1) * (e1 - std::sqrt(e1 * e1 - 2 * std::abs(ld))));
    for (int k = 4000; k >= 0; --k) {
        const double t = k / 4000.0;
        const Rgb3 rgb = linear_of_oklab({grey * (1 - t) + t * lightness, t * a, t * b});
        if (*std::min_element(rgb.begin(), rgb.end()) >= -1e-4 && *std::max_element(rgb.begin(), rgb.end()) <= 1.0001)
            return each(each(rgb, cut), coded);
    }
    return {};
}
Rgb3 cielab(const Rgb3& rgb) {
    const Rgb3 xyz = times(srgb_to_xyz, each(rgb, decoded));
    const auto f = [](double t) { return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116; };
    const double x = f(xyz[0] / 0.95047), y = f(xyz[1]), z = f(xyz[2] / 1.08883);
    return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}
Rgb3 of_cielab(const Rgb3& lab) {
    const auto f = [](double t) { return t * t * t > 216.0 / 24389 ? t * t * t : (116 * t - 16) * 27 / 24389; };
    const double y = (lab[0] + 16) / 116;
    return each(each(times(inverse(srgb_to_xyz), {0.95047 * f(y + lab[1] / 500), f(y), 1.08883 * f(y - lab[2] / 200)}), cut),
                coded);
}
Rgb3 perceptual(Blend blend, const Rgb3& b, const Rgb3& s) {
    if (blend == Blend::cielch_colour) return of_cielab({cielab(b)[0], cielab(s)[1], cielab(s)[2]});
    const Rgb3 under = oklab(b), over = oklab(s);
    const double low = std::hypot(under[1], under[2]), high = std::hypot(over[1], over[2]);
    switch (blend) {
        case Blend::oklch_lightness: return shown(over[0], under[1], under[2]);
        case Blend::oklch_hue: return shown(under[0], over[1] * low / high, over[2] * low / high);
        case Blend::oklch_chroma: return shown(under[0], under[1] * high / low, under[2] * high / low);
        default: return shown(under[0], over[1], over[2]);
    }
}
bool is_perceptual(Blend blend) { return blend >= Blend::cielch_colour && blend <= Blend::oklch_lightness; }

Rgb3 reference(Blend blend, const Rgb3& b, const Rgb3& s) {
    if (is_perceptual(blend)) return perceptual(blend, b, s);
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

TEST_CASE("every blend follows the formula of its source, with coverage and amount", "[blend]") {
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
                    // Next to grey a hue hangs on the last digit.
                    const auto chroma = [](const Rgb3& c) { return std::hypot(oklab(c)[1], oklab(c)[2]); };
                    if (name.blend == Blend::oklch_chroma && chroma(b) < 0.02) continue;
                    if (name.blend == Blend::oklch_hue && chroma(s) < 0.02) continue;
                    const Rgb3 mixed = reference(name.blend, b, s);
                    for (int c = 0; c < 3; ++c) {
                        // It jumps there.
                        if (name.blend == Blend::hard_mix && std::abs(b[size_t(c)] + s[size_t(c)] - 1) < 1e-5) continue;
                        const double expected =
                            as * (1 - ab) * s[size_t(c)] + as * ab * mixed[size_t(c)] + (1 - as) * ab * b[size_t(c)];
                        worst = std::max(worst, std::abs(at(result, c, i) - expected));
                    }
                    if (covered) worst = std::max(worst, std::abs(result.coverage->data()[i] - (as + ab - as * ab)));
                }
                // The papers' matrices have as many digits, what cannot be shown is approached in steps, and in the dark a
                // thousandth of the light is three steps of eight bits.
                CHECK(worst < (is_perceptual(name.blend) ? 0.012 : 1e-4));
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
    const Bundle black = Bundle::of(Plane({1, 1}, 0.0f)), white = Bundle::of(Plane({1, 1}, 1.0f));
    const Bundle half = blended(black, white, {Blend::normal, 0.5f, true}, nullptr, job);
    CHECK(half.channel(0).at(0, 0) == Approx(to_encoded(0.5f)).margin(1e-4));
    CHECK(blended(black, white, {Blend::normal, 0.5f, false}, nullptr, job).channel(0).at(0, 0) == Approx(0.5f));
}

TEST_CASE("colour stays colour on white and black, and lightness keeps the hue", "[blend][oklch]") {
    const Colour gold{0.83f, 0.62f, 0.2f};
    const Rgb over{gold.red, gold.green, gold.blue};
    const auto lch_of = [](Rgb c) { return to_lch(to_oklab({c.red, c.green, c.blue})); };
    const Lch own = lch_of(over);
    // The document's colour leaves white white; here a good part of the chroma is kept, and the hue to a degree or two.
    CHECK(lch_of(blend_opaque(Blend::colour, {1, 1, 1}, over)).chroma < 0.01f);
    for (const Rgb& ground : {Rgb{1, 1, 1}, Rgb{0.97f, 0.97f, 0.97f}, Rgb{0, 0, 0}}) {
        const Lch on = lch_of(blend_opaque(Blend::oklch_colour, ground, over));
        INFO(ground.red << ": " << on.lightness << " " << on.chroma << " " << on.hue << ", own " << own.chroma << " " << own.hue);
        // There is less of it to be had in the dark.
        CHECK(on.chroma > (ground.red > 0 ? 0.35f : 0.15f) * own.chroma);
        CHECK(on.hue == Approx(own.hue).margin(0.04));
    }
    // Where the colour can be shown nothing is given up.
    const Lch middle = lch_of(blend_opaque(Blend::oklch_colour, {0.6f, 0.6f, 0.6f}, over));
    CHECK(middle.chroma == Approx(own.chroma).margin(2e-3));
    CHECK(middle.lightness == Approx(lch_of({0.6f, 0.6f, 0.6f}).lightness).margin(2e-3));
    const Lch lighter = lch_of(blend_opaque(Blend::oklch_lightness, over, {0.5f, 0.5f, 0.5f}));
    CHECK(lighter.hue == Approx(own.hue).margin(0.02));
    // Greys have no hue to give, nor any chroma to be scaled.
    const Lch grey = lch_of(blend_opaque(Blend::oklch_hue, over, {0.4f, 0.4f, 0.4f}));
    CHECK(grey.hue == Approx(own.hue).margin(0.01));
    CHECK(lch_of(blend_opaque(Blend::oklch_chroma, {0.4f, 0.4f, 0.4f}, over)).chroma < 0.005f);
}

TEST_CASE("colour joins are the same in linear light, where nothing is mixed", "[blend][oklch]") {
    const Bundle under = random_bundle({31, 17}, 1), over = random_bundle({31, 17}, 50);
    for (const BlendName& name : blend_names()) {
        if (!is_perceptual(name.blend)) continue;
        INFO(name.id);
        CHECK(greatest_difference(blended(under, over, {name.blend, 1, false}, nullptr, job),
                                  blended(under, over, {name.blend, 1, true}, nullptr, job)) < 4e-3);
    }
}

TEST_CASE("keeping within a mask cuts what lies over", "[blend]") {
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
    CHECK(blend_names().size() == 37);
    CHECK_FALSE(find_blend("colour_dodge"));
}
