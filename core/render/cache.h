// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Results of earlier renderings by key. Its planes count in the memory of the process, and it gives way there.
//
// Segmented least recently used (Karedla, Love & Wherry, Caching strategies to improve disk system performance, 1994): what a
// rendering began from or ended in outlives what was only made on the way. Each frame of a stroke leaves results that nobody
// asks for again; they must not push out what frames of another size begin from, so they go as soon as the next one is made.
#pragma once

#include <array>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

#include "core/base/hash.h"
#include "core/image/bundle.h"

namespace loom {

/// At most `budget` bytes; of what was never used again the longest unseen go first, then of the rest. Thread-safe.
class Cache {
public:
    /// A share of the budget for what was used again; beyond it the longest unseen count as never used.
    static constexpr double used_share = 0.75;

    explicit Cache(std::size_t budget_bytes);
    ~Cache();
    Cache(const Cache&) = delete;
    Cache& operator=(const Cache&) = delete;

    /// Makes it the last one seen, no more: of what a rendering finds, most lies before what it begins from. What was kept for
    /// a moment lasts once a rendering finds it that is not made for a moment itself.
    std::shared_ptr<const Bundle> find(const Key& key, bool fleeting = false);
    /// That it was found and is read, or is the answer.
    void used(const Key& key);
    /// `fleeting`: kept for a moment, see sweep.
    void keep(const Key& key, std::shared_ptr<const Bundle> bundle, bool fleeting = false);
    /// Lets go of what was kept for a moment and was not found since the last sweep.
    void sweep();
    /// Lets go of about so many bytes.
    void yield(std::size_t bytes);
    std::size_t bytes() const;
    std::size_t budget() const;
    /// Lets go of what is beyond it.
    void set_budget(std::size_t bytes);
    void clear();

private:
    /// In the order in which they give way.
    enum Segment { once, used_again, for_a_moment };
    struct Entry {
        Key key;
        std::shared_ptr<const Bundle> bundle;
        std::size_t bytes;
        Segment segment;
        bool seen = true;
    };
    using Entries = std::list<Entry>;

    void put_first(Entries::iterator entry, Segment segment);
    /// Moves it to `gone`, whose planes are freed without the lock.
    void drop(Entries::iterator entry, Entries& gone);
    /// What is let go of.
    Entries shrunk_to(std::size_t bytes);

    mutable std::mutex mutex_;
    std::size_t budget_, bytes_ = 0, used_bytes_ = 0;
    std::array<Entries, 3> segments_;  // last seen first
    std::unordered_map<Key, Entries::iterator, KeyHash> index_;
    int number_;
};

}  // namespace loom
