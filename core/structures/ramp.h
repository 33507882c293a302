// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A gradient's stops made ready for reading: colour and grain at any place.
#pragma once

#include <array>
#include <vector>

#include "core/catalogue/context.h"
#include "core/catalogue/description.h"
#include "core/catalogue/value.h"
#include "core/noise/grains.h"

namespace loom {

enum class Interpolation { srgb, oklab };

/// Deviation of noise whose amount is 100 %: even static then just covers all tones.
constexpr float full_deviation = 0.28867513f;

class Ramp {
public:
    /// `closed`: the ramp runs on from its last stop back to its first, so that both ends meet.
    Ramp(const Stops& stops, Interpolation interpolation, bool closed = false);

    /// `place` is clamped to 0..1.
    Colour colour(float place) const;
    /// Many places at once; `grain` may be null.
    void colours(const float* places, int count, float* red, float* green, float* blue, float* grain) const;
    /// Grain as a share, 0..1.
    float grain(float place) const;
    bool has_grain() const { return has_grain_; }

private:
    static constexpr int steps = 4096;
    struct Entry {
        float red, green, blue, grain;
    };
    Entry read(float place) const;
    std::vector<Entry> table_;
    bool has_grain_ = false;
};

/// The parameter "mix" of a step that has stops: how colours between them are mixed.
inline std::vector<Choice> interpolation_choices() { return {{"srgb", "sRGB"}, {"oklab", "OKLab"}}; }
constexpr std::string_view interpolation_id = "mix", interpolation_title = "Mixed in";
constexpr std::string_view interpolation_help =
    "The space in which colours between stops are mixed; OKLab keeps them even to the eye.";
Interpolation interpolation_of(const Values& values);

/// One new stop at `place` that changes nothing: it takes the colour and the grain that are there.
Stop stop_between(const Stops& stops, double place, Interpolation interpolation);

/// The grain that a ramp's stops carry: one Gaussian value per design pixel, for rows of `context`'s picture.
GrainField stop_grains(const StepContext& context);

}  // namespace loom
