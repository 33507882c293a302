// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Treatments against OpenCV's equals.
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/gaussian.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{96, 72};

cv::Mat mat(const Plane& plane) {
    return cv::Mat(plane.height(), plane.width(), CV_32F, const_cast<float*>(plane.data())).clone();
}

Plane plane_of(const cv::Mat& mat) {
    Plane plane({mat.cols, mat.rows});
    for (int y = 0; y < mat.rows; ++y) std::copy_n(mat.ptr<float>(y), mat.cols, plane.row(y));
    return plane;
}

/// `filter` on the picture with `margin` pixels of its neighbours round about, cut back: what OpenCV does without wrapping.
template <class Filter>
Plane wrapped_by(const Plane& in, int margin, Filter&& filter) {
    cv::Mat wide, out;
    cv::copyMakeBorder(mat(in), wide, margin, margin, margin, margin, cv::BORDER_WRAP);
    filter(wide, out);
    return plane_of(out(cv::Rect(margin, margin, in.width(), in.height())).clone());
}

Plane soft_picture(std::uint32_t seed) {
    return applied("clouds", {{"size-x", 24.0}, {"size-y", 24.0}}, nullptr, size, seed).channel(0).clone();
}

}  // namespace

TEST_CASE("the Gaussian is OpenCV's within half an 8-bit step", "[opencv][gaussian]") {
    const Plane in = random_plane(size, 3);
    for (double sigma : {0.3, 0.7, 1.5, 2.9, 3.1, 8.0, 20.0}) {
        INFO(sigma);
        const int reach = static_cast<int>(std::ceil(5 * sigma)) + 1;
        const Plane other = wrapped_by(in, reach, [&](const cv::Mat& wide, cv::Mat& out) {
            cv::GaussianBlur(wide, out, {2 * reach + 1, 2 * reach + 1}, sigma, sigma);
        });
        CHECK(greatest_difference(gaussian_blur(in, sigma, sigma, job), other) < 0.5 / 255);
    }
}

TEST_CASE("a displacement is OpenCV's remap", "[opencv][displace]") {
    const Plane in = soft_picture(1);
    Bundle map = random_bundle(size, 7);
    cv::Mat x(size.height, size.width, CV_32F), y = x.clone();
    for (int j = 0; j < size.height; ++j)
        for (int i = 0; i < size.width; ++i) {
            x.at<float>(j, i) = static_cast<float>(i) + 40 * (2 * map.channel(0).at(i, j) - 1);
            y.at<float>(j, i) = static_cast<float>(j) + 30 * (1 - 2 * map.channel(1).at(i, j));
        }
    const Bundle grey = Bundle::of(in.clone());
    for (const auto& [reading, method] : {std::pair{"straight", cv::INTER_LINEAR}, std::pair{"cubic", cv::INTER_CUBIC}}) {
        cv::Mat out;
        cv::remap(mat(in), out, x, y, method, cv::BORDER_WRAP);
        const Bundle ours = applied("displace",
                                    {{"source", std::string("strand")},
                                     {"strand", std::string("map")},
                                     {"from", std::string("normal")},
                                     {"x", 40.0},
                                     {"y", 30.0},
                                     {"reading", std::string(reading)}},
                                    &grey, size, 0, 0, &map);
        INFO(reading);
        // OpenCV rounds places to a 32nd of a pixel, and its cubic bends a little more (a = -3/4).
        CHECK(mean_difference(ours.channel(0), plane_of(out)) < 0.002);
        CHECK(greatest_difference(ours.channel(0), plane_of(out)) < 0.02);
    }
}

TEST_CASE("edges are OpenCV's operators", "[opencv][edges]") {
    const Plane in = soft_picture(2);
    const Bundle grey = Bundle::of(in.clone());
    auto slope = [&](int aperture, double scale) {
        const Plane dx =
            wrapped_by(in, 3, [&](const cv::Mat& wide, cv::Mat& out) { cv::Sobel(wide, out, CV_32F, 1, 0, aperture); });
        const Plane dy =
            wrapped_by(in, 3, [&](const cv::Mat& wide, cv::Mat& out) { cv::Sobel(wide, out, CV_32F, 0, 1, aperture); });
        Plane out(size);
        for (std::size_t i = 0; i < size.pixels(); ++i)
            out.data()[i] = static_cast<float>(std::min(1.0, scale * std::hypot(dx.data()[i], dy.data()[i])));
        return out;
    };
    auto ours = [&](const char* kind) {
        return applied(
                   "edges",
                   {{"operator", std::string(kind)}, {"measure", std::string("fixed")}, {"strength", 100.0}, {"thickness", 0.5}},
                   &grey, size)
            .channel(0)
            .clone();
    };
    CHECK(greatest_difference(ours("sobel"), slope(3, 0.25)) < 1e-4);
    CHECK(greatest_difference(ours("scharr"), slope(cv::FILTER_SCHARR, 1.0 / 16)) < 1e-4);
    Plane laplacian = wrapped_by(in, 3, [](const cv::Mat& wide, cv::Mat& out) { cv::Laplacian(wide, out, CV_32F, 1); });
    for (std::size_t i = 0; i < size.pixels(); ++i) laplacian.data()[i] = std::min(1.0f, std::abs(laplacian.data()[i]));
    CHECK(greatest_difference(ours("laplacian"), laplacian) < 1e-4);
}

TEST_CASE("growing and shrinking, medians and guided smoothing are OpenCV's", "[opencv]") {
    const Plane in = random_plane(size, 9);
    const Bundle grey = Bundle::of(in.clone());
    auto ours = [&](const char* kind, const Values& values) { return applied(kind, values, &grey, size).channel(0).clone(); };
    for (int radius : {1, 3, 8}) {
        const cv::Mat square = cv::getStructuringElement(cv::MORPH_RECT, {2 * radius + 1, 2 * radius + 1});
        const Values values{{"radius", double(radius)}, {"form", std::string("square")}};
        const Plane grown = wrapped_by(in, 2 * radius, [&](const cv::Mat& wide, cv::Mat& out) { cv::dilate(wide, out, square); });
        CHECK(greatest_difference(ours("morph", values), grown) == 0);
        Values opened = values;
        opened["kind"] = std::string("open");
        const Plane open = wrapped_by(
            in, 4 * radius, [&](const cv::Mat& wide, cv::Mat& out) { cv::morphologyEx(wide, out, cv::MORPH_OPEN, square); });
        CHECK(greatest_difference(ours("morph", opened), open) == 0);
    }
    for (int radius : {1, 2})
        CHECK(greatest_difference(ours("median", {{"radius", double(radius)}}),
                                  wrapped_by(in, 4, [&](const cv::Mat& wide, cv::Mat& out) {
                                      cv::medianBlur(wide, out, 2 * radius + 1);
                                  })) < 1e-6);
    const Plane guided = wrapped_by(in, 24, [](const cv::Mat& wide, cv::Mat& out) {
        const cv::Size box(13, 13);
        cv::Mat mean, squares, a, b;
        cv::boxFilter(wide, mean, CV_32F, box);
        cv::boxFilter(wide.mul(wide), squares, CV_32F, box);
        const cv::Mat variance = squares - mean.mul(mean);
        cv::divide(variance, variance + 0.04, a);
        b = mean - a.mul(mean);
        cv::boxFilter(a, a, CV_32F, box);
        cv::boxFilter(b, b, CV_32F, box);
        out = a.mul(wide) + b;
    });
    CHECK(greatest_difference(ours("smooth", {{"radius", 6.0}, {"edge", 0.2}}), guided) < 1e-4);
}
