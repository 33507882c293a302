// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A piece of work in the background, as whoever asked for it holds it. However it goes, it ends once: done, failed with a
// sentence, or stopped, be it that it ran, threw, was dropped while it waited, or belonged to a document or somebody gone.
#pragma once

#include <memory>
#include <optional>

#include "core/base/result.h"

namespace loom {

enum class Outcome { done, failed, stopped };

struct Ended {
    Outcome outcome = Outcome::done;
    Error error;  ///< of what failed

    bool failed() const { return outcome == Outcome::failed; }
    bool stopped() const { return outcome == Outcome::stopped; }
};

/// A handle: copies are the same work. One that was made without work has ended.
class Task {
public:
    struct State;

    Task() = default;
    explicit Task(std::shared_ptr<State> state) : state_(std::move(state)) {}

    /// From the moment it was asked for until its end is told; what is told of its end finds it false.
    bool under_way() const;
    /// How far it is, 0 to 1, as the work reports it.
    double share() const;
    /// Gives it up: dropped if it waits, cancelled if it runs. Its end is told all the same.
    void stop() const;
    /// How it ended, once it has, told or not.
    std::optional<Ended> ended() const;

private:
    std::shared_ptr<State> state_;
};

}  // namespace loom
