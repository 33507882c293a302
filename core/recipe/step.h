// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <string>

#include "core/catalogue/value.h"

namespace loom {

/// Lets a step or a join work only where a tone lies between two soft shoulders.
struct ToneGate {
    enum class Of {
        nothing,  ///< no gate
        own,      ///< tones of what comes in; for a join, of the strand itself
        beneath,  ///< tones of what the strands to the left have joined to
    };
    Of of = Of::nothing;
    double from = 0, to = 1;  ///< tones, 0..1, that are let through whole; at 0 and 1 the end is open
    double softness = 0.1;    ///< in tones, beyond both ends
    bool operator==(const ToneGate&) const = default;
};

struct Step {
    std::string id;    ///< unique within its strand
    std::string kind;  ///< id of the step in the catalogue, or an unknown word that is kept
    bool on = true;
    double amount = 100;     ///< 0..100 %: mix with what came in
    std::string where = {};  ///< strand whose grey is a local mask, or ""
    ToneGate gate = {};
    std::uint32_t seed = 0;
    std::string name = {};     ///< a name of its own, or "" for the step's title
    Values set = {};           ///< only what differs from the default
    std::string unknown = {};  ///< JSON object of fields that this version does not know, or ""
    std::string note = {};     ///< why it is there, in its maker's words, or ""
    bool operator==(const Step&) const = default;
};

}  // namespace loom
