// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <algorithm>
#include <cstddef>
#include <iterator>

namespace loom {

/// How large the first picture of an edit is, so that it keeps up with a hand: where one took too long the next is smaller, and
/// larger again where there is time.
class DraftSize {
public:
    static constexpr int sizes[] = {256, 160, 96};  ///< pixels of the longer side
    static constexpr double times_pixels = 2.8;     ///< of each, of the next
    static constexpr double most_ms = 45;

    int pixels() const { return sizes[at_]; }
    /// What one of so many pixels took; those asked for before the last change of size say nothing.
    void took(double milliseconds, int of_pixels) {
        if (of_pixels != pixels()) return;
        if (milliseconds > most_ms && at_ + 1 < std::size(sizes))
            ++at_;
        else if (at_ > 0 && milliseconds * times_pixels < most_ms)
            --at_;
    }

private:
    std::size_t at_ = 0;
};

/// How large the picture is that follows a hand: the tile's own size, of which a part is made, or where that takes long all of a
/// smaller one, at the sizes of drafts, which are there.
class PartSize {
public:
    static constexpr double frame_ms = 30;
    /// From here on smaller: a stroke takes longer as it grows, and a machine has other things to do as well.
    static constexpr double near_ms = 20;
    static constexpr double slow_cloth_ms = 90;

    /// For another document or step, whose cloth is `longest` pixels on its longer side and took so many milliseconds.
    PartSize(int longest, double cloth_ms)
        : longest_(longest), pixels_(cloth_ms > slow_cloth_ms && longest > DraftSize::sizes[0] ? DraftSize::sizes[0] : longest) {}
    int pixels() const { return pixels_; }
    int longest() const { return longest_; }
    bool own_size() const { return pixels_ == longest_; }
    void took(double milliseconds, int of_pixels) {
        if (of_pixels != pixels_) return;
        // The tile's own size, which took too long before, is not tried again.
        const auto at = std::find(std::begin(DraftSize::sizes), std::end(DraftSize::sizes), pixels_);
        if (milliseconds > near_ms) {
            for (int side : DraftSize::sizes)
                if (side < pixels_) return void(pixels_ = side);
        } else if (milliseconds * DraftSize::times_pixels < near_ms && at != std::end(DraftSize::sizes) &&
                   at != std::begin(DraftSize::sizes) && *std::prev(at) < longest_) {
            pixels_ = *std::prev(at);
        }
    }

private:
    int longest_, pixels_;
};

}  // namespace loom
