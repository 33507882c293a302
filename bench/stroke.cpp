// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How long the cloth takes to follow a hand: strokes of an 80 px brush on each recipe, asked for as the window asks, frame by
// frame, with the size of the part that keeps a frame within 30 ms; and how long a step with 5000 strokes takes to be read and
// drawn.
//
//   keen-loom-stroke RECIPE...
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <ctime>
#include <fstream>
#include <string>
#include <unistd.h>
#include <vector>

#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "core/render/draft_size.h"
#include "core/render/render.h"

namespace {

using namespace loom;
using Clock = std::chrono::steady_clock;

double ms_since(Clock::time_point start) { return std::chrono::duration<double, std::milli>(Clock::now() - start).count(); }

Stroke brush(const char* tool) {
    Stroke stroke;
    stroke.tool = tool, stroke.size = 80, stroke.strength = 60;
    return stroke;
}

struct Frames {
    double median = 0, worst = 0, worst_left_alone = 0;
    double worst_smaller = 0;  ///< of the first frames of a size that was not drawn at in this stroke, left alone
    std::size_t late = 0, left_alone = 0, count = 0;  ///< left alone: while the host took nothing
    int side = 0;
};

/// Milliseconds of one frame: on the clock, by all threads together, and what the host took.
struct Spent {
    double frame = 0, worked = 0, taken = 0;
};

/// Of the process, all its threads together.
double cpu_ms() { return 1000.0 * static_cast<double>(std::clock()) / CLOCKS_PER_SEC; }

/// What the host of a virtual machine took from all its processors together, in ticks of 10 ms; 0 elsewhere.
double stolen_ms() {
    std::ifstream file("/proc/stat");
    std::string cpu;
    long long user = 0, nice = 0, system = 0, idle = 0, wait = 0, irq = 0, softirq = 0, steal = 0;
    file >> cpu >> user >> nice >> system >> idle >> wait >> irq >> softirq >> steal;
    return 1000.0 * static_cast<double>(steal) / static_cast<double>(sysconf(_SC_CLK_TCK));
}

Frames draw(const Recipe& recipe, const Address& at, const char* tool) {
    Cache cache(std::size_t{1} << 30);
    RenderOptions options;
    options.cache = &cache, options.pictures = &picture_reader();
    const Job job;
    const int longest = std::max(recipe.tile.width, recipe.tile.height);
    // The window makes the sizes of parts and the cards besides.
    const auto whole = [&](const Recipe& each) {
        for (int side : PartSize::sizes(longest)) (void)render(each, size_for(each.tile, side), {Wanted{}}, options, job);
        const auto start = Clock::now();
        (void)render(each, size_for(each.tile, longest), {Wanted{}}, options, job);
        return ms_since(start);
    };
    Recipe drawn = recipe;
    std::vector<double> frames;
    Frames all;
    PartSize part(longest, whole(drawn));
    const auto frame = [&](const Recipe& now, double x, double y, int side, bool in_part) {
        const Size size = size_for(now.tile, side);
        const double scale = static_cast<double>(size.width) / now.tile.width;
        const auto px = [&](double design) { return static_cast<int>(std::lround(design * scale)); };
        const Region region{wrap(px(x - 140), size.width), wrap(px(y - 112), size.height), std::min(px(280), size.width),
                            std::min(px(224), size.height)};
        RenderOptions of_frame = options;
        of_frame.fleeting = true;
        Spent spent;
        const double cpu = cpu_ms(), stolen = stolen_ms();
        const auto start = Clock::now();
        // As the window does.
        const bool fine = in_part ? static_cast<bool>(render_region(now, size, Wanted{}, region, of_frame, job))
                                  : static_cast<bool>(render(now, size, {Wanted{}}, of_frame, job));
        if (!fine) std::fprintf(stderr, "failed\n");
        spent.frame = ms_since(start), spent.worked = cpu_ms() - cpu, spent.taken = stolen_ms() - stolen;
        return spent;
    };
    for (int s = 0; s < 5; ++s) {
        Stroke stroke = brush(tool);
        for (int k = 0; k < 40; ++k) {
            const double x = 150 + 170 * s + 9 * k, y = 200 + 150 * s + 40 * std::sin(k * 0.3);
            stroke.points.push_back({static_cast<int>(x * 8), static_cast<int>(y * 8), 255, 0, 0});
            if (k < 1) continue;
            const Strokes strokes = as<Strokes>(*value_at(drawn, at)).appended(stroke);
            const Recipe now = with_value(drawn, at, Value(strokes));
            const int side = part.pixels();
            const auto [spent, worked, taken] = frame(now, x, y, side, part.part());
            // The first stroke finds out how large parts may be.
            if (s > 0) {
                frames.push_back(spent);
                if (taken == 0) ++all.left_alone, all.worst_left_alone = std::max(all.worst_left_alone, spent);
                if (spent > PartSize::frame_ms) {
                    ++all.late;
                    std::fprintf(stderr, "stroke %d, point %d, %d px: %.1f ms; all threads worked %.1f, the host took %.0f\n", s,
                                 k, side, spent, worked, taken);
                }
            }
            part.took(spent, side);
            // As if the next were smaller.
            const std::vector<int> sizes = PartSize::sizes(longest);
            const auto smaller = std::find(sizes.begin(), sizes.end(), part.pixels()) + 1;
            if (k < 39 || smaller == sizes.end()) continue;
            const Spent first = frame(now, x, y, *smaller, *smaller > DraftSize::sizes[0]);
            if (first.taken == 0) all.worst_smaller = std::max(all.worst_smaller, first.frame);
        }
        drawn = with_value(drawn, at, Value(as<Strokes>(*value_at(drawn, at)).appended(stroke)));
        whole(drawn);
    }
    std::sort(frames.begin(), frames.end());
    all.median = frames[frames.size() / 2], all.worst = frames.back(), all.count = frames.size(), all.side = part.pixels();
    return all;
}

void five_thousand() {
    Strokes strokes;
    for (int k = 0; k < 5000; ++k) {
        Stroke stroke = brush(k % 5 == 0 ? "turn" : "push");
        // All over the tile.
        const auto lot = [k](std::uint64_t which) {
            return static_cast<int>(mix64(static_cast<std::uint64_t>(k), which) % 8192);
        };
        const int x = lot(1), y = lot(2);
        for (int n = 0; n < 12; ++n) stroke.points.push_back({x + 70 * n, y + 20 * (n % 4), 255, 0, 0});
        strokes = strokes.appended(stroke);
    }
    Recipe recipe;
    Strand strand;
    strand.id = strand.name = "a";
    Step clouds, hand;
    clouds.id = "s1", clouds.kind = "clouds", hand.id = "s2", hand.kind = "handwarp", hand.set["strokes"] = Value(strokes);
    strand.steps.push_back(clouds), strand.steps.push_back(hand);
    recipe.strands.push_back(std::make_shared<const Strand>(strand));
    const std::string json = write_recipe(recipe);
    auto start = Clock::now();
    const Reading reading = read_recipe(json);
    const double read = ms_since(start);
    start = Clock::now();
    const Job job;
    (void)render_cloth(reading.recipe, {1024, 1024}, {}, job);
    std::printf("5000 strokes: %zu bytes of JSON, read in %.0f ms, drawn at 1024 in %.0f ms\n", json.size(), read,
                ms_since(start));
}

}  // namespace

int main(int argc, char** argv) {
    five_thousand();
    std::printf("%-20s %-10s %10s %10s %12s %17s %8s %8s\n", "recipe", "step", "median ms", "worst ms", "over 30 ms",
                "left alone, worst", "smaller", "part px");
    for (int k = 1; k < argc; ++k) {
        const auto file = read_loom(argv[k]);
        if (!file) {
            std::fprintf(stderr, "%s\n", file.error().message.c_str());
            return 1;
        }
        // In the first strand, so that everything else lies after it.
        const std::string strand = file->recipe.strands.front()->id;
        for (const auto& [kind, tool, chain] : {std::tuple{"handwarp", "push", ChainKind::steps},
                                                {"handtone", "lighten", ChainKind::steps},
                                                {"paint", "hide", ChainKind::mask}}) {
            Step step;
            step.id = "by-hand", step.kind = kind;
            if (chain == ChainKind::mask) step.set["begins"] = Value(std::string("shown"));
            const int at = static_cast<int>(file->recipe.strands.front()->chain(chain).size());
            const Recipe recipe = step_added(file->recipe, {strand, chain, at}, step);
            const Frames frames = draw(recipe, {strand, "by-hand", "strokes"}, tool);
            std::printf("%-20s %-10s %10.1f %10.1f %5zu of %3zu %10.1f of %3zu %8.1f %8d\n", file->recipe.name.c_str(), kind,
                        frames.median, frames.worst, frames.late, frames.count, frames.worst_left_alone, frames.left_alone,
                        frames.worst_smaller, frames.side);
            std::fflush(stdout);
        }
    }
}
