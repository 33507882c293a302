// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Which planes of a plan's results are alive. A plane that is handed on counts once, as long as any result holds it.
#pragma once

#include <cstddef>
#include <vector>

#include "core/render/plan.h"

namespace loom {

class PlaneBook {
public:
    explicit PlaneBook(const Plan& plan) : plan_(plan), held_(plan.nodes.size()) {}

    /// The node's result is there, its inputs' are still.
    void take(int node);
    void let_go(int node);
    std::size_t bytes() const { return bytes_; }

private:
    static std::size_t at(int index) { return static_cast<std::size_t>(index); }
    std::size_t plane_bytes(int node) const;

    const Plan& plan_;
    struct PlaneUse {
        std::size_t bytes;
        int holders;
    };
    std::vector<PlaneUse> planes_;
    std::vector<std::vector<int>> held_;  ///< planes of each node's result, those that are handed on last
    std::size_t bytes_ = 0;
};

}  // namespace loom
