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

/// Every node that is read in a pass, with those that read it; what is there whole is not looked behind.
std::map<int, std::set<int>> readers_of(const Plan& plan, const std::vector<int>& targets, const std::vector<bool>& have) {
    std::map<int, std::set<int>> readers;
    for (int target : targets) readers[target];
    for (int k = static_cast<int>(plan.nodes.size()); k-- > 0;)
        if (readers.contains(k) && !have[at(k)])
            for (int input : plan.nodes[at(k)].inputs) readers[input].insert(k);
    return readers;
}

std::set<int> Passes::read(int level) const {
    const std::vector<bool> whole = there(level);
    std::set<int> nodes;
    for (const auto& [node, readers] : readers_of(plan_, targets(level), whole))
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
        for (auto& [node, readers] : readers_of(plan, targets, there)) lines_[node].readers = std::move(readers);
    }

    /// Rows [first, first + count) of the node, counted on over the tile's edges. Each reader asks from top to bottom.
    Bundle rows(int node, int first, int count) {
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
        if (!line.begun || first < line.first || first > line.end) {
            line.held = {};
            line.begun = true, line.first = line.end = block_start(first);
        }
        while (line.end < first + count) {
            const int from = line.end, tile_end = floor_tile(from, height) + height;
            int to = block_end(from);
            while (to < first + count && to < tile_end) to = block_end(to);
            append(node, line, first, from, to);
        }
        Bundle result = part_of(line.held, {wrap(first, height), count});
        return result;
    }

private:
    struct Line {
        std::set<int> readers;
        Bundle held;
        bool begun = false;
        int first = 0, end = 0;  ///< the held rows, counted on over the tile's edges; none if they are the same
        std::unique_ptr<Prepared> prepared = std::make_unique<Prepared>();
    };

    static int floor_tile(int row, int height) { return row - wrap(row, height); }

    /// The first row that is still looked at: by whoever asks now from row `asked` on, and by the others with their next piece.
    int first_read(const Line& line, int asked) const {
        int first = asked;
        for (int reader : line.readers) {
            const Line& theirs = lines_.at(reader);
            if (theirs.begun) first = std::min(first, theirs.end - plan_.nodes[at(reader)].footprint.down);
        }
        return first;
    }

    /// Rows that every reader has read.
    void let_go(int node) {
        const auto found = lines_.find(node);
        if (found == lines_.end()) return;
        Line& line = found->second;
        for (int reader : line.readers)
            if (!lines_.at(reader).begun) return;
        if (!line.readers.empty() && first_read(line, line.end) >= line.end) line.held = {}, line.first = line.end;
    }

    void append(int node, Line& line, int asked, int from, int to) {
        const Node& what = plan_.nodes[at(node)];
        std::vector<Bundle> inputs;
        for (int input : what.inputs)
            inputs.push_back(rows(input, from - what.footprint.down, to - from + 2 * what.footprint.down));
        NodeInputs given;
        for (const Bundle& each : inputs) given.push_back(&each);
        job_.check();
        const auto start = std::chrono::steady_clock::now();
        Bundle made = what.run(given, {{wrap(from, what.size.height), to - from}, line.prepared.get(), &shared_, job_});
        inputs.clear();
        const int keep = std::min(from, first_read(line, asked));
        if (line.held.empty() || keep >= line.end) {
            line.held = std::move(made), line.first = from;
        } else {
            const int lost = std::max(0, keep - line.first);
            const Bundle rest = part_of(line.held, {wrap(line.first + lost, what.size.height), line.end - line.first - lost});
            line.held = {};
            line.held = joined(rest, made, what.size), line.first += lost;
        }
        line.end = to;
        for (int input : what.inputs) let_go(input);
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
            let_go_streamed(level);
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
                for (int node : gathered) wholes[node].add(pass.rows(node, y, count));
                for (int node : streamed) hand_on(node, pass.rows(node, y, count));
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

    /// What only the pass itself read.
    void let_go_streamed(int level) {
        std::set<int> still;
        for (int node : passes_.run_after(level))
            still.insert(plan_.nodes[at(node)].inputs.begin(), plan_.nodes[at(node)].inputs.end());
        for (int k = 0; k < static_cast<int>(have_.size()); ++k)
            if (passes_.last_read(k) <= level && !still.contains(k)) have_[at(k)] = nullptr;
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

std::size_t bands_peak_bytes(const Plan& plan, int threads, bool kept) {
    const int band = band_rows(plan.size, threads);
    const Passes passes(plan, std::vector<bool>(plan.nodes.size(), false), band);
    auto scratch = [](const Node& node, int rows) {
        return static_cast<std::size_t>(node.scratch_planes * static_cast<double>(node.size.width) * rows * sizeof(float));
    };
    std::size_t whole = 0, peak = 0, handed = 0;  // of outputs, each once for every wanted thing
    const auto hand = [&](int node) {
        for (const auto& [wanted, output] : plan.outputs)
            if (kept && output == node) handed += plan.nodes[at(node)].bytes();
    };
    std::set<int> alive;
    for (int level = 0; level <= passes.last(); ++level) {
        std::size_t lines = 0, most = 0;
        const std::vector<bool> there = passes.there(level);
        for (const auto& [node, readers] : readers_of(plan, passes.targets(level), there)) {
            if (there[at(node)]) continue;
            const Node& what = plan.nodes[at(node)];
            // What the greediest reader wants for one of its pieces; a piece of this node; while it is appended, what stays.
            int piece = std::max(band, what.footprint.block), stays = 0;
            for (int reader : readers) {
                const Footprint& foot = plan.nodes[at(reader)].footprint;
                piece = std::max(piece, std::max(band, foot.block) + 2 * foot.down), stays = std::max(stays, 2 * foot.down);
            }
            const auto bytes = [&](int rows) {
                return what.row_bytes() * static_cast<std::size_t>(std::min(rows, what.size.height));
            };
            // Others keep a band until the last has read it; while one runs, what it reads and what it makes is there.
            std::size_t given = 0;
            for (int input : what.inputs)
                if (!there[at(input)])
                    given += plan.nodes[at(input)].row_bytes() *
                             static_cast<std::size_t>(std::min(std::max(band, what.footprint.block), what.size.height));
            lines += stays > 0 ? bytes(piece) : readers.size() > 1 ? bytes(band) : 0;
            most = std::max(most, bytes(piece) + given + scratch(what, std::max(band, what.footprint.block)));
            // What is prepared once for all bands, coarse clouds above all, stays.
            constexpr std::size_t most_prepared = std::size_t{22} << 20;
            if (what.inputs.empty() || what.footprint.kind == Footprint::Kind::near)
                lines += std::min(scratch(what, what.size.height / 4), most_prepared);
        }
        for (int node : passes.targets(level)) hand(node);
        for (int node : passes.targets(level))
            if (passes.gathered(node)) whole += plan.nodes[at(node)].bytes(), alive.insert(node);
        peak = std::max(peak, whole + lines + most + handed);
        std::set<int> still;
        for (int node : passes.run_after(level))
            still.insert(plan.nodes[at(node)].inputs.begin(), plan.nodes[at(node)].inputs.end());
        auto let_go = [&](bool streamed) {
            for (auto node = alive.begin(); node != alive.end();) {
                if (passes.last_read(*node) > level || (streamed && still.contains(*node))) {
                    ++node;
                    continue;
                }
                whole -= plan.nodes[at(*node)].bytes();
                node = alive.erase(node);
            }
        };
        let_go(true);
        for (int node : passes.run_after(level)) {
            const Node& what = plan.nodes[at(node)];
            peak = std::max(peak, whole + what.bytes() + scratch(what, what.size.height) + handed);
            whole += what.bytes(), alive.insert(node);
            hand(node);
            peak = std::max(peak, whole + handed);
        }
        let_go(false);
    }
    return peak;
}

}  // namespace loom
