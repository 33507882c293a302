// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/common_fields.h"

#include <algorithm>
#include <iterator>

namespace loom {

namespace {

constexpr std::string_view gate_words[] = {"", "own", "beneath"};

Parameter field(Kind kind, std::string_view id, std::string_view title, Value fallback, std::string_view help) {
    Parameter p;
    p.kind = kind, p.id = id, p.title = title, p.fallback = std::move(fallback), p.help = help;
    return p;
}

Parameter number(std::string_view id, std::string_view title, double fallback, double most, Unit unit, std::string_view help) {
    Parameter p = field(Kind::number, id, title, fallback, help);
    p.unit = unit, p.max = p.slider_max = most;
    return p;
}

Parameter within_gate(Parameter p) {
    p.group_id = "gate.of", p.group_values = {"own", "beneath"};
    return p;
}

std::vector<CommonField> made() {
    std::vector<CommonField> fields;
    auto add = [&](Parameter p, Value (*get)(const Step&), void (*set)(Step&, const Value&)) {
        fields.push_back({std::move(p), get, set});
    };
    add(
        field(Kind::toggle, "on", "On", true, "Whether the step works at all."), [](const Step& s) { return Value(s.on); },
        [](Step& s, const Value& v) { s.on = std::get<bool>(v); });
    Parameter seed = field(Kind::count, "seed", "Seed", 0.0, "Another seed draws other lots.");
    seed.max = seed.slider_max = 4294967295.0;
    add(
        std::move(seed), [](const Step& s) { return Value(static_cast<double>(s.seed)); },
        [](Step& s, const Value& v) { s.seed = static_cast<std::uint32_t>(std::get<double>(v)); });
    add(
        number("amount", "Step amount", 100, 100, Unit::percent, "How much of this step is mixed with what came in."),
        [](const Step& s) { return Value(s.amount); }, [](Step& s, const Value& v) { s.amount = std::get<double>(v); });
    add(
        field(Kind::strand, "where", "Only where", std::string(), "A strand whose grey says where this step works."),
        [](const Step& s) { return Value(s.where); }, [](Step& s, const Value& v) { s.where = std::get<std::string>(v); });
    Parameter of = field(Kind::choice, "gate.of", "Only on tones", std::string(),
                         "Lets the step work only on some tones: of what comes in, or of what the strands to the left show.");
    of.choices = {{gate_words[0], "all"}, {gate_words[1], "of what comes in"}, {gate_words[2], "of what lies beneath"}};
    add(
        std::move(of), [](const Step& s) { return Value(std::string(gate_word(s.gate.of))); },
        [](Step& s, const Value& v) { s.gate.of = find_gate(std::get<std::string>(v)).value_or(ToneGate::Of::nothing); });
    add(
        within_gate(
            number("gate.from", "From tone", ToneGate{}.from, 1, Unit::tone, "The darkest tone that is let through whole.")),
        [](const Step& s) { return Value(s.gate.from); }, [](Step& s, const Value& v) { s.gate.from = std::get<double>(v); });
    add(
        within_gate(number("gate.to", "To tone", ToneGate{}.to, 1, Unit::tone, "The lightest tone that is let through whole.")),
        [](const Step& s) { return Value(s.gate.to); }, [](Step& s, const Value& v) { s.gate.to = std::get<double>(v); });
    add(
        within_gate(number("gate.softness", "Softness", ToneGate{}.softness, 1, Unit::tone,
                           "How many tones beyond both ends it takes to fade out.")),
        [](const Step& s) { return Value(s.gate.softness); },
        [](Step& s, const Value& v) { s.gate.softness = std::get<double>(v); });
    return fields;
}

}  // namespace

const std::vector<CommonField>& common_fields() {
    static const std::vector<CommonField> fields = made();
    return fields;
}

bool matters(const CommonField& field, const Step& step) {
    const std::vector<std::string_view>& words = field.parameter.group_values;
    return words.empty() || std::find(words.begin(), words.end(), gate_word(step.gate.of)) != words.end();
}

const CommonField* find_common_field(std::string_view id) {
    for (const CommonField& each : common_fields())
        if (each.parameter.id == id) return &each;
    return nullptr;
}

std::string_view gate_word(ToneGate::Of of) { return gate_words[static_cast<std::size_t>(of)]; }

std::optional<ToneGate::Of> find_gate(std::string_view word) {
    for (std::size_t k = 0; k < std::size(gate_words); ++k)
        if (gate_words[k] == word) return static_cast<ToneGate::Of>(k);
    return std::nullopt;
}

}  // namespace loom
