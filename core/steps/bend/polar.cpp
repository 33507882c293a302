// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/resample.h"
#include "core/image/sample.h"
#include "core/structures/read_planes.h"

namespace loom {

namespace polar_step {
namespace {

enum class Way { round, straight };
enum class Reach { edge, corner, px };
enum class Beyond { clear, hold };

struct Settings {
    Way way = Way::round;
    double centre_x = 50, centre_y = 50;
    double turn = 0;
    Reach reach = Reach::corner;
    double radius = 512;
    Beyond beyond = Beyond::clear;
    bool average = true;
};

constexpr double turn_of_all = 6.283185307179586;

bool clears(const Settings& s) { return s.way == Way::round && s.reach != Reach::corner && s.beyond == Beyond::clear; }

/// From straight to round or back; all in pixels of the picture.
class Rolled {
public:
    Rolled(const Settings& s, const StepContext& context)
        : s_(s), size_(context.size), cx_(s.centre_x / 100 * size_.width), cy_(s.centre_y / 100 * size_.height) {
        const double far_x = std::max(std::abs(cx_), std::abs(size_.width - cx_)),
                     far_y = std::max(std::abs(cy_), std::abs(size_.height - cy_));
        // The rim touches the nearer edges of a tile with the centre in its middle, or the farthest corner.
        radius_ = s.reach == Reach::edge     ? std::min(size_.width, size_.height) / 2.0
                  : s.reach == Reach::corner ? std::hypot(far_x, far_y)
                                             : s.radius * std::sqrt(context.scale_x() * context.scale_y());
    }
    double radius() const { return radius_; }
    /// Where a place in polar coordinates is read: turns and distance.
    void from_round(double turns, double distance, float& px, float& py) const {
        double share = turns - s_.turn / 360;
        share -= std::floor(share);
        px = static_cast<float>(share * size_.width - 0.5);
        py = static_cast<float>(std::min(1.0, distance / radius_) * (size_.height - 1));
    }
    void polar(double x, double y, double& turns, double& distance) const {
        const double dx = x + 0.5 - cx_, dy = cy_ - y - 0.5;
        turns = std::atan2(dy, dx) / turn_of_all, distance = std::hypot(dx, dy);
    }
    void from_straight(double x, double y, float& px, float& py) const {
        const double turn = turn_of_all * ((x + 0.5) / size_.width + s_.turn / 360),
                     distance = radius_ * (y + 0.5) / size_.height;
        px = static_cast<float>(cx_ + distance * std::cos(turn) - 0.5);
        py = static_cast<float>(cy_ - distance * std::sin(turn) - 0.5);
    }

private:
    const Settings& s_;
    Size size_;
    double cx_, cy_, radius_ = 1;
};

Bundle by_points(const Settings& s, const Rolled& rolled, const StepContext& context) {
    return resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            for (int x = 0; x < context.size.width; ++x) {
                double turns = 0, distance = 0;
                if (s.way == Way::round)
                    rolled.polar(x, y, turns, distance), rolled.from_round(turns, distance, px[x], py[x]);
                else
                    rolled.from_straight(x, y, px[x], py[x]);
            }
        },
        *context.job);
}

/// Places that the mean over a pixel is taken at: fewer than this and lines break into dashes, more is not seen.
int reads_for(double wide) { return std::clamp(static_cast<int>(std::ceil(1.25 * wide)), 2, 24); }

Bundle by_areas(const Settings& s, const Rolled& rolled, const StepContext& context) {
    const Bundle& in = *context.input;
    const Size size = context.size;
    ReadPlanes planes(in, [&] { return context.plane(0); });
    auto& sources = planes.all;
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                double turns = 0, distance = 0;
                rolled.polar(x, y, turns, distance);
                // How much of what is read lies in a pixel, round and outwards.
                const bool round = s.way == Way::round;
                const double own = std::max(0.5, distance);
                const double arc = round ? size.width / (turn_of_all * own)
                                         : turn_of_all * rolled.radius() * (y + 0.5) / size.height / size.width;
                const double ray = round ? size.height / rolled.radius() : rolled.radius() / size.height;
                const int across = reads_for(arc), down = reads_for(ray);
                const float each = 1.0f / static_cast<float>(across * down);
                for (int j = 0; j < down; ++j)
                    for (int i = 0; i < across; ++i) {
                        const double du = (i + 0.5) / across - 0.5, dv = (j + 0.5) / down - 0.5;
                        float px = 0, py = 0;
                        if (round)
                            rolled.from_round(turns + du / (turn_of_all * own), std::max(0.0, distance + dv), px, py);
                        else
                            rolled.from_straight(x + du, y + dv, px, py);
                        for (ReadPlanes::Source& source : sources)
                            if (!source.whole) source.out.row(y)[x] += each * sample_bilinear(*source.plane, px, py);
                    }
                float px = 0, py = 0;
                if (round)
                    rolled.from_round(turns, distance, px, py);
                else
                    rolled.from_straight(x, y, px, py);
                for (ReadPlanes::Source& source : sources)
                    if (source.whole)
                        source.out.row(y)[x] = source.plane->row(nearest_pixel(py, size.height))[nearest_pixel(px, size.width)];
            }
    });
    return planes.finish();
}

/// Ends at the rim, over a pixel.
Bundle cut_at_rim(Bundle in, const Rolled& rolled, const StepContext& context) {
    Plane inside = context.plane();
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                double turns = 0, distance = 0;
                rolled.polar(x, y, turns, distance);
                inside.row(y)[x] = static_cast<float>(std::clamp(rolled.radius() - distance + 0.5, 0.0, 1.0));
            }
    });
    const auto times = [&](const PlaneRef& plane) {
        Plane out = plane->clone();
        for_values(*context.job, out, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) out.data()[i] *= inside.data()[i];
        });
        return share(std::move(out));
    };
    for (PlaneRef& plane : in.colour) plane = times(plane);
    in.coverage = in.coverage ? times(in.coverage) : share(std::move(inside));
    return in;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Rolled rolled(s, context);
    Bundle out = s.average ? by_areas(s, rolled, context) : by_points(s, rolled, context);
    return clears(s) ? cut_at_rim(std::move(out), rolled, context) : out;
}

}  // namespace
}  // namespace polar_step

StepDescription describe_polar() {
    using namespace polar_step;
    StepDescription base;
    base.id = "polar", base.title = "Polar", base.family = Family::bend;
    base.summary = "Rolls the picture up round a centre, or unrolls it.";
    base.words = "round circular wrap disc rays fisheye concentric";
    base.tiles = Tiling::breaks, base.tiles_note = "what is straight at one edge is a ring or a ray at the other";
    base.headline = {"way"};
    const Range share{-100, 200, Unit::percent, 100};
    const When rimmed{"reach", {"edge", "px"}}, round{"way", {"round"}};
    return Describe<Settings>(std::move(base))
        .choice("way", "Way", &Settings::way, {{"round", "Straight to round"}, {"straight", "Round to straight"}},
                "Whether the top becomes the centre and the sides meet, or a disc is laid out flat.")
        .visual()
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the centre across the tile.")
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the centre down the tile.")
        .pair("Centre", "centre-x", "centre-y")
        .point("Centre", "centre-x", "centre-y")
        .number("turn", "Turn", &Settings::turn, {-360, 360, Unit::degrees, 180}, "Where the left side lies on the round.")
        .choice("reach", "Reaches", &Settings::reach,
                {{"edge", "Nearer edges"}, {"corner", "Farthest corner"}, {"px", "A radius"}},
                "How far out the bottom lies: half the shorter side, where the whole tile is filled, or so many pixels.")
        .once(1, Value(std::string("edge")))
        .number("radius", "Radius", &Settings::radius, {1, 16384, Unit::px, 2048, Scale::root}, "Of the rim.", {"reach", {"px"}})
        .choice("beyond", "Beyond the rim", &Settings::beyond, {{"clear", "Nothing"}, {"hold", "The rim held"}},
                "What lies outside: nothing, or the last row drawn out to the corners.", rimmed && round)
        .once(1, Value(std::string("hold")))
        .toggle("average", "Averaged", &Settings::average,
                "Takes the mean of all that comes to lie in a pixel, so that fine lines stay whole where they are squeezed.")
        .once(1, Value(false))
        .shape([](const Settings& s, Shape in) {
            return Shape{in.channels, in.coverage || clears(s)};
        })
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& planes) { return clears(s) ? 1.0 + planes.out : 1.0; })
        .needs_whole()
        .run(run);
}

}  // namespace loom
