// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/direction.h"

#include <cmath>

#include "core/image/gaussian.h"

namespace loom {

DirectionField directions_of(const Plane& tone, double soft, const Job& job, double turn) {
    const Size size = tone.size();
    // The tensor's main direction is that of the steepest change: twice its angle has the cosine xx - yy and the sine 2 xy.
    DirectionField field{Plane(size), Plane(size)};
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float *here = tone.row(y), *above = tone.row(wrap(y - 1, size.height)),
                        *below = tone.row(wrap(y + 1, size.height));
            float *difference = field.cosine.row(y), *product = field.sine.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float gx = here[x + 1 == size.width ? 0 : x + 1] - here[x == 0 ? size.width - 1 : x - 1],
                            gy = below[x] - above[x];
                difference[x] = gx * gx - gy * gy, product[x] = 2 * gx * gy;
            }
        }
    });
    field.cosine = gaussian_blur(field.cosine, soft, soft, job), field.sine = gaussian_blur(field.sine, soft, soft, job);
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

}  // namespace loom
