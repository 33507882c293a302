// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/condition.h"

#include <algorithm>
#include <cstdlib>

namespace loom {

Condition::Condition() = default;
Condition::Condition(std::string_view id, std::vector<std::string_view> words)
    : of_(Of::words), id_(id), words_(std::move(words)) {}
Condition::Condition(const Condition&) = default;
Condition::Condition(Condition&&) noexcept = default;
Condition& Condition::operator=(const Condition&) = default;
Condition::~Condition() = default;

Condition Condition::above(std::string_view id, double limit) {
    Condition result;
    result.of_ = Of::above, result.id_ = id, result.limit_ = limit;
    return result;
}

Condition operator&&(Condition a, Condition b) { return Condition::joined(Condition::Of::all, std::move(a), std::move(b)); }
Condition operator||(Condition a, Condition b) { return Condition::joined(Condition::Of::any, std::move(a), std::move(b)); }
Condition operator!(Condition a) {
    Condition result;
    result.of_ = Condition::Of::none;
    result.parts_.push_back(std::move(a));
    return result;
}

Condition Condition::joined(Of of, Condition a, Condition b) {
    if (a.always()) return of == Of::all ? b : a;
    if (b.always()) return of == Of::all ? a : b;
    Condition result;
    result.of_ = of;
    for (Condition* each : {&a, &b}) {
        if (each->of_ == of)
            for (Condition& part : each->parts_) result.parts_.push_back(std::move(part));
        else
            result.parts_.push_back(std::move(*each));
    }
    return result;
}

bool Condition::holds(const std::function<std::string(std::string_view id)>& word_of) const {
    auto part_holds = [&](const Condition& part) { return part.holds(word_of); };
    switch (of_) {
        case Of::all: return std::all_of(parts_.begin(), parts_.end(), part_holds);
        case Of::any: return std::any_of(parts_.begin(), parts_.end(), part_holds);
        case Of::none: return std::none_of(parts_.begin(), parts_.end(), part_holds);
        case Of::above: return std::strtod(word_of(id_).c_str(), nullptr) > limit_;
        case Of::words: break;
    }
    return std::find(words_.begin(), words_.end(), word_of(id_)) != words_.end();
}

std::vector<std::string_view> Condition::ids() const {
    std::vector<std::string_view> all;
    if (of_ == Of::words || of_ == Of::above) all.push_back(id_);
    for (const Condition& part : parts_)
        for (std::string_view id : part.ids())
            if (std::find(all.begin(), all.end(), id) == all.end()) all.push_back(id);
    return all;
}

std::string Condition::text(const std::function<std::string(std::string_view id, std::string_view word)>& title_of) const {
    std::string text;
    auto add = [&](std::string_view between, const std::string& words) {
        if (!text.empty()) text += between;
        text += words;
    };
    switch (of_) {
        case Of::all:
            for (const Condition& part : parts_) add(" and ", part.text(title_of));
            return text;
        case Of::any:
            for (const Condition& part : parts_) add(" or ", part.text(title_of));
            return text;
        case Of::none: return "not " + parts_.front().text(title_of);
        case Of::above: return title_of(id_, {}) + " is above " + title_of(id_, std::to_string(limit_));
        case Of::words: break;
    }
    for (std::string_view word : words_) add(" or ", title_of(id_, word));
    return title_of(id_, {}) + " is " + text;
}

}  // namespace loom
