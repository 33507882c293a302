// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// While an interface answers an event nothing may take as long as a disk or a rendering does. Whoever answers says so here, and
// what reads, writes, hashes, decodes, plans or renders asks; a watch is told where the two meet.
#pragma once

#include <functional>

namespace loom {

/// This thread answers an event as long as one of these is alive.
class Answering {
public:
    Answering() { ++depth; }
    ~Answering() { --depth; }
    Answering(const Answering&) = delete;

    static bool now() { return depth > 0; }

private:
    static thread_local int depth;
};

/// Called by what takes its time; `what` is a few words: "reading a file".
void takes_its_time(const char* what);

/// Who is told of work that takes its time while its thread answers an event; nobody, if empty. Set before there are threads.
void watch_answering(std::function<void(const char* what)> told);

}  // namespace loom
