// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Makes a picture repeat: a band over the wrap edge is covered with the picture's own inside from about half a tile away,
// which is whole there, and blended in on both sides: by cross-fading, along the path where both differ least (Efros & Freeman
// 2001), or so that the histogram is kept (Heitz & Neyret 2018).
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/base/quick_math.h"
#include "core/catalogue/describe.h"
#include "core/image/transposed.h"

namespace loom {

namespace closeseams_step {
namespace {

enum class Method { fade, cut, histogram };

struct Settings {
    Method method = Method::cut;
    double width = 30;
    bool across = true, down = true;
};

Bundle transposed(const Bundle& in, const Job& job) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(share(transposed(*plane, job)));
    if (in.coverage) out.coverage = share(transposed(*in.coverage, job));
    for (const auto& [name, plane] : in.named) out.named[name] = share(transposed(*plane, job));
    return out;
}

/// Values to normal deviates of the same rank and back.
class Normalised {
public:
    explicit Normalised(const Plane& plane) {
        std::vector<float> sorted(plane.data(), plane.data() + plane.size().pixels());
        // What is no number has no place among numbers.
        std::transform(sorted.begin(), sorted.end(), sorted.begin(), finite);
        std::sort(sorted.begin(), sorted.end());
        for (int k = 0; k < ranks; ++k) {
            const double share = (k + 0.5) / ranks;
            values_.push_back(sorted[static_cast<std::size_t>(share * static_cast<double>(sorted.size()))]);
            deviates_.push_back(static_cast<float>(normal(share)));
        }
    }
    float to(float value) const { return read(values_, deviates_, value); }
    float back(float deviate) const { return read(deviates_, values_, deviate); }

private:
    static constexpr int ranks = 1024;
    /// Inverse of the normal distribution by halving; it is asked for once a rank.
    static double normal(double share) {
        double low = -6, high = 6;
        for (int k = 0; k < 50; ++k) {
            const double middle = (low + high) / 2;
            (0.5 * std::erfc(-middle / std::sqrt(2.0)) < share ? low : high) = middle;
        }
        return (low + high) / 2;
    }
    static float read(const std::vector<float>& from, const std::vector<float>& to, float value) {
        const auto above = std::upper_bound(from.begin(), from.end(), value);
        if (above == from.begin()) return to.front() + (value - from.front());
        if (above == from.end()) return to.back() + (value - from.back());
        const auto k = static_cast<std::size_t>(above - from.begin());
        const float width = from[k] - from[k - 1];
        return width > 0 ? to[k - 1] + (value - from[k - 1]) / width * (to[k] - to[k - 1]) : to[k];
    }
    std::vector<float> values_, deviates_;
};

/// One side of the band: columns that go over from the picture to the cover, counted from the inner end outwards.
struct Zone {
    int start, length, way;
    int column(int k, int width) const { return wrap(start + way * k, width); }
};

/// The column of the cheapest closed path down a zone, for every row; `cost` holds length entries a row.
std::vector<int> cheapest_path(const std::vector<float>& cost, int length, int rows) {
    auto at = [&](int row, int k) { return cost[static_cast<std::size_t>(wrap(row, rows) * length + k)]; };
    auto run = [&](int steps, int fixed) {
        std::vector<double> best(static_cast<std::size_t>(length)), next(best.size());
        std::vector<std::int8_t> from(static_cast<std::size_t>(steps) * static_cast<std::size_t>(length), 0);
        for (int k = 0; k < length; ++k)
            best[static_cast<std::size_t>(k)] = fixed >= 0 && k != fixed ? 1e30 : static_cast<double>(at(0, k));
        for (int row = 1; row < steps; ++row) {
            for (int k = 0; k < length; ++k) {
                int step = 0;
                double least = best[static_cast<std::size_t>(k)];
                for (int side : {-1, 1})
                    if (k + side >= 0 && k + side < length && best[static_cast<std::size_t>(k + side)] < least)
                        least = best[static_cast<std::size_t>(k + side)], step = side;
                next[static_cast<std::size_t>(k)] = least + static_cast<double>(at(row, k));
                from[static_cast<std::size_t>(row) * static_cast<std::size_t>(length) + static_cast<std::size_t>(k)] =
                    static_cast<std::int8_t>(step);
            }
            best.swap(next);
        }
        std::vector<int> path(static_cast<std::size_t>(steps));
        int k = fixed >= 0 ? fixed : static_cast<int>(std::min_element(best.begin(), best.end()) - best.begin());
        for (int row = steps - 1; row >= 0; --row) {
            path[static_cast<std::size_t>(row)] = k;
            k += from[static_cast<std::size_t>(row) * static_cast<std::size_t>(length) + static_cast<std::size_t>(k)];
        }
        return path;
    };
    // Twice round finds where a closed path is cheap; once more from there and back to it closes it.
    const std::vector<int> twice = run(2 * rows, -1);
    std::vector<int> path = run(rows + 1, twice[static_cast<std::size_t>(rows)]);
    path.pop_back();
    return path;
}

/// How far away the inside is taken from, as a share of the width: where it is calm at what becomes the edge, and most
/// like the picture where it goes over into it. Found on a small picture, so that it is the same at every size.
double best_shift(const Bundle& in, double half_share) {
    constexpr int side = 128, half_steps = 13;
    std::vector<Plane> small;
    for (const PlaneRef& plane : in.colour) small.push_back(resized(*plane, {side, side}));
    const int half = std::max(2, static_cast<int>(half_share * side)), inner = half / 5;
    double least = 1e30;
    int best = side / 2;
    for (int k = -half_steps; k <= half_steps; ++k) {
        const int shift = side / 2 + 2 * k;
        double edge = 0, zone = 0;
        for (const Plane& plane : small)
            for (int y = 0; y < side; ++y) {
                const double step =
                    static_cast<double>(plane.wrapped(shift, y)) - static_cast<double>(plane.wrapped(shift - 1, y));
                edge += std::abs(step) / side;
                for (int x = inner; x < half; ++x)
                    for (int at : {x, -x - 1}) {
                        const double off =
                            static_cast<double>(plane.wrapped(at + shift, y)) - static_cast<double>(plane.wrapped(at, y));
                        zone += std::abs(off) / (2.0 * side * (half - inner));
                    }
            }
        // Neighbours at the edge differ far less than places half a tile apart, and count as much.
        const double cost = 6 * edge + zone + 1e-3 * std::abs(k) / half_steps;
        if (cost < least) least = cost, best = shift;
    }
    return static_cast<double>(best) / side;
}

/// What the band is covered with may be calmer or livelier than what was there: its distance from the mean is scaled, most
/// where the cover counts fully, until the picture's deviation is what it was.
void keep_contrast(const Plane& before, const Plane& share_of_cover, Plane& after) {
    const std::size_t count = after.size().pixels();
    auto mean_of = [&](const Plane& plane) {
        double sum = 0;
        for (std::size_t i = 0; i < count; ++i) sum += static_cast<double>(plane.data()[i]);
        return sum / static_cast<double>(count);
    };
    const double mean = mean_of(after), mean_before = mean_of(before);
    // The squared deviation is a + 2 g b + g^2 c in the gain g that the cover gets.
    double a = 0, b = 0, c = 0, wanted = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const double off = static_cast<double>(after.data()[i]) - mean, t = static_cast<double>(share_of_cover.data()[i]),
                     off_before = static_cast<double>(before.data()[i]) - mean_before;
        a += off * off, b += t * off * off, c += t * t * off * off, wanted += off_before * off_before;
    }
    if (c <= 0) return;
    const double root = b * b - c * (a - wanted);
    const double gain = std::clamp(root > 0 ? (-b + std::sqrt(root)) / c : -0.25, -0.25, 0.25);
    for (std::size_t i = 0; i < count; ++i) {
        const auto factor = static_cast<float>(1 + gain * static_cast<double>(share_of_cover.data()[i]));
        after.data()[i] = static_cast<float>(mean) + (after.data()[i] - static_cast<float>(mean)) * factor;
    }
}

Bundle closed_across(const Bundle& in, const Settings& s, const Job& job) {
    const Size size = in.size();
    const int half = std::clamp(static_cast<int>(s.width / 100 * size.width / 2), 2, std::max(2, size.width / 4));
    const int inner = half / 5, length = std::max(1, half - inner);
    const Zone zones[2] = {{inner, length, 1}, {-inner - 1, length, -1}};
    // How much of the cover each pixel takes; all of it next to the wrap edge.
    Plane share_of_cover(size, 0.0f);
    for (int y = 0; y < size.height; ++y)
        for (int x = -inner; x < inner; ++x) share_of_cover.row(y)[wrap(x, size.width)] = 1;
    const int shift = static_cast<int>(std::lround(best_shift(in, s.width / 200) * size.width));
    auto cover = [&](const Plane& plane, int x, int y) { return plane.row(y)[wrap(x + shift, size.width)]; };
    for (const Zone& zone : zones) {
        std::vector<int> path(static_cast<std::size_t>(size.height), length / 2);
        if (s.method == Method::cut) {
            std::vector<float> cost(static_cast<std::size_t>(size.height) * static_cast<std::size_t>(length));
            for_rows(job, size.height, [&](int first, int last) {
                for (int y = first; y < last; ++y)
                    for (int k = 0; k < length; ++k) {
                        const int x = zone.column(k, size.width);
                        float sum = 1e-7f;
                        for (const PlaneRef& plane : in.colour) {
                            const float off = plane->row(y)[x] - cover(*plane, x, y);
                            sum += off * off;
                        }
                        cost[static_cast<std::size_t>(y) * static_cast<std::size_t>(length) + static_cast<std::size_t>(k)] = sum;
                    }
            });
            path = cheapest_path(cost, length, size.height);
        }
        for (int y = 0; y < size.height; ++y)
            for (int k = 0; k < length; ++k) {
                // Fading takes the whole zone, a cut three pixels.
                const double at =
                    s.method == Method::cut ? (k - path[static_cast<std::size_t>(y)]) / 3.0 + 0.5 : (k + 0.5) / length;
                const double t = std::clamp(at, 0.0, 1.0);
                share_of_cover.row(y)[zone.column(k, size.width)] = static_cast<float>(1 - t * t * (3 - 2 * t));
            }
    }
    auto mixed = [&](const PlaneRef& plane, bool keep_histogram, bool whole) {
        Plane out(size);
        const Plane nothing({1, 1}, 0.0f);
        const Normalised normalised(keep_histogram ? *plane : nothing);
        for_rows(job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; ++x) {
                    const float t = share_of_cover.row(y)[x], own = plane->row(y)[x];
                    float& to = out.row(y)[x];
                    if (t <= 0) {
                        to = own;
                        continue;
                    }
                    const float other = cover(*plane, x, y);
                    if (t >= 1 || whole)
                        to = t >= 0.5f ? other : own;
                    else if (keep_histogram)
                        to = normalised.back(((1 - t) * normalised.to(own) + t * normalised.to(other)) /
                                             std::sqrt((1 - t) * (1 - t) + t * t));
                    else
                        to = own + t * (other - own);
                }
        });
        if (keep_histogram) keep_contrast(*plane, share_of_cover, out);
        return share(std::move(out));
    };
    Bundle out;
    const bool keep = s.method == Method::histogram;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(mixed(plane, keep, false));
    if (in.coverage) out.coverage = mixed(in.coverage, false, false);
    for (const auto& [name, plane] : in.named)
        out.named[name] = mixed(plane, keep && !is_object_plane(name), is_object_plane(name));
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    Bundle result = *context.input;
    if (s.across) result = closed_across(result, s, *context.job);
    context.job->check();
    if (s.down) result = transposed(closed_across(transposed(result, *context.job), s, *context.job), *context.job);
    return result;
}

}  // namespace
}  // namespace closeseams_step

StepDescription describe_closeseams() {
    using namespace closeseams_step;
    StepDescription base;
    base.id = "closeseams", base.title = "Close seams", base.family = Family::finish;
    base.summary = "Makes any picture repeat, by covering its edges with its own inside.";
    base.words = "tile seamless repeat join edges border wrap";
    base.tiles = Tiling::depends, base.tiles_note = "it always repeats the ways that are closed";
    base.headline = {"method"};
    return Describe<Settings>(std::move(base))
        .choice("method", "Method", &Settings::method,
                {{"fade", "Cross-fade"}, {"cut", "Best cut"}, {"histogram", "Histogram-keeping blend"}},
                "How the cover goes over into the picture: softly, along the path where both differ least, or softly without "
                "losing contrast.")
        .number("width", "Width", &Settings::width, {2, 50, Unit::percent}, "How much of the tile the cover and its edges take.")
        .toggle("across", "Across", &Settings::across, "Closes the left and the right edge.")
        .toggle("down", "Down", &Settings::down, "Closes the upper and the lower edge.")
        .needs_whole()
        .scratch([](const Settings&, const Scales&, const PlaneCounts& planes) { return 3.3 * planes.in + 2; })
        .run(run);
}

}  // namespace loom
