// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a kind of value must know of itself. Each kind is a file in core/catalogue/kinds that says all of it; what it leaves out
// does not compile. Besides, the data's header has its hash and equality (value.h), and app/loom its editor.
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalogue/description.h"

namespace loom {

namespace json_reading {
class Reader;
}

/// Something within a value that has an address of its own, such as "2.colour" of stops.
struct Part {
    std::string path;  ///< what stands behind the parameter's id and a dot
    Parameter parameter;
    Value value;
};

/// How a value is written, in files and as text; with examples, for docs.
struct WrittenForm {
    std::string_view json, text;
};

class ValueKind {
public:
    using Json = nlohmann::ordered_json;
    virtual ~ValueKind() = default;

    virtual std::string_view word() const = 0;  ///< in `steps --json` and docs
    virtual WrittenForm form() const = 0;
    /// What stands where none of this kind does: words that follow the parameter's name.
    virtual std::string must_be(const Parameter& parameter) const = 0;
    virtual bool holds(const Value& value) const = 0;
    /// What is wrong with a value of this kind, as words that follow the parameter's name.
    virtual std::optional<std::string> refuses(const Parameter& parameter, const Value& value) const = 0;

    virtual Json write(const Value& value) const = 0;
    /// Nothing if the node is no such value; faults within it are told to the reader.
    virtual std::optional<Value> read(const Json& node, const std::string& pointer, json_reading::Reader& reader) const = 0;

    /// From text that people write, as after --set; nothing if it is no such value.
    virtual std::optional<Value> parse(std::string_view text) const = 0;
    /// What parse() reads back.
    virtual std::string text(const Value& value) const = 0;
    /// As people read it: "1.5 px", "3 stops".
    virtual std::string show(const Parameter& parameter, const Value& value) const = 0;

    virtual std::vector<Part> parts(const Value& whole) const = 0;
    /// `part` must be one that parts() lists, and its parameter must take the value.
    virtual Value with_part(const Value& whole, const Part& part, const Value& value) const = 0;
};

/// The kind whose values have the content `T`, in the value or shared.
template <class T, class Held = T>
class KindOf : public ValueKind {
public:
    bool holds(const Value& value) const override { return std::holds_alternative<Held>(value); }

    virtual std::optional<std::string> refuses_content(const Parameter& parameter, const T& content) const = 0;
    virtual Json write_content(const T& content) const = 0;
    virtual std::string text_of(const T& content) const = 0;
    virtual std::string show_content(const Parameter& parameter, const T& content) const = 0;

    std::optional<std::string> refuses(const Parameter& p, const Value& value) const override {
        return refuses_content(p, as<T>(value));
    }
    Json write(const Value& value) const override;
    std::string text(const Value& value) const override { return text_of(as<T>(value)); }
    std::string show(const Parameter& p, const Value& value) const override { return show_content(p, as<T>(value)); }
};

/// A kind whose values have nothing within that could be addressed by itself.
template <class T, class Held = T>
class UndividedKind : public KindOf<T, Held> {
public:
    std::vector<Part> parts(const Value&) const override { return {}; }
    Value with_part(const Value& whole, const Part&, const Value&) const override { return whole; }
};

/// All that is known of a kind.
const ValueKind& kind_of(Kind kind);
inline const ValueKind& kind_of(const Parameter& parameter) { return kind_of(parameter.kind); }
/// The kind that a value has by its type alone, for values whose parameter is not known.
const ValueKind& kind_of(const Value& value);

/// One each; see core/catalogue/kinds.
const ValueKind& number_kind();
const ValueKind& count_kind();
const ValueKind& toggle_kind();
const ValueKind& choice_kind();
const ValueKind& colour_kind();
const ValueKind& stops_kind();
const ValueKind& curve_kind();
const ValueKind& strand_kind();
const ValueKind& text_kind();
const ValueKind& formula_kind();
const ValueKind& draft_kind();
const ValueKind& inputs_kind();
const ValueKind& picture_kind();
const ValueKind& recipe_kind();
const ValueKind& drawing_kind();
const ValueKind& strokes_kind();
const ValueKind& moves_kind();
const ValueKind& outline_kind();

}  // namespace loom
