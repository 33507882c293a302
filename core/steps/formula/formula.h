// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Formulas: muParser reads the expression once, and what it calls writes down a list of operations, which then runs over
// blocks of pixels. There are no loops in it and its length is bounded, so it always ends.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalogue/description.h"
#include "core/catalogue/value.h"

namespace loom {

/// A word that formulas know.
struct FormulaWord {
    /// A plane is one that only some strands have; it is never read without the strand's prefix, so that it takes no name from
    /// anybody.
    enum class Kind { function, place, strand, plane, constant };
    std::string_view word;
    Kind kind;
    std::string_view form;  ///< "mix(a, b, t)"
    std::string_view help;
    std::string_view plane = {};  ///< of a plane: its id in bundles
    bool of_strand() const { return kind == Kind::strand || kind == Kind::plane; }
};
std::span<const FormulaWord> formula_words();

/// Strands that a formula may read: words without a prefix are those of the first, "b.tone" of the second.
constexpr int formula_strands = 4;
constexpr std::string_view formula_prefixes[formula_strands] = {"a", "b", "c", "d"};
/// A place, or a word of one of the strands; the registers come in this order.
struct FormulaSource {
    int strand;
    std::size_t word;  ///< in formula_words()
};
std::span<const FormulaSource> formula_sources();

enum class FormulaOp : std::uint8_t {
    negate,
    add,
    subtract,
    multiply,
    divide,
    power,
    modulo,
    less,
    greater,
    less_equal,
    greater_equal,
    equal,
    unequal,
    both,
    either,
    sine,
    cosine,
    tangent,
    exponential,
    logarithm,
    root,
    absolute,
    floor,
    ceiling,
    round,
    fraction,
    sign,
    minimum,
    maximum,
    choose,
    mix,
    step,
    smoothstep,
    clamp,
    wave,
    triangle,
    saw,
    lot,
    lot_pair,
    arc_tangent,
    noise,
    clouds,
    cells,
    cell_tone,
    cell_edge
};

struct FormulaProgram {
    /// Registers hold a block each: first those of formula_sources(), then constants, then what operations write.
    struct Step {
        FormulaOp op;
        std::uint16_t to, a, b, c;
        int count = 0, octaves = 0;  ///< noise: cells a tile, octaves
        std::uint32_t lot = 0;       ///< noise: which one
    };
    struct Constant {
        std::uint16_t to;
        float value;
    };
    std::vector<Step> steps;
    std::vector<Constant> constants;
    std::vector<std::uint16_t> results;  ///< 1, 3 or 4 registers
    std::vector<bool> reads;             ///< by formula_sources()
    int registers = 0;
};

struct FormulaReading {
    std::optional<TextFault> fault;
    std::vector<std::string> inputs;  ///< names that are none of the known words, in the order they stand
    FormulaProgram program;           ///< empty if there is a fault
};

constexpr int most_formula_inputs = 12;

/// Reads `text`: lines "name = expression;", then what they come to. Names that are neither known nor given by a line become
/// inputs, with the values of `inputs` or 0.5.
FormulaReading read_formula(std::string_view text, const Inputs& inputs = {});

constexpr int formula_block = 512;

/// Runs a program over blocks of at most formula_block pixels.
class FormulaRun {
public:
    FormulaRun(const FormulaProgram& program, std::uint64_t seed);
    /// Where the values of a word go before run(); formula_block values.
    float* word(std::size_t index) { return registers_[index].data(); }
    void run(int count);
    const float* result(std::size_t index) const { return registers_[program_.results[index]].data(); }

private:
    void noise(const FormulaProgram::Step& step, int count);

    const FormulaProgram& program_;
    std::uint64_t seed_;
    std::vector<std::vector<float>> registers_;
};

}  // namespace loom
