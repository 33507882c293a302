// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What happens to a height that comes along, in steps that change tones by a curve: it is changed by the same curve.
#pragma once

#include "core/catalogue/describe.h"

namespace loom {

/// The toggle "height-follows".
template <class Settings>
Describe<Settings>& describe_height_follows(Describe<Settings>& describe) {
    return describe
        .toggle("height-follows", "Height follows", &Settings::height_follows,
                "Changes a height that comes along as it changes tones; off, that stays as it was.")
        .once(1, Value(false));
}

}  // namespace loom
