// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/structures/laid.h"
#include "core/structures/relief_light.h"
#include "core/structures/reliefs.h"

namespace loom {

namespace press_step {
namespace {

/// Our own come first, in the order of OwnRelief.
enum class Relief { duck, sacking, grit, hide, laid, hammered, strand, picture };
enum class Light { own, shared };

struct Settings {
    Relief relief = Relief::duck;
    std::string strand, file;
    double repeat = 14;
    double depth = 6, softness = 1.5;
    double spare_darks = 0, spare_lights = 0;
    Light light = Light::own;
    double direction = 135, elevation = 45;
};

/// A picture laid over the tile in whole repeats.
Bundle laid_out(const Bundle& picture, double repeat_px, const StepContext& context) {
    const Size own = picture.size();
    const int across = std::max(1, static_cast<int>(std::lround(context.tile.width / repeat_px)));
    const double height_px = static_cast<double>(context.tile.width) / across * own.height / own.width;
    const int down = std::max(1, static_cast<int>(std::lround(context.tile.height / height_px)));
    return laid(
        picture, context.size,
        [&](double u, double v, double& x, double& y) {
            x = u * across * own.width - 0.5, y = v * down * own.height - 0.5;
            x -= std::floor((x + 0.5) / own.width) * own.width, y -= std::floor((y + 0.5) / own.height) * own.height;
        },
        {}, *context.job);
}

Plane relief_of(const Settings& s, const StepContext& context) {
    if (s.relief != Relief::strand && s.relief != Relief::picture)
        return own_relief(static_cast<OwnRelief>(s.relief), s.repeat, context);
    const Bundle* other = context.other(s.relief == Relief::strand ? "strand" : "file");
    if (!other || other->empty()) return Plane(context.size, 0.5f);
    if (s.relief == Relief::picture) return tone_of(laid_out(*other, s.repeat, context), *context.job)->clone();
    const PlaneRef height = other->plane(height_plane);
    return height ? height->clone() : tone_of(*other, *context.job)->clone();
}

/// How much a tone takes of the light: less towards the ends that are spared.
float share_of(float tone, float darks, float lights) {
    const float dark = std::clamp(1 - 2 * tone, 0.0f, 1.0f), light = std::clamp(2 * tone - 1, 0.0f, 1.0f);
    return (1 - darks * dark * (2 - dark)) * (1 - lights * light * (2 - light));
}

Bundle run(const Settings& s, const StepContext& context) {
    // What is pressed into a surface loses what is fine, at every size alike.
    const Bundle relief = Bundle::of(
        gaussian_blur(relief_of(s, context), s.softness * context.scale_x(), s.softness * context.scale_y(), *context.job));
    StepContext lit = context;
    lit.others["strand"] = &relief;
    ReliefLighting lamp;
    lamp.from = ReliefLighting::From::strand, lamp.strand = "pressed";
    lamp.lamp = s.light == Light::shared ? ReliefLighting::LampKind::shared : ReliefLighting::LampKind::distant;
    lamp.depth = s.depth, lamp.direction = s.direction, lamp.elevation = s.elevation, lamp.shine = 0;
    Bundle out = relief_light(lamp, lit);
    if (s.spare_darks <= 0 && s.spare_lights <= 0) return out;
    const Bundle& in = *context.input;
    const PlaneRef tone = tone_of(in, *context.job);
    const auto darks = static_cast<float>(s.spare_darks / 100), lights = static_cast<float>(s.spare_lights / 100);
    for (int c = 0; c < static_cast<int>(out.colour.size()); ++c) {
        Plane kept(context.size);
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x) {
                    const float before = in.channel(c).row(y)[x];
                    kept.row(y)[x] = before + share_of(tone->row(y)[x], darks, lights) * (out.channel(c).row(y)[x] - before);
                }
        });
        out.colour[static_cast<std::size_t>(c)] = share(std::move(kept));
    }
    return out;
}

/// A repeat and a depth that suit a relief.
std::vector<std::pair<std::string_view, Value>> every(double repeat_px, double depth_px) {
    return {{"repeat", repeat_px}, {"depth", depth_px}};
}

}  // namespace
}  // namespace press_step

StepDescription describe_press() {
    using namespace press_step;
    StepDescription base;
    base.id = "press", base.title = "Press in", base.family = Family::roughen;
    base.summary = "Presses another texture's relief into this surface and lights it from one side.";
    base.words = "stamp deboss engrave carve dent scratch hole embossed sunken";
    base.tiles = Tiling::depends, base.tiles_note = "it repeats if the strand or picture that is pressed in does";
    base.seeded = true;
    base.headline = {"relief", "depth"};
    const When own{"light", {"own"}}, strand{"relief", {"strand"}}, picture{"relief", {"picture"}};
    const When repeated{"relief", {"duck", "sacking", "grit", "hide", "laid", "hammered", "picture"}};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .choice("relief", "Relief", &Settings::relief,
                {{"duck", "Duck cloth", every(14, 6)},
                 {"sacking", "Sacking", every(44, 5)},
                 {"grit", "Grit", every(9, 3)},
                 {"hide", "Hide", every(30, 4.5)},
                 {"laid", "Laid paper", every(64, 2)},
                 {"hammered", "Hammer dents", every(48, 5)},
                 {"strand", "Strand"},
                 {"picture", "Picture", every(256, 4)}},
                "What is pressed in: a relief made here, another strand's height or tone, or a picture.")
        .visual({{"elevation", 18.0}})
        .strand("strand", "Strand", &Settings::strand, "The strand that is pressed in.", strand)
        .picture("file", "Picture", &Settings::file, "The picture that is pressed in; its file is copied into the recipe.",
                 picture)
        .number("repeat", "Repeat", &Settings::repeat, {4, 4096, Unit::px, 256, Scale::root},
                "Width of one repeat: two threads, a grain, a pebble, a chain line, a dent, a picture. Whole ones fill the tile.",
                repeated)
        .number("depth", "Depth", &Settings::depth, {-128, 128, Unit::px, 24},
                "How deep it is pressed in; below 0 it stands out instead.")
        .once(1, Value(3.0))
        .number("softness", "Softness", &Settings::softness, {0.8, 64, Unit::px, 8, Scale::root},
                "How soft what is pressed in becomes; what is finer than a pixel is lost.")
        .once(1, Value(0.8))
        .number("spare-darks", "Spare darks", &Settings::spare_darks, share, "How much dark tones are left as they are.")
        .number("spare-lights", "Spare lights", &Settings::spare_lights, share, "How much light tones are left as they are.")
        .choice("light", "Lamp", &Settings::light, {{"own", "Its own"}, {"shared", "The recipe's"}},
                "Whether it has a light of its own or follows the lamp of the recipe.")
        .number("direction", "Light from", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where the light comes from; 0 is right, 90 is above.", own)
        .number("elevation", "Light height", &Settings::elevation, {1, 90, Unit::degrees}, "How high the light stands.", own)
        .direction("Light", "direction")
        .follows_lamp([](const Settings& s) { return s.light == Light::shared; })
        .reads([](const Settings& s) {
            return s.relief == Relief::strand ? std::vector<std::string>{std::string(height_plane)} : std::vector<std::string>{};
        })
        .needs_whole()
        .scratch([](const Settings&, const Scales& at, const PlaneCounts&) {
            // Woven reliefs are made at twice the size where that is small.
            return std::min(at.x(), at.y()) < 1.5 ? 20.0 : 3.0;
        })
        .run(run);
}

}  // namespace loom
