// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/answering.h"

#include <utility>

namespace loom {

namespace {

std::function<void(const char*)>& watch() {
    static std::function<void(const char*)> told;
    return told;
}

}  // namespace

thread_local int Answering::depth = 0;

void takes_its_time(const char* what) {
    if (Answering::now() && watch()) watch()(what);
}

void watch_answering(std::function<void(const char* what)> told) { watch() = std::move(told); }

}  // namespace loom
