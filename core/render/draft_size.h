// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstddef>
#include <iterator>
#include <vector>

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

/// How large the picture is that follows a hand: a part of it at the tile's own size, or where that takes long at half of it,
/// or all of a smaller one. Where there is time it grows again, though to none that took too long twice, nor to the tile's own.
class PartSize {
public:
    static constexpr double frame_ms = 30;
    /// From here on smaller: a stroke takes longer as it grows, and a machine has other things to do as well.
    static constexpr double near_ms = 15;
    static constexpr double slow_cloth_ms = 90;

    /// Pixels of the longer side, from the tile's own on; all but that have to be made once before they are quick.
    static std::vector<int> sizes(int longest) {
        std::vector<int> all{longest};
        if (longest / 2 > DraftSize::sizes[0]) all.push_back(longest / 2);
        for (int side : DraftSize::sizes)
            if (side < longest) all.push_back(side);
        return all;
    }

    /// For another document, whose cloth is `longest` pixels on its longer side and took so many milliseconds.
    PartSize(int longest, double cloth_ms) : sizes_(sizes(longest)), slow_(sizes_.size(), 0) {
        while (cloth_ms > slow_cloth_ms && at_ + 1 < sizes_.size() && sizes_[at_] > DraftSize::sizes[0]) ++at_;
    }
    int pixels() const { return sizes_[at_]; }
    int longest() const { return sizes_.front(); }
    /// Whether a part is made rather than all of it.
    bool part() const { return pixels() > DraftSize::sizes[0] || at_ == 0; }
    void took(double milliseconds, int of_pixels) {
        if (of_pixels != pixels()) return;
        if (milliseconds > near_ms) {
            ++slow_[at_];
            if (at_ + 1 < sizes_.size()) ++at_;
        } else if (at_ > 1 && slow_[at_ - 1] < 2 && milliseconds * times(sizes_[at_ - 1]) < near_ms) {
            --at_;
        }
    }

private:
    /// How many times as long as the next smaller one. A part needs what lies around it, by its steps very much or little.
    static double times(int side) { return side > DraftSize::sizes[0] ? 4 : DraftSize::times_pixels; }

    std::vector<int> sizes_, slow_;
    std::size_t at_ = 0;
};

}  // namespace loom
