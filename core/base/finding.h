// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <string>

namespace loom {

/// Something wrong in a file of JSON, with the pointer (RFC 6901) of its place.
struct Finding {
    enum class Weight {
        fault,    ///< the file cannot be used
        warning,  ///< it is kept and passed over
    };
    Weight weight = Weight::fault;
    std::string pointer;
    std::string message;  ///< words without the place

    std::string text() const { return (pointer.empty() ? std::string("/") : pointer) + ": " + message; }
};

}  // namespace loom
