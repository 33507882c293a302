// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What comes from outside, one function for each door. Each takes any bytes: it may refuse them, but must not crash, hang, take
// more than it says, or read back something else than it wrote; that ends the program with a word. The fuzzers call them with
// what they make up, the tests with what is kept in corpus/ and finds/.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace loom::fuzz {

void try_recipe(std::string_view bytes);
void try_container(std::string_view bytes);
void try_wif(std::string_view bytes);
void try_formula(std::string_view bytes);
void try_clip(std::string_view bytes);
void try_strokes(std::string_view bytes);
void try_picture(std::string_view bytes);
void try_drawing(std::string_view bytes);
/// Of the window, for which settings.cpp has to be linked; not among doors().
void try_settings(std::string_view bytes);

/// Ends the program where something is not so.
void must(bool so, const char* what);

/// Name of each door, which is its folder's in corpus/ too, and who knocks.
const std::vector<std::pair<std::string, void (*)(std::string_view)>>& doors();

}  // namespace loom::fuzz
