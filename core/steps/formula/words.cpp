// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/formula/formula.h"

namespace loom {

namespace {

using Kind = FormulaWord::Kind;

// Places and strand planes come first: their order is that of the registers.
constexpr FormulaWord words[] = {
    {"x", Kind::place, "x", "Design pixels from the left edge."},
    {"y", Kind::place, "y", "Design pixels from the top edge."},
    {"u", Kind::place, "u", "Place across the tile, 0 to 1."},
    {"v", Kind::place, "v", "Place down the tile, 0 to 1."},
    {"r", Kind::place, "r", "Distance from the middle of the tile, in tiles: 0.5 at the middle of an edge."},
    {"a", Kind::place, "a", "Angle round the middle of the tile in turns, 0 to 1: 0 is right, 0.25 is up."},
    {"tone", Kind::strand, "tone", "Grey of the strand that is read; 0 without one."},
    {"red", Kind::strand, "red", "Red of the strand that is read."},
    {"green", Kind::strand, "green", "Green of the strand that is read."},
    {"blue", Kind::strand, "blue", "Blue of the strand that is read."},
    {"coverage", Kind::strand, "coverage", "Coverage of the strand that is read, 0 to 1."},
    {"height", Kind::strand, "height", "Height of the strand that is read, or its grey if it has none."},
    {"object", Kind::strand, "object", "Number of the object at this place in the strand that is read, from 1; 0: none."},
    {"object_u", Kind::strand, "object_u", "Place across that object, 0 to 1."},
    {"object_v", Kind::strand, "object_v", "Place down that object, 0 to 1."},
    {"lot1", Kind::strand, "lot1", "First lot drawn by that object, 0 to 1."},
    {"lot2", Kind::strand, "lot2", "Second lot drawn by that object, 0 to 1."},
    {"lot3", Kind::strand, "lot3", "Third lot drawn by that object, 0 to 1."},
    {"slope_x", Kind::strand, "slope_x", "How its height rises to the right, for each design pixel."},
    {"slope_y", Kind::strand, "slope_y", "How its height rises upwards, for each design pixel."},
    {"tilt_x", Kind::strand, "tilt_x", "How the object there leans by itself: its rise to the right for each design pixel."},
    {"tilt_y", Kind::strand, "tilt_y", "Its rise upwards."},
    {"object_x", Kind::strand, "object_x", "Middle of that object, design pixels from the left edge."},
    {"object_y", Kind::strand, "object_y", "Middle of that object, design pixels from the top edge."},
    {"object_w", Kind::strand, "object_w", "How wide that object is, design pixels."},
    {"object_h", Kind::strand, "object_h", "How high that object is, design pixels."},
    {"object_second", Kind::strand, "object_second", "Number of the object that has the rest of this pixel."},
    {"object_share", Kind::strand, "object_share", "How much of this pixel belongs to the first object, 0 to 1."},
    {"pi", Kind::constant, "pi", "3.14159..."},
    {"noise", Kind::function, "noise(u, v, n)",
     "Soft noise of n cells a tile, 0 to 1; a fourth number chooses another one, which may differ from object to object."},
    {"clouds", Kind::function, "clouds(u, v, n, octaves)", "Fractal noise, 0 to 1; a fifth number chooses another one."},
    {"cells", Kind::function, "cells(u, v, n)", "Distance to the nearest of n by n scattered points, in cells."},
    {"celltone", Kind::function, "celltone(u, v, n)", "A lot for the nearest of those points, 0 to 1."},
    {"celledge", Kind::function, "celledge(u, v, n)", "How much farther the second nearest of those points is, in cells."},
    {"lot", Kind::function, "lot(k)", "A lot for every whole number k, 0 to 1."},
    {"lots", Kind::function, "lots(n, k)", "A lot for every pair of whole numbers, such as the k-th of object n, 0 to 1."},
    {"wave", Kind::function, "wave(t)", "A sine wave, 0 to 1, once for each whole t."},
    {"tri", Kind::function, "tri(t)", "A triangle wave, 0 to 1, once for each whole t."},
    {"saw", Kind::function, "saw(t)", "A ramp from 0 to 1 for each whole t; the fraction of t."},
    {"mix", Kind::function, "mix(a, b, t)", "a where t is 0, b where t is 1, between them in between and beyond."},
    {"if", Kind::function, "if(c, a, b)", "a where c is not 0, else b."},
    {"step", Kind::function, "step(e, t)", "0 where t is below e, else 1."},
    {"smoothstep", Kind::function, "smoothstep(e, f, t)", "0 below e, 1 above f, a soft way between."},
    {"clamp", Kind::function, "clamp(t, low, high)", "t kept between low and high."},
    {"min", Kind::function, "min(a, b)", "The smaller one."},
    {"max", Kind::function, "max(a, b)", "The greater one."},
    {"mod", Kind::function, "mod(a, b)", "What is left of a after taking away whole b; never negative for b above 0."},
    {"pow", Kind::function, "pow(a, b)", "a to the power b; if a is below 0 and b no whole number, 0. Also written a ^ b."},
    {"sqrt", Kind::function, "sqrt(t)", "Square root; below 0 it is 0."},
    {"exp", Kind::function, "exp(t)", "e to the power t."},
    {"log", Kind::function, "log(t)", "Natural logarithm; t below 1e-30 counts as 1e-30."},
    {"sin", Kind::function, "sin(t)", "Sine of t radians."},
    {"cos", Kind::function, "cos(t)", "Cosine of t radians."},
    {"tan", Kind::function, "tan(t)", "Tangent of t radians."},
    {"atan2", Kind::function, "atan2(y, x)", "The angle of the way to (x, y) in radians, from -pi to pi."},
    {"abs", Kind::function, "abs(t)", "t without its sign."},
    {"sign", Kind::function, "sign(t)", "-1, 0 or 1."},
    {"floor", Kind::function, "floor(t)", "The whole number at or below t."},
    {"ceil", Kind::function, "ceil(t)", "The whole number at or above t."},
    {"round", Kind::function, "round(t)", "The nearest whole number."},
};

}  // namespace

std::span<const FormulaWord> formula_words() { return words; }

std::span<const FormulaSource> formula_sources() {
    static const std::vector<FormulaSource> all = [] {
        std::vector<FormulaSource> sources;
        for (std::size_t k = 0; k < std::size(words); ++k)
            if (words[k].kind == FormulaWord::Kind::place || words[k].kind == FormulaWord::Kind::strand) sources.push_back({0, k});
        for (int strand = 1; strand < formula_strands; ++strand)
            for (std::size_t k = 0; k < std::size(words); ++k)
                if (words[k].kind == FormulaWord::Kind::strand) sources.push_back({strand, k});
        return sources;
    }();
    return all;
}

}  // namespace loom
