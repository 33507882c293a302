// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Speeds beside other libraries in the same run. A "copy" is one memcpy of the same planes; everything runs on one
// thread unless its name says otherwise.
#include <benchmark/benchmark.h>
#include <libnoise/noise.h>

#include <cmath>
#include <cstring>
#include <opencv2/imgproc.hpp>

#include "core/image/gaussian.h"
#include "core/noise/clouds.h"
#include "core/recipe/container.h"
#include "core/render/render.h"
#include "core/steps/soften/line_average.h"

namespace {

using namespace loom;

constexpr int side = 2048;

Plane noise_plane() {
    CloudSettings settings;
    settings.across = settings.down = 64;
    const CloudField field(settings, {side, side});
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

void clouds_six_octaves(benchmark::State& state) {
    CloudSettings settings;
    settings.across = settings.down = 8;
    const CloudField field(settings, {side, side});
    std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
    int y = 0;
    for (auto _ : state) {
        field.row(y++ % side, row.data());
        benchmark::DoNotOptimize(row.data());
    }
    state.SetItemsProcessed(state.iterations() * side);
}
BENCHMARK(clouds_six_octaves);

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
