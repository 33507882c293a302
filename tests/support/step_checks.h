// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What every step promises about itself, checked one promise at a time. Each returns what is wrong, or nothing; so that the
// checks can be tried on steps that break their word on purpose.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/catalogue/description.h"

namespace loom::test {

/// One run of a step on a picture of saturated colours with coverage, height and objects.
struct StepTrial {
    const StepDescription& step;
    Values values = {};
    std::uint32_t seed = 3;
    Size size{96, 80};
    Size tile{96, 80};
    int channels = 3;
    bool covered = true;
};

/// Settings that differ from the default in one parameter, and `draws` drawn ones.
std::vector<Values> settings_of(const StepDescription& step, int draws);
std::string words_of(const StepTrial& trial);

/// A disturbed pixel of any input is felt no farther than the footprint says.
std::string footprint_fault(const StepTrial& trial);
/// Bands, made from no more than the footprint asks for, have the bytes of the whole.
std::string bands_fault(const StepTrial& trial);
/// Channels and coverage are those announced.
std::string shape_fault(const StepTrial& trial);
/// Planes alive at once are no more than announced, nor much fewer where `both`.
std::string memory_fault(const StepTrial& trial, bool both = false);
/// Named planes are handed on, and those of objects hold no values that did not come in.
std::string forwarding_fault(const StepTrial& trial);
/// Planes that running has alive besides input and output, at most.
double scratch_planes_used(const StepTrial& trial);

/// Sets what has to be set in `values` for the parameter to matter; false if nothing of what its condition names does that.
bool made_relevant(const StepDescription& step, const Parameter& parameter, Values& values);

}  // namespace loom::test
