// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Speeds beside other libraries in the same run. A "copy" is one memcpy of the same planes; everything runs on one
// thread unless its name says otherwise.
#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <benchmark/benchmark.h>
#include <libnoise/noise.h>

#include <cmath>
#include <cstring>
#include <opencv2/imgproc.hpp>

#include "core/image/gaussian.h"
#include "core/noise/clouds.h"
#include "core/recipe/container.h"
#include "core/render/render.h"
#include "core/image/line_average.h"

namespace {

using namespace loom;

constexpr int side = 2048;

Plane noise_plane() {
    CloudSettings settings;
    settings.across = settings.down = 64;
    const Job job;
    const CloudField field(settings, {side, side}, &job);
    Plane plane({side, side});
    std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
    for (int y = 0; y < side; ++y) {
        field.row(y, row.data());
        std::memcpy(plane.row(y), row.data(), side * sizeof(float));
    }
    return plane;
}

template <class Work>
void on_one_thread(benchmark::State& state, Work&& work) {
    with_threads(1, [&] {
        for (auto _ : state) work();
    });
    state.SetItemsProcessed(state.iterations() * side * side);
}

void copy(benchmark::State& state) {
    const Plane in = noise_plane();
    Plane out(in.size());
    for (auto _ : state) {
        std::memcpy(out.data(), in.data(), in.bytes());
        benchmark::DoNotOptimize(out.data());
    }
    state.SetItemsProcessed(state.iterations() * side * side);
}
BENCHMARK(copy)->Unit(benchmark::kMillisecond);

/// A Make step at settings, as the program runs it, on one thread.
void made(benchmark::State& state, const char* kind, const Values& values, int pixels = side) {
    const StepDescription& step = *find_step(kind);
    const Job job;
    const std::map<std::string, const Bundle*, std::less<>> none;
    for (auto _ : state) {
        auto result = apply_step(step, values, 1, {pixels, pixels}, nullptr, none, 1, job);
        benchmark::DoNotOptimize(result->colour.data());
    }
    state.SetItemsProcessed(state.iterations() * pixels * pixels);
}

void clouds_six_octaves(benchmark::State& state) {
    const double size = static_cast<double>(state.range(0)) / 8;
    made(state, "clouds", {{"size-x", size}, {"size-y", size}}, static_cast<int>(state.range(0)));
}
BENCHMARK(clouds_six_octaves)->Arg(side)->Arg(2 * side)->Arg(4 * side)->Unit(benchmark::kMillisecond);

void static_gaussian(benchmark::State& state) { made(state, "static", {}, static_cast<int>(state.range(0))); }
BENCHMARK(static_gaussian)->Arg(side)->Arg(2 * side)->Arg(4 * side)->Unit(benchmark::kMillisecond);

void oiio_gaussian_noise(benchmark::State& state) {
    OIIO::ImageBuf buffer(OIIO::ImageSpec(side, side, 1, OIIO::TypeDesc::FLOAT));
    for (auto _ : state) {
        OIIO::ImageBufAlgo::noise(buffer, "gaussian", 0.0f, 1.0f, false, 1, {}, 1);
        benchmark::DoNotOptimize(buffer.localpixels());
    }
    state.SetItemsProcessed(state.iterations() * side * side);
}
BENCHMARK(oiio_gaussian_noise)->Unit(benchmark::kMillisecond);

/// Cells of the step's own proportions: 72 of 1024 design pixels. Relaxation is left out, as libnoise has none.
void cells_of(benchmark::State& state, const char* show, double across_1024 = 72) {
    const int pixels = static_cast<int>(state.range(0));
    made(state, "cells",
         {{"size", across_1024 * pixels / 1024}, {"show", std::string(show)}, {"merging", 0.0}, {"relaxation", 0.0}}, pixels);
}
void cells_first_distance(benchmark::State& state) { cells_of(state, "centre"); }
BENCHMARK(cells_first_distance)->Arg(side)->Arg(2 * side)->Arg(4 * side)->Unit(benchmark::kMillisecond);
void cells_first_distance_small(benchmark::State& state) { cells_of(state, "centre", 16); }
BENCHMARK(cells_first_distance_small)->Arg(side)->Unit(benchmark::kMillisecond);
void cells_border(benchmark::State& state) { cells_of(state, "border"); }
BENCHMARK(cells_border)->Arg(side)->Unit(benchmark::kMillisecond);
void cells_default(benchmark::State& state) { made(state, "cells", {{"size", 144.0}}); }
BENCHMARK(cells_default)->Unit(benchmark::kMillisecond);

void libnoise_voronoi(benchmark::State& state) {
    noise::module::Voronoi voronoi;
    voronoi.EnableDistance();
    int y = 0;
    for (auto _ : state) {
        for (int x = 0; x < side; ++x) benchmark::DoNotOptimize(voronoi.GetValue(x * 32.0 / side, (y % side) * 32.0 / side, 0.5));
        ++y;
    }
    state.SetItemsProcessed(state.iterations() * side);
}
BENCHMARK(libnoise_voronoi);

void gradient_linear(benchmark::State& state) { made(state, "gradient", {}); }
BENCHMARK(gradient_linear)->Unit(benchmark::kMillisecond);
void stripes_bar(benchmark::State& state) { made(state, "stripes", {}); }
BENCHMARK(stripes_bar)->Unit(benchmark::kMillisecond);

void formula_twenty_operations(benchmark::State& state) {
    made(state, "formula",
         {{"expression",
           std::string("mix(wave(u * 8 + 0.3 * sin(v * 12)), abs(u - v) * 2 + sqrt(u * v + 0.1), smoothstep(0.2, 0.8, "
                       "tri(v * 5) ^ 1.5)) * 0.5 + max(u, v) * 0.25 - 0.1 * exp(0 - u * 3)")}},
         static_cast<int>(state.range(0)));
}
BENCHMARK(formula_twenty_operations)->Arg(side)->Arg(4 * side)->Unit(benchmark::kMillisecond);

void libnoise_perlin_six_octaves(benchmark::State& state) {
    noise::module::Perlin perlin;
    perlin.SetOctaveCount(6);
    int y = 0;
    for (auto _ : state) {
        for (int x = 0; x < side; ++x) benchmark::DoNotOptimize(perlin.GetValue(x * 8.0 / side, (y % side) * 8.0 / side, 0.5));
        ++y;
    }
    state.SetItemsProcessed(state.iterations() * side);
}
BENCHMARK(libnoise_perlin_six_octaves);

void gaussian(benchmark::State& state) {
    const Plane in = noise_plane();
    const Job job;
    const double radius = static_cast<double>(state.range(0));
    on_one_thread(state, [&] { benchmark::DoNotOptimize(gaussian_blur(in, radius, radius, job).data()); });
}
BENCHMARK(gaussian)->Arg(2)->Arg(32)->Arg(100)->Unit(benchmark::kMillisecond);

void opencv_gaussian(benchmark::State& state) {
    cv::setNumThreads(1);
    const Plane in = noise_plane();
    const cv::Mat source(side, side, CV_32F, const_cast<float*>(in.data()));
    cv::Mat out;
    const double radius = static_cast<double>(state.range(0));
    for (auto _ : state) {
        cv::GaussianBlur(source, out, cv::Size(), radius, radius, cv::BORDER_REFLECT);
        benchmark::DoNotOptimize(out.data);
    }
    state.SetItemsProcessed(state.iterations() * side * side);
}
BENCHMARK(opencv_gaussian)->Arg(2)->Arg(32)->Arg(100)->Unit(benchmark::kMillisecond);

void directional_400_px(benchmark::State& state) {
    const Plane in = noise_plane();
    const Job job;
    const double angle = static_cast<double>(state.range(0)) * 3.14159265358979 / 180;
    on_one_thread(state, [&] {
        benchmark::DoNotOptimize(line_average(in, 400 * std::cos(angle), -400 * std::sin(angle), Falloff::even, job).data());
    });
}
BENCHMARK(directional_400_px)->Arg(0)->Arg(90)->Arg(30)->Unit(benchmark::kMillisecond);

void oak_all_threads(benchmark::State& state) {
    const auto file = read_loom(std::string(KEEN_LOOM_SAMPLES) + "/carriage-oak.loom");
    if (!file) return state.SkipWithError(file.error().message.c_str());
    const Job job;
    const int size = static_cast<int>(state.range(0));
    for (auto _ : state) {
        const auto cloth = render_cloth(file->recipe, {size, size}, {}, job);
        if (!cloth) return state.SkipWithError(cloth.error().message.c_str());
    }
    state.SetItemsProcessed(state.iterations() * size * size);
}
BENCHMARK(oak_all_threads)->Arg(256)->Arg(1024)->Arg(2048)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace

int main(int argc, char** argv) {
    loom::keep_freed_memory();
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
