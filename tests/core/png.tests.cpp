// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// PNG in and out against cairo's reader and writer (libpng), and files that are not what they seem.
#include <cairo.h>

#include <cmath>
#include <cstring>

#include "core/base/files.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/recipe.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

struct CairoSurface {
    cairo_surface_t* surface;
    explicit CairoSurface(cairo_surface_t* made) : surface(made) {}
    ~CairoSurface() { cairo_surface_destroy(surface); }
    CairoSurface(const CairoSurface&) = delete;
    CairoSurface& operator=(const CairoSurface&) = delete;
    int width() const { return cairo_image_surface_get_width(surface); }
    int height() const { return cairo_image_surface_get_height(surface); }
    /// Blue, green, red and coverage, premultiplied, 0..255.
    const unsigned char* pixel(int x, int y) const {
        return cairo_image_surface_get_data(surface) + y * cairo_image_surface_get_stride(surface) + 4 * x;
    }
};

}  // namespace

TEST_CASE("what we write as PNG cairo reads as the same pixels", "[files][png]") {
    const TemporaryFolder folder;
    for (int channels : {1, 3})
        for (bool covered : {false, true})
            for (PictureFormat format : {PictureFormat::png, PictureFormat::png16}) {
                // Odd sizes, so that rows end within blocks.
                const Bundle in = random_bundle({37, 23}, 9, covered, channels);
                REQUIRE(write_picture(folder.path("p.png"), in, format));
                const CairoSurface read(cairo_image_surface_create_from_png(folder.path("p.png").c_str()));
                INFO(channels << " " << covered << " " << picture_format_id(format));
                REQUIRE(cairo_surface_status(read.surface) == CAIRO_STATUS_SUCCESS);
                REQUIRE(read.width() == 37);
                REQUIRE(read.height() == 23);
                double worst = 0;
                for (int y = 0; y < 23; ++y)
                    for (int x = 0; x < 37; ++x) {
                        const unsigned char* p = read.pixel(x, y);
                        for (int c = 0; c < 3; ++c)
                            worst = std::max(worst, std::abs(p[2 - c] / 255.0 - double(in.channel(c).at(x, y))));
                        if (covered) worst = std::max(worst, std::abs(p[3] / 255.0 - double(in.coverage->at(x, y))));
                    }
                // Cairo multiplies by coverage in 8 bits, which rounds twice, and cuts 16 bits off to 8.
                CHECK(worst <= ((covered ? 1.6 : 0.51) + (format == PictureFormat::png16 ? 0.5 : 0)) / 255);
            }
}

TEST_CASE("what cairo writes as PNG we read as the same pixels", "[files][png]") {
    const TemporaryFolder folder;
    for (cairo_format_t format : {CAIRO_FORMAT_ARGB32, CAIRO_FORMAT_RGB24, CAIRO_FORMAT_A8, CAIRO_FORMAT_A1}) {
        const CairoSurface made(cairo_image_surface_create(format, 41, 19));
        cairo_t* cairo = cairo_create(made.surface);
        cairo_set_source_rgba(cairo, 0.9, 0.4, 0.1, 0.7);
        cairo_arc(cairo, 20, 9, 8, 0, 6.3);
        cairo_fill(cairo);
        cairo_destroy(cairo);
        REQUIRE(cairo_surface_write_to_png(made.surface, folder.path("p.png").c_str()) == CAIRO_STATUS_SUCCESS);
        const auto read = read_picture(folder.path("p.png"));
        INFO(static_cast<int>(format) << (read ? "" : read.error().message));
        REQUIRE(read);
        CHECK(read->size() == Size{41, 19});
        if (format == CAIRO_FORMAT_ARGB32) {
            REQUIRE(read->coverage);
            CHECK(read->coverage->at(20, 9) == Approx(0.7).margin(0.005));
            CHECK(read->coverage->at(2, 2) == 0);
            CHECK(read->channel(0).at(20, 9) == Approx(0.63).margin(0.008));
        }
        if (format == CAIRO_FORMAT_RGB24) {
            CHECK_FALSE(read->coverage);
            CHECK(read->colour.size() == 3);
            CHECK(read->channel(0).at(20, 9) == Approx(0.63).margin(0.008));
        }
        // Coverage alone becomes grey: eight bits or one.
        if (format == CAIRO_FORMAT_A8 || format == CAIRO_FORMAT_A1) {
            CHECK(read->grey());
            CHECK(read->channel(0).at(20, 9) == Approx(format == CAIRO_FORMAT_A8 ? 0.7 : 1.0).margin(0.005));
        }
    }
}

TEST_CASE("values outside the range and what is no number become black or white", "[files][png]") {
    const TemporaryFolder folder;
    Plane odd({4, 1});
    const float values[] = {-3.0f, 7.0f, std::nanf(""), 0.5f};
    std::memcpy(odd.row(0), values, sizeof values);
    for (PictureFormat format : {PictureFormat::png, PictureFormat::png16, PictureFormat::tiff}) {
        const std::string path = folder.path("p." + std::string(extension_of(format)));
        REQUIRE(write_picture(path, Bundle::of(odd.clone()), format));
        const auto read = read_picture(path);
        REQUIRE(read);
        CHECK(read->channel(0).at(0, 0) == 0);
        CHECK(read->channel(0).at(1, 0) == 1);
        CHECK(read->channel(0).at(2, 0) == 0);
        CHECK(read->channel(0).at(3, 0) == Approx(0.5).margin(0.003));
    }
}

TEST_CASE("a damaged PNG is refused wherever it is damaged, in one line", "[files][png][faults]") {
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("p.png"), random_bundle({30, 30}, 4), PictureFormat::png));
    const std::string whole = *read_file(folder.path("p.png"), 1 << 20);
    int refused = 0, tried = 0;
    for (std::size_t at = 8; at < whole.size(); at += 37) {
        std::string bent = whole;
        bent[at] = static_cast<char>(bent[at] ^ 0x55);
        const auto picture = decode_picture(bent);
        ++tried;
        if (picture) continue;
        ++refused;
        CHECK(picture.error().message.find('\n') == std::string::npos);
        CHECK_FALSE(picture.error().message.empty());
    }
    // Only what is beside the picture itself (its marks) may be bent unseen.
    CHECK(refused > tried * 9 / 10);
    for (std::size_t length = 0; length < whole.size(); length += 61)
        CHECK_FALSE(decode_picture(std::string_view(whole).substr(0, length)));
    // A head that promises more pixels than are allowed is refused before anything is unpacked.
    std::string huge = whole;
    huge[16] = 0, huge[17] = 1;
    const auto size = decode_size(huge, 4096);
    CHECK_FALSE(size);
}

TEST_CASE("the size of a kept picture is found once, and without unpacking it", "[files][png]") {
    class Counting : public PictureReader {
    public:
        mutable int sizes = 0;
        Result<Size> size_of(const std::string&) const override {
            ++sizes;
            return Size{3, 4};
        }
        Result<Bundle> read(const std::string&, const Job&) const override { return Error{Fault::file, "not asked for"}; }
        Result<std::shared_ptr<const ReadDrawing>> drawing(std::shared_ptr<const std::string>, const Job&) const override {
            return Error{Fault::file, "not asked for"};
        }
    };
    const Counting reader;
    const Asset asset;
    for (int k = 0; k < 5; ++k) CHECK(*asset.picture_size(reader) == Size{3, 4});
    CHECK(reader.sizes == 1);
}
