// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "tests/support/convolution.h"

#include <cmath>

namespace loom::test {

std::vector<double> periodic_kernel(double sigma, int count) {
    std::vector<double> weights(static_cast<std::size_t>(count), 0.0);
    const int reach = static_cast<int>(std::ceil(8 * sigma)) + count;
    double sum = 0;
    for (int k = -reach; k <= reach; ++k) {
        const double w = std::exp(-0.5 * k * k / (sigma * sigma));
        weights[static_cast<std::size_t>(wrap(k, count))] += w;
        sum += w;
    }
    for (double& w : weights) w /= sum;
    return weights;
}

Plane direct_gaussian(const Plane& in, double across, double down) {
    const auto wx = periodic_kernel(across, in.width()), wy = periodic_kernel(down, in.height());
    std::vector<double> narrow(in.size().pixels());
    for (int y = 0; y < in.height(); ++y)
        for (int x = 0; x < in.width(); ++x) {
            double sum = 0;
            for (int k = 0; k < in.width(); ++k) sum += wx[static_cast<std::size_t>(k)] * in.wrapped(x - k, y);
            narrow[static_cast<std::size_t>(y * in.width() + x)] = sum;
        }
    Plane out(in.size());
    for (int y = 0; y < in.height(); ++y)
        for (int x = 0; x < in.width(); ++x) {
            double sum = 0;
            for (int k = 0; k < in.height(); ++k)
                sum +=
                    wy[static_cast<std::size_t>(k)] * narrow[static_cast<std::size_t>(wrap(y - k, in.height()) * in.width() + x)];
            out.row(y)[x] = static_cast<float>(sum);
        }
    return out;
}

}  // namespace loom::test
