// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/taken.h"

#include <algorithm>
#include <iterator>

#include "core/image/plane_names.h"
#include "core/structures/object_edges.h"

namespace loom {

namespace {

/// Null for what is no plane.
const PlaneName* plane_of(Taken taken) {
    const int at = static_cast<int>(taken) - static_cast<int>(Taken::planes);
    return at < 0 ? nullptr : &plane_names()[static_cast<std::size_t>(at)];
}

}  // namespace

std::vector<Choice> taken_choices() {
    std::vector<Choice> choices{
        {"picture", "Picture"}, {"tone", "Tone"}, {"coverage", "Coverage"}, {"covered-tone", "Covered tone"}};
    for (const PlaneName& plane : plane_names()) choices.emplace_back(plane.word, plane.title);
    return choices;
}

bool is_lot(Taken taken) {
    const PlaneName* plane = plane_of(taken);
    return plane && std::find(std::begin(objects::random), std::end(objects::random), plane->id) != std::end(objects::random);
}

std::vector<std::string> taken_reads(Taken taken, bool smooth) {
    std::vector<std::string> all;
    if (const PlaneName* plane = plane_of(taken)) all.emplace_back(plane->id);
    if (smooth && is_lot(taken)) all.emplace_back(objects::id);
    return all;
}

Bundle taken_of(const Bundle& source, Taken taken, bool smooth, const StepContext& context) {
    Bundle result;
    switch (taken) {
        case Taken::picture: return source;
        case Taken::tone: result.colour = {tone_of(source, *context.job)}; return result;
        case Taken::coverage: result.colour = {coverage_of(source)}; return result;
        case Taken::covered: result.colour = {covered_tone_of(source, *context.job)}; return result;
        default: break;
    }
    const PlaneName& name = *plane_of(taken);
    const PlaneRef plane = source.plane(name.id), ids = smooth && is_lot(taken) ? source.plane(objects::id) : nullptr;
    if (plane && ids)
        result.colour = {share(ObjectEdges(ids).smoothed(*plane, context.wanted_rows(), *context.job))};
    else if (plane)
        result.colour = {part_of(plane, context.wanted_rows())};
    else
        result.colour = {name.id == height_plane ? tone_of(source, *context.job) : share(context.plane(0.0f))};
    return result;
}

}  // namespace loom
