// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/join.h"

#include "core/image/shoulder.h"
#include "core/image/tally.h"
#include "core/structures/stippled.h"

namespace loom {

namespace {

constexpr float edge = 0.1f;  ///< heights over which the higher takes over

float at(const PlaneRef& plane, int y, int x) { return plane ? plane->row(y)[x] : 1.0f; }

Bundle stippled_over(const Bundle& under, const Bundle& over, const Joining& joining, const PlaneRef& within, const Job& job) {
    Plane cover = over.channel(0).alike();
    for_rows(job, cover, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < cover.width(); ++x)
                cover.row(y)[x] = static_cast<float>(joining.dots.density / 100) * joining.settings.amount *
                                  at(over.coverage, y, x) * at(within, y, x);
    });
    Plane dots = stippled({joining.dots.pattern, joining.dots.size}, cover, joining.tile, joining.seed, job);
    // A dot ends where there is no colour for it.
    for_rows(job, dots, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < dots.width(); ++x)
                if (!(cover.row(y)[x] > 0)) dots.row(y)[x] = 0;
    });
    Bundle drawn;
    drawn.named = over.named;
    for (const PlaneRef& plane : over.colour) {
        const PlaneRef colour = straight(plane, over.coverage, job);
        Plane part = colour->alike();
        for_rows(job, part, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < part.width(); ++x) part.row(y)[x] = colour->row(y)[x] * dots.row(y)[x];
        });
        drawn.colour.push_back(share(std::move(part)));
    }
    drawn.coverage = share(std::move(dots));
    return blended(under, drawn, {Blend::normal, 1, joining.settings.linear}, nullptr, job);
}

PlaneRef height_of(const Bundle& bundle, const Job& job) {
    const PlaneRef height = bundle.plane(height_plane);
    return height ? height : tone_of(bundle, job);
}

Bundle higher_over(const Bundle& under, const Bundle& over, const Joining& joining, const PlaneRef& within, const Job& job) {
    const PlaneRef below = height_of(under, job), above = height_of(over, job);
    Plane shown = over.channel(0).alike();
    // At 0 % not even the highest shows over the lowest.
    const float sunk = (1 - joining.settings.amount) * (1 + edge / 2);
    for_rows(job, shown, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < shown.width(); ++x) {
                // Where nothing lies beneath everything is higher.
                const float ground = at(under.coverage, y, x);
                const float lead = above->row(y)[x] - sunk - (ground * below->row(y)[x] - (1 - ground) * 2);
                shown.row(y)[x] = shoulder(-edge / 2, edge / 2, lead) * at(within, y, x);
            }
    });
    return blended(under, over, {Blend::normal, 1, joining.settings.linear}, share(std::move(shown)), job);
}

}  // namespace

Bundle joined(const Bundle& under, const Bundle& over, const Joining& joining, const PlaneRef& within, const Job& job) {
    if (joining.settings.blend == Blend::stipple) return stippled_over(under, over, joining, within, job);
    if (joining.settings.blend == Blend::height_aware) return higher_over(under, over, joining, within, job);
    return blended(under, over, joining.settings, within, job);
}

Footprint join_footprint(Blend blend) { return blend == Blend::stipple ? Footprint::whole() : Footprint::pixel(); }

double join_scratch(Blend blend, const Scales& at, double dot_px) {
    if (blend == Blend::stipple) return 6 + stippled_scratch(dot_px, at);
    return blend == Blend::height_aware ? 5 : 0;
}

}  // namespace loom
