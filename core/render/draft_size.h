// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstddef>
#include <iterator>

namespace loom {

/// How large the first picture of an edit is, so that it keeps up with a hand: where one took too long the next is smaller, and
/// larger again where there is time.
class DraftSize {
public:
    static constexpr int sizes[] = {256, 160, 96};  ///< pixels of the longer side
    static constexpr double most_ms = 45;

    int pixels() const { return sizes[at_]; }
    /// What one of so many pixels took; those asked for before the last change of size say nothing.
    void took(double milliseconds, int of_pixels) {
        if (of_pixels != pixels()) return;
        // Each size has about 2.7 times the pixels of the next.
        if (milliseconds > most_ms && at_ + 1 < std::size(sizes))
            ++at_;
        else if (at_ > 0 && milliseconds * 2.8 < most_ms)
            --at_;
    }

private:
    std::size_t at_ = 0;
};

}  // namespace loom
