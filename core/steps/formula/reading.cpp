// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// muParser evaluates the expression a single time. Plain numbers stay plain; everything that differs from pixel to pixel
// is a ticket: a NaN that carries the number of a register. An operator that meets a ticket writes down a step.
#include <muParser.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <map>

#include "core/steps/formula/formula.h"
#include "core/steps/formula/scanning.h"

namespace loom {

namespace {

/// What went wrong while operations were written down; muParser has no place for it.
struct Refused {
    std::string message;
    int noise_call = -1;  ///< which of the noise functions it was, in the order in which their brackets close
};

constexpr std::uint64_t ticket_mark = 0x7ff8'6c6f'6f6d'0000;

struct Writer {
    FormulaProgram program;
    std::map<float, std::uint16_t> constants;
    int noise_calls = 0;

    static bool is_ticket(double value) { return (std::bit_cast<std::uint64_t>(value) & ~0xffffULL) == ticket_mark; }
    static double ticket(std::uint16_t index) { return std::bit_cast<double>(ticket_mark | index); }
    std::uint16_t fresh() {
        if (program.registers > 4000) throw Refused{"the formula is too long"};
        return static_cast<std::uint16_t>(program.registers++);
    }
    std::uint16_t place(double value) {
        if (is_ticket(value)) return static_cast<std::uint16_t>(std::bit_cast<std::uint64_t>(value) & 0xffff);
        const auto number = static_cast<float>(std::isfinite(value) ? std::clamp(value, -1e30, 1e30) : 0.0);
        const auto [found, is_new] = constants.emplace(number, std::uint16_t{0});
        if (is_new) {
            found->second = fresh();
            program.constants.push_back({found->second, number});
        }
        return found->second;
    }
    double write(FormulaOp op, double a, double b = 0, double c = 0) {
        FormulaProgram::Step step{op, 0, place(a), place(b), place(c)};
        step.to = fresh();
        program.steps.push_back(step);
        return ticket(step.to);
    }
};

/// Set while muParser runs; its callbacks know no other way back.
thread_local Writer* writer = nullptr;

template <FormulaOp Op>
double one(double a) {
    return writer->write(Op, a);
}
template <FormulaOp Op>
double two(double a, double b) {
    // Sums of plain numbers stay plain, so that counts may be worked out.
    if (!Writer::is_ticket(a) && !Writer::is_ticket(b)) {
        if (Op == FormulaOp::add) return a + b;
        if (Op == FormulaOp::subtract) return a - b;
        if (Op == FormulaOp::multiply) return a * b;
        if (Op == FormulaOp::divide && b != 0) return a / b;
    }
    return writer->write(Op, a, b);
}
template <FormulaOp Op>
double three(double a, double b, double c) {
    return writer->write(Op, a, b, c);
}
double negated(double a) { return Writer::is_ticket(a) ? writer->write(FormulaOp::negate, a) : -a; }
double same(double a) { return a; }
double rounded(double a) { return Writer::is_ticket(a) ? writer->write(FormulaOp::round, a) : std::round(a); }

int whole(double value, double least, double most, const char* what) {
    const int call = writer->noise_calls;
    if (Writer::is_ticket(value)) throw Refused{std::string(what) + " must be the same everywhere: a number or an input", call};
    if (!(value >= least - 0.5 && value < most + 0.5))
        throw Refused{std::string(what) + " must lie between " + write_number(least) + " and " + write_number(most), call};
    return static_cast<int>(std::lround(value));
}

double noise_of(FormulaOp op, const double* arguments, int count, int least) {
    if (count < least || count > least + 1)
        throw Refused{"it takes " + std::to_string(least) + " numbers, and one more to choose another noise",
                      writer->noise_calls};
    FormulaProgram::Step step{op, 0, writer->place(arguments[0]), writer->place(arguments[1]), 0};
    step.count = whole(arguments[2], 1, 512, "the number of cells");
    step.octaves = op == FormulaOp::clouds ? whole(arguments[3], 1, 10, "the number of octaves") : 1;
    if (count > least && Writer::is_ticket(arguments[least])) {
        // Chosen from place to place: noise repeats with the tile, so that another piece of it is as good as another one.
        const double choice = arguments[least];
        const auto moved = [&](double place, double which) {
            return writer->write(FormulaOp::add, place, writer->write(FormulaOp::lot_pair, choice, which));
        };
        step.a = writer->place(moved(arguments[0], 1)), step.b = writer->place(moved(arguments[1], 2));
    } else if (count > least) {
        step.lot = static_cast<std::uint32_t>(whole(arguments[least], 0, 1e6, "the choice of noise"));
    }
    step.to = writer->fresh();
    writer->program.steps.push_back(step);
    ++writer->noise_calls;
    return Writer::ticket(step.to);
}
template <FormulaOp Op>
double noisy(const double* arguments, int count) {
    return noise_of(Op, arguments, count, Op == FormulaOp::clouds ? 4 : 3);
}

void define_words(mu::Parser& parser) {
    using Op = FormulaOp;
    parser.ClearFun(), parser.ClearConst(), parser.ClearInfixOprt(), parser.ClearPostfixOprt();
    parser.EnableBuiltInOprt(false);
    parser.DefineConst("pi", 3.14159265358979323846);
    parser.DefineInfixOprt("-", negated, mu::prINFIX, true);
    parser.DefineInfixOprt("+", same, mu::prINFIX, true);
    parser.DefineOprt("+", two<Op::add>, mu::prADD_SUB), parser.DefineOprt("-", two<Op::subtract>, mu::prADD_SUB);
    parser.DefineOprt("*", two<Op::multiply>, mu::prMUL_DIV), parser.DefineOprt("/", two<Op::divide>, mu::prMUL_DIV);
    parser.DefineOprt("%", two<Op::modulo>, mu::prMUL_DIV), parser.DefineOprt("^", two<Op::power>, mu::prPOW, mu::oaRIGHT);
    parser.DefineOprt("<", two<Op::less>, mu::prCMP), parser.DefineOprt(">", two<Op::greater>, mu::prCMP);
    parser.DefineOprt("<=", two<Op::less_equal>, mu::prCMP), parser.DefineOprt(">=", two<Op::greater_equal>, mu::prCMP);
    parser.DefineOprt("==", two<Op::equal>, mu::prCMP), parser.DefineOprt("!=", two<Op::unequal>, mu::prCMP);
    parser.DefineOprt("&&", two<Op::both>, mu::prLAND), parser.DefineOprt("||", two<Op::either>, mu::prLOR);
    parser.DefineFun("sin", one<Op::sine>), parser.DefineFun("cos", one<Op::cosine>), parser.DefineFun("tan", one<Op::tangent>);
    parser.DefineFun("exp", one<Op::exponential>), parser.DefineFun("log", one<Op::logarithm>);
    parser.DefineFun("sqrt", one<Op::root>), parser.DefineFun("abs", one<Op::absolute>), parser.DefineFun("sign", one<Op::sign>);
    parser.DefineFun("floor", one<Op::floor>), parser.DefineFun("ceil", one<Op::ceiling>), parser.DefineFun("round", rounded);
    parser.DefineFun("wave", one<Op::wave>), parser.DefineFun("tri", one<Op::triangle>),
        parser.DefineFun("saw", one<Op::fraction>);
    parser.DefineFun("lot", one<Op::lot>), parser.DefineFun("lots", two<Op::lot_pair>);
    parser.DefineFun("atan2", two<Op::arc_tangent>);
    // Words of the second to the fourth strand have a point in them.
    parser.DefineNameChars("0123456789_.abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ");
    parser.DefineFun("min", two<Op::minimum>), parser.DefineFun("max", two<Op::maximum>);
    parser.DefineFun("mod", two<Op::modulo>), parser.DefineFun("pow", two<Op::power>), parser.DefineFun("step", two<Op::step>);
    parser.DefineFun("mix", three<Op::mix>), parser.DefineFun("if", three<Op::choose>),
        parser.DefineFun("clamp", three<Op::clamp>);
    parser.DefineFun("smoothstep", three<Op::smoothstep>);
    parser.DefineFun("noise", noisy<Op::noise>), parser.DefineFun("clouds", noisy<Op::clouds>);
    parser.DefineFun("cells", noisy<Op::cells>), parser.DefineFun("celltone", noisy<Op::cell_tone>);
    parser.DefineFun("celledge", noisy<Op::cell_edge>);
}

const FormulaWord* known(std::string_view name) {
    for (const FormulaWord& word : formula_words())
        if (word.word == name && word.kind != FormulaWord::Kind::plane) return &word;
    return nullptr;
}

/// The register of "tone" or "b.tone"; -1 if that is no word which is read.
int source_of(std::string_view name) {
    int strand = 0;
    const auto point = name.find('.');
    const bool prefixed = point != std::string_view::npos;
    if (prefixed) {
        const auto found = std::find(std::begin(formula_prefixes), std::end(formula_prefixes), name.substr(0, point));
        strand = static_cast<int>(found - std::begin(formula_prefixes));
        name.remove_prefix(point + 1);
    }
    const auto sources = formula_sources();
    for (std::size_t k = 0; k < sources.size(); ++k) {
        const FormulaWord& word = formula_words()[sources[k].word];
        const bool readable = prefixed ? word.of_strand() : word.kind != FormulaWord::Kind::plane;
        if (sources[k].strand == strand && word.word == name && readable) return static_cast<int>(k);
    }
    return -1;
}

/// Where the name of a noise function stands, counted in the order in which the calls are done: as their brackets close.
std::size_t place_of_noise(std::string_view text, const FormulaPart& part, const std::vector<FormulaName>& names, int call) {
    std::vector<std::pair<std::size_t, std::size_t>> closing;
    for (const FormulaName& name : names) {
        if (name.at < part.from || name.at >= part.to) continue;
        if (!name.called || (name.text != "noise" && name.text != "clouds" && !name.text.starts_with("cell"))) continue;
        std::size_t k = name.at;
        for (int open = 0; k < text.size(); ++k) {
            open += text[k] == '(' ? 1 : text[k] == ')' ? -1 : 0;
            if (text[k] == ')' && open == 0) break;
        }
        closing.emplace_back(k, name.at);
    }
    std::sort(closing.begin(), closing.end());
    return call >= 0 && call < static_cast<int>(closing.size()) ? closing[static_cast<std::size_t>(call)].second : part.from;
}

std::string words_for(const mu::Parser::exception_type& error) {
    const std::string token = error.GetToken();
    switch (error.GetCode()) {
        case mu::ecUNEXPECTED_EOF: return "something is missing at the end";
        case mu::ecUNEXPECTED_OPERATOR: return "there is nothing for '" + token + "' to work on";
        case mu::ecUNEXPECTED_ARG_SEP: return "a comma cannot stand here";
        case mu::ecUNEXPECTED_PARENS: return "a bracket cannot stand here";
        case mu::ecMISSING_PARENS: return "a bracket is not closed";
        case mu::ecTOO_MANY_PARAMS: return "'" + token + "' is given too many numbers";
        case mu::ecTOO_FEW_PARAMS: return "'" + token + "' is given too few numbers";
        case mu::ecUNEXPECTED_VAL:
        case mu::ecUNEXPECTED_VAR:
        case mu::ecUNEXPECTED_FUN: return "an operator is missing before '" + token + "'";
        case mu::ecEMPTY_EXPRESSION: return "the formula is empty";
        default:
            // muParser knows no operator where a value has to stand.
            if (!token.empty() && std::string_view("*/%^<>=!&|").find(token.front()) != std::string_view::npos)
                return std::string("there is nothing for '") + token.front() + "' to work on";
            return "this cannot be read" + (token.empty() ? std::string() : ": '" + token + "'");
    }
}

/// Gives registers whose values nobody needs any more to later operations.
void share_registers(FormulaProgram& program) {
    const auto words = static_cast<int>(program.reads.size());
    std::vector<int> last(static_cast<std::size_t>(program.registers), -1);
    for (std::size_t k = 0; k < program.steps.size(); ++k)
        for (std::uint16_t at : {program.steps[k].a, program.steps[k].b, program.steps[k].c}) last[at] = static_cast<int>(k);
    const int forever = static_cast<int>(program.steps.size());
    for (std::uint16_t at : program.results) last[at] = forever;
    std::vector<int> to(static_cast<std::size_t>(program.registers), -1), unused;
    int next = words;
    for (int k = 0; k < words; ++k) to[static_cast<std::size_t>(k)] = k;
    for (auto& constant : program.constants) constant.to = static_cast<std::uint16_t>(to[constant.to] = next++);
    std::vector<bool> temporary(static_cast<std::size_t>(program.registers), false);
    for (std::size_t k = 0; k < program.steps.size(); ++k) {
        auto& step = program.steps[k];
        const std::uint16_t old[3] = {step.a, step.b, step.c}, made = step.to;
        int place;
        if (unused.empty()) {
            place = next++;
        } else {
            place = unused.back();
            unused.pop_back();
        }
        step.a = static_cast<std::uint16_t>(to[old[0]]), step.b = static_cast<std::uint16_t>(to[old[1]]);
        step.c = static_cast<std::uint16_t>(to[old[2]]);
        to[made] = place, step.to = static_cast<std::uint16_t>(place);
        temporary[made] = true;
        for (int n = 0; n < 3; ++n)
            if (temporary[old[n]] && last[old[n]] == static_cast<int>(k)) {
                unused.push_back(to[old[n]]);
                temporary[old[n]] = false;
            }
        if (last[made] < 0) unused.push_back(place), temporary[made] = false;
    }
    for (std::uint16_t& at : program.results) at = static_cast<std::uint16_t>(to[at]);
    program.registers = next;
}

}  // namespace

namespace {

/// Names that are neither words nor given by an earlier line become inputs.
std::optional<TextFault> name_inputs(const std::vector<FormulaPart>& parts, const std::vector<FormulaName>& names,
                                     const Inputs& inputs, FormulaReading& reading, std::vector<bool>& reads,
                                     std::vector<std::pair<std::string, double>>& given) {
    for (const FormulaPart& part : parts) {
        if (part.name.empty()) continue;
        if (known(part.name)) return TextFault{part.at, "'" + part.name + "' is a word already: choose another name"};
        if (part.name.size() > 64) return TextFault{part.at, "this name is too long"};
        for (const FormulaPart& other : parts)
            if (&other < &part && other.name == part.name)
                return TextFault{part.at, "'" + part.name + "' has been given a line before"};
    }
    for (const FormulaName& name : names) {
        const auto line =
            std::find_if(parts.begin(), parts.end(), [&](const FormulaPart& part) { return part.name == name.text; });
        if (line != parts.end()) {
            if (name.called) return TextFault{name.at, "'" + name.text + "' is no function"};
            if (name.at < line->to) return TextFault{name.at, "'" + name.text + "' is used before its line has given it"};
            continue;
        }
        const FormulaWord* word = known(name.text);
        const int source = source_of(name.text);
        if (name.text.find('.') != std::string::npos && source < 0)
            return TextFault{name.at, "a strand has no '" + name.text.substr(2) + "'"};
        if ((word && (word->kind == FormulaWord::Kind::function) != name.called) || (source >= 0 && name.called)) {
            std::string message = "'";
            message += name.text;
            message += name.called ? "' is no function" : "' is a function: write " + std::string(word->form);
            return TextFault{name.at, message};
        }
        if (source >= 0) reads[static_cast<std::size_t>(source)] = true;
        if (word || source >= 0) continue;
        if (name.called) return TextFault{name.at, "there is no function '" + name.text + "'"};
        if (std::find(reading.inputs.begin(), reading.inputs.end(), name.text) != reading.inputs.end()) continue;
        if (static_cast<int>(reading.inputs.size()) == most_formula_inputs || name.text.size() > 64)
            return TextFault{name.at, name.text.size() > 64 ? "this name is too long"
                                                            : "this would be the thirteenth input; there may be twelve"};
        reading.inputs.push_back(name.text);
        const auto input = std::find_if(inputs.begin(), inputs.end(), [&](const Input& i) { return i.name == name.text; });
        given.emplace_back(name.text, input == inputs.end() ? Input{}.value : input->value);
    }
    return std::nullopt;
}

}  // namespace

FormulaReading read_formula(std::string_view text, const Inputs& inputs) {
    FormulaReading reading;
    std::vector<FormulaPart> parts;
    std::vector<FormulaName> names;
    if ((reading.fault = split_formula(text, parts))) return reading;
    for (const FormulaPart& part : parts)
        if ((reading.fault = scan_formula(text, part.from, part.to, names))) return reading;
    const auto sources = formula_sources();
    Writer written;
    written.program.reads.assign(sources.size(), false);
    written.program.registers = static_cast<int>(sources.size());
    std::vector<std::pair<std::string, double>> given;
    if ((reading.fault = name_inputs(parts, names, inputs, reading, written.program.reads, given))) return reading;
    mu::Parser parser;
    define_words(parser);
    // muParser keeps where values lie.
    std::vector<double> values;
    values.reserve(2 * sources.size() + given.size() + parts.size());
    const auto define = [&](const std::string& name, double value) {
        values.push_back(value);
        parser.DefineVar(name, &values.back());
    };
    for (std::size_t k = 0; k < sources.size(); ++k) {
        const FormulaWord& word = formula_words()[sources[k].word];
        const double value = Writer::ticket(static_cast<std::uint16_t>(k));
        const std::string prefixed = std::string(formula_prefixes[sources[k].strand]) + "." + std::string(word.word);
        if (sources[k].strand == 0 && word.kind != FormulaWord::Kind::plane) define(std::string(word.word), value);
        if (word.of_strand()) define(prefixed, value);
    }
    for (const auto& [name, value] : given) define(name, value);
    writer = &written;
    const FormulaPart* part = &parts.front();
    try {
        for (const FormulaPart& each : parts) {
            part = &each;
            written.noise_calls = 0;
            parser.SetExpr(std::string(text.substr(each.from, each.to - each.from)));
            int count = 0;
            const double* results = parser.Eval(count);
            if (!each.name.empty()) {
                if (count != 1) throw Refused{"a line gives its name one value"};
                define(each.name, results[0]);
                continue;
            }
            if (count != 1 && count != 3 && count != 4)
                throw Refused{"give one value for grey, three for colour, four for colour and coverage"};
            for (int k = 0; k < count; ++k) written.program.results.push_back(written.place(results[k]));
        }
        share_registers(written.program);
        reading.program = std::move(written.program);
    } catch (const mu::Parser::exception_type& error) {
        const auto at = part->from + static_cast<std::size_t>(std::max(0, error.GetPos()));
        reading.fault = TextFault{std::min(part->to, at), words_for(error)};
    } catch (const Refused& refused) {
        reading.fault = TextFault{place_of_noise(text, *part, names, refused.noise_call), refused.message};
    }
    writer = nullptr;
    return reading;
}

}  // namespace loom
