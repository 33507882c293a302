// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a shiny thing mirrors: how bright it is in each direction, in linear light where 0.4 is a middle grey.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "core/image/plane.h"

namespace loom {

struct Surroundings {
    enum class Kind { room, window, cards, studio };
    Kind kind = Kind::room;
    double turn_degrees = 0;
    double roughness = 0;  ///< 0..1: how blurred all of it is
    double exposure_stops = 0;
    int lamps = 0;            ///< small ones beside the rest
    double lamp_degrees = 3;  ///< how wide one is
    double lamp_strength = 8;
    bool room_shown = true;  ///< false: the lamps alone
    std::uint64_t seed = 0;  ///< of where cards and lamps stand

    bool operator==(const Surroundings&) const = default;
};

class Room {
public:
    explicit Room(const Surroundings& settings);
    /// In a direction of length 1: x right, y up, z towards the eye.
    double light(double x, double y, double z) const;

private:
    /// Round, soft at its edge; places are those of half the angle from straight up: (x, y) / (1 + z).
    struct Spot {
        double x, y, per_square, strength;
    };
    /// Half the direction's angle, so that all above the horizon lies within 1.
    void spots(std::vector<Spot>& out, int count, std::uint64_t lot, double farthest, double least, double greatest,
               double weakest, double strongest, double softer) const;
    double studio(double x, double y, double z) const;

    Surroundings settings_;
    double cosine_, sine_, gain_;
    std::vector<Spot> cards_, flags_, lamps_;
};

/// How a brushed surface spreads what it mirrors, in degrees of the mirrored direction (standard deviations).
struct BrushedLobe {
    double along = 0, across = 0;
};

/// A room as a mirror shows it, by the normal that lies half way between eye and mirrored direction. With a lobe it is kept for
/// directions of brushing all round, and read between the nearest two; or for the one there is.
class Mirror {
public:
    /// `only`: radians, where all of it is brushed one way.
    Mirror(const Room& room, const BrushedLobe& lobe, std::optional<double> only, const Job& job);
    /// `x` right, `y` up, of the normal; `brushing`: radians from right, against the clock.
    double light(double x, double y, double brushing) const;

private:
    double light(int direction, double x, double y) const;
    int side_, directions_;
    std::vector<float> table_;
};

}  // namespace loom
