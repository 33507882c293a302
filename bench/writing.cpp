// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Writing files: 4096 x 4096 pixels of three channels beside one copy of their bytes in memory, and OpenImageIO's own writers.
// Each says the file's size in MB. The picture is Carriage oak's colour.
#include <OpenImageIO/imageio.h>
#include <benchmark/benchmark.h>

#include <cstring>
#include <filesystem>

#include "core/colour/colour.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/container.h"
#include "core/render/render.h"

using namespace loom;

namespace {

constexpr Size size{4096, 4096};
constexpr std::size_t bytes_of_three = std::size_t{4096} * 4096 * 3 * 2;

const Bundle& picture() {
    static const Bundle made = [] {
        const auto file = read_loom(KEEN_LOOM_SAMPLES "/carriage-oak.loom");
        RenderOptions options;
        options.pictures = &picture_reader();
        return *render_cloth(file->recipe, size, options, Job());
    }();
    return made;
}

std::string path_of(const char* name) {
    return (std::filesystem::temp_directory_path() / (std::string("keen-loom-bench-") + name)).string();
}

void write(benchmark::State& state, PictureFormat format) {
    const Bundle& of = picture();
    const std::string path = path_of("ours");
    for (auto each : state) {
        (void)each;
        if (!write_picture(path, of, format)) state.SkipWithError("cannot write");
    }
    state.counters["MB"] = static_cast<double>(std::filesystem::file_size(path)) / 1e6;
    std::filesystem::remove(path);
}

void peer(benchmark::State& state, const char* name, OIIO::TypeDesc type, const char* compression) {
    const Bundle& of = picture();
    std::vector<float> pixels(size.pixels() * 3);
    for (std::size_t i = 0; i < size.pixels(); ++i)
        for (int c = 0; c < 3; ++c) pixels[i * 3 + static_cast<std::size_t>(c)] = of.channel(c).data()[i];
    // Halves hold linear light, as ours do.
    if (type == OIIO::TypeDesc::HALF) make_linear(pixels.data(), pixels.size());
    const std::string path = path_of(name);
    for (auto each : state) {
        (void)each;
        auto output = OIIO::ImageOutput::create(path);
        OIIO::ImageSpec spec(size.width, size.height, 3, type);
        if (*compression) spec.attribute("compression", compression);
        output->open(path, spec);
        output->write_image(OIIO::TypeDesc::FLOAT, pixels.data());
        output->close();
    }
    state.counters["MB"] = static_cast<double>(std::filesystem::file_size(path)) / 1e6;
    std::filesystem::remove(path);
}

void copy(benchmark::State& state) {
    std::vector<char> from(bytes_of_three, 1), to(bytes_of_three, 2);
    for (auto each : state) {
        (void)each;
        std::memcpy(to.data(), from.data(), from.size());
        benchmark::ClobberMemory();
    }
}

BENCHMARK(copy)->Name("write_copy_of_16_bit_rgb_4096")->UseRealTime()->Unit(benchmark::kMillisecond);
#define OURS(name, format) \
    BENCHMARK_CAPTURE(write, format, PictureFormat::format)->Name(name)->UseRealTime()->Unit(benchmark::kMillisecond)
OURS("write_png8_4096", png);
OURS("write_png16_4096", png16);
OURS("write_tiff_4096", tiff);
OURS("write_exr_half_4096", exr);
OURS("write_exr_float_4096", exr_float);
OURS("write_jpg_4096", jpg);
OURS("write_webp_4096", webp);
BENCHMARK_CAPTURE(peer, png16, "peer.png", OIIO::TypeDesc::UINT16, "")
    ->Name("write_png16_4096_oiio")
    ->UseRealTime()
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(peer, tiff, "peer.tif", OIIO::TypeDesc::UINT16, "zip")
    ->Name("write_tiff_4096_oiio")
    ->UseRealTime()
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(peer, exr, "peer.exr", OIIO::TypeDesc::HALF, "zip")
    ->Name("write_exr_half_4096_oiio")
    ->UseRealTime()
    ->Unit(benchmark::kMillisecond);

}  // namespace
