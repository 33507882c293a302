// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures as cameras and other programs write them: turned, with profiles of their own, with more channels or pixels than can be
// used; and what ours say of themselves.
#include <lcms2.h>
#include <spng.h>

#include <cmath>

#include "core/base/hash.h"
#include "core/base/memory.h"
#include "core/colour/colour.h"
#include "core/files/exif.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

struct Places {
    double red[2], green[2], blue[2];
};
/// SMPTE EG 432-1 and ISO 22028-2.
constexpr Places display_p3{{0.680, 0.320}, {0.265, 0.690}, {0.150, 0.060}},
    wide{{0.7347, 0.2653}, {0.1596, 0.8404}, {0.0366, 0.0001}};
constexpr double d65[2] = {0.3127, 0.3290};
constexpr Places srgb_places{{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}};

std::string saved(cmsHPROFILE profile) {
    cmsUInt32Number count = 0;
    REQUIRE(cmsSaveProfileToMem(profile, nullptr, &count));
    std::string bytes(count, '\0');
    REQUIRE(cmsSaveProfileToMem(profile, bytes.data(), &count));
    cmsCloseProfile(profile);
    return bytes;
}

std::string rgb_profile(const Places& places, double gamma) {
    const cmsCIExyY white{d65[0], d65[1], 1};
    const cmsCIExyYTRIPLE primaries{
        {places.red[0], places.red[1], 1}, {places.green[0], places.green[1], 1}, {places.blue[0], places.blue[1], 1}};
    cmsToneCurve* curve = cmsBuildGamma(nullptr, gamma);
    cmsToneCurve* curves[3] = {curve, curve, curve};
    const std::string bytes = saved(cmsCreateRGBProfile(&white, &primaries, curves));
    cmsFreeToneCurve(curve);
    return bytes;
}

std::string grey_profile(double gamma) {
    cmsToneCurve* curve = cmsBuildGamma(nullptr, gamma);
    const std::string bytes = saved(cmsCreateGrayProfile(cmsD50_xyY(), curve));
    cmsFreeToneCurve(curve);
    return bytes;
}

using Matrix = std::array<std::array<double, 3>, 3>;

/// The light of three primaries as CIE XYZ (SMPTE RP 177).
Matrix to_xyz(const Places& p) {
    const double* at[3] = {p.red, p.green, p.blue};
    Matrix m;
    for (std::size_t c = 0; c < 3; ++c)
        m[0][c] = at[c][0] / at[c][1], m[1][c] = 1, m[2][c] = (1 - at[c][0] - at[c][1]) / at[c][1];
    return m;
}
Matrix inverse(const Matrix& m) {
    Matrix out;
    double whole = 0;
    const auto minor = [&](std::size_t r, std::size_t c) {
        const std::size_t r1 = (r + 1) % 3, r2 = (r + 2) % 3, c1 = (c + 1) % 3, c2 = (c + 2) % 3;
        return m[r1][c1] * m[r2][c2] - m[r1][c2] * m[r2][c1];
    };
    for (std::size_t c = 0; c < 3; ++c) whole += m[0][c] * minor(0, c);
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c) out[c][r] = minor(r, c) / whole;
    return out;
}
std::array<double, 3> times(const Matrix& m, const std::array<double, 3>& v) {
    std::array<double, 3> out{};
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c) out[r] += m[r][c] * v[c];
    return out;
}
/// Light of other primaries as sRGB's, both with the white of D65, by the matrices alone.
std::array<double, 3> in_srgb(const Places& places, std::array<double, 3> light) {
    const std::array<double, 3> white{d65[0] / d65[1], 1, (1 - d65[0] - d65[1]) / d65[1]};
    const auto scaled = [&](const Places& p) {
        Matrix m = to_xyz(p);
        const auto share = times(inverse(m), white);
        for (auto& row : m)
            for (std::size_t c = 0; c < 3; ++c) row[c] *= share[c];
        return m;
    };
    return times(inverse(scaled(srgb_places)), times(scaled(places), light));
}
double encoded(double light) {
    light = std::clamp(light, 0.0, 1.0);
    return light <= 0.0031308 ? 12.92 * light : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
}

/// Exif with nothing but how the camera was held.
std::string exif_of(int orientation, bool little = true) {
    const auto number = [&](std::uint32_t value, std::size_t bytes) {
        std::string text;
        for (std::size_t k = 0; k < bytes; ++k) text += static_cast<char>(value >> 8 * (little ? k : bytes - 1 - k));
        return text;
    };
    return (little ? "II" : "MM") + number(42, 2) + number(8, 4) + number(1, 2) + number(274, 2) + number(3, 2) + number(1, 4) +
           number(static_cast<std::uint32_t>(orientation), 2) + number(0, 2) + number(0, 4);
}

struct PngOrder {
    Size size;
    int colour_type = SPNG_COLOR_TYPE_TRUECOLOR, depth = 8;
    std::string profile, exif;
    bool laced = false;
};
std::string png_of(const PngOrder& order, const std::string& pixels) {
    spng_ctx* context = spng_ctx_new(SPNG_CTX_ENCODER);
    spng_set_option(context, SPNG_ENCODE_TO_BUFFER, 1);
    spng_ihdr head{};
    head.width = static_cast<std::uint32_t>(order.size.width), head.height = static_cast<std::uint32_t>(order.size.height);
    head.bit_depth = static_cast<std::uint8_t>(order.depth), head.color_type = static_cast<std::uint8_t>(order.colour_type);
    head.interlace_method = order.laced;
    REQUIRE(spng_set_ihdr(context, &head) == 0);
    spng_iccp profile{};
    std::string profile_bytes = order.profile, exif_bytes = order.exif;
    std::snprintf(profile.profile_name, sizeof profile.profile_name, "of the test");
    profile.profile = profile_bytes.data(), profile.profile_len = profile_bytes.size();
    if (!order.profile.empty()) REQUIRE(spng_set_iccp(context, &profile) == 0);
    spng_exif exif{exif_bytes.size(), exif_bytes.data()};
    if (!order.exif.empty()) REQUIRE(spng_set_exif(context, &exif) == 0);
    REQUIRE(spng_encode_image(context, pixels.data(), pixels.size(), SPNG_FMT_PNG, SPNG_ENCODE_FINALIZE) == 0);
    std::size_t length = 0;
    int error = 0;
    auto* bytes = static_cast<char*>(spng_get_png_buffer(context, &length, &error));
    REQUIRE(bytes);
    std::string file(bytes, length);
    std::free(bytes);
    spng_ctx_free(context);
    return file;
}

/// Three pixels across and two down, grey 0, 40, 80, ...
const Size six{3, 2};
std::string six_pixels() { return {0, 40, 80, 120, static_cast<char>(160), static_cast<char>(200)}; }

std::vector<int> tones(const Bundle& picture) {
    std::vector<int> all;
    for (int y = 0; y < picture.size().height; ++y)
        for (int x = 0; x < picture.size().width; ++x)
            all.push_back(static_cast<int>(std::lround(picture.channel(0).at(x, y) * 255)));
    return all;
}

}  // namespace

TEST_CASE("a photograph lies as the camera was held", "[files][photographs]") {
    // What Exif 2.3 says each number means, by hand.
    const std::vector<std::vector<int>> shown = {
        {0, 40, 80, 120, 160, 200}, {80, 40, 0, 200, 160, 120}, {200, 160, 120, 80, 40, 0}, {120, 160, 200, 0, 40, 80},
        {0, 120, 40, 160, 80, 200}, {120, 0, 160, 40, 200, 80}, {200, 80, 160, 40, 120, 0}, {80, 200, 40, 160, 0, 120}};
    for (int orientation = 1; orientation <= 8; ++orientation)
        for (const bool little : {true, false}) {
            const std::string file = png_of({six, SPNG_COLOR_TYPE_GRAYSCALE, 8, "", exif_of(orientation, little)}, six_pixels());
            const auto picture = decode_picture(file);
            INFO(orientation);
            REQUIRE(picture);
            const Size size = orientation < 5 ? six : Size{2, 3};
            CHECK(picture->size() == size);
            CHECK(*decode_size(file, 100) == size);
            CHECK(*picture_reader().size_of(file) == size);
            CHECK(tones(*picture) == shown[static_cast<std::size_t>(orientation - 1)]);
        }
    // In a JPEG it stands in a segment of its own (APP1), after the start of the picture.
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("p.jpg"), cloud_picture({48, 32}, 30), PictureFormat::jpg));
    const std::string plain = *read_file(folder.path("p.jpg"), 1 << 20), exif = std::string("Exif\0\0", 6) + exif_of(6);
    const std::string turned =
        plain.substr(0, 2) + "\xff\xe1" + std::string{0, static_cast<char>(exif.size() + 2)} + exif + plain.substr(2);
    const auto straight = decode_picture(plain), upright = decode_picture(turned);
    REQUIRE(straight);
    REQUIRE(upright);
    REQUIRE(upright->size() == Size{32, 48});
    double most = 0;
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 48; ++x)
            most =
                std::max(most, static_cast<double>(std::abs(straight->channel(0).at(x, y) - upright->channel(0).at(31 - y, x))));
    CHECK(most < 1e-4);
}

TEST_CASE("Exif that is cut off or means nothing turns no picture", "[files][photographs]") {
    const std::string whole = exif_of(6);
    CHECK(exif_orientation(whole) == 6);
    CHECK(exif_orientation(std::string("Exif\0\0", 6) + whole) == 6);
    for (std::size_t length = 0; length < 18; ++length) CHECK(exif_orientation(std::string_view(whole).substr(0, length)) == 1);
    for (int wrong : {0, 9, 65535}) CHECK(exif_orientation(exif_of(wrong)) == 1);
    std::string far = whole;
    far[4] = far[5] = far[6] = far[7] = static_cast<char>(0xff);
    CHECK(exif_orientation(far) == 1);
    for (std::size_t at = 0; at < whole.size(); ++at)
        for (int bit = 0; bit < 8; ++bit) {
            std::string bent = whole;
            bent[at] = static_cast<char>(bent[at] ^ (1 << bit));
            CHECK((exif_orientation(bent) >= 1 && exif_orientation(bent) <= 8));
        }
}

TEST_CASE("colours come in as their profile means them", "[files][photographs]") {
    const Size size{4, 1};
    const std::string pixels{static_cast<char>(200),
                             60,
                             90,
                             30,
                             static_cast<char>(180),
                             70,
                             static_cast<char>(128),
                             128 - 256,
                             128 - 256,
                             static_cast<char>(255),
                             static_cast<char>(255),
                             static_cast<char>(255)};
    for (const auto& [name, places, gamma] : {std::tuple{"Display P3's primaries", display_p3, 2.2},
                                              {"a wide space", wide, 1.8},
                                              {"sRGB's primaries", srgb_places, 1.8}})
        for (const bool laced : {false, true}) {
            INFO(name << (laced ? ", in passes" : ""));
            const auto picture =
                decode_picture(png_of({size, SPNG_COLOR_TYPE_TRUECOLOR, 8, rgb_profile(places, gamma), "", laced}, pixels));
            INFO((picture ? std::string() : picture.error().message));
            REQUIRE(picture);
            for (int x = 0; x < size.width; ++x) {
                std::array<double, 3> light{};
                for (std::size_t c = 0; c < 3; ++c)
                    light[c] = std::pow(static_cast<unsigned char>(pixels[3 * static_cast<std::size_t>(x) + c]) / 255.0, gamma);
                const auto expected = in_srgb(places, light);
                for (int c = 0; c < 3; ++c)
                    CHECK(static_cast<double>(picture->channel(c).at(x, 0)) ==
                          Approx(encoded(expected[static_cast<std::size_t>(c)])).margin(0.006));
            }
        }
    // A grey of another gamma stays grey.
    const auto grey = decode_picture(png_of({six, SPNG_COLOR_TYPE_GRAYSCALE, 8, grey_profile(1.4), ""}, six_pixels()));
    REQUIRE(grey);
    REQUIRE(grey->grey());
    for (int k = 0; k < 6; ++k)
        CHECK(static_cast<double>(grey->channel(0).at(k % 3, k / 3)) ==
              Approx(encoded(std::pow(k * 40 / 255.0, 1.4))).margin(0.006));
    // A profile for other channels, or none at all, changes nothing.
    for (const std::string& profile : {rgb_profile(display_p3, 2.2), std::string(200, 'x')}) {
        const auto plain = decode_picture(png_of({six, SPNG_COLOR_TYPE_GRAYSCALE, 8, profile, ""}, six_pixels()));
        REQUIRE(plain);
        CHECK(tones(*plain) == std::vector<int>{0, 40, 80, 120, 160, 200});
    }
}

TEST_CASE("what is half covered has its own colour, whatever its profile", "[files][photographs]") {
    const std::string pixels{static_cast<char>(200), 60, 90, static_cast<char>(128)};
    const std::string profile = rgb_profile(display_p3, 2.2);
    const auto half = decode_picture(png_of({{1, 1}, SPNG_COLOR_TYPE_TRUECOLOR_ALPHA, 8, profile, ""}, pixels)),
               whole = decode_picture(png_of({{1, 1}, SPNG_COLOR_TYPE_TRUECOLOR, 8, profile, ""}, pixels.substr(0, 3)));
    REQUIRE(half);
    REQUIRE(whole);
    REQUIRE(half->coverage);
    const float cover = half->coverage->at(0, 0);
    CHECK(cover == Approx(128 / 255.0));
    for (int c = 0; c < 3; ++c) CHECK(half->channel(c).at(0, 0) / cover == Approx(whole->channel(c).at(0, 0)).margin(1e-4));
}

TEST_CASE("what we write says which colours its numbers are, and data says none", "[files][photographs]") {
    const TemporaryFolder folder;
    const Bundle picture = random_bundle({24, 20}, 4);
    for (const PictureFormatInfo& written_as : picture_format_table) {
        const std::string path = folder.path("p." + std::string(written_as.extension));
        const std::string_view mark = written_as.extension == "png" ? "sRGB" : written_as.linear ? "chromaticities" : "acsp";
        INFO(written_as.id);
        for (const auto& [meaning, says] : {std::pair{Meaning::colour, true}, {Meaning::data, false}}) {
            REQUIRE(write_picture(path, picture, written_as.format, meaning));
            const std::string bytes = *read_file(path, 1 << 24);
            CHECK((bytes.find(mark) != std::string::npos) == says);
            CHECK(bytes.find("iCCP") == std::string::npos);
            // The same at any hour.
            REQUIRE(write_picture(folder.path("again"), picture, written_as.format, meaning));
            CHECK(*read_file(folder.path("again"), 1 << 24) == bytes);
        }
        const auto back = read_picture(path);
        REQUIRE(back);
        CHECK(back->size() == picture.size());
    }
}

TEST_CASE("a picture takes no more memory than the process may have, and ends when it is given up",
          "[files][photographs][memory]") {
    Memory& memory = Memory::process();
    const std::string large = png_of({{3000, 2000}, SPNG_COLOR_TYPE_GRAYSCALE, 8, "", ""}, std::string(6000000, 'x'));
    memory.release();
    const std::size_t before = memory.limit();
    memory.set_limit(std::size_t{16} << 20);
    const auto refused = decode_picture(large);
    memory.set_limit(before);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().fault == Fault::memory);
    CHECK_THAT(refused.error().message, Catch::Contains("3000x2000") && Catch::Contains("16 MiB are allowed"));
    // Nothing but the picture itself: no copy of it, whatever the file is.
    memory.count_anew();
    const std::size_t used = memory.counts().used;
    REQUIRE(decode_picture(large));
    CHECK(memory.counts().most - used < 3000 * 2000 * sizeof(float) * 11 / 10);
    Job given_up;
    given_up.cancel();
    const TemporaryFolder folder;
    for (const PictureFormatInfo& written_as : picture_format_table) {
        const std::string path = folder.path("p." + std::string(written_as.extension));
        REQUIRE(write_picture(path, random_bundle({64, 64}, 3), written_as.format));
        const auto cancelled = read_picture(path, given_up);
        INFO(written_as.id);
        REQUIRE_FALSE(cancelled);
        CHECK(cancelled.error().fault == Fault::cancelled);
    }
}

TEST_CASE("a file of more channels than a picture has is refused", "[files][photographs]") {
    // A TIFF of one pixel, not compressed, with as many samples as are asked for (TIFF 6.0).
    const auto tiff_of = [](int samples) {
        const auto number = [](std::uint32_t value, std::size_t bytes) {
            std::string text;
            for (std::size_t k = 0; k < bytes; ++k) text += static_cast<char>(value >> 8 * k);
            return text;
        };
        const auto entry = [&](int tag, int type, std::uint32_t count, std::uint32_t value) {
            return number(static_cast<std::uint32_t>(tag), 2) + number(static_cast<std::uint32_t>(type), 2) + number(count, 4) +
                   number(value, 4);
        };
        const auto n = static_cast<std::uint32_t>(samples);
        const std::string pixel(n, 'x');
        std::string bits;
        for (int k = 0; k < samples; ++k) bits += number(8, 2);
        const std::uint32_t entries = 10, data = 8 + 2 + 12 * entries + 4;
        return "II" + number(42, 2) + number(8, 4) + number(entries, 2) + entry(256, 3, 1, 1) + entry(257, 3, 1, 1) +
               entry(258, 3, n, data + n) + entry(259, 3, 1, 1) + entry(262, 3, 1, 1) + entry(273, 4, 1, data) +
               entry(277, 3, 1, n) + entry(278, 3, 1, 1) + entry(279, 4, 1, n) + entry(284, 3, 1, 1) + number(0, 4) + pixel +
               bits;
    };
    REQUIRE(decode_picture(tiff_of(6)));
    const auto many = decode_picture(tiff_of(100));
    REQUIRE_FALSE(many);
    CHECK_THAT(many.error().message, Catch::Contains("100 channels"));
    CHECK_FALSE(decode_picture(tiff_of(3000)));
}

TEST_CASE("a damaged picture of any kind is refused in one line, or comes in with the size it says",
          "[files][photographs][fuzz]") {
    const TemporaryFolder folder;
    for (const PictureFormatInfo& written_as : picture_format_table) {
        const std::string path = folder.path("p." + std::string(written_as.extension));
        REQUIRE(write_picture(path, random_bundle({40, 30}, 4, written_as.format != PictureFormat::jpg), written_as.format));
        const std::string whole = *read_file(path, 1 << 24);
        int refused = 0;
        for (std::uint64_t k = 0; k < 300; ++k) {
            std::string bent = whole;
            // The heads of files are where numbers are believed.
            const std::size_t most = k % 2 ? bent.size() : std::min<std::size_t>(bent.size(), 700);
            for (std::uint64_t n = 0; n <= k % 3; ++n)
                bent[mix64(k, n) % most] = static_cast<char>(k % 5 ? mix64(k, n + 10) : (mix64(k, n + 20) % 2 ? 0xff : 0));
            if (k % 7 == 0) bent.resize(mix64(k, 30) % bent.size());
            INFO(written_as.id << " " << k);
            const auto size = decode_size(bent, 4096);
            const auto picture = size ? decode_picture(bent) : Result<Bundle>(size.error());
            if (picture) {
                CHECK(picture->size() == *size);
                continue;
            }
            ++refused;
            CHECK(lines_in(picture.error().message) == 0);
            CHECK(picture.error().message.size() > 5);
        }
        INFO(written_as.id);
        CHECK(refused > 30);
    }
}
