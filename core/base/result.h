// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How the core reports that something went wrong: a value, worded once by whoever
// noticed it, in a single line that says what, where and what to do.
#pragma once

#include <cstdlib>
#include <string>
#include <utility>
#include <variant>

namespace loom {

/// Whose fault it is; decides the exit code of the command line.
enum class Fault {
    call,       ///< the caller asked for something that does not exist (exit 2)
    recipe,     ///< the recipe or a value in it is wrong (exit 2)
    file,       ///< a file could not be read or written (exit 1)
    memory,     ///< the work needs more memory than is allowed (exit 1)
    cancelled,  ///< the caller gave up (exit 1)
};

struct Error {
    Fault fault = Fault::call;
    std::string message;  ///< one line, no trailing full stop or newline
};

/// Carries an Error out of work that has no way to return it; guarded() (guard.h) gives it back.
struct Refusal {
    Error error;
};

/// Nothing to return but success.
struct Done {};

/// Either a value or an Error. Asking for the one that is not there is a programmer's mistake.
template <class T>
class [[nodiscard]] Result {
public:
    Result(T value) : state_(std::in_place_index<0>, std::move(value)) {}
    Result(Error error) : state_(std::in_place_index<1>, std::move(error)) {}

    bool ok() const { return state_.index() == 0; }
    explicit operator bool() const { return ok(); }

    T& value() & { return std::get<0>(state_); }
    const T& value() const& { return std::get<0>(state_); }
    T&& value() && { return std::get<0>(std::move(state_)); }
    T& operator*() & { return value(); }
    const T& operator*() const& { return value(); }
    T* operator->() { return &value(); }
    const T* operator->() const { return &value(); }
    const Error& error() const { return std::get<1>(state_); }

private:
    std::variant<T, Error> state_;
};

}  // namespace loom
