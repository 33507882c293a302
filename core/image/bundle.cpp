// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/bundle.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace loom {

std::size_t Bundle::bytes() const {
    std::set<const Plane*> seen;
    std::size_t total = 0;
    auto count = [&](const PlaneRef& plane) {
        if (plane && seen.insert(plane.get()).second) total += plane->bytes();
    };
    for (const auto& plane : colour) count(plane);
    count(coverage);
    for (const auto& [name, plane] : named) count(plane);
    return total;
}

Bundle Bundle::of(Plane grey) {
    Bundle bundle;
    bundle.colour = {share(std::move(grey))};
    return bundle;
}

Bundle Bundle::of(Plane red, Plane green, Plane blue) {
    Bundle bundle;
    bundle.colour = {share(std::move(red)), share(std::move(green)), share(std::move(blue))};
    return bundle;
}

Bundle Bundle::nothing(Size size) { return nothing(size, {0, size.height}); }

Bundle Bundle::nothing(Size size, Rows rows) {
    Bundle bundle = of(Plane(size, rows, 0.0f));
    bundle.coverage = bundle.colour.front();
    return bundle;
}

PlaneRef part_of(const PlaneRef& plane, Rows rows) { return !plane || plane->rows() == rows ? plane : plane->part(rows); }

NamedPlanes part_of(const NamedPlanes& planes, Rows rows) {
    NamedPlanes some;
    for (const auto& [name, plane] : planes) some[name] = part_of(plane, rows);
    return some;
}

Bundle part_of(const Bundle& bundle, Rows rows) {
    Bundle some;
    // Planes that are one stay one.
    std::map<const Plane*, PlaneRef> done;
    auto part = [&](const PlaneRef& plane) {
        PlaneRef& result = done[plane.get()];
        if (!result) result = part_of(plane, rows);
        return result;
    };
    for (const PlaneRef& plane : bundle.colour) some.colour.push_back(part(plane));
    some.coverage = part(bundle.coverage);
    for (const auto& [name, plane] : bundle.named) some.named[name] = part(plane);
    return some;
}

namespace {

constexpr float luma_red = 0.3f, luma_green = 0.59f, luma_blue = 0.11f;

Plane luma_plane(const Bundle& bundle, const Job& job) {
    Plane luma = bundle.channel(0).alike();
    const float* red = bundle.channel(0).data();
    const float* green = bundle.channel(1).data();
    const float* blue = bundle.channel(2).data();
    float* out = luma.data();
    for_values(job, luma, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) out[i] = luma_red * red[i] + luma_green * green[i] + luma_blue * blue[i];
    });
    return luma;
}

}  // namespace

PlaneRef covered_tone_of(const Bundle& bundle, const Job& job) {
    return bundle.grey() ? bundle.colour.front() : share(luma_plane(bundle, job));
}

PlaneRef tone_of(const Bundle& bundle, const Job& job) {
    if (!bundle.coverage) return covered_tone_of(bundle, job);
    const PlaneRef covered = covered_tone_of(bundle, job);
    Plane tone = covered->alike();
    const float *from = covered->data(), *cover = bundle.coverage->data();
    float* out = tone.data();
    for_values(job, tone, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) out[i] = cover[i] > 0.0f ? from[i] / cover[i] : 0.0f;
    });
    return share(std::move(tone));
}

PlaneRef coverage_of(const Bundle& bundle) {
    return bundle.coverage ? bundle.coverage : share(Plane(bundle.size(), bundle.rows(), 1.0f));
}

namespace {

struct Tap {
    int first = 0;
    std::vector<float> weights;
};

/// For each of `to` places, which of `from` places count how much.
std::vector<Tap> taps(int from, int to) {
    std::vector<Tap> result(static_cast<std::size_t>(to));
    const double ratio = static_cast<double>(from) / to;
    for (int i = 0; i < to; ++i) {
        Tap& tap = result[static_cast<std::size_t>(i)];
        if (ratio <= 1.0) {
            const double centre = (i + 0.5) * ratio - 0.5;
            tap.first = static_cast<int>(std::floor(centre));
            const float share_of_next = static_cast<float>(centre - tap.first);
            tap.weights = {1.0f - share_of_next, share_of_next};
            continue;
        }
        const double begin = i * ratio, end = (i + 1) * ratio;
        tap.first = static_cast<int>(std::floor(begin));
        for (int k = tap.first; k < end; ++k) {
            const double overlap = std::min<double>(k + 1, end) - std::max<double>(k, begin);
            if (overlap > 1e-9) tap.weights.push_back(static_cast<float>(overlap / ratio));
        }
    }
    return result;
}

}  // namespace

Plane resized(const Plane& plane, Size size, const Job& job) {
    const auto across = taps(plane.width(), size.width);
    const auto down = taps(plane.height(), size.height);
    Plane narrow(Size{size.width, plane.height()});
    for_rows(job, narrow, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* in = plane.row(y);
            float* out = narrow.row(y);
            for (int x = 0; x < size.width; ++x) {
                const Tap& tap = across[static_cast<std::size_t>(x)];
                float sum = 0;
                for (std::size_t k = 0; k < tap.weights.size(); ++k)
                    sum += tap.weights[k] * in[wrap(tap.first + static_cast<int>(k), plane.width())];
                out[x] = sum;
            }
        }
    });
    Plane result(size);
    for_rows(job, result, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const Tap& tap = down[static_cast<std::size_t>(y)];
            float* out = result.row(y);
            std::fill_n(out, size.width, 0.0f);
            for (std::size_t k = 0; k < tap.weights.size(); ++k) {
                const float* in = narrow.row(wrap(tap.first + static_cast<int>(k), plane.height()));
                for (int x = 0; x < size.width; ++x) out[x] += tap.weights[k] * in[x];
            }
        }
    });
    return result;
}

namespace {

Plane nearest_values(const Plane& plane, Size size, const Job& job) {
    Plane out(size);
    for_rows(job, out, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* from = plane.row(static_cast<int>((2LL * y + 1) * plane.height() / (2LL * size.height)));
            for (int x = 0; x < size.width; ++x)
                out.row(y)[x] = from[static_cast<int>((2LL * x + 1) * plane.width() / (2LL * size.width))];
        }
    });
    return out;
}

}  // namespace

Plane nearest(const Plane& plane, Size size) { return nearest_values(plane, size, {}); }

Bundle resized(const Bundle& bundle, Size size, const Job& job) {
    Bundle result;
    for (const auto& plane : bundle.colour) result.colour.push_back(share(resized(*plane, size, job)));
    if (bundle.coverage) result.coverage = share(resized(*bundle.coverage, size, job));
    for (const auto& [name, plane] : bundle.named)
        result.named[name] = share(is_object_plane(name) ? nearest_values(*plane, size, job) : resized(*plane, size, job));
    return result;
}

}  // namespace loom
