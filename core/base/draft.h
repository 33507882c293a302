// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A draft: which warp end lies over which weft pick, as far as it repeats.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace loom {

struct Draft {
    int ends = 1, picks = 1;  ///< columns and rows of the repeat
    std::vector<bool> up;     ///< ends * picks, row by row from the first pick; true: the warp end lies on top

    bool over(int end, int pick) const {
        const int i = ((end % ends) + ends) % ends, j = ((pick % picks) + picks) % picks;
        return up[static_cast<std::size_t>(j) * static_cast<std::size_t>(ends) + static_cast<std::size_t>(i)];
    }
    bool operator==(const Draft&) const = default;
};

constexpr int most_draft = 256;  ///< ends or picks of a draft

/// Every end over and under by turns.
Draft plain_draft();
/// Over `over` picks and under `under`, moved by one end from pick to pick, rising to the right or to the left.
Draft twill_draft(int over, int under, bool to_right);
/// Each end under one pick in `count`; the next end `step` picks on. A step that shares a divisor with the count is moved to the
/// nearest that does not.
Draft satin_draft(int count, int step);
/// Blocks of `size` by `size`.
Draft basket_draft(int size);
/// A twill whose direction turns after as many ends as two repeats have.
Draft herringbone_draft(int over, int under);

/// Rows of '#' (warp on top) and '.', the first pick first, between slashes: "#./.#".
std::string draft_text(const Draft& draft);
/// The fault names the character.
Result<Draft> read_draft(std::string_view text);

/// The smallest part that gives the same cloth.
Draft smallest_repeat(const Draft& draft);

/// Drafts by the names of the trade.
struct NamedDraft {
    std::string_view name;
    Draft draft;
};
std::vector<NamedDraft> trade_drafts();

}  // namespace loom
