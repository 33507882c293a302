// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/ramp.h"

#include <algorithm>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/structures/ramp_kernel.h"

namespace loom {

namespace {

Stop mixed(const Stop& a, const Stop& b, double share, Interpolation interpolation) {
    const auto t = static_cast<float>(share);
    Stop stop;
    stop.grain = a.grain + share * (b.grain - a.grain);
    if (interpolation == Interpolation::srgb) {
        stop.colour = {a.colour.red + t * (b.colour.red - a.colour.red), a.colour.green + t * (b.colour.green - a.colour.green),
                       a.colour.blue + t * (b.colour.blue - a.colour.blue)};
    } else {
        const Lab from = to_oklab(a.colour), to = to_oklab(b.colour);
        stop.colour = from_oklab(
            {from.lightness + t * (to.lightness - from.lightness), from.a + t * (to.a - from.a), from.b + t * (to.b - from.b)});
    }
    return stop;
}

Stop at(const Stops& sorted, double place, Interpolation interpolation) {
    if (place <= sorted.front().place) return sorted.front();
    for (std::size_t k = 1; k < sorted.size(); ++k) {
        const Stop &a = sorted[k - 1], &b = sorted[k];
        if (place > b.place || (place == b.place && k + 1 < sorted.size() && sorted[k + 1].place == place)) continue;
        return b.place > a.place ? mixed(a, b, (place - a.place) / (b.place - a.place), interpolation) : b;
    }
    return sorted.back();
}

Stops in_order(Stops stops) {
    if (stops.empty()) stops.push_back({});
    std::stable_sort(stops.begin(), stops.end(), [](const Stop& a, const Stop& b) { return a.place < b.place; });
    return stops;
}

}  // namespace

Ramp::Ramp(const Stops& stops, Interpolation interpolation, bool closed) {
    Stops sorted = in_order(stops);
    if (closed && sorted.size() > 1) {
        // Room for the way back: at least as much as an even share of the ramp.
        const double room = static_cast<double>(sorted.size()) / static_cast<double>(sorted.size() + 1);
        const double scale = std::min(1.0, room / std::max(1e-6, sorted.back().place));
        for (Stop& stop : sorted) stop.place *= scale;
        Stop end = sorted.front();
        end.place += 1;
        Stop before = sorted.back();
        before.place -= 1;
        sorted.insert(sorted.begin(), before);
        sorted.push_back(end);
    }
    for (int i = 0; i <= steps; ++i) {
        const Stop stop = at(sorted, static_cast<double>(i) / steps, interpolation);
        table_.push_back({stop.colour.red, stop.colour.green, stop.colour.blue, static_cast<float>(stop.grain / 100)});
        has_grain_ = has_grain_ || stop.grain > 0;
    }
    table_.push_back(table_.back());
}

Ramp::Entry Ramp::read(float place) const {
    const float scaled = within(place, 0.0f, 1.0f) * static_cast<float>(steps);
    const auto index = static_cast<std::size_t>(scaled);
    const float t = scaled - static_cast<float>(index);
    const Entry &a = table_[index], &b = table_[index + 1];
    return {a.red + t * (b.red - a.red), a.green + t * (b.green - a.green), a.blue + t * (b.blue - a.blue),
            a.grain + t * (b.grain - a.grain)};
}

Colour Ramp::colour(float place) const {
    const Entry entry = read(place);
    return {entry.red, entry.green, entry.blue};
}

void Ramp::colours(const float* places, int count, float* red, float* green, float* blue, float* grain) const {
    static_assert(sizeof(Entry) == 4 * sizeof(float));
    read_ramp(&table_.front().red, steps, places, count, red, green, blue, grain);
}

float Ramp::grain(float place) const { return read(place).grain; }

Interpolation interpolation_of(const Values& values) {
    const auto found = values.find(interpolation_id);
    return found != values.end() && found->second == Value(std::string("srgb")) ? Interpolation::srgb : Interpolation::oklab;
}

Stop stop_between(const Stops& stops, double place, Interpolation interpolation) {
    Stop stop = at(in_order(stops), place, interpolation);
    stop.place = place;
    return stop;
}

GrainField stop_grains(const StepContext& context) {
    GrainSettings grains;
    grains.across = context.tile.width, grains.down = context.tile.height;
    grains.seed = mix64(context.seed, 0x73746f70);
    return GrainField(grains, context.size);
}

}  // namespace loom
