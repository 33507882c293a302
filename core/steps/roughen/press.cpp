// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Another texture's relief pressed into this one: made by our own steps, and lit by the step relief.
#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/steps/all_steps.h"
#include "core/steps/make/laid.h"

namespace loom {

namespace {

enum class Source { canvas, burlap, sandstone, pebble, strand, picture };

enum class Light { own, shared };

struct Settings {
    Source source = Source::canvas;
    std::string strand, file;
    double size = 100;
    double depth = 3;
    Light light = Light::own;
    double direction = 135;
    bool invert = false;
};

/// Two sets of threads, each over and under the other in turn; n threads each way. Heights are 0 at the sides of each thread,
/// where its turn changes, so that nothing jumps.
constexpr std::string_view woven =
    "max(sin(pi * saw(s * n)) * (0.5 + 0.5 * cos(pi * (t * n - 0.5 + floor(s * n)))),"
    " sin(pi * saw(t * n)) * (0.5 + 0.5 * cos(pi * (s * n + 0.5 + floor(t * n)))))";

std::string with(std::string text, std::string_view name, const std::string& value) {
    std::string result;
    for (std::size_t k = 0; k < text.size(); ++k) {
        const bool alone = text[k] == name[0] && (k == 0 || !std::isalnum(static_cast<unsigned char>(text[k - 1]))) &&
                           (k + 1 == text.size() || !std::isalnum(static_cast<unsigned char>(text[k + 1])));
        if (alone)
            result += value;
        else
            result += text[k];
    }
    return result;
}

std::string formula_of(Source source, int n) {
    const std::string count = std::to_string(n);
    if (source == Source::sandstone) {
        std::string text("0.55 * clouds(u, v, ");
        text += std::to_string(n) + ", 6) + 0.45 * noise(u, v, " + std::to_string(std::min(512, 4 * n)) + ")";
        return text;
    }
    std::string text = with(std::string(woven), "n", count);
    const bool rough = source == Source::burlap;
    // Threads wander, and swell and thin out along their way.
    const std::string sway = rough ? std::string("0.35") : std::string("0.12");
    std::string noise("(clouds(u, v, ");
    noise += std::to_string(std::max(2, n / 4)) + ", 3";
    text = with(text, "s", "(u + " + sway + " / " + count + " * " + noise + ") - 0.5))");
    text = with(text, "t", "(v + " + sway + " / " + count + " * " + noise + ", 1) - 0.5))");
    text += rough ? " * (0.55 + 0.9 * clouds(u, v, " : " * (0.85 + 0.3 * clouds(u, v, ";
    text += std::to_string(std::min(512, 2 * n)) + ", 3, 2))";
    return text;
}

/// The relief as a grey bundle of the picture's size.
Bundle relief_of(const Settings& s, const StepContext& context) {
    StepContext own = context;
    own.input = nullptr, own.others.clear();
    const double scale = s.size / 100;
    auto threads = [&](double px) {
        return std::clamp(static_cast<int>(std::lround(context.tile.width / (px * scale))), 1, 512);
    };
    switch (s.source) {
        case Source::canvas:
        case Source::burlap:
        case Source::sandstone: {
            int n = threads(s.source == Source::canvas ? 14 : s.source == Source::burlap ? 32 : 40);
            // Over and under close at the edge only for even counts.
            if (s.source != Source::sandstone) n = std::max(2, (n + 1) / 2 * 2);
            return find_step("formula")->run({{"expression", Value(formula_of(s.source, n))}}, own);
        }
        case Source::pebble: return find_step("cells")->run({{"size", Value(std::max(4.0, 26 * scale))}}, own);
        case Source::strand: {
            const Bundle* strand = context.other("strand");
            return strand && !strand->empty() ? *strand : Bundle::of(Plane(context.size, 0.5f));
        }
        case Source::picture: {
            const Bundle* file = context.other("file");
            if (!file || file->empty()) return Bundle::of(Plane(context.size, 0.5f));
            const Size picture = file->size();
            const int across = repeats(context.tile.width, picture.width, s.size),
                      down = repeats(context.tile.height, picture.height, s.size);
            return laid(
                *file, context.size,
                [&](double u, double v, double& x, double& y) {
                    x = u * across * picture.width - 0.5, y = v * down * picture.height - 0.5;
                    x -= std::floor((x + 0.5) / picture.width) * picture.width,
                        y -= std::floor((y + 0.5) / picture.height) * picture.height;
                },
                {}, *context.job);
        }
    }
    return Bundle::of(Plane(context.size, 0.5f));
}

Bundle run(const Settings& s, const StepContext& context) {
    Bundle relief = relief_of(s, context);
    // What is pressed into a surface loses what is finer than a design pixel, at every size alike.
    const PlaneRef named = relief.plane(height_plane);
    const Plane height =
        gaussian_blur(named ? *named : *tone_of(relief), 0.9 * context.scale_x(), 0.9 * context.scale_y(), *context.job);
    relief = Bundle::of(height.clone());
    StepContext lit = context;
    lit.others["strand"] = &relief;
    return find_step("relief")->run({{"height", Value(std::string("strand"))},
                                     {"strand", Value(std::string("pressed"))},
                                     {"depth", Value(s.invert ? -s.depth : s.depth)},
                                     {"lamp", Value(std::string(s.light == Light::shared ? "shared" : "distant"))},
                                     {"direction", Value(s.direction)},
                                     {"shine", Value(0.0)}},
                                    lit);
}

}  // namespace

StepDescription describe_press() {
    StepDescription base;
    base.id = "press", base.title = "Press in", base.family = Family::roughen;
    base.summary = "Presses another texture's relief into this surface and lights it from one side.";
    base.tiles = Tiling::depends, base.tiles_note = "it repeats if the strand or picture that is pressed in does";
    base.seeded = true;
    base.scratch_planes = 6;
    base.headline = {"source", "depth"};
    const When own{"light", {"own"}};
    const When strand{"source", {"strand"}}, picture{"source", {"picture"}};
    const When sized{"source", {"canvas", "burlap", "sandstone", "pebble", "picture"}};
    return Describe<Settings>(std::move(base))
        .choice("source", "Relief", &Settings::source,
                {{"canvas", "Canvas"},
                 {"burlap", "Burlap"},
                 {"sandstone", "Sandstone"},
                 {"pebble", "Pebble"},
                 {"strand", "Strand"},
                 {"picture", "Picture"}},
                "What is pressed in: a relief made here, another strand's height or tone, or a picture.")
        .strand("strand", "Strand", &Settings::strand, "The strand that is pressed in.", strand)
        .picture("file", "Picture", &Settings::file, "The picture that is pressed in; its file is copied into the recipe.",
                 picture)
        .number("size", "Size", &Settings::size, {10, 1000, Unit::percent, 400, Scale::root},
                "Size of the relief; rounded so that it closes.", sized)
        .number("depth", "Depth", &Settings::depth, {0, 128, Unit::px, 32}, "How deep it is pressed in.")
        .choice("light", "Lamp", &Settings::light, {{"own", "Its own"}, {"shared", "The recipe's"}},
                "Whether it has a light of its own or follows the lamp of the recipe.")
        .number("direction", "Light from", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where the light comes from; 0 is right, 90 is above.", own)
        .direction("Light", "direction")
        .follows_lamp([](const Settings& s) { return s.light == Light::shared; })
        .toggle("invert", "Invert", &Settings::invert, "Presses in what stands out.")
        .reads([](const Settings& s) {
            return s.source == Source::strand ? std::vector<std::string>{std::string(height_plane)} : std::vector<std::string>{};
        })
        .run(run);
}

}  // namespace loom
