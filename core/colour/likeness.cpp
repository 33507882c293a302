// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/colour/likeness.h"

#include <algorithm>
#include <cmath>

#include "core/base/quick_math.h"

namespace loom {

namespace {

struct Sums {
    Tally lightness{0, 1, ColourSpread::bins};
    double weight = 0, a = 0, b = 0, aa = 0, ab = 0, bb = 0;
};

/// A symmetric matrix of two rows.
struct Symmetric {
    double xx = 1, xy = 0, yy = 1;
    double determinant() const { return xx * yy - xy * xy; }
    Symmetric root() const {
        const double s = std::sqrt(std::max(0.0, determinant())), t = std::sqrt(xx + yy + 2 * s);
        return {(xx + s) / t, xy / t, (yy + s) / t};
    }
    Symmetric inverse() const {
        const double d = determinant();
        return {yy / d, -xy / d, xx / d};
    }
    /// this * other * this, which is symmetric again.
    Symmetric around(const Symmetric& other) const {
        const double px = xx * other.xx + xy * other.xy, py = xx * other.xy + xy * other.yy;
        const double qx = xy * other.xx + yy * other.xy, qy = xy * other.xy + yy * other.yy;
        return {px * xx + py * xy, px * xy + py * yy, qx * xy + qy * yy};
    }
};

/// So much spread, as of grains of a two-hundred-fiftieth, keeps a grey picture's rounding from being taken for colour.
constexpr double least_spread = 1e-6;

Symmetric spread(const ColourSpread& s) { return {s.aa + least_spread, s.ab, s.bb + least_spread}; }

}  // namespace

ColourSpread spread_of(const Bundle& picture, const Job& job) {
    const Size size = picture.size();
    constexpr int part_rows = 64;
    const int parts = (size.height + part_rows - 1) / part_rows;
    std::vector<Sums> all(static_cast<std::size_t>(parts));
    for_ranges(job, parts, 1, [&](int from, int to) {
        for (int part = from; part < to; ++part) {
            Sums& sums = all[static_cast<std::size_t>(part)];
            for (int y = part * part_rows; y < std::min(size.height, (part + 1) * part_rows); ++y)
                for (int x = 0; x < size.width; ++x) {
                    const float cover = picture.coverage ? picture.coverage->row(y)[x] : 1.0f;
                    if (!(cover > 0)) continue;
                    const auto channel = [&](int c) { return picture.channel(c).row(y)[x] / cover; };
                    const Lab lab = to_oklab({channel(0), channel(1), channel(2)});
                    const double w = static_cast<double>(cover), a = static_cast<double>(lab.a), b = static_cast<double>(lab.b);
                    sums.lightness.add(static_cast<double>(lab.lightness), w);
                    sums.weight += w, sums.a += w * a, sums.b += w * b;
                    sums.aa += w * a * a, sums.ab += w * a * b, sums.bb += w * b * b;
                }
        }
    });
    Sums whole;
    for (const Sums& sums : all) {
        whole.lightness.add(sums.lightness);
        whole.weight += sums.weight, whole.a += sums.a, whole.b += sums.b;
        whole.aa += sums.aa, whole.ab += sums.ab, whole.bb += sums.bb;
    }
    ColourSpread result;
    if (!(whole.weight > 0)) return result;
    result.nothing = false, result.lightness = whole.lightness;
    result.mean_a = whole.a / whole.weight, result.mean_b = whole.b / whole.weight;
    result.aa = std::max(0.0, whole.aa / whole.weight - result.mean_a * result.mean_a);
    result.bb = std::max(0.0, whole.bb / whole.weight - result.mean_b * result.mean_b);
    result.ab = whole.ab / whole.weight - result.mean_a * result.mean_b;
    return result;
}

SpreadMap::SpreadMap(const ColourSpread& from, const ColourSpread& to)
    : from_a_(static_cast<float>(from.mean_a)),
      from_b_(static_cast<float>(from.mean_b)),
      to_a_(static_cast<float>(to.mean_a)),
      to_b_(static_cast<float>(to.mean_b)) {
    // What as much lies below of as of the tone that it is to become.
    const std::vector<double> own = from.lightness.shares_below(), theirs = to.lightness.shares_below();
    for (int k = 0; k < ColourSpread::bins; ++k) {
        const double share = own.empty() ? 0 : own[static_cast<std::size_t>(k)];
        const auto above = std::lower_bound(theirs.begin(), theirs.end(), share);
        double bin = static_cast<double>(above - theirs.begin());
        if (above != theirs.begin() && above != theirs.end()) {
            const double before = *std::prev(above);
            if (*above > before) bin -= (*above - share) / (*above - before);
        }
        lightness_.push_back(static_cast<float>(to.lightness.tone_of_bin(std::min(bin, ColourSpread::bins - 1.0))));
    }
    lightness_.push_back(lightness_.back());
    const Symmetric root = spread(from).root(), back = root.inverse();
    const Symmetric map = back.around(root.around(spread(to)).root());
    aa_ = static_cast<float>(map.xx), ab_ = static_cast<float>(map.xy), bb_ = static_cast<float>(map.yy);
}

Lab SpreadMap::moved(const Lab& lab, float tone, float colour) const {
    const float scaled = within(lab.lightness, 0.0f, 1.0f) * (ColourSpread::bins - 1);
    const auto index = static_cast<std::size_t>(scaled);
    const float lit = lightness_[index] + (scaled - static_cast<float>(index)) * (lightness_[index + 1] - lightness_[index]);
    const float a = lab.a - from_a_, b = lab.b - from_b_;
    return {lab.lightness + tone * (lit - lab.lightness), lab.a + colour * (to_a_ + aa_ * a + ab_ * b - lab.a),
            lab.b + colour * (to_b_ + ab_ * a + bb_ * b - lab.b)};
}

}  // namespace loom
