// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Lighting as in SVG's feDiffuseLighting and feSpecularLighting (Filter Effects Module Level 1, section 9.10 on),
// with the Sobel normals taken across the tile edge.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/steps/all_steps.h"

namespace loom {

namespace {

enum class From { tone, coverage, height, strand };
enum class LampKind { distant, near, shared };
enum class Outcome { times, light };

struct Settings {
    From from = From::tone;
    std::string strand;
    double depth = 8;
    LampKind lamp = LampKind::distant;
    double direction = 135, elevation = 45;
    double lamp_x = 30, lamp_y = 20, lamp_height = 200;
    double diffuse = 100, shine = 15, sharpness = 18;
    Colour colour{1, 1, 1};
    double shadow = 0, occlusion = 0;
    Outcome outcome = Outcome::times;
    double strength = 100;
};

constexpr double pi = 3.14159265358979323846;

/// Height in pixels.
Plane height_of(const Settings& s, const StepContext& context) {
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    PlaneRef tone;
    if (!source || source->empty())
        tone = share(Plane(context.size, 0.0f));
    else if (s.from == From::coverage)
        tone = coverage_of(*source);
    else if (const auto named = source->named.find("height"); s.from != From::tone && named != source->named.end())
        tone = named->second;
    else
        tone = tone_of(*source);
    const auto depth = static_cast<float>(s.depth * std::sqrt(context.scale_x() * context.scale_y()));
    Plane height = tone->clone();
    for (std::size_t i = 0; i < context.size.pixels(); ++i) height.data()[i] *= depth;
    return height;
}

struct Vector {
    float x, y, z;
};
float dot(Vector a, Vector b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
Vector unit(Vector v) {
    const float length = std::sqrt(dot(v, v));
    return length > 0 ? Vector{v.x / length, v.y / length, v.z / length} : Vector{0, 0, 1};
}

/// Multiplies `light` by what open sky each place sees, from the height less its own blurs at three radii.
void darken_hollows(const Settings& s, const StepContext& context, const Plane& height, Plane& light) {
    for (double radius_px : {2.0, 5.0, 12.0}) {
        const double rx = radius_px * context.scale_x(), ry = radius_px * context.scale_y();
        const Plane soft = gaussian_blur(height, rx, ry, *context.job);
        const auto factor = static_cast<float>(s.occlusion / 100 * 1.2 / std::max(0.5, std::sqrt(rx * ry)));
        for (std::size_t i = 0; i < context.size.pixels(); ++i)
            light.data()[i] *= std::exp(-factor * std::max(0.0f, soft.data()[i] - height.data()[i]));
    }
}

/// 1 where the lamp reaches row y's places, less where something between casts a shadow.
void cast_shadows(const Settings& s, const StepContext& context, const Plane& height, int y, float* open) {
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const double way = s.shadow * scale;
    const int steps = std::clamp(static_cast<int>(std::ceil(way)), 1, 40);
    const auto dx = static_cast<float>(std::cos(s.direction * pi / 180)),
               dy = static_cast<float>(-std::sin(s.direction * pi / 180));
    const auto rise = static_cast<float>(std::tan(s.elevation * pi / 180));
    for (int x = 0; x < context.size.width; ++x) {
        float hidden = 0;
        for (int k = 1; k <= steps; ++k) {
            const auto t = static_cast<float>(way * k / steps);
            const float over = sample_bilinear(height, static_cast<float>(x) + t * dx, static_cast<float>(y) + t * dy) -
                               height.row(y)[x] - t * rise;
            // The edge of a shadow softens with the distance of what casts it.
            hidden = std::max(hidden, std::min(1.0f, over / (0.35f + 0.12f * t)));
        }
        open[x] = 1 - hidden;
    }
}

class Lighting {
public:
    Lighting(const Settings& s, const StepContext& context, const Plane& height) : s_(s), context_(context), height_(height) {
        const double a = s.direction * pi / 180, e = s.elevation * pi / 180;
        distant_ = {static_cast<float>(std::cos(a) * std::cos(e)), static_cast<float>(-std::sin(a) * std::cos(e)),
                    static_cast<float>(std::sin(e))};
    }

    Vector normal(int x, int y) const {
        const int w = height_.width(), h = height_.height();
        const int l = x == 0 ? w - 1 : x - 1, r = x + 1 == w ? 0 : x + 1;
        const float* above = height_.row(y == 0 ? h - 1 : y - 1);
        const float* here = height_.row(y);
        const float* below = height_.row(y + 1 == h ? 0 : y + 1);
        const float nx = (above[r] + 2 * here[r] + below[r]) - (above[l] + 2 * here[l] + below[l]);
        const float ny = (below[l] + 2 * below[x] + below[r]) - (above[l] + 2 * above[x] + above[r]);
        return unit({-nx / 8, -ny / 8, 1});
    }

    Vector lamp(int x, int y) const {
        if (s_.lamp == LampKind::distant) return distant_;
        const double height = s_.lamp_height * std::sqrt(context_.scale_x() * context_.scale_y());
        // The nearest copy of the lamp, so that its light goes on across the tile edge.
        double du = s_.lamp_x / 100 - (x + 0.5) / context_.size.width, dv = s_.lamp_y / 100 - (y + 0.5) / context_.size.height;
        du -= std::round(du), dv -= std::round(dv);
        return unit({static_cast<float>(du * context_.size.width), static_cast<float>(dv * context_.size.height),
                     static_cast<float>(height) - height_.row(y)[x]});
    }

    /// What a level surface gets, so that lighting leaves its tone as it was.
    float level() const { return s_.lamp == LampKind::distant ? std::max(0.05f, distant_.z) : 1.0f; }

    float shine(Vector normal, Vector lamp) const {
        const Vector half = unit({lamp.x, lamp.y, lamp.z + 1});
        return std::pow(std::max(0.0f, dot(normal, half)), static_cast<float>(s_.sharpness));
    }

private:
    const Settings& s_;
    const StepContext& context_;
    const Plane& height_;
    Vector distant_;
};

bool tinted(const Settings& s) { return s.colour.red != s.colour.green || s.colour.green != s.colour.blue; }

Shape shape(const Settings& s, Shape in) {
    if (s.outcome == Outcome::light) return {tinted(s) ? 3 : 1, false};
    return {tinted(s) ? 3 : in.channels, in.coverage};
}

Bundle run(const Settings& given, const StepContext& context) {
    Settings s = given;
    if (s.lamp == LampKind::shared)
        s.lamp = LampKind::distant, s.direction = context.lamp_direction, s.elevation = context.lamp_elevation;
    const Plane height = height_of(s, context);
    const Lighting lighting(s, context, height);
    const Bundle& in = *context.input;
    const int channels = shape(s, {in.grey() ? 1 : 3, false}).channels;
    Plane sky(context.size, 1.0f);
    if (s.occlusion > 0) darken_hollows(s, context, height, sky);

    const std::array<float, 3> tint{s.colour.red, s.colour.green, s.colour.blue};
    const auto diffuse = static_cast<float>(s.diffuse / 100), gloss = static_cast<float>(s.shine / 100),
               strength = static_cast<float>(s.strength / 100);
    std::vector<Plane> out;
    for (int c = 0; c < channels; ++c) out.emplace_back(context.size);
    for_rows(*context.job, context.size.height, [&](int first, int last) {
        std::vector<float> open(static_cast<std::size_t>(context.size.width), 1.0f);
        for (int y = first; y < last; ++y) {
            if (s.shadow > 0 && s.lamp == LampKind::distant) cast_shadows(s, context, height, y, open.data());
            for (int x = 0; x < context.size.width; ++x) {
                const Vector normal = lighting.normal(x, y), lamp = lighting.lamp(x, y);
                const float reach = open[static_cast<std::size_t>(x)];
                const float lit = diffuse * std::max(0.0f, dot(normal, lamp)) * reach * sky.row(y)[x];
                const float shine = gloss > 0 ? gloss * lighting.shine(normal, lamp) * reach : 0.0f;
                const float cover = in.coverage ? in.coverage->row(y)[x] : 1.0f;
                for (int c = 0; c < channels; ++c) {
                    const float colour = tint[static_cast<std::size_t>(c)];
                    float* to = out[static_cast<std::size_t>(c)].row(y) + x;
                    if (s.outcome == Outcome::light) {
                        *to = strength * colour * (lit + shine);
                        continue;
                    }
                    // Light multiplies in linear values; a level place keeps the tone it has.
                    const float ratio = 1 + strength * (colour * lit / lighting.level() - 1);
                    const float value = cover > 0 ? in.channel(c).row(y)[x] / cover : 0.0f;
                    *to = cover * to_encoded(to_linear(value) * std::max(0.0f, ratio) + strength * colour * shine);
                }
            }
        }
    });
    Bundle result;
    for (Plane& plane : out) result.colour.push_back(share(std::move(plane)));
    if (s.outcome == Outcome::times) result.coverage = in.coverage;
    result.named = in.named;
    return result;
}

}  // namespace

StepDescription describe_relief() {
    StepDescription base;
    base.id = "relief", base.title = "Relief light", base.family = Family::shade;
    base.summary = "Lights the surface from one side, with its tone or another strand as height.";
    base.scratch_planes = 4;
    base.headline = {"depth", "direction"};
    const Range share{-100, 200, Unit::percent, 100}, angle{-360, 360, Unit::degrees, 180};
    const When distant{"lamp", {"distant"}}, near{"lamp", {"near"}}, far{"lamp", {"distant", "shared"}};
    return Describe<Settings>(std::move(base))
        .choice("height", "Height from", &Settings::from,
                {{"tone", "Tone"}, {"coverage", "Coverage"}, {"height", "Height"}, {"strand", "Strand"}},
                "What stands out: light tones, covered places, the height that came in, or another strand.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose height or tone is lit.", {"height", {"strand"}})
        .number("depth", "Depth", &Settings::depth, {-1024, 1024, Unit::px, 64},
                "Height of white over black; below 0 turns hills into hollows.")
        .choice("lamp", "Lamp", &Settings::lamp, {{"distant", "Distant"}, {"near", "Near"}, {"shared", "The recipe's"}},
                "Light from one direction, from a place above the tile, or from the lamp that many steps follow.")
        .number("direction", "Direction", &Settings::direction, angle, "Where the light comes from; 0 is right, 90 is above.",
                distant)
        .number("elevation", "Elevation", &Settings::elevation, {1, 90, Unit::degrees}, "How high the lamp stands.", distant)
        .number("lamp-x", "Lamp x", &Settings::lamp_x, share, "Place of the lamp across the tile.", near)
        .number("lamp-y", "Lamp y", &Settings::lamp_y, share, "Place of the lamp down the tile.", near)
        .number("lamp-height", "Lamp height", &Settings::lamp_height, {1, 8192, Unit::px, 1024, Scale::root},
                "Height of the lamp above the tile.", near)
        .number("diffuse", "Diffuse", &Settings::diffuse, {0, 400, Unit::percent, 200}, "Light that is scattered evenly.")
        .number("shine", "Shine", &Settings::shine, {0, 400, Unit::percent, 100}, "Light that is mirrored.")
        .number("sharpness", "Shine sharpness", &Settings::sharpness, {1, 128, Unit::none, 0, Scale::root},
                "How narrow highlights are.")
        .colour("colour", "Lamp colour", &Settings::colour, "Colour of the light.")
        .number("shadow", "Shadow length", &Settings::shadow, {0, 512, Unit::px, 100, Scale::root},
                "How far shadows can fall; 0 casts none.", far)
        .number("occlusion", "Occlusion", &Settings::occlusion, {0, 400, Unit::percent, 100},
                "How much hollows darken because they see less sky.")
        .choice("result", "Result", &Settings::outcome, {{"times", "Times picture"}, {"light", "Light only"}},
                "The picture lit, or the light by itself.")
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, "How much of the lighting is used.")
        .shape(shape)
        .reach([](const Settings& s) {
            return std::max({1.0, s.shadow, s.occlusion > 0 ? 54.0 : 0.0});
        })
        .reads([](const Settings& s) {
            return s.from == From::tone || s.from == From::coverage ? std::vector<std::string>{}
                                                                    : std::vector<std::string>{std::string(height_plane)};
        })
        .point("Lamp", "lamp-x", "lamp-y")
        .direction("Light", "direction")
        .follows_lamp([](const Settings& s) { return s.lamp == LampKind::shared; })
        .run(run);
}

}  // namespace loom
