// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Results of earlier renderings by key. Its planes count in the memory of the process, and it gives way there.
#pragma once

#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

#include "core/base/hash.h"
#include "core/image/bundle.h"

namespace loom {

/// At most `budget` bytes, the longest unused go first. Thread-safe.
class Cache {
public:
    explicit Cache(std::size_t budget_bytes);
    ~Cache();
    Cache(const Cache&) = delete;
    Cache& operator=(const Cache&) = delete;

    std::shared_ptr<const Bundle> find(const Key& key);
    void keep(const Key& key, std::shared_ptr<const Bundle> bundle);
    /// Lets go of about so many bytes.
    void yield(std::size_t bytes);
    std::size_t bytes() const;
    std::size_t budget() const { return budget_; }
    void clear();

private:
    struct Entry {
        Key key;
        std::shared_ptr<const Bundle> bundle;
        std::size_t bytes;
    };
    /// What is let go of, to be freed without the lock.
    std::list<Entry> shrunk_to(std::size_t bytes);

    mutable std::mutex mutex_;
    std::size_t budget_, bytes_ = 0;
    std::list<Entry> entries_;  // newest first
    std::unordered_map<Key, std::list<Entry>::iterator, KeyHash> index_;
    int number_;
};

}  // namespace loom
