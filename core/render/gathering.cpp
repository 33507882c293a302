// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/gathering.h"

#include <algorithm>
#include <set>

namespace loom {

namespace {

void copy_rows(const Plane& from, Plane& to, int row, int left, const Job& job) {
    const int first = from.rows().first, width = from.width();
    for_rows(job, from.rows().count, [&](int begin, int end) {
        for (int k = begin; k < end; ++k) {
            const float* source = from.row(wrap(first + k, from.height()));
            float* target = to.row(row + k);
            for (int x = 0; x < to.width();) {
                const int at = wrap(left + x, width), count = std::min(width - at, to.width() - x);
                std::copy_n(source + at, count, target + x);
                x += count;
            }
        }
    });
}

}  // namespace

/// A place for every plane of the band; what was one so far and is not in the band is parted.
void Gathering::fit(const Bundle& band, Size size) {
    const bool first = planes_.empty();
    const std::size_t nowhere = planes_.size();
    if (colour_.size() < band.colour.size()) colour_.resize(band.colour.size(), first ? nowhere : colour_[0]);
    if (band.coverage && !coverage_) {
        coverage_ = nowhere;
        if (!first) coverage_ = planes_.size(), planes_.emplace_back(size, 1.0f);
    }
    if (first)
        for (const auto& [name, plane] : band.named) named_[name] = nowhere;
    std::erase_if(named_, [&](const auto& each) { return !band.named.contains(each.first); });
    std::map<const Plane*, std::size_t> known;  // of the first band
    std::map<std::size_t, const Plane*> taken;
    std::map<std::pair<std::size_t, const Plane*>, std::size_t> parted;
    const auto place = [&](std::size_t& slot, const PlaneRef& plane) {
        if (first) {
            const auto [found, is_new] = known.emplace(plane.get(), planes_.size());
            if (is_new) planes_.emplace_back(size);
            slot = found->second;
            return;
        }
        const auto [owner, is_new] = taken.emplace(slot, plane.get());
        if (owner->second == plane.get()) return;
        const auto [found, apart] = parted.emplace(std::pair{slot, plane.get()}, planes_.size());
        if (apart) planes_.push_back(planes_[slot].clone());
        slot = found->second;
    };
    for (std::size_t c = 0; c < colour_.size(); ++c) place(colour_[c], band.colour[band.grey() ? 0 : c]);
    if (band.coverage) place(*coverage_, band.coverage);
    for (auto& [name, slot] : named_) place(slot, band.named.at(name));
}

void Gathering::add(const Bundle& some, Size size, int row, int left, const Job& job) {
    Bundle band = some;
    if (coverage_) band.coverage = coverage_of(band);
    fit(band, size);
    std::set<std::size_t> done;
    const auto copy = [&](std::size_t place, const Plane& plane) {
        if (done.insert(place).second) copy_rows(plane, planes_[place], row, left, job);
    };
    for (std::size_t c = 0; c < colour_.size(); ++c) copy(colour_[c], band.channel(static_cast<int>(c)));
    if (coverage_) copy(*coverage_, *band.coverage);
    for (const auto& [name, place] : named_) copy(place, *band.named.at(name));
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
