// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a step takes of another strand: its picture, its tone, where it shows, or one of its named planes.
#pragma once

#include <string>
#include <vector>

#include "core/catalogue/description.h"

namespace loom {

/// From `planes` on, those of plane_names() in their order.
enum class Taken : int { picture, tone, coverage, covered, planes };

std::vector<Choice> taken_choices();
/// The help that goes with them.
constexpr std::string_view taken_help =
    "What to take of it: the picture, its tone as grey, where it shows, both at once as a mask sees it, its height, or what it "
    "is "
    "made of: its objects, or the parts that its steps tell apart.";
/// Whether it is a lot of objects, which may be taken as means where objects meet.
bool is_lot(Taken taken);
/// Named planes that are read for it.
std::vector<std::string> taken_reads(Taken taken, bool smooth);
/// The picture itself, or one grey plane without coverage; zeros where the strand has no such plane. `smooth`: means of lots.
Bundle taken_of(const Bundle& source, Taken taken, bool smooth, const StepContext& context);

}  // namespace loom
