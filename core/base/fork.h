// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Says to the thread sanitizer what it cannot see in a oneTBB that was not built for it: that the parts of a loop begin after
// what came before it and end before what follows. Nothing in other builds.
#pragma once

#ifdef __SANITIZE_THREAD__
extern "C" void __tsan_acquire(void* address);
extern "C" void __tsan_release(void* address);
#endif

namespace loom {

class Fork {
public:
    Fork() { begin(); }
    ~Fork() { joined(); }
    Fork(const Fork&) = delete;
    /// Before a part is begun.
    void begin() { release(&begun_); }
    /// Once all parts have ended.
    void joined() { acquire(&ended_); }

    /// Lives as long as a part of the work does, on the thread that does it.
    class Part {
    public:
        explicit Part(Fork& fork) : fork_(fork) { acquire(&fork_.begun_); }
        ~Part() { release(&fork_.ended_); }
        Part(const Part&) = delete;

    private:
        Fork& fork_;
    };

private:
    static void acquire([[maybe_unused]] char* address) {
#ifdef __SANITIZE_THREAD__
        __tsan_acquire(address);
#endif
    }
    static void release([[maybe_unused]] char* address) {
#ifdef __SANITIZE_THREAD__
        __tsan_release(address);
#endif
    }

    char begun_ = 0, ended_ = 0;
};

}  // namespace loom
