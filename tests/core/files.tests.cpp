// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <sys/stat.h>
#include <zlib.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <thread>

#include "core/base/files.h"
#include "core/base/job.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

std::string bytes_of(const std::string& path) { return *read_file(path, 64 << 20); }

/// Waves with a trace of noise: smooth enough for the lossy formats.
Plane gentle(const Plane& noise) {
    Plane soft(noise.size());
    for (int y = 0; y < noise.height(); ++y)
        for (int x = 0; x < noise.width(); ++x)
            soft.row(y)[x] = 0.5f + 0.3f * static_cast<float>(std::sin(0.2 * x + 0.1 * y)) + 0.004f * noise.at(x, y);
    return soft;
}

LoomFile example() {
    LoomFile file;
    file.recipe = recipe_of({strand_of("a", {{"clouds", {{"octaves", 3.0}}, 2}})});
    file.recipe.name = "Bench";
    file.recipe.assets["assets/0a1b.png"] = make_asset("assets/0a1b.png", std::string("\x89PNG\0data", 9));
    file.preview_png = "preview";
    return file;
}

}  // namespace

TEST_CASE("every picture format comes back as it was written, within its precision", "[files]") {
    const TemporaryFolder folder;
    const std::pair<PictureFormat, double> formats[] = {{PictureFormat::png, 0.5 / 255},    {PictureFormat::png16, 0.5 / 65535},
                                                        {PictureFormat::tiff, 0.5 / 65535}, {PictureFormat::exr, 1e-3},
                                                        {PictureFormat::exr_float, 2e-6},   {PictureFormat::jpg, 0.12},
                                                        {PictureFormat::webp, 0.12}};
    for (const auto& [format, most] : formats)
        for (int channels : {1, 3})
            for (bool covered : {false, true}) {
                Bundle in = random_bundle({24, 18}, 3, false, channels);
                for (PlaneRef& plane : in.colour) plane = share(gentle(*plane));
                if (covered) {
                    Plane cover({24, 18}, 0.6f);
                    Bundle thin = in;
                    for (PlaneRef& plane : thin.colour) {
                        Plane times = plane->clone();
                        for (std::size_t i = 0; i < times.size().pixels(); ++i) times.data()[i] *= 0.6f;
                        plane = share(std::move(times));
                    }
                    thin.coverage = share(std::move(cover));
                    in = thin;
                }
                const std::string path = folder.path("p." + std::string(extension_of(format)));
                INFO(picture_format_id(format) << " " << channels << (covered ? " covered" : ""));
                const auto written = write_picture(path, in, format);
                INFO((written ? std::string() : written.error().message));
                REQUIRE(written);
                const auto back = read_picture(path);
                REQUIRE(back);
                CHECK(back->size() == in.size());
                CHECK(folder.files().size() == 1);
                std::filesystem::remove(path);
                if (format == PictureFormat::jpg) {
                    // Laid over white.
                    CHECK_FALSE(back->coverage);
                    const float expected = in.channel(0).at(5, 5) + (covered ? 0.4f : 0);
                    CHECK(back->channel(0).at(5, 5) == Approx(expected).margin(most));
                    continue;
                }
                CHECK(bool(back->coverage) == covered);
                double worst = 0;
                for (int c = 0; c < channels; ++c) worst = std::max(worst, greatest_difference(back->channel(c), in.channel(c)));
                CHECK(worst <= most * (covered ? 2.5 : 1.01));
            }
}

TEST_CASE("a picture written in bands is the file it is written whole, and is on the disk as it comes", "[files]") {
    const TemporaryFolder folder;
    // Several strips, as files hold them, and an end that fills none.
    const Size size{side_tried(2048), side_tried(1130)};
    const int rows = size.height / 5;
    const Bundle picture = random_bundle(size, 4, true);
    // The more threads there are, the more strips are held.
    with_threads(2, [&] {
        for (const PictureFormatInfo& written_as : picture_format_table) {
            const PictureFormat format = written_as.format;
            INFO(picture_format_id(format));
            REQUIRE(write_picture(folder.path("whole"), picture, format));
            {
                auto writer = PictureWriter::open(folder.path("bands"), size, format);
                REQUIRE(writer);
                std::uintmax_t half_way = 0;
                for (int y = 0; y < size.height; y += rows) {
                    REQUIRE(writer->add(part_of(picture, {y, std::min(rows, size.height - y)})));
                    if (y != 3 * rows) continue;
                    for (const std::string& name : folder.files())
                        if (name.starts_with(FileWriter::part_prefix)) half_way = std::filesystem::file_size(folder.path(name));
                }
                REQUIRE(writer->finish());
                // The libraries for these keep what they have until the end, and small ones have no more than one strip.
                if (!races_watched && format != PictureFormat::webp && format != PictureFormat::jpg)
                    CHECK(half_way > std::filesystem::file_size(folder.path("bands")) / 2);
            }
            // Nor does it matter when it is written. Not shown if it fails: that would be all of both.
            const bool same = bytes_of(folder.path("bands")) == bytes_of(folder.path("whole"));
            CHECK(same);
            // One that is given up leaves nothing.
            {
                auto writer = PictureWriter::open(folder.path("half"), size, format);
                REQUIRE(writer);
                REQUIRE(writer->add(part_of(picture, {0, 50})));
            }
            CHECK(folder.files() == std::vector<std::string>{"bands", "whole"});
        }
    });
}

TEST_CASE("a picture goes through a pipe in every format", "[files]") {
    const TemporaryFolder folder;
    const Bundle picture = random_bundle({40, 30}, 4);
    REQUIRE(::mkfifo(folder.path("pipe").c_str(), 0600) == 0);
    for (const PictureFormatInfo& written_as : picture_format_table) {
        const PictureFormat format = written_as.format;
        INFO(picture_format_id(format));
        REQUIRE(write_picture(folder.path("whole"), picture, format));
        std::string came;
        std::thread reader([&] { came = *read_file(folder.path("pipe"), 1 << 20); });
        const auto written = write_picture(folder.path("pipe"), picture, format);
        reader.join();
        CHECK(written);
        CHECK(came == bytes_of(folder.path("whole")));
    }
}

TEST_CASE("a PNG says that it is sRGB, and a data map does not", "[files]") {
    const TemporaryFolder folder;
    const Bundle in = random_bundle({8, 8}, 1);
    REQUIRE(write_picture(folder.path("colour.png"), in, PictureFormat::png));
    CHECK(bytes_of(folder.path("colour.png")).find("sRGB") != std::string::npos);
    REQUIRE(write_picture(folder.path("data.png"), in, PictureFormat::png, Meaning::data));
    CHECK(bytes_of(folder.path("data.png")).find("sRGB") == std::string::npos);
}

TEST_CASE("pictures that cannot be read or written are refused in one clear line", "[files][faults]") {
    const TemporaryFolder folder;
    REQUIRE(write_file(folder.path("text.png"), "no picture"));
    const Bundle in = random_bundle({64, 64}, 1);
    REQUIRE(write_picture(folder.path("good.png"), in, PictureFormat::png));
    const std::string whole = bytes_of(folder.path("good.png"));
    REQUIRE(write_file(folder.path("cut.png"), whole.substr(0, whole.size() / 2)));
    for (const char* name : {"none.png", "text.png", "cut.png", ""}) {
        const auto read = read_picture(folder.path(name));
        INFO(name);
        REQUIRE_FALSE(read);
        CHECK(read.error().fault == Fault::file);
        CHECK_THAT(read.error().message, Catch::Contains("cannot read '" + folder.path(name)));
        CHECK(read.error().message.find('\n') == std::string::npos);
    }
    const auto nowhere = write_picture(folder.path("no/such/p.png"), in, PictureFormat::png);
    REQUIRE_FALSE(nowhere);
    CHECK_THAT(nowhere.error().message, Catch::Contains("there is no such file or folder"));
    CHECK_FALSE(write_picture(folder.path(), in, PictureFormat::png));
}

TEST_CASE("a file is replaced whole or not at all", "[files]") {
    const TemporaryFolder folder;
    REQUIRE(write_file(folder.path("f"), "old"));
    {
        auto half = FileWriter::open(folder.path("f"));
        REQUIRE(half);
        REQUIRE(half->write("half"));
        CHECK(bytes_of(folder.path("f")) == "old");
    }
    CHECK(bytes_of(folder.path("f")) == "old");
    REQUIRE(write_file(folder.path("f"), "new"));
    CHECK(bytes_of(folder.path("f")) == "new");
    CHECK(folder.files() == std::vector<std::string>{"f"});
}

TEST_CASE("a .loom file and its folder form hold the same", "[files][container]") {
    const TemporaryFolder folder;
    const LoomFile file = example();
    REQUIRE(write_loom(folder.path("bench.loom"), file));
    std::filesystem::create_directories(folder.path("bench-folder"));
    REQUIRE(write_loom(folder.path("bench-folder"), file));
    for (const char* name : {"bench.loom", "bench-folder"}) {
        const auto back = read_loom(folder.path(name));
        INFO(name);
        REQUIRE(back);
        CHECK(back->recipe == file.recipe);
        CHECK(back->recipe.assets.at("assets/0a1b.png")->bytes == file.recipe.assets.at("assets/0a1b.png")->bytes);
        CHECK(back->preview_png == file.preview_png);
    }
    const std::string zip = bytes_of(folder.path("bench.loom"));
    // The first entry is the stored media type, where tools look for it.
    CHECK(zip.substr(30, 8) == "mimetype");
    CHECK(zip.substr(38, loom_mimetype.size()) == loom_mimetype);
    // The same recipe gives the same file.
    REQUIRE(write_loom(folder.path("again.loom"), file));
    CHECK(bytes_of(folder.path("again.loom")) == zip);
}

TEST_CASE("damaged .loom files are refused in one clear line", "[files][container][faults]") {
    const TemporaryFolder folder;
    REQUIRE(write_loom(folder.path("good.loom"), example()));
    const std::string whole = bytes_of(folder.path("good.loom"));
    for (std::size_t length : {std::size_t{0}, std::size_t{1}, std::size_t{40}, whole.size() / 2, whole.size() - 1}) {
        REQUIRE(write_file(folder.path("cut.loom"), whole.substr(0, length)));
        const auto read = read_loom(folder.path("cut.loom"));
        INFO(length);
        REQUIRE_FALSE(read);
        CHECK(read.error().message.find('\n') == std::string::npos);
        CHECK_THAT(read.error().message, Catch::Contains("cut.loom"));
    }
    // A digit turned over anywhere: either what comes out is what was written, or it is said that the file is damaged.
    const std::string text = write_recipe(example().recipe);
    int refused = 0, same = 0;
    for (std::size_t at = 0; at < whole.size(); at += 3) {
        std::string bent = whole;
        bent[at] = static_cast<char>(bent[at] ^ 0x41);
        REQUIRE(write_file(folder.path("bent.loom"), bent));
        const auto read = read_loom(folder.path("bent.loom"));
        INFO(at);
        if (read) {
            ++same;
            CHECK(write_recipe(read->recipe) == text);
            for (const auto& [name, asset] : example().recipe.assets) {
                REQUIRE(read->recipe.assets.contains(name));
                CHECK(read->recipe.assets.at(name)->bytes == asset->bytes);
            }
        } else {
            ++refused;
            CHECK(lines_in(read.error().message) == 0);
        }
    }
    // Beside the contents an archive has dates, versions and a name that nobody reads.
    CHECK(refused > 2 * same);
    REQUIRE_FALSE(read_loom(folder.path("none.loom")));
    std::filesystem::create_directories(folder.path("empty.loom"));
    CHECK_FALSE(read_loom(folder.path("empty.loom")));
}

TEST_CASE("what is stored in an archive as it is has its checksum looked at too", "[files][container][faults]") {
    const TemporaryFolder folder;
    const std::string json = write_recipe(example().recipe);
    // An archive of one stored entry, by hand (PKWARE's APPNOTE, 4.3.7 on).
    const auto number = [](std::uint32_t value, int bytes) {
        std::string text;
        for (int k = 0; k < bytes; ++k) text += static_cast<char>(value >> 8 * k);
        return text;
    };
    const auto archive = [&](const std::vector<std::pair<std::string, std::string>>& entries) {
        std::string bytes, directory;
        for (const auto& [name, content] : entries) {
            const auto check = static_cast<std::uint32_t>(
                ::crc32(0, reinterpret_cast<const Bytef*>(content.data()), static_cast<uInt>(content.size())));
            const auto length = static_cast<std::uint32_t>(content.size());
            const std::string common = number(0, 2) + number(0, 2) + number(0, 2) + number(33, 2) + number(check, 4) +
                                       number(length, 4) + number(length, 4) +
                                       number(static_cast<std::uint32_t>(name.size()), 2) + number(0, 2);
            directory += "PK\x01\x02" + number(20, 2) + number(20, 2) + common + std::string(10, '\0') +
                         number(static_cast<std::uint32_t>(bytes.size()), 4) + name;
            bytes += "PK\x03\x04" + number(20, 2) + common + name + content;
        }
        const auto count = static_cast<std::uint32_t>(entries.size()), at = static_cast<std::uint32_t>(bytes.size()),
                   length = static_cast<std::uint32_t>(directory.size());
        return bytes + directory + "PK\x05\x06" + number(0, 4) + number(count, 2) + number(count, 2) + number(length, 4) +
               number(at, 4) + number(0, 2);
    };
    const auto read = [&](const std::string& bytes) {
        REQUIRE(write_file(folder.path("a.loom"), bytes));
        return read_loom(folder.path("a.loom"));
    };
    const std::string good = archive({{"recipe.json", json}});
    {
        const auto file = read(good);
        INFO((file ? std::string() : file.error().message));
        REQUIRE(file);
        CHECK(write_recipe(file->recipe) == json);
    }
    // A digit that leaves good JSON behind.
    std::string bent = good;
    const auto digit = bent.find("\"seed\": ");
    REQUIRE(digit != std::string::npos);
    bent[digit + 8] = bent[digit + 8] == '1' ? '2' : '1';
    const auto damaged = read(bent);
    REQUIRE_FALSE(damaged);
    CHECK_THAT(damaged.error().message, Catch::Contains("recipe.json") && Catch::Contains("damaged"));
    // Names that a folder could not hold, and two that say different things.
    for (const char* name : {"assets/sub/x", "assets/../x", "assets/a\nb", "assets/.hidden", "assets/a\\b"}) {
        const auto file = read(archive({{"recipe.json", json}, {name, "x"}}));
        INFO(name);
        REQUIRE_FALSE(file);
        CHECK_THAT(file.error().message, Catch::Contains("not allowed"));
        CHECK(lines_in(file.error().message) == 0);
    }
    CHECK_FALSE(read(archive({{"recipe.json", json}, {"assets/x", "1"}, {"assets/x", "2"}})));
}

TEST_CASE("a .loom file has the same bytes wherever it is written", "[files][container]") {
    const std::string here = *loom_bytes(example());
    const char* before = std::getenv("TZ");
    const std::string kept = before ? before : "";
    for (const char* zone : {"UTC", "Pacific/Auckland", "America/St_Johns", "XYZ-13:45"}) {
        ::setenv("TZ", zone, 1);
        ::tzset();
        INFO(zone);
        CHECK(*loom_bytes(example()) == here);
    }
    before ? ::setenv("TZ", kept.c_str(), 1) : ::unsetenv("TZ");
    ::tzset();
}

TEST_CASE("the name of a picture comes from the recipe's", "[files]") {
    CHECK(picture_name("Carriage oak", "colour", PictureFormat::png16) == "carriage-oak-colour.png");
    CHECK(picture_name("Stoker's denim", "height", PictureFormat::exr) == "stokers-denim-height.exr");
    CHECK(picture_name("../../etc/passwd", "colour", PictureFormat::tiff) == "etc-passwd-colour.tif");
    CHECK(picture_name("", "colour", PictureFormat::jpg) == "untitled-colour.jpg");
}

TEST_CASE("formats are found by their words and by paths", "[files]") {
    for (const PictureFormatInfo& each : picture_format_table) CHECK(find_picture_format(each.id) == each.format);
    CHECK(format_of_path("a/b.JPEG") == PictureFormat::jpg);
    CHECK(format_of_path("a.tiff") == PictureFormat::tiff);
    CHECK_FALSE(format_of_path("a.gif"));
    CHECK_FALSE(format_of_path("png"));
}
