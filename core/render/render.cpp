// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/render.h"

#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>

#include "core/base/guard.h"
#include "core/render/pixel_run.h"

namespace loom {

std::shared_ptr<const Bundle> Cache::find(const Key& key) {
    const std::lock_guard lock(mutex_);
    const auto found = index_.find(key);
    if (found == index_.end()) return nullptr;
    entries_.splice(entries_.begin(), entries_, found->second);
    return found->second->bundle;
}

void Cache::keep(const Key& key, std::shared_ptr<const Bundle> bundle) {
    const std::size_t bytes = bundle->bytes();
    const std::lock_guard lock(mutex_);
    if (bytes > budget_ || index_.contains(key)) return;
    entries_.push_front({key, std::move(bundle), bytes});
    index_[key] = entries_.begin();
    bytes_ += bytes;
    while (bytes_ > budget_) {
        bytes_ -= entries_.back().bytes;
        index_.erase(entries_.back().key);
        entries_.pop_back();
    }
}

std::size_t Cache::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

void Cache::clear() {
    const std::lock_guard lock(mutex_);
    entries_.clear();
    index_.clear();
    bytes_ = 0;
}

std::size_t default_memory_limit() {
    const auto pages = static_cast<std::size_t>(std::max(0L, ::sysconf(_SC_PHYS_PAGES)));
    return pages * static_cast<std::size_t>(::sysconf(_SC_PAGESIZE)) / 10 * 7;
}

Size size_for(const Tile& tile, int longest) {
    const double scale = static_cast<double>(longest) / std::max(tile.width, tile.height);
    return {std::max(1, static_cast<int>(std::lround(tile.width * scale))),
            std::max(1, static_cast<int>(std::lround(tile.height * scale)))};
}

namespace {

std::size_t bytes_of(const Node& node) {
    const int planes = std::max(1, node.shape.channels) + (node.shape.coverage ? 1 : 0) + node.named_planes;
    return static_cast<std::size_t>(planes) * node.size.pixels() * sizeof(float);
}

/// For each node, the last node that reads it (or one past the end for outputs).
std::vector<std::size_t> last_uses(const Plan& plan) {
    std::vector<std::size_t> last(plan.nodes.size(), 0);
    for (std::size_t k = 0; k < plan.nodes.size(); ++k) {
        last[k] = std::max(last[k], k);
        for (int input : plan.nodes[k].inputs) last[static_cast<std::size_t>(input)] = k;
    }
    for (const auto& [wanted, node] : plan.outputs) last[static_cast<std::size_t>(node)] = plan.nodes.size();
    return last;
}

/// Nodes that have to run: outputs and what they read, down to what the cache holds.
std::vector<bool> needed(const Plan& plan, const std::vector<std::shared_ptr<const Bundle>>& have) {
    std::vector<bool> need(plan.nodes.size(), false);
    for (const auto& [wanted, node] : plan.outputs) need[static_cast<std::size_t>(node)] = true;
    for (std::size_t k = plan.nodes.size(); k-- > 0;)
        if (need[k] && !have[k])
            for (int input : plan.nodes[k].inputs) need[static_cast<std::size_t>(input)] = true;
    return need;
}

std::string mebibytes(std::size_t bytes) { return std::to_string((bytes + (1 << 20) - 1) >> 20) + " MiB"; }

}  // namespace

std::size_t Plan::peak_bytes() const {
    const auto last = last_uses(*this);
    std::size_t alive = 0, peak = 0;
    for (std::size_t k = 0; k < nodes.size(); ++k) {
        alive += bytes_of(nodes[k]);
        peak = std::max(peak, alive + static_cast<std::size_t>(nodes[k].scratch_planes) * nodes[k].size.pixels() * sizeof(float));
        for (std::size_t j = 0; j <= k; ++j)
            if (last[j] == k) alive -= bytes_of(nodes[j]);
    }
    return peak;
}

namespace {

Result<Rendering> render_unguarded(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted,
                                   const RenderOptions& options, const Job& job) {
    Plan plan = make_plan(recipe, size, wanted, options.pictures);
    Rendering rendering;
    rendering.size = size;
    rendering.peak_bytes = plan.peak_bytes();
    rendering.warnings = plan.warnings;
    const std::size_t limit = options.memory_limit ? options.memory_limit : default_memory_limit();
    if (rendering.peak_bytes > limit)
        return Error{Fault::memory, "'" + recipe.name + "' at " + std::to_string(size.width) + "x" + std::to_string(size.height) +
                                        " needs " + mebibytes(rendering.peak_bytes) + " of memory and " + mebibytes(limit) +
                                        " are allowed; choose a smaller size"};

    const std::size_t count = plan.nodes.size();
    std::vector<std::shared_ptr<const Bundle>> results(count);
    if (options.cache)
        for (std::size_t k = 0; k < count; ++k) results[k] = options.cache->find(plan.nodes[k].key);
    const auto need = needed(plan, results);
    const auto last = last_uses(plan);
    double total = 0, done = 0;
    for (std::size_t k = 0; k < count; ++k)
        if (need[k] && !results[k]) total += plan.nodes[k].cost;

    for (std::size_t k = 0; k < count; ++k) {
        const Node& node = plan.nodes[k];
        if (need[k]) {
            job.check();
            const auto start = std::chrono::steady_clock::now();
            const bool cached = static_cast<bool>(results[k]);
            if (!cached) {
                std::vector<const Bundle*> inputs;
                for (int input : node.inputs) inputs.push_back(results[static_cast<std::size_t>(input)].get());
                const std::size_t warned = job.warnings().size();
                with_threads(options.threads, [&] { results[k] = std::make_shared<const Bundle>(node.run(inputs, job)); });
                // What could not be done has to be said again next time.
                if (options.cache && job.warnings().size() == warned) options.cache->keep(node.key, results[k]);
                done += node.cost;
                job.report(total > 0 ? done / total : 1);
            }
            const std::chrono::duration<double, std::milli> spent = std::chrono::steady_clock::now() - start;
            rendering.timings.push_back({node.label, spent.count(), cached});
        }
        for (std::size_t j = 0; j <= k; ++j)
            if (last[j] == k) results[j].reset();
    }
    for (std::string& warning : job.warnings()) rendering.warnings.push_back(std::move(warning));
    for (const auto& [each, node] : plan.outputs) rendering.results[each] = *results[static_cast<std::size_t>(node)];
    return rendering;
}

}  // namespace

Result<Rendering> render(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const RenderOptions& options,
                         const Job& job) {
    return guarded("rendering '" + recipe.name + "' at " + std::to_string(size.width) + "x" + std::to_string(size.height),
                   [&] { return render_unguarded(recipe, size, wanted, options, job); });
}

Result<Bundle> render_cloth(const Recipe& recipe, Size size, const RenderOptions& options, const Job& job) {
    auto rendering = render(recipe, size, {Wanted{}}, options, job);
    if (!rendering) return rendering.error();
    return std::move(rendering->results.begin()->second);
}

Result<Bundle> apply_step(const StepDescription& step, const Values& values, std::uint32_t seed, Size size, const Bundle* input,
                          const std::map<std::string, const Bundle*, std::less<>>& others, int threads, const Job& job,
                          const std::set<std::string, std::less<>>& planes) {
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
            result = step.run(values, context);
        });
        return result;
    });
}

}  // namespace loom
