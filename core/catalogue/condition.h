// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace loom {

/// On what the values of a step have to be: one parameter has one of several words or is above a number, all or any of several
/// conditions hold, or one does not. Words of toggles are "on" and "off".
class Condition {
public:
    /// Holds always.
    Condition();
    Condition(std::string_view id, std::vector<std::string_view> words);
    Condition(const Condition&);
    Condition(Condition&&) noexcept;
    Condition& operator=(const Condition&);
    ~Condition();

    static Condition above(std::string_view id, double limit);
    friend Condition operator&&(Condition a, Condition b);
    friend Condition operator||(Condition a, Condition b);
    friend Condition operator!(Condition a);

    bool always() const { return of_ == Of::all && parts_.empty(); }
    /// `word_of` gives the word, or the number as text, that a parameter has now.
    bool holds(const std::function<std::string(std::string_view id)>& word_of) const;
    /// The parameters it looks at, each once.
    std::vector<std::string_view> ids() const;
    /// As a person would say it; `title_of` gives what a parameter, or a word of it, is called.
    std::string text(const std::function<std::string(std::string_view id, std::string_view word)>& title_of) const;

private:
    enum class Of { all, any, none, words, above };
    static Condition joined(Of of, Condition a, Condition b);

    Of of_ = Of::all;
    std::string_view id_;
    std::vector<std::string_view> words_;
    double limit_ = 0;
    std::vector<Condition> parts_;
};

}  // namespace loom
