// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/plane_book.h"

#include <algorithm>

namespace loom {

std::size_t PlaneBook::plane_bytes(int node) const { return plan_.nodes[at(node)].size.pixels() * sizeof(float); }

void PlaneBook::take(int node) {
    const Node& what = plan_.nodes[at(node)];
    std::vector<int>& mine = held_[at(node)];
    const int all = static_cast<int>(what.row_bytes() / sizeof(float) / static_cast<std::size_t>(what.size.width));
    // Which of an input's planes they are makes no difference, as long as they are handed on in turn: the last first.
    int shared = what.shared_planes;
    std::vector<int> inputs = what.inputs;
    std::stable_sort(inputs.begin(), inputs.end(),
                     [&](int a, int b) { return plan_.nodes[at(a)].named_planes > plan_.nodes[at(b)].named_planes; });
    for (std::size_t k = 0; k < inputs.size() && shared > 0; ++k) {
        const std::vector<int>& theirs = held_[at(inputs[k])];
        for (std::size_t p = theirs.size(); p-- > 0 && shared > 0; --shared) {
            ++planes_[at(theirs[p])].holders;
            mine.push_back(theirs[p]);
        }
    }
    for (int k = static_cast<int>(mine.size()); k < all; ++k) {
        mine.insert(mine.begin(), static_cast<int>(planes_.size()));
        planes_.push_back({plane_bytes(node), 1});
        bytes_ += planes_.back().bytes;
    }
}

void PlaneBook::let_go(int node) {
    for (int plane : held_[at(node)])
        if (--planes_[at(plane)].holders == 0) bytes_ -= planes_[at(plane)].bytes;
    held_[at(node)].clear();
}

}  // namespace loom
