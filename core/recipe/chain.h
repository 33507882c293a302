// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <algorithm>
#include <initializer_list>
#include <iterator>
#include <memory>
#include <vector>

#include "core/recipe/step.h"

namespace loom {

using StepRef = std::shared_ptr<const Step>;

/// The steps of a strand in their order. A copy shares them; only a step that is changed is copied.
class Chain {
public:
    class Iterator {
    public:
        using iterator_category = std::random_access_iterator_tag;
        using value_type = Step;
        using difference_type = std::ptrdiff_t;
        using pointer = const Step*;
        using reference = const Step&;

        Iterator() = default;
        explicit Iterator(const StepRef* at) : at_(at) {}
        reference operator*() const { return **at_; }
        pointer operator->() const { return at_->get(); }
        reference operator[](difference_type by) const { return *at_[by]; }
        Iterator& operator++() { return *this += 1; }
        Iterator& operator--() { return *this += -1; }
        Iterator operator++(int) { return Iterator(at_++); }
        Iterator operator--(int) { return Iterator(at_--); }
        Iterator& operator+=(difference_type by) {
            at_ += by;
            return *this;
        }
        Iterator& operator-=(difference_type by) { return *this += -by; }
        friend Iterator operator+(Iterator at, difference_type by) { return at += by; }
        friend Iterator operator-(Iterator at, difference_type by) { return at -= by; }
        friend difference_type operator-(Iterator a, Iterator b) { return a.at_ - b.at_; }
        bool operator==(const Iterator&) const = default;
        auto operator<=>(const Iterator&) const = default;

    private:
        const StepRef* at_ = nullptr;
    };

    Chain() = default;
    Chain(std::initializer_list<Step> steps) {
        for (const Step& step : steps) push_back(step);
    }

    std::size_t size() const { return steps_.size(); }
    bool empty() const { return steps_.empty(); }
    const Step& operator[](std::size_t index) const { return *steps_[index]; }
    const Step& front() const { return *steps_.front(); }
    const Step& back() const { return *steps_.back(); }
    Iterator begin() const { return Iterator(steps_.data()); }
    Iterator end() const { return Iterator(steps_.data() + steps_.size()); }

    void push_back(Step step) { steps_.push_back(std::make_shared<const Step>(std::move(step))); }
    /// `index` may be one past the end.
    void insert(int index, Step step) { steps_.insert(steps_.begin() + index, std::make_shared<const Step>(std::move(step))); }
    void erase(std::string_view id) {
        std::erase_if(steps_, [&](const StepRef& each) { return each->id == id; });
    }
    /// A copy of the step, to be changed, that takes its place.
    Step& change(std::size_t index) {
        auto copy = std::make_shared<Step>(*steps_[index]);
        Step& changed = *copy;
        steps_[index] = std::move(copy);
        return changed;
    }

    bool operator==(const Chain& other) const {
        return size() == other.size() && std::equal(steps_.begin(), steps_.end(), other.steps_.begin(),
                                                    [](const StepRef& a, const StepRef& b) { return a == b || *a == *b; });
    }

private:
    std::vector<StepRef> steps_;
};

}  // namespace loom
