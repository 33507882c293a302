// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The one way in for work on a thread or in answer to a person: what it throws becomes an Error that names what was being done.
#pragma once

#include <exception>
#include <filesystem>
#include <new>
#include <string>
#include <utility>

#include "core/base/job.h"
#include "core/base/result.h"

namespace loom {

/// Whatever is being thrown, as an Error. Call it within a catch block; `doing` begins the sentence: "rendering 'Oak'".
inline Error thrown_error(std::string doing) {
    try {
        throw;
    } catch (const Cancelled&) {
        return {Fault::cancelled, "cancelled"};
    } catch (const Refusal& refusal) {
        return refusal.error;
    } catch (const std::bad_alloc&) {
        return {Fault::memory, std::move(doing) + " ran out of memory; choose a smaller size or close other programs"};
    } catch (const std::length_error&) {
        return {Fault::memory, std::move(doing) + " would need more memory than there can be; choose a smaller size"};
    } catch (const std::filesystem::filesystem_error& error) {
        return {Fault::file, std::move(doing) + " failed at '" + error.path1().string() + "': " + error.code().message()};
    } catch (const std::exception& error) {
        return {Fault::file, std::move(doing) + " failed: " + error.what()};
    } catch (...) {
        return {Fault::file, std::move(doing) + " failed for a reason that was not told"};
    }
}

/// `work` returns a Result.
template <class Work>
auto guarded(std::string doing, Work&& work) -> decltype(work()) {
    try {
        return work();
    } catch (...) {
        return thrown_error(std::move(doing));
    }
}

}  // namespace loom
