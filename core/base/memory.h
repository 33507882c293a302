// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The memory of planes, one account for the process: counted where planes are made and handed back, bounded, and recycled.
// What is handed back is kept for the next plane of that size, so that it is neither given to the system nor zeroed again; it
// is the first to go when room is short, caches are the second.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <map>
#include <mutex>
#include <string>
#include <vector>

namespace loom {

class Memory {
public:
    /// The account of this process.
    static Memory& process();

    /// Seven tenths of the machine's memory, or of what the control group may have (group_limit) where that is less.
    static std::size_t usual_limit();
    /// The least that a control group this process is in may have, with its parents; `root` is where the kernel shows itself.
    /// What is not bounded is as much as there can be.
    static std::size_t group_limit(const std::string& root = "");

    Memory() = default;
    ~Memory();
    Memory(const Memory&) = delete;
    Memory& operator=(const Memory&) = delete;

    struct Piece {
        void* data = nullptr;
        std::size_t bytes = 0;
    };
    /// At least `bytes`, aligned to 64, contents as they are. Throws std::bad_alloc where there is no room: beyond the limit and
    /// `leeway` over it, as what is told beforehand is told to so much.
    Piece take(std::size_t bytes);
    void give_back(Piece piece) noexcept;

    /// Bytes that planes and what is kept for them may come to; 0: usual_limit().
    void set_limit(std::size_t bytes);
    std::size_t limit() const;
    static constexpr double leeway = 0.15;

    struct Counts {
        std::size_t used = 0;   ///< bytes of planes that exist
        std::size_t most = 0;   ///< the greatest `used` since count_anew()
        std::size_t kept = 0;   ///< bytes kept for planes to come
        std::size_t fresh = 0;  ///< bytes ever taken from the system
    };
    Counts counts() const;
    void count_anew();
    /// Gives what is kept back to the system.
    void release();

    /// `yield(bytes)` frees about so many bytes of planes and may be called from any thread that makes a plane, though never from
    /// within itself. Keep the number to take it away again.
    int add_cache(std::function<void(std::size_t)> yield);
    void remove_cache(int number);

private:
    void* fresh(std::size_t bytes);
    Piece kept(std::size_t bytes);
    void drop_kept(std::size_t down_to);

    mutable std::mutex mutex_;
    std::size_t limit_ = 0, most_kept_ = std::size_t{512} << 20;
    Counts counts_;
    std::multimap<std::size_t, void*> free_;  // by size
    std::mutex caches_mutex_;
    std::map<int, std::function<void(std::size_t)>> caches_;
    int numbers_ = 0;
};

}  // namespace loom
