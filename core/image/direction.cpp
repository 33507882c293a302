// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/direction.h"

#include <cmath>

#include "core/image/gaussian.h"

namespace loom {

namespace {

/// The tensor's main direction is that of the steepest change: twice its angle has the cosine xx - yy and the sine 2 xy. `power`,
/// xx + yy, may be null.
DirectionField steepest(const Plane& tone, const Plane* cover, double soft, Plane* power, const Job& job) {
    const Size size = tone.size();
    DirectionField field{Plane(size), Plane(size)};
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const int up = wrap(y - 1, size.height), down = wrap(y + 1, size.height);
            const float *here = tone.row(y), *above = tone.row(up), *below = tone.row(down);
            float *difference = field.cosine.row(y), *product = field.sine.row(y);
            for (int x = 0; x < size.width; ++x) {
                const int left = x == 0 ? size.width - 1 : x - 1, right = x + 1 == size.width ? 0 : x + 1;
                float gx = here[right] - here[left], gy = below[x] - above[x];
                if (cover &&
                    !(cover->row(y)[left] > 0 && cover->row(y)[right] > 0 && cover->row(up)[x] > 0 && cover->row(down)[x] > 0))
                    gx = gy = 0;
                difference[x] = gx * gx - gy * gy, product[x] = 2 * gx * gy;
                if (power) power->row(y)[x] = gx * gx + gy * gy;
            }
        }
    });
    field.cosine = gaussian_blur(field.cosine, soft, soft, job), field.sine = gaussian_blur(field.sine, soft, soft, job);
    if (power) *power = gaussian_blur(*power, soft, soft, job);
    return field;
}

}  // namespace

DirectionField directions_of(const Plane& tone, double soft, const Job& job, double turn) {
    DirectionField field = steepest(tone, nullptr, soft, nullptr, job);
    const Size size = tone.size();
    // Turned by a quarter the lines run across the change; twice that is half a turn.
    const double more = 2 * turn * 3.14159265358979323846 / 180;
    const auto c = static_cast<float>(-std::cos(more)), s = static_cast<float>(std::sin(more));
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            float *cosine = field.cosine.row(y), *sine = field.sine.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float turned = c * cosine[x] - s * sine[x];
                sine[x] = c * sine[x] + s * cosine[x], cosine[x] = turned;
            }
        }
    });
    return field;
}

DirectionField directions_of(const Plane& tone, const Plane* cover, double soft, Plane& power, const Job& job) {
    power = Plane(tone.size());
    DirectionField field = steepest(tone, cover, soft, &power, job);
    for (Plane* plane : {&field.cosine, &field.sine})
        for_values(job, *plane, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) plane->data()[i] = -plane->data()[i];
        });
    return field;
}

}  // namespace loom
