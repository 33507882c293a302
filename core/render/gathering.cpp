// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/gathering.h"

#include <algorithm>

namespace loom {

namespace {

void copy_rows(const Plane& from, Plane& to, int row, int left) {
    const int first = from.rows().first, width = from.width();
    for (int k = 0; k < from.rows().count; ++k) {
        const float* source = from.row(wrap(first + k, from.height()));
        float* target = to.row(row + k);
        for (int x = 0; x < to.width();) {
            const int begin = wrap(left + x, width), count = std::min(width - begin, to.width() - x);
            std::copy_n(source + begin, count, target + x);
            x += count;
        }
    }
}

}  // namespace

void Gathering::add(const Bundle& band, Size size, int row, int left) {
    if (planes_.empty()) {
        std::map<const Plane*, std::size_t> known;
        auto place = [&](const PlaneRef& plane) {
            const auto [found, is_new] = known.emplace(plane.get(), planes_.size());
            if (is_new) planes_.emplace_back(size);
            return found->second;
        };
        for (const PlaneRef& plane : band.colour) colour_.push_back(place(plane));
        if (band.coverage) coverage_ = place(band.coverage);
        for (const auto& [name, plane] : band.named) named_[name] = place(plane);
    }
    for (std::size_t c = 0; c < colour_.size(); ++c) copy_rows(band.channel(static_cast<int>(c)), planes_[colour_[c]], row, left);
    if (coverage_) copy_rows(*coverage_of(band), planes_[*coverage_], row, left);
    for (const auto& [name, place] : named_) copy_rows(*band.named.at(name), planes_[place], row, left);
}

Bundle Gathering::whole() && {
    std::vector<PlaneRef> planes;
    for (Plane& plane : planes_) planes.push_back(share(std::move(plane)));
    Bundle bundle;
    for (std::size_t place : colour_) bundle.colour.push_back(planes[place]);
    if (coverage_) bundle.coverage = planes[*coverage_];
    for (const auto& [name, place] : named_) bundle.named[name] = planes[place];
    return bundle;
}

}  // namespace loom
