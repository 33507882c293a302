// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How long a person waits. Of each recipe: its first picture and the full one with nothing kept, as when it is opened; then every
// parameter of every step a little further along its slider, and the first picture after that, with everything else kept, as
// while it is dragged. docs/performance.md keeps the table.
//
// The first picture is as large as the window asks for: where one takes too long the next is smaller, and what is told is what a
// drag comes to.
//
//   keen-loom-edit [--slow MS] [--dials] RECIPE...
//
// With --dials: of each dial of the front, how long the full picture takes after it was moved.
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <string>
#include <vector>

#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/places.h"
#include "core/render/draft_size.h"
#include "core/render/render.h"

namespace {

using namespace loom;
using Clock = std::chrono::steady_clock;

struct Bench {
    Recipe recipe;
    Cache cache{std::size_t{1} << 30};

    std::vector<NodeTiming> timings = {};  ///< of the last one

    double render_at(const Recipe& changed, int longest, const std::vector<Wanted>& wanted = {Wanted{}}) {
        RenderOptions options;
        options.cache = &cache, options.pictures = &picture_reader();
        const auto start = Clock::now();
        const auto made = render(changed, size_for(changed.tile, longest), wanted, options, Job{});
        if (!made) std::fprintf(stderr, "%s: %s\n", recipe.name.c_str(), made.error().message.c_str());
        const double spent = std::chrono::duration<double, std::milli>(Clock::now() - start).count();
        timings = made ? made->timings : std::vector<NodeTiming>();
        return spent;
    }
};

/// The value a little further, as often as asked; numbers that are counted begin again at the other end. Nothing for what is not
/// dragged.
std::optional<Value> nudged(const Place& place, int times) {
    const Parameter& p = place.parameter;
    if (p.kind != Kind::number && p.kind != Kind::count) return std::nullopt;
    const double value = as<double>(place.value), span = p.slider_max - p.slider_min;
    if (!(span > 0)) return std::nullopt;
    const double by = p.kind == Kind::count ? std::fmod(times - 1, span) + 1 : 0.013 * span * times;
    const double other = p.kind == Kind::count ? value + by - span - 1 : value - by;
    const double next = value + by <= p.slider_max ? value + by : other;
    if (next < p.min || next > p.max) return std::nullopt;
    return Value(next);
}

double median_of(std::vector<double> times) {
    if (times.empty()) return 0;
    std::nth_element(times.begin(), times.begin() + static_cast<std::ptrdiff_t>(times.size() / 2), times.end());
    return times[times.size() / 2];
}

/// Five places along each dial; the middle time counts.
void time_dials(Bench& bench, int longest) {
    for (const Dial& dial : bench.recipe.dials) {
        std::vector<double> times;
        for (double value : {12.0, 31.0, 55.0, 72.0, 90.0}) {
            const Recipe moved = with_dial(bench.recipe, dial.name, value);
            bench.render_at(moved, DraftSize().pixels());
            times.push_back(bench.render_at(moved, longest));
        }
        std::sort(bench.timings.begin(), bench.timings.end(),
                  [](const NodeTiming& a, const NodeTiming& b) { return a.milliseconds > b.milliseconds; });
        std::string dearest;
        for (std::size_t k = 0; k < std::min<std::size_t>(4, bench.timings.size()); ++k)
            dearest +=
                (k ? ", " : "") + bench.timings[k].label + " " + std::to_string(std::lround(bench.timings[k].milliseconds));
        std::printf("| %s | %s | %.0f | %.0f | %s |\n", bench.recipe.name.c_str(), dial.name.c_str(), median_of(times),
                    *std::max_element(times.begin(), times.end()), dearest.c_str());
    }
    std::fflush(stdout);
}

}  // namespace

int main(int argc, char** argv) {
    double slow = 50;
    bool dials = false;
    std::vector<std::string> paths;
    for (int k = 1; k < argc; ++k) {
        if (std::strcmp(argv[k], "--slow") == 0 && k + 1 < argc)
            slow = std::atof(argv[++k]);
        else if (std::strcmp(argv[k], "--dials") == 0)
            dials = true;
        else
            paths.emplace_back(argv[k]);
    }
    keep_freed_memory();
    // The first rendering of a process finds its threads and its memory.
    bool first = true;
    if (dials)
        std::printf("| recipe | dial | full picture, ms | worst of five, ms | of the last, ms |\n|---|---|---|---|---|\n");
    else
        std::printf(
            "| recipe | opened: first picture, ms | full, ms | values dragged | of them at a smaller size | median, ms | worst, "
            "ms | "
            "with |\n"
            "|---|---|---|---|---|---|---|---|\n");
    for (const std::string& path : paths) {
        const auto file = read_loom(path);
        if (!file) {
            std::fprintf(stderr, "%s\n", file.error().message.c_str());
            return 1;
        }
        if (first) Bench{file->recipe}.render_at(file->recipe, DraftSize().pixels());
        first = false;
        Bench bench{file->recipe};
        const double opened = bench.render_at(bench.recipe, DraftSize().pixels());
        const double full = bench.render_at(bench.recipe, std::max(bench.recipe.tile.width, bench.recipe.tile.height));
        if (dials) {
            time_dials(bench, std::max(bench.recipe.tile.width, bench.recipe.tile.height));
            continue;
        }
        // What a drag at a smaller size meets is kept too.
        for (int size : DraftSize::sizes) bench.render_at(bench.recipe, size);
        std::vector<double> times;
        double worst = 0;
        std::string with;
        int at_size = 0, smaller = 0;
        for (const Address& at : places(bench.recipe)) {
            if (at.strand.empty()) continue;
            const Place place = *place_at(bench.recipe, at);
            DraftSize draft;
            double time = 0;
            int of = 0, on = 0;
            // Three places of a drag at each size; the middle time counts, as a hiccup of the machine is no property of the step.
            do {
                of = draft.pixels();
                std::vector<double> drag;
                for (int k = 0; k < 3; ++k)
                    if (const auto value = nudged(place, ++on); value && !refuses(bench.recipe, at, *value))
                        drag.push_back(bench.render_at(with_value(bench.recipe, at, *value), of));
                if (drag.empty()) break;
                time = median_of(drag);
                if (time > DraftSize::most_ms) draft.took(time, of);
            } while (draft.pixels() != of);
            if (time == 0) continue;
            times.push_back(time);
            smaller += of < DraftSize::sizes[0];
            if (time > worst) worst = time, with = at.text(), at_size = of;
            if (time > slow) std::fprintf(stderr, "%s: %.0f ms with %s\n", bench.recipe.name.c_str(), time, at.text().c_str());
        }
        std::printf("| %s | %.0f | %.0f | %zu | %d | %.0f | %.0f | %s at %d |\n", bench.recipe.name.c_str(), opened,
                    opened + full, times.size(), smaller, median_of(times), worst, with.c_str(), at_size);
        std::fflush(stdout);
    }
}
