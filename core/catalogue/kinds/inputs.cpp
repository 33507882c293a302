// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Named numbers. As text "depth 0.5 0 1, turns 3 1 9": name, value and range.
#include <set>

#include "core/catalogue/kinds/kind.h"

namespace loom {

void hash_value(Key& key, const Inputs& inputs) {
    key.add(static_cast<std::uint64_t>(inputs.size()));
    for (const auto& [name, number, min, max, note] : inputs) key.add(std::string_view(name)).add(number).add(min).add(max);
}

namespace {

using namespace kinds;

constexpr std::size_t most_inputs = 12;

class InputsKind : public KindOf<Inputs, SharedValue<Inputs>> {
public:
    std::string_view word() const override { return "inputs"; }
    WrittenForm form() const override {
        return {"`[{\"name\": \"depth\", \"value\": 0.5, \"min\": 0, \"max\": 1, \"note\": \"\"}]`",
                "`depth 0.5 0 1`: name, value, range"};
    }
    std::string must_be(const Parameter&) const override { return "must be a list of inputs with name, value, min and max"; }
    std::optional<std::string> refuses_content(const Parameter&, const Inputs& inputs) const override {
        if (inputs.size() > most_inputs) return at_most(most_inputs, "inputs");
        std::set<std::string_view> names;
        for (const Input& input : inputs) {
            if (input.name.empty() || input.name.size() > 64) return "has an input without a name of 1 to 64 characters";
            if (!names.insert(input.name).second) return "has two inputs named '" + input.name + "'";
            if (!(input.min < input.max) || !in_range(input.min, -1e6, 1e6) || !in_range(input.max, -1e6, 1e6))
                return "has the input '" + input.name + "' with no range: min must be below max, both within a million";
            if (!in_range(input.value, input.min, input.max))
                return "has the input '" + input.name + "' outside its range, " + write_number(input.min) + " to " +
                       write_number(input.max);
            if (input.note.size() > 256) return "has the input '" + input.name + "' with a note of more than 256 characters";
        }
        return std::nullopt;
    }

    Json write_content(const Inputs& inputs) const override {
        Json list = Json::array();
        for (const Input& input : inputs) {
            Json entry = {{"name", input.name},
                          {"value", number_json(input.value)},
                          {"min", number_json(input.min)},
                          {"max", number_json(input.max)}};
            if (!input.note.empty()) entry["note"] = input.note;
            list.push_back(std::move(entry));
        }
        return list;
    }
    std::optional<Value> read(const Json& node, const std::string& pointer, json_reading::Reader& reader) const override {
        if (!node.is_array()) return std::nullopt;
        Inputs inputs;
        for (std::size_t k = 0; k < node.size(); ++k) {
            const std::string here = json_reading::at(pointer, k);
            if (!reader.object(node[k], here)) continue;
            Input input;
            input.name = reader.text(node[k], "name", here, "");
            input.min = reader.number(node[k], "min", here, 0, -1e6, 1e6);
            input.max = reader.number(node[k], "max", here, 1, -1e6, 1e6);
            input.value = reader.number(node[k], "value", here, (input.min + input.max) / 2, -1e6, 1e6);
            input.note = reader.text(node[k], "note", here, "");
            inputs.push_back(std::move(input));
        }
        return Value(std::move(inputs));
    }

    std::optional<Value> parse(std::string_view text) const override {
        Inputs inputs;
        for (std::string_view part : words_of(text, ",")) {
            const auto words = words_of(part, " \t");
            if (words.size() != 2 && words.size() != 4) return std::nullopt;
            const auto value = parse_number(words[1]);
            const auto min = words.size() == 4 ? parse_number(words[2]) : std::optional<double>(0);
            const auto max = words.size() == 4 ? parse_number(words[3]) : std::optional<double>(1);
            if (!value || !min || !max) return std::nullopt;
            inputs.push_back({std::string(words[0]), *value, *min, *max, {}});
        }
        return Value(std::move(inputs));
    }
    std::string text_of(const Inputs& inputs) const override {
        std::string text;
        for (const Input& input : inputs) {
            if (!text.empty()) text += ", ";
            text += input.name;
            for (double number : {input.value, input.min, input.max}) {
                text += ' ';
                text += write_number(number);
            }
        }
        return text;
    }
    std::string show_content(const Parameter&, const Inputs& inputs) const override {
        std::string text;
        for (const Input& input : inputs) {
            if (!text.empty()) text += ", ";
            text += input.name + " " + write_number(input.value);
        }
        return text.empty() ? "none" : text;
    }

    std::vector<Part> parts(const Value& whole) const override {
        std::vector<Part> all;
        for (const Input& input : as<Inputs>(whole))
            all.push_back(
                {input.name, number_part("value", "Value", input.min, input.max, Unit::none, input.value), Value(input.value)});
        return all;
    }
    Value with_part(const Value& whole, const Part& part, const Value& value) const override {
        Inputs inputs = as<Inputs>(whole);
        for (Input& each : inputs)
            if (each.name == part.path) each.value = as<double>(value);
        return Value(std::move(inputs));
    }
};

}  // namespace

const ValueKind& inputs_kind() {
    static const InputsKind kind;
    return kind;
}

}  // namespace loom
