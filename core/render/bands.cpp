// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Line buffers: each node keeps the rows that its readers still look at, and makes the next ones when they are asked for. What
// needs its input whole ends a pass: its inputs are gathered, it runs in one piece, and the next pass reads from it.
#include <algorithm>
#include <chrono>
#include <map>
#include <optional>
#include <set>

#include "core/render/band_passes.h"
#include "core/render/executor.h"
#include "core/render/gathering.h"

namespace loom {

namespace {

std::size_t at(int node) { return static_cast<std::size_t>(node); }

/// One bundle of the rows of two that follow each other.
Bundle joined(const Bundle& a, const Bundle& b, Size size, const Job& job) {
    const Rows rows{a.rows().first, a.rows().count + b.rows().count};
    std::map<std::pair<const Plane*, const Plane*>, PlaneRef> done;
    auto both = [&](const PlaneRef& first, const PlaneRef& second) {
        PlaneRef& result = done[{first.get(), second.get()}];
        if (!result) {
            Plane plane(size, rows);
            const auto width = static_cast<std::size_t>(size.width);
            for_rows(job, rows.count, [&](int begin, int end) {
                for (int k = begin; k < end; ++k) {
                    const float* from = k < a.rows().count
                                            ? first->data() + static_cast<std::size_t>(k) * width
                                            : second->data() + static_cast<std::size_t>(k - a.rows().count) * width;
                    std::copy_n(from, width, plane.data() + static_cast<std::size_t>(k) * width);
                }
            });
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
Bundle rows_of(const Bundle& whole, int first, int count, const Job& job) {
    const Size size = whole.size();
    if (count >= size.height) return whole;
    const int begin = wrap(first, size.height), rest = size.height - begin;
    if (count <= rest) return part_of(whole, {begin, count});
    return joined(part_of(whole, {begin, rest}), part_of(whole, {0, count - rest}), size, job);
}

class Pass {
public:
    Pass(const Plan& plan, const std::vector<BundleRef>& have, const std::vector<int>& targets, Rows rows, int band,
         Shared& shared, Progress& progress, const Job& job)
        : plan_(plan), have_(have), rows_(rows), band_(band), shared_(shared), progress_(progress), job_(job) {
        std::vector<bool> there;
        for (const BundleRef& each : have) there.push_back(static_cast<bool>(each));
        for (auto& [node, readers] : readers_of(plan, targets, there)) lines_[node].readers = std::move(readers);
    }

    /// Rows [first, first + count) of the node, counted on over the tile's edges. Each reader asks from top to bottom.
    Bundle rows(int node, int first, int count) {
        const Node& what = plan_.nodes[at(node)];
        // Rows are those of the picture; what has another size is given whole.
        if (have_[at(node)]) return what.size == plan_.size ? rows_of(*have_[at(node)], first, count, job_) : *have_[at(node)];
        Line& line = lines_[node];
        // A row or two beyond a band, for one reader, would make a piece of their own all the way up.
        const int block = piece_rows(what.footprint, band_), height = what.size.height;
        // Pieces count from the tile's first row.
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

    /// Rows that were asked for by nobody within the pass and have been taken.
    void taken(int node) {
        const auto found = lines_.find(node);
        if (found != lines_.end() && found->second.readers.empty())
            found->second.held = {}, found->second.first = found->second.end;
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
            line.held = joined(rest, made, what.size, job_), line.first += lost;
        }
        line.end = to;
        for (int input : what.inputs) let_go(input);
        const std::chrono::duration<double, std::milli> spent = std::chrono::steady_clock::now() - start;
        progress_.add(node, spent.count(), static_cast<double>(to - from) / std::max(1, rows_.count));
    }

    const Plan& plan_;
    const std::vector<BundleRef>& have_;
    Rows rows_;
    int band_;
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
            Pass pass(plan_, have_, targets, rows, band_, shared_, progress_, job_);
            for_bands(rows, [&](int y, int count) {
                for (int node : gathered) wholes[node].add(pass.rows(node, y, count), job_), pass.taken(node);
                for (int node : streamed) hand_on(node, pass.rows(node, y, count)), pass.taken(node);
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

}  // namespace loom
