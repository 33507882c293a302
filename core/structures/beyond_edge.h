// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Bends that do not wrap: what is seen from over the edge of a picture that does not repeat.
#pragma once

#include "core/catalogue/describe.h"
#include "core/image/resample.h"

namespace loom {

enum class Edge {
    wrap,  ///< the other side
    hold,  ///< the edge, held
    clear  ///< nothing
};

/// As resampled(); unless it wraps `in` and what is wanted are whole.
Bundle resampled_beyond(Edge edge, const Bundle& in, Rows rows, const PlacesOfRow& places, const Job& job,
                        PixelReading reading = PixelReading::cubic);
/// What is not bent at all, with the coverage that beyond_shape promises.
Bundle unbent(Edge edge, const Bundle& in, Rows rows);
/// Planes that it needs besides its result.
constexpr double beyond_scratch(Edge edge, int planes) { return edge == Edge::wrap ? 1.0 : 2.0 * planes + 2; }
constexpr Shape beyond_shape(Edge edge, Shape in) { return {in.channels, in.coverage || edge == Edge::clear}; }

/// The parameter "edge".
template <class Settings>
Describe<Settings>& describe_edge(Describe<Settings>& describe) {
    return describe
        .choice("edge", "Beyond the edge", &Settings::edge, {{"wrap", "Wrap"}, {"hold", "Hold"}, {"clear", "Clear"}},
                "What is seen from over the edge: the other side; the edge held, for pictures that do not repeat; or nothing.")
        .shape([](const Settings& s, Shape in) { return beyond_shape(s.edge, in); });
}

}  // namespace loom
