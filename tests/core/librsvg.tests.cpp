// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Lighting and morphology against librsvg's filters (SVG Filter Effects Module Level 1).
#include <cairo.h>
#include <librsvg/rsvg.h>

#include <cmath>
#include <memory>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/image/gaussian.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{64, 48};

std::string base64(const std::string& bytes) {
    constexpr char digits[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string text;
    for (std::size_t k = 0; k < bytes.size(); k += 3) {
        auto at = [&](std::size_t n) { return k + n < bytes.size() ? static_cast<unsigned char>(bytes[k + n]) : 0u; };
        const unsigned group = at(0) << 16 | at(1) << 8 | at(2);
        for (unsigned n = 0; n < 4; ++n) text += k + n <= bytes.size() ? digits[group >> (18 - 6 * n) & 63] : '=';
    }
    return text;
}

/// Heights of 8 bits, so that both sides start from the same numbers; soft, as a surface is.
/// In steps of 8 bits, as files hold them.
Plane heights(double softness = 0) {
    const Bundle clouds = applied("clouds", {{"size-x", 16.0}, {"size-y", 16.0}, {"octaves", 3.0}}, nullptr, size, 4);
    const Plane soft = gaussian_blur(clouds.channel(0), softness, softness, Job());
    Plane plane(size);
    for (std::size_t i = 0; i < size.pixels(); ++i)
        plane.data()[i] = std::round(std::clamp(soft.data()[i], 0.02f, 1.0f) * 255) / 255;
    return plane;
}

/// What librsvg makes of a picture, premultiplied as it is drawn.
Bundle filtered_picture(const Bundle& picture, const std::string& filter) {
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("a.png"), picture, PictureFormat::png));
    const std::string pixels = base64(*read_file(folder.path("a.png"), 1 << 20));
    const std::string sizes = "width='" + std::to_string(size.width) + "' height='" + std::to_string(size.height) + "'";
    std::string svg("<svg xmlns='http://www.w3.org/2000/svg' ");
    svg += sizes + "><filter id='f' x='0' y='0' width='1' height='1' color-interpolation-filters='sRGB'>" + filter + "</filter>";
    svg += "<image " + sizes + " filter='url(#f)' href='data:image/png;base64," + pixels + "'/></svg>";
    GError* error = nullptr;
    RsvgHandle* handle = rsvg_handle_new_from_data(reinterpret_cast<const guint8*>(svg.data()), svg.size(), &error);
    REQUIRE(handle);
    cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, size.width, size.height);
    cairo_t* cairo = cairo_create(surface);
    const RsvgRectangle viewport{0, 0, double(size.width), double(size.height)};
    REQUIRE(rsvg_handle_render_document(handle, cairo, &viewport, &error));
    cairo_surface_flush(surface);
    std::vector<Plane> out;
    for (int c = 0; c < 4; ++c) out.emplace_back(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            for (int c = 0; c < 4; ++c)
                out[size_t(c)].row(y)[x] =
                    static_cast<float>(cairo_image_surface_get_data(
                        surface)[y * cairo_image_surface_get_stride(surface) + 4 * x + (c == 3 ? 3 : 2 - c)]) /
                    255;
    cairo_destroy(cairo), cairo_surface_destroy(surface), g_object_unref(handle);
    Bundle result = Bundle::of(std::move(out[0]), std::move(out[1]), std::move(out[2]));
    result.coverage = share(std::move(out[3]));
    return result;
}

/// The first channel of what it makes of a picture whose coverage (and grey) is `alpha`.
Plane filtered(const Plane& alpha, const std::string& filter) {
    Bundle picture = Bundle::of(alpha.clone());
    picture.coverage = share(alpha.clone());
    return filtered_picture(picture, filter).channel(0).clone();
}

/// Inside the edges, where SVG takes other normals because nothing is beyond.
double greatest_inside(const Plane& a, const Plane& b, int margin) {
    double most = 0;
    for (int y = margin; y < size.height - margin; ++y)
        for (int x = margin; x < size.width - margin; ++x)
            most = std::max(most, std::abs(double(a.at(x, y)) - double(b.at(x, y))));
    return most;
}

}  // namespace

TEST_CASE("relief light is SVG's diffuse and specular lighting", "[librsvg][relief]") {
    const Plane height = heights();
    const Bundle in = Bundle::of(height.clone());
    for (const auto& [direction, elevation, depth] :
         {std::tuple{135.0, 45.0, 8.0}, std::tuple{20.0, 30.0, 16.0}, std::tuple{250.0, 70.0, 4.0}}) {
        INFO(direction << " " << elevation << " " << depth);
        // Our angles run against the clock; a surfaceScale is half our depth, as SVG's normals count slopes twice.
        const std::string light =
            "<feDistantLight azimuth='" + std::to_string(-direction) + "' elevation='" + std::to_string(elevation) + "'/>";
        const std::string scale = " in='SourceAlpha' lighting-color='white' surfaceScale='" + std::to_string(depth / 2) + "'";
        Values set{{"depth", depth},         {"direction", direction},
                   {"elevation", elevation}, {"result", std::string("light")},
                   {"ambient", 0.0},         {"shine", 0.0}};
        const Bundle diffuse = applied("relief", set, &in, size);
        CHECK(greatest_inside(
                  diffuse.channel(0),
                  filtered(height, "<feDiffuseLighting diffuseConstant='1'" + scale + ">" + light + "</feDiffuseLighting>"),
                  1) < 2.0 / 255);
        set["diffuse"] = 0.0, set["shine"] = 60.0, set["sharpness"] = 12.0;
        // Smooth ground: where slopes vary within a pixel ours are wider and lower than SVG's, which has single white pixels.
        const Plane smooth = heights(5);
        const Bundle soft = Bundle::of(smooth.clone()), shine = applied("relief", set, &soft, size);
        CHECK(greatest_inside(shine.channel(0),
                              filtered(smooth, "<feSpecularLighting specularConstant='0.6' specularExponent='12'" + scale + ">" +
                                                   light + "</feSpecularLighting>"),
                              1) < 6.0 / 255);
    }
}

TEST_CASE("growing and shrinking squares is SVG's morphology", "[librsvg][morph]") {
    const Plane height = heights();
    const Bundle in = Bundle::of(height.clone());
    for (int radius : {1, 3}) {
        const Values grow{
            {"kind", std::string("grow")}, {"form", std::string("square")}, {"radius", static_cast<double>(radius)}};
        Values shrink = grow;
        shrink["kind"] = std::string("shrink");
        const std::string r = " radius='" + std::to_string(radius) + "'/>";
        // The picture's grey is its coverage premultiplied by white: red is the height itself.
        const std::string white = "<feComponentTransfer><feFuncR type='linear' slope='0' intercept='1'/></feComponentTransfer>";
        CHECK(greatest_inside(applied("morph", grow, &in, size).channel(0),
                              filtered(height, white + "<feMorphology operator='dilate'" + r), radius) < 1.5 / 255);
        CHECK(greatest_inside(applied("morph", shrink, &in, size).channel(0),
                              filtered(height, white + "<feMorphology operator='erode'" + r), radius) < 1.5 / 255);
    }
}

TEST_CASE("the channel matrix is SVG's feColorMatrix", "[librsvg][channels]") {
    // Straight values of 8 bits under a coverage that leaves their digits alone.
    Bundle in;
    Plane cover(size);
    for (std::size_t i = 0; i < size.pixels(); ++i) cover.data()[i] = (i / 7) % 2 ? 1.0f : 0.8f;
    for (std::uint64_t c = 0; c < 3; ++c) {
        Plane plane = random_plane(size, c + 1);
        for (std::size_t i = 0; i < size.pixels(); ++i) plane.data()[i] = std::round(plane.data()[i] * 51) / 51 * cover.data()[i];
        in.colour.push_back(share(std::move(plane)));
    }
    in.coverage = share(std::move(cover));
    const char* rows[] = {"red", "green", "blue", "coverage"};
    const char* columns[] = {"red", "green", "blue", "coverage", "plus"};
    const double matrices[][20] = {{0.6, 0.3, 0.1, 0, 0, -0.2, 0.9, 0.3, 0, 0.05, 0, 0.5, 0.25, 0.1, 0, 0, 0, 0, 1, 0},
                                   {1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0, 0, 0.7, 0, 0, 0.2, 0.1},
                                   {0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0.3, -0.4, 0.2, 0.5, 0.3}};
    for (const auto& matrix : matrices) {
        Values set;
        std::string values;
        for (int k = 0; k < 20; ++k) {
            set[std::string(rows[k / 5]) + "-" + columns[k % 5]] = Value(100 * matrix[k]);
            values += std::to_string(matrix[k]) + " ";
        }
        const Bundle out = applied("channels", set, &in, size),
                     svg = filtered_picture(in, "<feColorMatrix type='matrix' values='" + values + "'/>");
        double worst = 0;
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const float alpha = out.coverage->data()[i];
            worst = std::max(worst, std::abs(double(alpha) - double(svg.coverage->data()[i])));
            // SVG cuts channels to 0..1, we do not.
            for (int c = 0; c < 3; ++c)
                worst = std::max(worst, std::abs(double(std::clamp(out.channel(c).data()[i], 0.0f, alpha)) -
                                                 double(svg.channel(c).data()[i])));
        }
        CHECK(worst < 3.0 / 255);
    }
    const Bundle same = applied("channels", {}, &in, size);
    CHECK(greatest_difference(same, in) < 1e-6);
}
