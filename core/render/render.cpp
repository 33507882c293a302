// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/render.h"

#include <tbb/task_arena.h>

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/guard.h"
#include "core/base/memory.h"
#include "core/render/executor.h"
#include "core/render/gathering.h"
#include "core/render/pixel_run.h"

namespace loom {

Size size_for(const Tile& tile, int longest) {
    const double scale = static_cast<double>(longest) / std::max(tile.width, tile.height);
    return {std::max(1, static_cast<int>(std::lround(tile.width * scale))),
            std::max(1, static_cast<int>(std::lround(tile.height * scale)))};
}

namespace {

std::string mebibytes(std::size_t bytes) { return std::to_string((bytes + (1 << 20) - 1) >> 20) + " MiB"; }

/// Whole results are quicker where they are small, and for what is kept; otherwise the plan runs in bands.
bool by_bands(const Plan& plan, const RenderOptions& options, std::size_t limit) {
    if (options.way != RenderWay::suited) return options.way == RenderWay::bands;
    constexpr std::size_t small = std::size_t{512} << 20;
    return plan.peak_bytes() > (options.cache ? limit : std::min(limit, small));
}

std::size_t limit_of(const RenderOptions& options) {
    const std::size_t limit = options.memory_limit ? options.memory_limit : Memory::process().limit();
    return limit > options.held ? limit - options.held : 1;
}

int threads_of(const RenderOptions& options) {
    return options.threads > 0 ? options.threads : tbb::this_task_arena::max_concurrency();
}

std::vector<BundleRef> found_in(const RenderOptions& options, const Plan& plan) {
    std::vector<BundleRef> have(plan.nodes.size());
    if (options.cache)
        for (std::size_t k = 0; k < have.size(); ++k) have[k] = options.cache->find(plan.nodes[k].key, options.fleeting);
    return have;
}

std::optional<Error> too_large(const Recipe& recipe, Size size, std::size_t bytes, std::size_t limit) {
    if (bytes <= limit) return std::nullopt;
    return Error{Fault::memory, "'" + recipe.name + "' at " + std::to_string(size.width) + "x" + std::to_string(size.height) +
                                    " needs " + mebibytes(bytes) + " of memory and " + mebibytes(limit) +
                                    " are allowed; choose a smaller size"};
}

/// What every rendering begins and ends with; `run(plan, have, progress)` does the work.
template <class Run>
Result<Rendering> rendered(const Recipe& recipe, const Plan& plan, std::size_t bytes, const RenderOptions& options,
                           const Job& job, Run&& run) {
    Rendering rendering;
    rendering.size = plan.size, rendering.peak_bytes = bytes, rendering.warnings = plan.warnings;
    if (const auto error = too_large(recipe, plan.size, bytes, limit_of(options))) return *error;
    const std::size_t said = job.warning_count();  // by what this job did before
    std::vector<BundleRef> have = found_in(options, plan);
    const std::vector<bool> need = needed(plan, have);
    std::vector<bool> to_run = need;
    for (std::size_t k = 0; k < have.size(); ++k) {
        to_run[k] = need[k] && !have[k];
        if (need[k] && have[k] && options.cache) options.cache->used(plan.nodes[k].key);
    }
    Progress progress(plan, to_run, job);
    with_threads(options.threads, [&] { run(have, progress, rendering); });
    if (options.cache && options.fleeting) options.cache->sweep();
    rendering.timings = progress.timings(need);
    const std::vector<std::string> warnings = job.warnings();
    rendering.warnings.insert(rendering.warnings.end(), warnings.begin() + std::ptrdiff_t(said), warnings.end());
    return rendering;
}

std::string doing(const Recipe& recipe, Size size) {
    return "rendering '" + recipe.name + "' at " + std::to_string(size.width) + "x" + std::to_string(size.height);
}

Result<Rendering> in_bands(const Recipe& recipe, const Plan& plan, Rows rows, const RenderOptions& options,
                           const BandReceiver& receive, const Job& job) {
    return rendered(recipe, plan, bands_peak_bytes(plan, threads_of(options)), options, job,
                    [&](std::vector<BundleRef>& have, Progress& progress, Rendering&) {
                        run_bands(
                            plan, std::move(have), rows, threads_of(options),
                            [&](const Wanted& wanted, const Bundle& band) {
                                if (const auto done = receive(wanted, band); !done) throw Refusal{done.error()};
                            },
                            progress, job);
                    });
}

Result<Rendering> whole(const Recipe& recipe, const Plan& plan, const RenderOptions& options, const Job& job) {
    const std::size_t bytes = plan.peak_bytes();
    return rendered(recipe, plan, bytes, options, job,
                    [&](std::vector<BundleRef>& have, Progress& progress, Rendering& rendering) {
                        // What is kept stays anyway; without a cache no more is alive than was announced.
                        run_whole(plan, have, options.cache ? limit_of(options) : bytes, options, progress, job);
                        for (const auto& [each, node] : plan.outputs)
                            rendering.results[each] = *have[static_cast<std::size_t>(node)];
                    });
}

}  // namespace

std::size_t announced_bytes(const Plan& plan, const RenderOptions& options) {
    if (!by_bands(plan, options, limit_of(options))) return plan.peak_bytes();
    return bands_peak_bytes(plan, threads_of(options), true);
}

Result<Rendering> render(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const RenderOptions& options,
                         const Job& job) {
    return guarded(doing(recipe, size), [&]() -> Result<Rendering> {
        const Plan plan = make_plan(recipe, size, wanted, options.pictures, &job);
        const std::size_t bytes = announced_bytes(plan, options);
        if (!by_bands(plan, options, limit_of(options))) return whole(recipe, plan, options, job);
        if (const auto error = too_large(recipe, size, bytes, limit_of(options))) return *error;
        std::map<Wanted, Gathering> gathered;
        auto rendering = in_bands(
            recipe, plan, {0, size.height}, options,
            [&](const Wanted& each, const Bundle& band) -> Result<Done> {
                gathered[each].add(band, job);
                return Done{};
            },
            job);
        if (!rendering) return rendering;
        rendering->peak_bytes = bytes;
        for (auto& [each, all] : gathered) rendering->results[each] = std::move(all).whole();
        return rendering;
    });
}

Result<Rendering> render_bands(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const RenderOptions& options,
                               const BandReceiver& receive, const Job& job) {
    return guarded(doing(recipe, size), [&]() -> Result<Rendering> {
        const Plan plan = make_plan(recipe, size, wanted, options.pictures, &job);
        if (by_bands(plan, options, limit_of(options))) return in_bands(recipe, plan, {0, size.height}, options, receive, job);
        std::map<Wanted, Bundle> wholes;
        auto rendering = whole(recipe, plan, options, job);
        if (!rendering) return rendering;
        rendering->results.swap(wholes);
        for (auto& [each, bundle] : wholes) {
            job.check();
            if (const auto done = receive(each, bundle); !done) return done.error();
        }
        return rendering;
    });
}

Result<Bundle> render_region(const Recipe& recipe, Size size, const Wanted& wanted, Region region, const RenderOptions& options,
                             const Job& job) {
    return guarded(doing(recipe, size), [&]() -> Result<Bundle> {
        const Plan plan = make_plan(recipe, size, {wanted}, options.pictures, &job);
        const Size part{region.width, region.height};
        Gathering gathered;
        int next = 0;
        auto rendering = in_bands(
            recipe, plan, {wrap(region.y, size.height), std::min(region.height, size.height)}, options,
            [&](const Wanted&, const Bundle& band) -> Result<Done> {
                gathered.add(band, part, next, region.x, job);
                next += band.rows().count;
                return Done{};
            },
            job);
        if (!rendering) return rendering.error();
        return std::move(gathered).whole();
    });
}

namespace {

Result<Bundle> rendered_alone(const Recipe& recipe, Size size, const Wanted& wanted, const RenderOptions& options,
                              const Job& job) {
    auto rendering = render(recipe, size, {wanted}, options, job);
    if (!rendering) return rendering.error();
    return std::move(rendering->results.begin()->second);
}

}  // namespace

Result<Bundle> render_cloth(const Recipe& recipe, Size size, const RenderOptions& options, const Job& job) {
    return rendered_alone(recipe, size, Wanted{}, options, job);
}
Result<Bundle> render_picture(const Recipe& recipe, Size size, const RenderOptions& options, const Job& job) {
    return rendered_alone(recipe, size, own_picture, options, job);
}

Result<Bundle> apply_step(const StepDescription& step, const Values& values, std::uint32_t seed, Size size, const Bundle* input,
                          const std::map<std::string, const Bundle*, std::less<>>& others, int threads, const Job& job,
                          const std::set<std::string, std::less<>>& planes, const Drawings& drawings) {
    return guarded("the step " + std::string(step.title), [&]() -> Result<Bundle> {
        Bundle result;
        with_threads(threads, [&] {
            if (step.per_pixel) {
                PixelRunStep part;
                part.description = &step, part.values = values, part.seed = mix64(mix64(0), seed);
                result = run_pixels({part}, size, {input}, job);
                return;
            }
            StepContext context;
            context.size = size, context.tile = size, context.seed = mix64(mix64(0), seed), context.job = &job;
            context.input = input, context.wanted = &planes;
            context.others = others;
            context.drawings = drawings.files, context.pictures = drawings.reader;
            result = step.run(values, context);
        });
        return result;
    });
}

}  // namespace loom
