// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Treatments as the program runs them, on three planes and one thread, beside OpenCV's equals in the same run.
#include <benchmark/benchmark.h>

#include <opencv2/imgproc.hpp>

#include "core/render/render.h"

namespace {

using namespace loom;

constexpr int side = 2048;

const Bundle& picture() {
    static const Bundle bundle = [] {
        const Job job;
        const std::map<std::string, const Bundle*, std::less<>> none;
        Bundle all;
        for (std::uint32_t seed = 0; seed < 3; ++seed) {
            auto plane =
                apply_step(*find_step("clouds"), {{"size-x", 64.0}, {"size-y", 64.0}}, seed, {side, side}, nullptr, none, 0, job);
            all.colour.push_back(plane->colour[0]);
        }
        return all;
    }();
    return bundle;
}

void treated(benchmark::State& state, const char* kind, const Values& values) {
    const Job job;
    const Bundle& in = picture();
    const std::map<std::string, const Bundle*, std::less<>> none{{"strand", &in}};
    for (auto _ : state) {
        auto result = apply_step(*find_step(kind), values, 1, {side, side}, &in, none, 1, job);
        benchmark::DoNotOptimize(result->colour.data());
    }
    state.SetItemsProcessed(state.iterations() * side * side);
}

cv::Mat mat(int channel) {
    return cv::Mat(side, side, CV_32F, const_cast<float*>(picture().colour[static_cast<std::size_t>(channel)]->data()));
}

template <class Work>
void peer(benchmark::State& state, Work&& work) {
    cv::setNumThreads(1);
    cv::Mat out;
    for (auto _ : state)
        for (int c = 0; c < 3; ++c) {
            work(mat(c), out);
            benchmark::DoNotOptimize(out.data);
        }
    state.SetItemsProcessed(state.iterations() * side * side);
}

void copy_of_three(benchmark::State& state) {
    peer(state, [](const cv::Mat& in, cv::Mat& out) { in.copyTo(out); });
}
BENCHMARK(copy_of_three)->Unit(benchmark::kMillisecond);

void morph_8_px(benchmark::State& state) { treated(state, "morph", {{"radius", 8.0}}); }
BENCHMARK(morph_8_px)->Unit(benchmark::kMillisecond);
void opencv_dilate_8_px(benchmark::State& state) {
    const cv::Mat form = cv::getStructuringElement(cv::MORPH_ELLIPSE, {17, 17});
    peer(state, [&](const cv::Mat& in, cv::Mat& out) { cv::dilate(in, out, form); });
}
BENCHMARK(opencv_dilate_8_px)->Unit(benchmark::kMillisecond);

void median_2_px(benchmark::State& state) { treated(state, "median", {{"radius", 2.0}}); }
BENCHMARK(median_2_px)->Unit(benchmark::kMillisecond);
void opencv_median_2_px(benchmark::State& state) {
    peer(state, [](const cv::Mat& in, cv::Mat& out) { cv::medianBlur(in, out, 5); });
}
BENCHMARK(opencv_median_2_px)->Unit(benchmark::kMillisecond);

void median_4_px(benchmark::State& state) { treated(state, "median", {{"radius", 4.0}}); }
BENCHMARK(median_4_px)->Unit(benchmark::kMillisecond);
void median_24_px(benchmark::State& state) { treated(state, "median", {{"radius", 24.0}}); }
BENCHMARK(median_24_px)->Unit(benchmark::kMillisecond);
/// OpenCV takes medians of more than 5 x 5 of bytes only.
void opencv_median_24_px_of_bytes(benchmark::State& state) {
    cv::Mat bytes;
    mat(0).convertTo(bytes, CV_8U, 255);
    peer(state, [&](const cv::Mat&, cv::Mat& out) { cv::medianBlur(bytes, out, 49); });
}
BENCHMARK(opencv_median_24_px_of_bytes)->Unit(benchmark::kMillisecond);
void smooth_12_px(benchmark::State& state) { treated(state, "smooth", {{"radius", 12.0}}); }
BENCHMARK(smooth_12_px)->Unit(benchmark::kMillisecond);
void opencv_guided_12_px(benchmark::State& state) {
    // The same filter from OpenCV's box means.
    peer(state, [](const cv::Mat& in, cv::Mat& out) {
        const cv::Size box(25, 25);
        cv::Mat mean, squares, a, b;
        cv::boxFilter(in, mean, CV_32F, box);
        cv::boxFilter(in.mul(in), squares, CV_32F, box);
        const cv::Mat variance = squares - mean.mul(mean);
        cv::divide(variance, variance + 0.01, a);
        b = mean - a.mul(mean);
        cv::boxFilter(a, a, CV_32F, box);
        cv::boxFilter(b, b, CV_32F, box);
        out = a.mul(in) + b;
    });
}
BENCHMARK(opencv_guided_12_px)->Unit(benchmark::kMillisecond);

void displace_by_picture_straight(benchmark::State& state) {
    treated(state, "displace",
            {{"source", std::string("strand")}, {"from", std::string("normal")}, {"reading", std::string("straight")}});
}
BENCHMARK(displace_by_picture_straight)->Unit(benchmark::kMillisecond);
void displace_by_slope(benchmark::State& state) { treated(state, "displace", {}); }
BENCHMARK(displace_by_slope)->Unit(benchmark::kMillisecond);
void opencv_remap_bilinear(benchmark::State& state) {
    cv::Mat x(side, side, CV_32F), y(side, side, CV_32F);
    for (int j = 0; j < side; ++j)
        for (int i = 0; i < side; ++i) {
            x.at<float>(j, i) = static_cast<float>(i) + 24 * mat(0).at<float>(j, i) - 12;
            y.at<float>(j, i) = static_cast<float>(j) + 24 * mat(1).at<float>(j, i) - 12;
        }
    peer(state, [&](const cv::Mat& in, cv::Mat& out) { cv::remap(in, out, x, y, cv::INTER_LINEAR, cv::BORDER_WRAP); });
}
BENCHMARK(opencv_remap_bilinear)->Unit(benchmark::kMillisecond);

void spin_20_degrees(benchmark::State& state) { treated(state, "spin", {}); }
BENCHMARK(spin_20_degrees)->Unit(benchmark::kMillisecond);
void zoom_20_percent(benchmark::State& state) { treated(state, "zoom", {}); }
BENCHMARK(zoom_20_percent)->Unit(benchmark::kMillisecond);
void relief_plain(benchmark::State& state) { treated(state, "relief", {}); }
BENCHMARK(relief_plain)->Unit(benchmark::kMillisecond);
void flow_40_px(benchmark::State& state) { treated(state, "flow", {}); }
BENCHMARK(flow_40_px)->Unit(benchmark::kMillisecond);
void daub_8_px(benchmark::State& state) { treated(state, "daub", {}); }
BENCHMARK(daub_8_px)->Unit(benchmark::kMillisecond);
void closeseams_cut(benchmark::State& state) { treated(state, "closeseams", {}); }
BENCHMARK(closeseams_cut)->Unit(benchmark::kMillisecond);

}  // namespace
