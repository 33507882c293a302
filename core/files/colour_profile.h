// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What colours of a file mean: its ICC profile brought to sRGB by Little CMS, relative to white, with black point compensation.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace loom {

/// Values as a profile means them, made sRGB. Used by any number of threads at once.
class ToSrgb {
public:
    /// Null where the profile cannot be read, is for other channels than `colours` (1 or 3), or changes nothing that could be
    /// seen.
    static std::shared_ptr<const ToSrgb> from_icc(std::string_view profile, int colours);
    /// Linear light of other primaries, made linear light of sRGB's; negative values and those beyond 1 go through. Null where
    /// they are sRGB's.
    static std::shared_ptr<const ToSrgb> from_primaries(const std::vector<float>& chromaticities);
    virtual ~ToSrgb() = default;

    /// `count` pixels of as many values as there are colours, in place.
    virtual void apply(float* values, std::size_t count) const = 0;
};

/// sRGB as an ICC profile, always the same bytes.
const std::string& srgb_profile();

}  // namespace loom
