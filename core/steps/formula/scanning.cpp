// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/formula/scanning.h"

#include <algorithm>
#include <cctype>
#include <iterator>

#include "core/steps/formula/formula.h"

namespace loom {

std::optional<TextFault> scan_formula(std::string_view whole_text, std::size_t from, std::size_t to,
                                      std::vector<FormulaName>& names) {
    const std::string_view text = whole_text.substr(from, to - from);
    auto letter = [](char c) { return std::isalpha(static_cast<unsigned char>(c)) || c == '_'; };
    auto digit = [](char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; };
    for (std::size_t k = 0; k < text.size();) {
        const char c = text[k];
        if (letter(c)) {
            std::size_t end = k;
            while (end < text.size() && (letter(text[end]) || digit(text[end]))) ++end;
            // "b.tone".
            const bool prefix = std::find(std::begin(formula_prefixes), std::end(formula_prefixes), text.substr(k, end - k)) !=
                                std::end(formula_prefixes);
            if (prefix && end + 1 < text.size() && text[end] == '.' && letter(text[end + 1]))
                for (++end; end < text.size() && (letter(text[end]) || digit(text[end]));) ++end;
            std::size_t next = end;
            while (next < text.size() && std::isspace(static_cast<unsigned char>(text[next]))) ++next;
            names.push_back({std::string(text.substr(k, end - k)), from + k, next < text.size() && text[next] == '('});
            k = end;
            continue;
        }
        if (digit(c) || c == '.') {
            std::size_t end = k;
            while (end < text.size() && (digit(text[end]) || text[end] == '.')) ++end;
            if (end < text.size() && (text[end] == 'e' || text[end] == 'E')) {
                std::size_t after = end + 1;
                if (after < text.size() && (text[after] == '+' || text[after] == '-')) ++after;
                if (after < text.size() && digit(text[after])) {
                    while (after < text.size() && digit(text[after])) ++after;
                    end = after;
                }
            }
            k = end;
            continue;
        }
        const bool pair = k + 1 < text.size() && text[k + 1] == '=';
        if (c == '=' && !pair) return TextFault{from + k, "write == to compare; a line that names something ends with ;"};
        if (c == '?' || c == ':') return TextFault{from + k, "write if(condition, then, else)"};
        if (std::string_view("+-*/%^()<>=!&|, \t\n").find(c) == std::string_view::npos)
            return TextFault{from + k, "this character means nothing in a formula"};
        k += pair && (c == '=' || c == '<' || c == '>' || c == '!') ? 2 : 1;
    }
    return std::nullopt;
}

std::optional<TextFault> split_formula(std::string_view text, std::vector<FormulaPart>& parts) {
    const auto space = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; };
    for (std::size_t from = 0; from <= text.size();) {
        const std::size_t end = std::min(text.find(';', from), text.size());
        const bool last = end == text.size();
        std::size_t k = from;
        while (k < end && space(text[k])) ++k;
        std::size_t after = k;
        while (after < end && (std::isalnum(static_cast<unsigned char>(text[after])) || text[after] == '_')) ++after;
        std::size_t sign = after;
        while (sign < end && space(text[sign])) ++sign;
        const bool names = after > k && !std::isdigit(static_cast<unsigned char>(text[k])) && sign < end && text[sign] == '=' &&
                           !(sign + 1 < end && text[sign + 1] == '=');
        if (!last && !names) return TextFault{k, "a line before the last names something: write name = ...;"};
        if (last && names) return TextFault{sign, "write == to compare; a line that names something ends with ;"};
        if (last && k == end && !parts.empty()) return TextFault{end, "the last line gives the value: write it after the ;"};
        parts.push_back({names ? std::string(text.substr(k, after - k)) : std::string(), k, names ? sign + 1 : from, end});
        if (parts.size() > 64) return TextFault{k, "there may be 64 lines"};
        from = end + 1;
        if (last) break;
    }
    return std::nullopt;
}

}  // namespace loom
