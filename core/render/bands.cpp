// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Line buffers: each node keeps the rows that its readers still look at, and makes the next ones when they are asked for. What
// needs its input whole ends a pass: its inputs are gathered, it runs in one piece, and the next pass reads from it.
#include <algorithm>
#include <chrono>
#include <cstring>
#include <map>
#include <optional>
#include <set>

#include "core/render/executor.h"
#include "core/render/gathering.h"

namespace loom {

namespace {

std::size_t at(int node) { return static_cast<std::size_t>(node); }

/// Rows of a band. What a chain hands on should stay in the cache of the processor, and every thread should have some of it.
int band_rows(Size size, int threads) {
    constexpr std::size_t near_core = std::size_t{1024} << 10;  // bytes of a plane
    const auto few = static_cast<int>(near_core / (static_cast<std::size_t>(size.width) * sizeof(float)));
    return std::clamp(few, 16 * std::max(2, threads), 256);
}

/// How a plan is cut into passes. In each, chains are streamed from what is there whole; after it run the steps that need what
/// was gathered in it.
class Passes {
public:
    Passes(const Plan& plan, const std::vector<bool>& have, int band)
        : plan_(plan),
          have_(have),
          need_(have.size(), false),
          whole_(have.size(), false),
          gathered_(have.size(), false),
          level_(have.size(), 0) {
        const std::size_t count = plan.nodes.size();
        std::vector<bool> output(count, false);
        for (const auto& [wanted, node] : plan.outputs) need_[at(node)] = output[at(node)] = true;
        for (std::size_t k = count; k-- > 0;)
            if (need_[k] && !have[k])
                for (int input : plan.nodes[k].inputs) need_[at(input)] = true;
        // How far a node looks beyond a band, all the way up to what is there whole. Where that comes near half a tile, the node
        // may as well be whole.
        std::vector<int> depth(count, 0);
        for (std::size_t k = 0; k < count; ++k) {
            if (!need_[k] || have[k]) continue;
            const Node& node = plan.nodes[k];
            for (int input : node.inputs) {
                depth[k] = std::max(depth[k], depth[at(input)]);
                level_[k] = std::max(level_[k], level_[at(input)] + (whole_[at(input)] ? 1 : 0));
            }
            depth[k] += node.footprint.down + node.footprint.block - 1;
            whole_[k] = !node.footprint.by_bands() || node.size != plan.size || 2 * (2 * depth[k] + band) > node.size.height;
            if (!whole_[k]) continue;
            depth[k] = 0;
            for (int input : node.inputs) gathered_[at(input)] = !whole_[at(input)] && !have[at(input)];
        }
        for (std::size_t k = 0; k < count; ++k)
            if (need_[k] && !have[k]) last_ = std::max(last_, level_[k]);
        for (std::size_t k = 0; k < count; ++k) {
            if (!need_[k] || have[k] || whole_[k]) continue;
            // Outputs go together in the last pass, so that what they share is streamed once.
            if (gathered_[k] || output[k]) targets_[gathered_[k] ? level_[k] : last_].push_back(static_cast<int>(k));
        }
        last_read_.assign(count, -1);
        for (int level = 0; level <= last_; ++level)
            for (int node : read(level)) last_read_[at(node)] = level;
    }

    int last() const { return last_; }
    bool gathered(int node) const { return gathered_[at(node)]; }
    /// The last pass that reads a node that is there whole.
    int last_read(int node) const { return last_read_[at(node)]; }
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
    std::set<int> read(int level) const;

    const Plan& plan_;
    std::vector<bool> have_, need_, whole_, gathered_;
    std::vector<int> level_, last_read_;
    std::map<int, std::vector<int>> targets_;
    int last_ = 0;
};

/// How many rows before and after a band a node may be asked for.
struct Slack {
    int before = 0, after = 0;
};

std::map<int, Slack> slacks_of(const Plan& plan, const std::vector<int>& targets, const std::vector<bool>& have) {
    std::map<int, Slack> slacks;
    for (int target : targets) slacks[target];
    for (int k = static_cast<int>(plan.nodes.size()); k-- > 0;) {
        const auto found = slacks.find(k);
        if (found == slacks.end() || have[at(k)]) continue;
        const Footprint& foot = plan.nodes[at(k)].footprint;
        const Slack own{found->second.before + foot.block - 1 + foot.down, found->second.after + foot.block - 1 + foot.down};
        for (int input : plan.nodes[at(k)].inputs) {
            Slack& theirs = slacks[input];
            theirs.before = std::max(theirs.before, own.before), theirs.after = std::max(theirs.after, own.after);
        }
    }
    return slacks;
}

std::set<int> Passes::read(int level) const {
    const std::vector<bool> whole = there(level);
    std::set<int> nodes;
    for (const auto& [node, slack] : slacks_of(plan_, targets(level), whole))
        if (whole[at(node)]) nodes.insert(node);
    for (int node : run_after(level))
        for (int input : plan_.nodes[at(node)].inputs) nodes.insert(input);
    return nodes;
}

/// One bundle of the rows of two that follow each other.
Bundle joined(const Bundle& a, const Bundle& b, Size size) {
    const Rows rows{a.rows().first, a.rows().count + b.rows().count};
    std::map<std::pair<const Plane*, const Plane*>, PlaneRef> done;
    auto both = [&](const PlaneRef& first, const PlaneRef& second) {
        PlaneRef& result = done[{first.get(), second.get()}];
        if (!result) {
            Plane plane(size, rows);
            std::memcpy(plane.data(), first->data(), first->bytes());
            std::memcpy(plane.data() + first->count(), second->data(), second->bytes());
            result = share(std::move(plane));
        }
        return result;
    };
    // Bands of one node may differ in what they leave out: a coverage of ones, a grey for three alike.
    const std::size_t channels = std::max(a.colour.size(), b.colour.size());
    auto channel = [](const Bundle& bundle, std::size_t c) { return bundle.colour[bundle.grey() ? 0 : c]; };
    Bundle result;
    for (std::size_t c = 0; c < channels; ++c) result.colour.push_back(both(channel(a, c), channel(b, c)));
    if (a.coverage || b.coverage) result.coverage = both(coverage_of(a), coverage_of(b));
    for (const auto& [name, plane] : a.named)
        if (const PlaneRef other = b.plane(name)) result.named[name] = both(plane, other);
    return result;
}

/// Rows of a whole bundle, counted on over the tile's edges.
Bundle rows_of(const Bundle& whole, int first, int count) {
    const Size size = whole.size();
    if (count >= size.height) return whole;
    const int begin = wrap(first, size.height), rest = size.height - begin;
    if (count <= rest) return part_of(whole, {begin, count});
    return joined(part_of(whole, {begin, rest}), part_of(whole, {0, count - rest}), size);
}

class Pass {
public:
    Pass(const Plan& plan, const std::vector<BundleRef>& have, const std::vector<int>& targets, Rows rows, Shared& shared,
         Progress& progress, const Job& job)
        : plan_(plan), have_(have), rows_(rows), shared_(shared), progress_(progress), job_(job) {
        std::vector<bool> there;
        for (const BundleRef& each : have) there.push_back(static_cast<bool>(each));
        for (const auto& [node, slack] : slacks_of(plan, targets, there)) lines_[node].slack = slack;
    }

    /// Rows [first, first + count) of the node, counted on over the tile's edges; what lies before `band` less the node's slack
    /// is not asked for again.
    Bundle rows(int node, int first, int count, int band) {
        if (have_[at(node)]) return rows_of(*have_[at(node)], first, count);
        const Node& what = plan_.nodes[at(node)];
        Line& line = lines_[node];
        const int block = what.footprint.block, height = what.size.height;
        // Blocks count from the tile's first row.
        auto block_start = [&](int row) {
            const int tile = floor_tile(row, height);
            return tile + (row - tile) / block * block;
        };
        auto block_end = [&](int row) {
            const int tile = floor_tile(row, height);
            return std::min(tile + (row - tile + block) / block * block, tile + height);
        };
        if (line.held.empty() || first < line.first || first > line.end()) {
            line.held = {};
            line.first = block_start(first);
        }
        while (line.end() < first + count) {
            const int from = line.end(), tile_end = floor_tile(from, height) + height;
            int to = block_end(from);
            while (to < first + count && to < tile_end) to = block_end(to);
            append(node, line, from, to, band);
        }
        return part_of(line.held, {wrap(first, height), count});
    }

private:
    struct Line {
        Slack slack;
        Bundle held;
        int first = 0;  ///< of the held rows, counted on over the tile's edges
        std::unique_ptr<Prepared> prepared = std::make_unique<Prepared>();
        int end() const { return first + held.rows().count; }
    };

    static int floor_tile(int row, int height) { return row - wrap(row, height); }

    void append(int node, Line& line, int from, int to, int band) {
        const Node& what = plan_.nodes[at(node)];
        std::vector<Bundle> inputs;
        for (int input : what.inputs)
            inputs.push_back(rows(input, from - what.footprint.down, to - from + 2 * what.footprint.down, band));
        NodeInputs given;
        for (const Bundle& each : inputs) given.push_back(&each);
        job_.check();
        const auto start = std::chrono::steady_clock::now();
        Bundle made = what.run(given, {{wrap(from, what.size.height), to - from}, line.prepared.get(), &shared_, job_});
        inputs.clear();
        // Rows that no reader looks back to any more are let go of.
        const int keep = std::min(from, band - line.slack.before);
        if (line.held.empty() || keep >= line.end()) {
            line.held = std::move(made), line.first = from;
        } else {
            const int lost = std::max(0, keep - line.first);
            const Bundle rest = part_of(line.held, {wrap(line.first + lost, what.size.height), line.held.rows().count - lost});
            line.held = {};
            line.held = joined(rest, made, what.size), line.first += lost;
        }
        const std::chrono::duration<double, std::milli> spent = std::chrono::steady_clock::now() - start;
        progress_.add(node, spent.count(), static_cast<double>(to - from) / std::max(1, rows_.count));
    }

    const Plan& plan_;
    const std::vector<BundleRef>& have_;
    Rows rows_;
    Shared& shared_;
    Progress& progress_;
    const Job& job_;
    std::map<int, Line> lines_;
};

std::vector<bool> there(const std::vector<BundleRef>& have) {
    std::vector<bool> result;
    for (const BundleRef& each : have) result.push_back(static_cast<bool>(each));
    return result;
}

/// One run of a plan in bands.
class BandRun {
public:
    BandRun(const Plan& plan, std::vector<BundleRef> have, Rows rows, int threads, const BandSink& sink, Progress& progress,
            const Job& job)
        : plan_(plan),
          have_(std::move(have)),
          rows_(rows),
          band_(band_rows(plan.size, threads)),
          passes_(plan, there(have_), band_),
          sink_(sink),
          progress_(progress),
          job_(job) {
        for (const auto& [wanted, node] : plan.outputs) outputs_[node].push_back(&wanted);
    }

    void run() {
        for (const auto& [node, wanted] : outputs_)
            if (have_[at(node)]) hand_whole(node);
        let_go(-1);
        for (int level = 0; level <= passes_.last(); ++level) {
            stream(level);
            for (int node : passes_.run_after(level)) run_one(node);
            let_go(level);
        }
    }

private:
    template <class Each>
    void for_bands(Rows rows, Each&& each) const {
        const int height = plan_.size.height;
        for (int y = rows.first; y < rows.end();) {
            const int count = std::min({band_, rows.end() - y, height - wrap(y, height)});
            each(y, count);
            y += count;
        }
    }

    void hand_on(int node, const Bundle& some) {
        const auto found = outputs_.find(node);
        if (found == outputs_.end()) return;
        for (const Wanted* wanted : found->second) sink_(*wanted, some);
    }

    /// Outputs that are there whole go in bands like the others.
    void hand_whole(int node) {
        if (!outputs_.contains(node)) return;
        const BundleRef whole = have_[at(node)];
        for_bands(rows_, [&](int y, int count) { hand_on(node, part_of(*whole, {wrap(y, plan_.size.height), count})); });
    }

    void stream(int level) {
        std::vector<int> gathered, streamed;
        for (int target : passes_.targets(level)) (passes_.gathered(target) ? gathered : streamed).push_back(target);
        const Rows tile{0, plan_.size.height};
        if (rows_ == tile || gathered.empty()) return stream(gathered, streamed, rows_);
        // What is gathered is wanted whole, whatever rows are asked for.
        stream(gathered, {}, tile);
        stream({}, streamed, rows_);
    }

    void stream(const std::vector<int>& gathered, const std::vector<int>& streamed, Rows rows) {
        std::vector<int> targets = gathered;
        targets.insert(targets.end(), streamed.begin(), streamed.end());
        if (targets.empty()) return;
        std::map<int, Gathering> wholes;
        {
            Pass pass(plan_, have_, targets, rows, shared_, progress_, job_);
            for_bands(rows, [&](int y, int count) {
                for (int node : gathered) wholes[node].add(pass.rows(node, y, count, y));
                for (int node : streamed) hand_on(node, pass.rows(node, y, count, y));
            });
        }
        for (auto& [node, all] : wholes) {
            have_[at(node)] = std::make_shared<const Bundle>(std::move(all).whole());
            hand_whole(node);
        }
    }

    void run_one(int node) {
        const Node& what = plan_.nodes[at(node)];
        NodeInputs inputs;
        for (int input : what.inputs) inputs.push_back(have_[at(input)].get());
        job_.check();
        const auto start = std::chrono::steady_clock::now();
        have_[at(node)] = std::make_shared<const Bundle>(what.run(inputs, {{0, what.size.height}, nullptr, &shared_, job_}));
        const std::chrono::duration<double, std::milli> spent = std::chrono::steady_clock::now() - start;
        progress_.add(node, spent.count());
        hand_whole(node);
    }

    void let_go(int level) {
        for (std::size_t k = 0; k < have_.size(); ++k)
            if (passes_.last_read(static_cast<int>(k)) <= level) have_[k] = nullptr;
    }

    const Plan& plan_;
    std::vector<BundleRef> have_;
    Rows rows_;
    int band_;
    Passes passes_;
    Shared shared_;
    const BandSink& sink_;
    Progress& progress_;
    const Job& job_;
    std::map<int, std::vector<const Wanted*>> outputs_;
};

}  // namespace

void run_bands(const Plan& plan, std::vector<BundleRef> have, Rows rows, int threads, const BandSink& sink, Progress& progress,
               const Job& job) {
    BandRun(plan, std::move(have), rows, threads, sink, progress, job).run();
}

std::size_t bands_peak_bytes(const Plan& plan, int threads) {
    const int band = band_rows(plan.size, threads);
    const Passes passes(plan, std::vector<bool>(plan.nodes.size(), false), band);
    auto scratch = [](const Node& node, int rows) {
        return static_cast<std::size_t>(node.scratch_planes * static_cast<double>(node.size.width) * rows * sizeof(float));
    };
    std::size_t whole = 0, peak = 0;
    std::set<int> alive;
    for (int level = 0; level <= passes.last(); ++level) {
        std::size_t lines = 0, most = 0;
        const std::vector<bool> there = passes.there(level);
        for (const auto& [node, slack] : slacks_of(plan, passes.targets(level), there)) {
            if (there[at(node)]) continue;
            const Node& what = plan.nodes[at(node)];
            const int rows = band + slack.before + slack.after;
            lines += what.row_bytes() * static_cast<std::size_t>(rows);
            // While rows are appended, the line is there twice.
            const bool copied = slack.before > 0;
            most = std::max(most, (copied ? what.row_bytes() * static_cast<std::size_t>(rows) : 0) +
                                      scratch(what, band + 2 * what.footprint.down + what.footprint.block - 1));
        }
        for (int node : passes.targets(level))
            if (passes.gathered(node)) whole += plan.nodes[at(node)].bytes(), alive.insert(node);
        peak = std::max(peak, whole + lines + most);
        for (int node : passes.run_after(level)) {
            const Node& what = plan.nodes[at(node)];
            peak = std::max(peak, whole + what.bytes() + scratch(what, what.size.height));
            whole += what.bytes(), alive.insert(node);
        }
        for (auto node = alive.begin(); node != alive.end();) {
            if (passes.last_read(*node) > level) {
                ++node;
                continue;
            }
            whole -= plan.nodes[at(*node)].bytes();
            node = alive.erase(node);
        }
    }
    return peak;
}

}  // namespace loom
