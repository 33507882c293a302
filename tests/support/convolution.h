// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Blurs by direct convolution in double, written the slow way.
#pragma once

#include <vector>

#include "core/image/plane.h"

namespace loom::test {

/// One-dimensional periodic Gaussian weights, summed over as many tiles as count.
std::vector<double> periodic_kernel(double sigma, int count);

/// Deviations in pixels.
Plane direct_gaussian(const Plane& in, double across, double down);

}  // namespace loom::test
