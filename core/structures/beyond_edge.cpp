// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/beyond_edge.h"

#include <algorithm>

namespace loom {

namespace {

/// Pixels around a picture that hold its edge, as many as reading between pixels looks at.
constexpr int margin = 2;

/// A plane with its edges held for `by` pixels on all sides, or without so many.
PlaneRef resized_by(const Plane& plane, int by) {
    Plane out(Size{plane.width() + 2 * by, plane.height() + 2 * by});
    for (int y = 0; y < out.height(); ++y) {
        const float* row = plane.row(std::clamp(y - by, 0, plane.height() - 1));
        for (int x = 0; x < out.width(); ++x) out.row(y)[x] = row[std::clamp(x - by, 0, plane.width() - 1)];
    }
    return share(std::move(out));
}

Bundle resized_by(const Bundle& in, int by) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(resized_by(*plane, by));
    if (in.coverage) out.coverage = resized_by(*in.coverage, by);
    for (const auto& [name, plane] : in.named) out.named[name] = resized_by(*plane, by);
    return out;
}

/// How much of a pixel read at a place lies on the picture.
float on_picture(float x, float y, Size size) {
    auto along = [](float at, int count) {
        return std::clamp(at + 1, 0.0f, 1.0f) * std::clamp(static_cast<float>(count) - at, 0.0f, 1.0f);
    };
    return along(x, size.width) * along(y, size.height);
}

}  // namespace

Bundle unbent(Edge edge, const Bundle& in, Rows rows) {
    Bundle out = part_of(in, rows);
    if (edge == Edge::clear && !out.coverage) out.coverage = share(Plane(in.size(), rows, 1.0f));
    return out;
}

Bundle resampled_beyond(Edge edge, const Bundle& in, Rows rows, const PlacesOfRow& places, const Job& job, PixelReading reading) {
    if (edge == Edge::wrap) return resampled(in, rows, places, job, reading);
    const Size size = in.size();

    Plane on(size);
    const auto right = static_cast<float>(size.width - 1), bottom = static_cast<float>(size.height - 1);
    const Bundle bent = resampled(
        resized_by(in, margin), Rows{0, size.height + 2 * margin},
        [&](int y, float* px, float* py) {
            // The held rows and columns around the picture are made as well, and cut off below.
            const int own = std::clamp(y - margin, 0, size.height - 1);
            places(own, px + margin, py + margin);
            for (int x = 0; x < size.width; ++x) {
                float &to_x = px[x + margin], &to_y = py[x + margin];
                if (own == y - margin) on.row(own)[x] = on_picture(to_x, to_y, size);
                to_x = std::clamp(to_x, 0.0f, right) + margin, to_y = std::clamp(to_y, 0.0f, bottom) + margin;
            }
            for (int x = 0; x < margin; ++x) {
                px[x] = px[margin], py[x] = py[margin];
                px[x + margin + size.width] = px[margin + size.width - 1],
                                py[x + margin + size.width] = py[margin + size.width - 1];
            }
        },
        job, reading);
    Bundle out = resized_by(bent, -margin);
    if (edge == Edge::hold) return out;
    const PlaneRef mask = share(std::move(on));
    auto times = [&](const PlaneRef& plane) {
        Plane cut = plane->clone();
        for (std::size_t k = 0; k < size.pixels(); ++k) cut.data()[k] *= mask->data()[k];
        return share(std::move(cut));
    };
    for (PlaneRef& plane : out.colour) plane = times(plane);
    out.coverage = out.coverage ? times(out.coverage) : mask;
    return out;
}

}  // namespace loom
