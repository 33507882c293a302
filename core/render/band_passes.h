// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a plan is cut into passes that run in bands, and the memory that takes. Private to core/render.
#pragma once

#include <map>
#include <set>
#include <vector>

#include "core/render/plan.h"

namespace loom {

/// Rows of a band. What a chain hands on should stay in the cache of the processor, and every thread should have some of it.
int band_rows(Size size, int threads);

/// Rows that a node makes at a time: a band, or as many of its blocks as cover one.
inline int piece_rows(const Footprint& footprint, int band) {
    return (band + footprint.block - 1) / footprint.block * footprint.block;
}

/// How a plan is cut into passes. In each, chains are streamed from what is there whole; after it run the steps that need what
/// was gathered in it. Outputs are streamed in the pass that makes most of what they need anyway.
class Passes {
public:
    Passes(const Plan& plan, const std::vector<bool>& have, int band);

    int last() const { return last_; }
    bool gathered(int node) const { return gathered_[static_cast<std::size_t>(node)]; }
    /// The last pass that reads a node that is there whole.
    int last_read(int node) const { return last_read_[static_cast<std::size_t>(node)]; }
    /// Streamed in a pass: what is gathered then, and outputs that are not.
    const std::vector<int>& targets(int level) const {
        static const std::vector<int> none;
        const auto found = targets_.find(level);
        return found == targets_.end() ? none : found->second;
    }
    /// Nodes that run in one piece after a pass.
    std::vector<int> run_after(int level) const {
        std::vector<int> nodes;
        for (std::size_t k = 0; k < plan_.nodes.size(); ++k)
            if (need_[k] && !have_[k] && whole_[k] && level_[k] == level) nodes.push_back(static_cast<int>(k));
        return nodes;
    }
    /// What is there whole when a pass begins.
    std::vector<bool> there(int level) const {
        std::vector<bool> result = have_;
        for (std::size_t k = 0; k < result.size(); ++k)
            if (need_[k] && (whole_[k] || gathered_[k]) && level_[k] < level) result[k] = true;
        return result;
    }

private:
    void choose_passes(std::vector<int> outputs);
    std::set<int> read(int level) const;

    const Plan& plan_;
    std::vector<bool> have_, need_, whole_, gathered_;
    std::vector<int> level_, last_read_;
    std::map<int, std::vector<int>> targets_;
    int last_ = 0;
};

/// Every node that is read in a pass, with those that read it; what is there whole is not looked behind.
std::map<int, std::set<int>> readers_of(const Plan& plan, const std::vector<int>& targets, const std::vector<bool>& have);

}  // namespace loom
