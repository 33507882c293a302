// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What every step promises about itself, checked one promise at a time. Each returns what is wrong, or nothing; so that the
// checks can be tried on steps that break their word on purpose.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalogue/description.h"

namespace loom::test {

/// What a trial's pictures are filled with: a value of its own for every pixel; black and white patches; or what no picture
/// should hold and a file or a formula may bring: huge values, denormals, infinities, no numbers, in all pictures or in those
/// of other strands alone.
enum class Filling { noise, patches, wild, wild_others };

/// What Filling::wild fills a plane with.
Plane wild_plane(Size size, std::uint64_t seed);

/// One run of a step on a picture of saturated colours with coverage, height and objects.
struct StepTrial {
    const StepDescription& step;
    Values values = {};
    std::uint32_t seed = 3;
    Size size{96, 80};
    Size tile{96, 80};
    int channels = 3;
    bool covered = true;
    Filling filling = Filling::noise;
};

/// A picture's size and its tile's: alike, twice as fine, and coarser.
struct TrialScale {
    Size size, tile;
};
constexpr TrialScale trial_scales[] = {{{96, 80}, {96, 80}}, {{96, 80}, {48, 40}}, {{40, 48}, {120, 144}}};

/// The steps that tests over all of them try: all, or the one that was named when the program was started.
std::vector<std::reference_wrapper<const StepDescription>> steps_tried();
/// Names the one that is tried; false if there is no such step.
bool try_only(std::string_view step);

/// Settings that differ from the default in one parameter, and `draws` drawn ones. Of numbers with a sign four draws after each
/// other take all four quadrants; a quarter of all numbers are at either end of their slider.
std::vector<Values> settings_of(const StepDescription& step, int draws, Size tile = {64, 64});
/// Everything by which the trial can be had again.
std::string words_of(const StepTrial& trial);

/// A disturbed pixel of any input is felt no farther than the footprint says.
std::string footprint_fault(const StepTrial& trial);
/// Bands, made from no more than the footprint asks for, have the bytes of the whole.
std::string bands_fault(const StepTrial& trial);
/// The bytes are the same whatever the order in which ranges of rows are made.
std::string order_fault(const StepTrial& trial);
/// Whatever the picture holds, whole or in bands, it comes to an end with a picture of the right size. What is read beyond a
/// picture is for asserts and sanitizers to find.
std::string wild_fault(const StepTrial& trial);
/// Channels and coverage are those announced, and all colours are numbers.
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
