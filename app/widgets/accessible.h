// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the controls that are drawn by hand are to readers of the screen. Their names are their accessible names; to press one is
// to press Enter on it; whether one is selected is its property "selected".
#pragma once

namespace loom {

/// Once for the program, before the first window.
void install_accessibility();

}  // namespace loom
