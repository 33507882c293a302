// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Places and directions in space, for the shapes that a material is shown on.
#pragma once

#include <array>
#include <cmath>

namespace loom {

using Vector3 = std::array<double, 3>;

inline Vector3 operator+(const Vector3& a, const Vector3& b) { return {a[0] + b[0], a[1] + b[1], a[2] + b[2]}; }
inline Vector3 operator-(const Vector3& a, const Vector3& b) { return {a[0] - b[0], a[1] - b[1], a[2] - b[2]}; }
inline Vector3 operator*(const Vector3& a, double s) { return {a[0] * s, a[1] * s, a[2] * s}; }
inline double dot(const Vector3& a, const Vector3& b) { return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]; }
inline Vector3 cross(const Vector3& a, const Vector3& b) {
    return {a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]};
}
/// Of length 1; towards who looks where there is none.
inline Vector3 unit(const Vector3& a) {
    const double length = std::sqrt(dot(a, a));
    return length > 0 ? a * (1 / length) : Vector3{0, 0, 1};
}

}  // namespace loom
