// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <deque>
#include <iterator>
#include <string>
#include <vector>

#include "core/image/plane_names.h"
#include "core/steps/formula/formula.h"

namespace loom {

namespace {

using Word = FormulaWord::Kind;

// Places and strand planes come first: their order is that of the registers.
constexpr FormulaWord words[] = {
    {"x", Word::place, "x", "Design pixels from the left edge."},
    {"y", Word::place, "y", "Design pixels from the top edge."},
    {"u", Word::place, "u", "Place across the tile, 0 to 1."},
    {"v", Word::place, "v", "Place down the tile, 0 to 1."},
    {"r", Word::place, "r", "Distance from the middle of the tile, in tiles: 0.5 at the middle of an edge."},
    {"a", Word::place, "a", "Angle round the middle of the tile in turns, 0 to 1: 0 is right, 0.25 is up."},
    {"tone", Word::strand, "tone", "Grey of the strand that is read; 0 without one."},
    {"red", Word::strand, "red", "Red of the strand that is read."},
    {"green", Word::strand, "green", "Green of the strand that is read."},
    {"blue", Word::strand, "blue", "Blue of the strand that is read."},
    {"coverage", Word::strand, "coverage", "Coverage of the strand that is read, 0 to 1."},
    {"height", Word::strand, "height", "Height of the strand that is read, or its grey if it has none."},
    {"object", Word::strand, "object", "Number of the object at this place in the strand that is read, from 1; 0: none."},
    {"object_u", Word::strand, "object_u", "Place across that object, 0 to 1."},
    {"object_v", Word::strand, "object_v", "Place down that object, 0 to 1."},
    {"lot1", Word::strand, "lot1", "First lot drawn by that object, 0 to 1."},
    {"lot2", Word::strand, "lot2", "Second lot drawn by that object, 0 to 1."},
    {"lot3", Word::strand, "lot3", "Third lot drawn by that object, 0 to 1."},
    {"slope_x", Word::strand, "slope_x", "How its height rises to the right, for each design pixel."},
    {"slope_y", Word::strand, "slope_y", "How its height rises upwards, for each design pixel."},
    {"tilt_x", Word::strand, "tilt_x", "How the object there leans by itself: its rise to the right for each design pixel."},
    {"tilt_y", Word::strand, "tilt_y", "Its rise upwards."},
    {"object_x", Word::strand, "object_x", "Middle of that object, design pixels from the left edge."},
    {"object_y", Word::strand, "object_y", "Middle of that object, design pixels from the top edge."},
    {"object_w", Word::strand, "object_w", "How wide that object is, design pixels."},
    {"object_h", Word::strand, "object_h", "How high that object is, design pixels."},
    {"object_second", Word::strand, "object_second", "Number of the object that has the rest of this pixel."},
    {"object_share", Word::strand, "object_share", "How much of this pixel belongs to the first object, 0 to 1."},
    {"pi", Word::constant, "pi", "3.14159..."},
    {"noise", Word::function, "noise(u, v, n)",
     "Soft noise of n cells a tile, 0 to 1; a fourth number chooses another one, which may differ from object to object."},
    {"clouds", Word::function, "clouds(u, v, n, octaves)", "Fractal noise, 0 to 1; a fifth number chooses another one."},
    {"cells", Word::function, "cells(u, v, n)", "Distance to the nearest of n by n scattered points, in cells."},
    {"celltone", Word::function, "celltone(u, v, n)", "A lot for the nearest of those points, 0 to 1."},
    {"celledge", Word::function, "celledge(u, v, n)", "How much farther the second nearest of those points is, in cells."},
    {"lot", Word::function, "lot(k)", "A lot for every whole number k, 0 to 1."},
    {"lots", Word::function, "lots(n, k)", "A lot for every pair of whole numbers, such as the k-th of object n, 0 to 1."},
    {"wave", Word::function, "wave(t)", "A sine wave, 0 to 1, once for each whole t."},
    {"tri", Word::function, "tri(t)", "A triangle wave, 0 to 1, once for each whole t."},
    {"saw", Word::function, "saw(t)", "A ramp from 0 to 1 for each whole t; the fraction of t."},
    {"mix", Word::function, "mix(a, b, t)", "a where t is 0, b where t is 1, between them in between and beyond."},
    {"if", Word::function, "if(c, a, b)", "a where c is not 0, else b."},
    {"step", Word::function, "step(e, t)", "0 where t is below e, else 1."},
    {"smoothstep", Word::function, "smoothstep(e, f, t)", "0 below e, 1 above f, a soft way between."},
    {"clamp", Word::function, "clamp(t, low, high)", "t kept between low and high."},
    {"min", Word::function, "min(a, b)", "The smaller one."},
    {"max", Word::function, "max(a, b)", "The greater one."},
    {"mod", Word::function, "mod(a, b)", "What is left of a after taking away whole b; never negative for b above 0."},
    {"pow", Word::function, "pow(a, b)", "a to the power b; if a is below 0 and b no whole number, 0. Also written a ^ b."},
    {"sqrt", Word::function, "sqrt(t)", "Square root; below 0 it is 0."},
    {"exp", Word::function, "exp(t)", "e to the power t."},
    {"log", Word::function, "log(t)", "Natural logarithm; t below 1e-30 counts as 1e-30."},
    {"sin", Word::function, "sin(t)", "Sine of t radians."},
    {"cos", Word::function, "cos(t)", "Cosine of t radians."},
    {"tan", Word::function, "tan(t)", "Tangent of t radians."},
    {"atan2", Word::function, "atan2(y, x)", "The angle of the way to (x, y) in radians, from -pi to pi."},
    {"abs", Word::function, "abs(t)", "t without its sign."},
    {"sign", Word::function, "sign(t)", "-1, 0 or 1."},
    {"floor", Word::function, "floor(t)", "The whole number at or below t."},
    {"ceil", Word::function, "ceil(t)", "The whole number at or above t."},
    {"round", Word::function, "round(t)", "The nearest whole number."},
};

}  // namespace

/// The words above, then one for each named plane that none of them reads.
std::span<const FormulaWord> formula_words() {
    static const std::vector<FormulaWord> all = [] {
        static std::deque<std::string> kept;
        std::vector<FormulaWord> made(std::begin(words), std::end(words));
        constexpr std::string_view read_already[] = {"height", "object", "object-u", "object-v", "lot-1",
                                                     "lot-2",  "lot-3",  "tilt-x",   "tilt-y"};
        for (const PlaneName& plane : plane_names()) {
            if (std::find(std::begin(read_already), std::end(read_already), plane.word) != std::end(read_already)) continue;
            std::string& word = kept.emplace_back(plane.word);
            std::replace(word.begin(), word.end(), '-', '_');
            std::string& form = kept.emplace_back(formula_prefixes[0]);
            form += '.';
            form += word;
            made.push_back({word, Word::plane, form, plane.help, plane.id});
        }
        return made;
    }();
    return all;
}

std::span<const FormulaSource> formula_sources() {
    static const std::vector<FormulaSource> all = [] {
        std::vector<FormulaSource> sources;
        const auto known = formula_words();
        for (int strand = 0; strand < formula_strands; ++strand)
            for (std::size_t k = 0; k < known.size(); ++k)
                if (known[k].of_strand() || (strand == 0 && known[k].kind == Word::place)) sources.push_back({strand, k});
        return sources;
    }();
    return all;
}

}  // namespace loom
