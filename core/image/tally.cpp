// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/tally.h"

#include <algorithm>
#include <limits>

#include "core/base/quick_math.h"

namespace loom {

namespace {

constexpr int part_rows = 64;

/// body(part, first value, last value) for parts of so many rows each, which are joined in order afterwards.
template <class Body>
int for_parts(const Plane& plane, const Job& job, Body&& body) {
    const int parts = (plane.rows().count + part_rows - 1) / part_rows;
    const auto width = static_cast<std::size_t>(plane.width());
    for_ranges(job, parts, 1, [&](int from, int to) {
        for (int part = from; part < to; ++part) {
            const auto first = static_cast<std::size_t>(part) * part_rows * width;
            body(static_cast<std::size_t>(part), first, std::min(plane.count(), first + part_rows * width));
        }
    });
    return parts;
}

std::size_t parts_of(const Plane& plane) { return static_cast<std::size_t>((plane.rows().count + part_rows - 1) / part_rows); }

}  // namespace

Tally::Tally(double low, double high, int bins) : low_(low), high_(high), counts_(static_cast<std::size_t>(bins)) {}

std::size_t Tally::bin(double tone) const {
    const double place = within((tone - low_) / (high_ - low_), 0.0, 1.0);
    return static_cast<std::size_t>(place * static_cast<double>(counts_.size() - 1) + 0.5);
}

Tally Tally::of(const Plane& tone, const PlaneRef& coverage, double low, double high, int bins, const Job& job) {
    std::vector<Tally> all(parts_of(tone), Tally(low, high, bins));
    for_parts(tone, job, [&](std::size_t part, std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i)
            all[part].add(static_cast<double>(tone.data()[i]), coverage ? static_cast<double>(coverage->data()[i]) : 1.0);
    });
    Tally whole(low, high, bins);
    for (const Tally& part : all) whole.add(part);
    return whole;
}

void Tally::add(const Tally& other) {
    for (std::size_t k = 0; k < counts_.size(); ++k) counts_[k] += other.counts_[k];
}

double Tally::total() const {
    double sum = 0;
    for (double count : counts_) sum += count;
    return sum;
}

double Tally::tone_above(double share) const {
    const double wanted = share * total();
    double above = 0;
    for (std::size_t k = counts_.size(); k-- > 0;) {
        const double next = above + counts_[k];
        if (next >= wanted) {
            const double part = next > above ? (wanted - above) / (next - above) : 0;
            return tone_of_bin(static_cast<double>(k) + 0.5 - part);
        }
        above = next;
    }
    return low_;
}

std::vector<double> Tally::shares_below() const {
    const double all = total();
    if (!(all > 0)) return {};
    std::vector<double> shares;
    double below = 0;
    for (double count : counts_) {
        shares.push_back((below + count / 2) / all);
        below += count;
    }
    return shares;
}

ToneSpan tone_span_of(const Plane& plane, const PlaneRef& coverage, const Job& job) {
    constexpr float far = std::numeric_limits<float>::infinity();
    std::vector<ToneSpan> all(parts_of(plane), ToneSpan{far, -far});
    for_parts(plane, job, [&](std::size_t part, std::size_t first, std::size_t last) {
        ToneSpan& own = all[part];
        for (std::size_t i = first; i < last; ++i) {
            if (coverage && !(coverage->data()[i] > 0)) continue;
            own.least = std::min(own.least, plane.data()[i]), own.greatest = std::max(own.greatest, plane.data()[i]);
        }
    });
    ToneSpan whole{far, -far};
    for (const ToneSpan& part : all) whole = {std::min(whole.least, part.least), std::max(whole.greatest, part.greatest)};
    return whole.least > whole.greatest ? ToneSpan{} : whole;
}

PlaneRef straight(const PlaneRef& premultiplied, const PlaneRef& coverage, const Job& job) {
    if (!coverage) return premultiplied;
    Plane out = premultiplied->alike();
    for_values(job, out, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i)
            out.data()[i] = coverage->data()[i] > 0 ? premultiplied->data()[i] / coverage->data()[i] : 0.0f;
    });
    return share(std::move(out));
}

}  // namespace loom
