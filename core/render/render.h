// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Runs a plan: in order, on all cores, with what the cache holds; frees each result as soon as nobody needs it.
#pragma once

#include <list>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/base/result.h"
#include "core/render/plan.h"

namespace loom {

/// Results of earlier renderings by key, at most `budget` bytes, the longest unused go first. Thread-safe.
class Cache {
public:
    explicit Cache(std::size_t budget_bytes) : budget_(budget_bytes) {}

    std::shared_ptr<const Bundle> find(const Key& key);
    void keep(const Key& key, std::shared_ptr<const Bundle> bundle);
    std::size_t bytes() const;
    std::size_t budget() const { return budget_; }
    void clear();

private:
    struct Entry {
        Key key;
        std::shared_ptr<const Bundle> bundle;
        std::size_t bytes;
    };
    mutable std::mutex mutex_;
    std::size_t budget_, bytes_ = 0;
    std::list<Entry> entries_;  // newest first
    std::unordered_map<Key, std::list<Entry>::iterator, KeyHash> index_;
};

struct RenderOptions {
    int threads = 0;               ///< 0: all cores
    std::size_t memory_limit = 0;  ///< bytes; 0: default_memory_limit()
    Cache* cache = nullptr;
    const PictureReader* pictures = nullptr;  ///< see make_plan
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

/// Seven tenths of the machine's memory.
std::size_t default_memory_limit();

/// Renders what is wanted at `size` pixels. Fails with Fault::memory before it starts if the work needs
/// more than the limit, and with Fault::cancelled once `job` is cancelled.
Result<Rendering> render(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const RenderOptions& options,
                         const Job& job);

/// The cloth alone.
Result<Bundle> render_cloth(const Recipe& recipe, Size size, const RenderOptions& options, const Job& job);

/// Runs one step on pictures instead of strands. `input` is null for Make steps; `others` by parameter id; `planes` are the
/// named planes that are wanted besides.
Result<Bundle> apply_step(const StepDescription& step, const Values& values, std::uint32_t seed, Size size, const Bundle* input,
                          const std::map<std::string, const Bundle*, std::less<>>& others, int threads, const Job& job,
                          const std::set<std::string, std::less<>>& planes = {});

}  // namespace loom
