// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Renders what is wanted of a recipe: whole results side by side, kept in a cache for the next time, or band by band in little
// memory. The same bytes come out either way.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <set>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/render/cache.h"
#include "core/render/plan.h"

namespace loom {

/// Whole results side by side, or bands one after the other; the bytes are the same.
enum class RenderWay {
    suited,  ///< whole where results are kept or small, bands where they would not fit
    whole,
    bands,
};

struct RenderOptions {
    int threads = 0;               ///< 0: all cores
    std::size_t memory_limit = 0;  ///< bytes; 0: that of the process
    std::size_t held = 0;          ///< bytes of them that whoever asks holds beside the rendering
    Cache* cache = nullptr;
    bool fleeting = false;  ///< another like it follows at once: what only this one needed is not kept beyond that
    const PictureReader* pictures = nullptr;  ///< see make_plan
    RenderWay way = RenderWay::suited;
};

struct NodeTiming {
    std::string label;
    double milliseconds;
    bool cached;
};

struct Rendering {
    Size size;
    std::map<Wanted, Bundle> results;
    std::vector<std::string> warnings;
    std::vector<NodeTiming> timings;
    std::size_t peak_bytes = 0;
};

/// Renders what is wanted at `size` pixels. Fails with Fault::memory before it starts if the work needs
/// more than the limit, and with Fault::cancelled once `job` is cancelled.
Result<Rendering> render(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const RenderOptions& options,
                         const Job& job);

/// Bytes that rendering needs at most, as render (with a cache or without) and render_bands announce it.
std::size_t announced_bytes(const Plan& plan, const RenderOptions& options);

/// Receives bands of each thing wanted, from top to bottom; an error ends the rendering.
using BandReceiver = std::function<Result<Done>(const Wanted&, const Bundle& band)>;
/// Renders in bands that go to `receive` as they are made, so that nothing needs to be whole. `results` stay empty.
Result<Rendering> render_bands(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const RenderOptions& options,
                               const BandReceiver& receive, const Job& job);
/// A part of one thing wanted, of region.width x region.height pixels: bands of what lies round it, from what the cache holds.
Result<Bundle> render_region(const Recipe& recipe, Size size, const Wanted& wanted, Region region, const RenderOptions& options,
                             const Job& job);

/// The cloth alone.
Result<Bundle> render_cloth(const Recipe& recipe, Size size, const RenderOptions& options, const Job& job);

/// What stands for the recipe: its cloth, or its lit map where it says so.
Result<Bundle> render_picture(const Recipe& recipe, Size size, const RenderOptions& options, const Job& job);
const Wanted own_picture{Wanted::What::picture, "", "", Map::height};

/// SVG files by parameter id, and who reads them.
struct Drawings {
    std::map<std::string, std::shared_ptr<const std::string>, std::less<>> files;
    const PictureReader* reader = nullptr;
};

/// Runs one step on pictures instead of strands. `input` is null for Make steps; `others` by parameter id; `planes` are the
/// named planes that are wanted besides, `drawings` what parameters of that kind name.
Result<Bundle> apply_step(const StepDescription& step, const Values& values, std::uint32_t seed, Size size, const Bundle* input,
                          const std::map<std::string, const Bundle*, std::less<>>& others, int threads, const Job& job,
                          const std::set<std::string, std::less<>>& planes = {}, const Drawings& drawings = {});

}  // namespace loom
