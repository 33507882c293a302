// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <string>
#include <string_view>

namespace loom {

/// `wish`, or with the first number from 2 behind it that is not `taken`; `between` stands before the number.
template <class Taken>
std::string unused_name(std::string_view wish, std::string_view between, Taken&& taken) {
    std::string name(wish);
    for (int n = 2; taken(name); ++n) {
        name = wish;
        name += between;
        name += std::to_string(n);
    }
    return name;
}

}  // namespace loom
