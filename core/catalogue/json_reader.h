// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reads members of JSON objects and notes what is wrong with them, each with its pointer.
#pragma once

#include <cmath>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/finding.h"
#include "core/catalogue/description.h"
#include "core/catalogue/value_kind.h"
#include "core/colour/blend.h"

namespace loom::json_reading {

using json = nlohmann::ordered_json;

inline std::string escaped(std::string_view key) {
    std::string text;
    for (char c : key) {
        if (c == '~')
            text += "~0";
        else if (c == '/')
            text += "~1";
        else
            text += c;
    }
    return text;
}

inline std::string at(const std::string& pointer, std::string_view key) { return pointer + "/" + escaped(key); }
inline std::string at(const std::string& pointer, std::size_t index) { return pointer + "/" + std::to_string(index); }

/// Control characters out, long texts cut, so that every message stays one line.
inline std::string in_quotes(std::string_view text) {
    std::string result = "'";
    for (char c : text.substr(0, 60)) result += static_cast<unsigned char>(c) < 32 ? ' ' : c;
    return result + (text.size() > 60 ? "...'" : "'");
}

class Reader {
public:
    explicit Reader(std::vector<Finding>& findings) : findings_(findings) {}

    void fault(const std::string& pointer, std::string message) {
        findings_.push_back({Finding::Weight::fault, pointer, std::move(message)});
    }
    void warn(const std::string& pointer, std::string message) {
        findings_.push_back({Finding::Weight::warning, pointer, std::move(message)});
    }

    bool object(const json& node, const std::string& pointer) {
        if (node.is_object()) return true;
        fault(pointer, "must be an object");
        return false;
    }
    /// The member as a list; an empty one if it is missing or wrong.
    const json& list(const json& node, std::string_view key, const std::string& pointer) {
        static const json none = json::array();
        const auto found = node.find(key);
        if (found == node.end()) return none;
        if (found->is_array() && found->size() <= 4096) return *found;
        fault(at(pointer, key), found->is_array() ? "has more than 4096 entries" : "must be a list");
        return none;
    }
    std::string text(const json& node, std::string_view key, const std::string& pointer, std::string fallback) {
        const auto found = node.find(key);
        if (found == node.end()) return fallback;
        if (found->is_string()) return found->get<std::string>();
        fault(at(pointer, key), "must be a text");
        return fallback;
    }
    bool flag(const json& node, std::string_view key, const std::string& pointer, bool fallback) {
        const auto found = node.find(key);
        if (found == node.end()) return fallback;
        if (found->is_boolean()) return found->get<bool>();
        fault(at(pointer, key), "must be true or false");
        return fallback;
    }
    double number(const json& node, std::string_view key, const std::string& pointer, double fallback, double min, double max,
                  bool whole = false) {
        const auto found = node.find(key);
        if (found == node.end()) return fallback;
        const double value = found->is_number() ? found->get<double>() : std::nan("");
        if (value >= min && value <= max && (!whole || value == std::floor(value))) return value;
        fault(at(pointer, key), std::string("must be a ") + (whole ? "whole " : "") + "number from " + write_number(min) +
                                    " to " + write_number(max));
        return fallback;
    }
    Blend blend(const json& node, const std::string& pointer) {
        const std::string id = text(node, "blend", pointer, "normal");
        if (const auto found = find_blend(id)) return *found;
        fault(at(pointer, "blend"), "there is no blend " + in_quotes(id));
        return Blend::normal;
    }
    /// Members that are not in `known`, as JSON text, each with a warning; "" if there are none.
    std::string unknown(const json& node, const std::string& pointer, std::initializer_list<std::string_view> known,
                        bool warn_about = true) {
        json rest = json::object();
        for (const auto& [key, value] : node.items()) {
            bool is_known = false;
            for (std::string_view word : known) is_known = is_known || key == word;
            if (is_known) continue;
            rest[key] = value;
            if (warn_about) warn(at(pointer, key), "unknown field, kept as it is");
        }
        return rest.empty() ? std::string() : rest.dump();
    }

    /// A value that the parameter can take; nothing, with a fault, if it is none.
    std::optional<Value> value(const Parameter& p, const json& node, const std::string& pointer) {
        const auto read = kind_of(p).read(node, pointer, *this);
        const auto why = read ? refuses(p, *read) : std::optional(kind_of(p).must_be(p));
        if (!why) return read;
        fault(pointer, std::string(p.id) + " " + *why);
        return std::nullopt;
    }
    /// A member that a parameter of numbers describes.
    double number(const json& node, std::string_view key, const std::string& pointer, const Parameter& p) {
        return number(node, key, pointer, as<double>(p.fallback), p.min, p.max, p.kind == Kind::count);
    }

private:
    std::vector<Finding>& findings_;
};

}  // namespace loom::json_reading
