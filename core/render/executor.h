// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Runs a plan. Private to core/render. In pieces: every result whole, side by side as their inputs are ready, kept in the cache.
// In bands: rows after rows through chains of steps that look at rows near them, so that what lies between is never whole.
#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "core/render/cache.h"
#include "core/render/plan.h"
#include "core/render/render.h"

namespace loom {

using BundleRef = std::shared_ptr<const Bundle>;

/// What each node took, whether it was found, and how far the whole has come; several threads write to it.
class Progress {
public:
    Progress(const Plan& plan, const std::vector<bool>& to_run, const Job& job);
    /// `share` of the node is done, after so many milliseconds.
    void add(int node, double milliseconds, double share = 1);
    std::vector<NodeTiming> timings(const std::vector<bool>& needed) const;

private:
    const Plan& plan_;
    const Job& job_;
    std::mutex mutex_;
    std::vector<double> spent_;
    std::vector<bool> ran_;
    double total_ = 0, done_ = 0;
};

/// Nodes that have to be there: outputs and what they read, down to what is there already.
std::vector<bool> needed(const Plan& plan, const std::vector<BundleRef>& have);

/// Runs all needed nodes that `have` lacks, whole, at most `bytes` alive at once (the plan's peak at least). What is not an
/// output is let go of as soon as nobody needs it.
void run_whole(const Plan& plan, std::vector<BundleRef>& have, std::size_t bytes, const RenderOptions& options,
               Progress& progress, const Job& job);

/// Receives the rows of an output from top to bottom.
using BandSink = std::function<void(const Wanted&, const Bundle& band)>;

/// Runs the plan for some rows of the tile and hands them to `sink`. `have` is what is there already, whole.
void run_bands(const Plan& plan, std::vector<BundleRef> have, Rows rows, int threads, const BandSink& sink, Progress& progress,
               const Job& job);

/// Bytes that run_bands has alive at the worst moment; with what it hands on, if that is `kept`.
std::size_t bands_peak_bytes(const Plan& plan, int threads, bool kept = false);

}  // namespace loom
