// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/band_passes.h"

#include <algorithm>

#include "core/render/executor.h"

namespace loom {

namespace {
std::size_t at(int node) { return static_cast<std::size_t>(node); }
}  // namespace

int band_rows(Size size, int threads) {
    constexpr std::size_t near_core = std::size_t{1024} << 10;  // bytes of a plane
    const auto few = static_cast<int>(near_core / (static_cast<std::size_t>(size.width) * sizeof(float)));
    return std::clamp(few, 16 * std::max(2, threads), 256);
}

std::map<int, std::set<int>> readers_of(const Plan& plan, const std::vector<int>& targets, const std::vector<bool>& have) {
    std::map<int, std::set<int>> readers;
    for (int target : targets) readers[target];
    for (int k = static_cast<int>(plan.nodes.size()); k-- > 0;)
        if (readers.contains(k) && !have[at(k)])
            for (int input : plan.nodes[at(k)].inputs) readers[input].insert(k);
    return readers;
}

Passes::Passes(const Plan& plan, const std::vector<bool>& have, int band)
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
    std::vector<int> streamed;
    for (std::size_t k = 0; k < count; ++k) {
        if (!need_[k] || have[k] || whole_[k]) continue;
        if (gathered_[k])
            targets_[level_[k]].push_back(static_cast<int>(k));
        else if (output[k])
            streamed.push_back(static_cast<int>(k));
    }
    choose_passes(std::move(streamed));
    last_read_.assign(count, -1);
    for (int level = 0; level <= last_; ++level)
        for (int node : read(level)) last_read_[at(node)] = level;
}

/// Each where the least has to be made again that another pass makes too; those first that have the least choice.
void Passes::choose_passes(std::vector<int> outputs) {
    std::stable_sort(outputs.begin(), outputs.end(), [&](int a, int b) { return level_[at(a)] > level_[at(b)]; });
    std::map<int, std::set<int>> made;
    const auto streams = [&](int target, int level) {
        const std::vector<bool> whole = there(level);
        std::set<int> nodes;
        for (const auto& [node, readers] : readers_of(plan_, {target}, whole))
            if (!whole[at(node)]) nodes.insert(node);
        return nodes;
    };
    for (const auto& [level, targets] : targets_)
        for (int target : targets) made[level].merge(streams(target, level));
    for (int output : outputs) {
        int best = last_;
        double least = -1;
        for (int level = level_[at(output)]; level <= last_; ++level) {
            double more = 0;
            for (int node : streams(output, level))
                if (!made[level].contains(node)) more += plan_.nodes[at(node)].cost;
            if (least < 0 || more < least) best = level, least = more;
        }
        made[best].merge(streams(output, best));
        targets_[best].push_back(output);
    }
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

std::size_t bands_peak_bytes(const Plan& plan, int threads, bool kept) {
    const int band = band_rows(plan.size, threads);
    const Passes passes(plan, std::vector<bool>(plan.nodes.size(), false), band);
    // Less than nothing where what is made is an input handed on.
    auto scratch = [](const Node& node, int rows) {
        return static_cast<std::ptrdiff_t>(node.scratch_planes * static_cast<double>(node.size.width) * rows * sizeof(float));
    };
    std::size_t whole = 0, peak = 0, handed = 0;  // of outputs, each once for every wanted thing
    const auto hand = [&](int node) {
        for (const auto& [wanted, output] : plan.outputs)
            if (kept && output == node) handed += plan.nodes[at(node)].bytes();
    };
    // What is whole, with its bytes. Planes of objects that By object hands on from the strand that has them are that one's as
    // long as it is there.
    std::map<int, std::size_t> alive;
    const auto lender_of = [&](const Node& what) {
        for (std::size_t k = 1; k < what.inputs.size(); ++k)
            if (alive.contains(what.inputs[k])) return what.inputs[k];
        return -1;
    };
    const auto keep = [&](int node) {
        const Node& what = plan.nodes[at(node)];
        const std::size_t plane = what.size.pixels() * sizeof(float);
        const int common = lender_of(what) < 0 ? 0 : std::clamp(what.shared_planes, 0, what.named_planes);
        const std::size_t own = what.bytes() - std::min(what.bytes(), static_cast<std::size_t>(common) * plane);
        if (alive.emplace(node, own).second) whole += own;
    };
    for (int level = 0; level <= passes.last(); ++level) {
        std::size_t lines = 0, most = 0;
        const std::vector<bool> there = passes.there(level);
        // What is alive at most while a band of a node is made: its inputs are made one after the other, and wait for it.
        std::map<int, std::size_t> making;
        for (const auto& [node, readers] : readers_of(plan, passes.targets(level), there)) {
            if (there[at(node)]) continue;
            const Node& what = plan.nodes[at(node)];
            // What the greediest reader wants for one of its pieces; a piece of this node; while it is appended, what stays.
            const int made = piece_rows(what.footprint, band);
            int piece = made, stays = 0;
            for (int reader : readers) {
                const Footprint& foot = plan.nodes[at(reader)].footprint;
                const int asked = piece_rows(foot, band) + 2 * foot.down;
                piece = std::max(piece, (asked + made - 1) / made * made), stays = std::max(stays, 2 * foot.down);
            }
            const auto bytes = [&](int rows) {
                return what.row_bytes() * static_cast<std::size_t>(std::min(rows, what.size.height));
            };
            // Others keep a band until the last has read it; while one runs, what it reads and what it makes is there.
            std::size_t given = 0, inner = 0;
            for (int input : what.inputs) {
                if (there[at(input)]) continue;
                inner = std::max(inner, given + making[input]);
                given += plan.nodes[at(input)].row_bytes() * static_cast<std::size_t>(std::min(made, what.size.height));
            }
            lines += stays > 0 ? bytes(piece) : readers.size() > 1 ? bytes(band) : 0;
            const std::size_t own = bytes(piece) + given + static_cast<std::size_t>(scratch(what, made));
            making[node] = std::max(own, inner);
            most = std::max(most, making[node]);
            // What is prepared once for all bands, coarse clouds above all, stays.
            constexpr std::size_t most_prepared = std::size_t{22} << 20;
            if (what.inputs.empty() || what.footprint.kind == Footprint::Kind::near)
                lines += std::min(static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, scratch(what, what.size.height / 4))),
                                  most_prepared);
        }
        for (int node : passes.targets(level)) hand(node);
        for (int node : passes.targets(level))
            if (passes.gathered(node)) keep(node);
        peak = std::max(peak, whole + lines + most + handed);
        std::set<int> still;
        for (int node : passes.run_after(level))
            still.insert(plan.nodes[at(node)].inputs.begin(), plan.nodes[at(node)].inputs.end());
        auto let_go = [&](bool streamed) {
            for (auto node = alive.begin(); node != alive.end();) {
                if (passes.last_read(node->first) > level || (streamed && still.contains(node->first))) {
                    ++node;
                    continue;
                }
                whole -= node->second;
                node = alive.erase(node);
                // What others had of it stays with them.
                for (auto& [other, bytes] : alive)
                    if (const Node& what = plan.nodes[at(other)]; bytes < what.bytes() && lender_of(what) < 0)
                        whole += what.bytes() - bytes, bytes = what.bytes();
            }
        };
        let_go(true);
        for (int node : passes.run_after(level)) {
            const Node& what = plan.nodes[at(node)];
            peak = std::max(peak, whole + what.bytes() + static_cast<std::size_t>(scratch(what, what.size.height)) + handed);
            keep(node);
            hand(node);
            peak = std::max(peak, whole + handed);
        }
        let_go(false);
    }
    return peak;
}

}  // namespace loom
