// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/cache.h"

#include <iterator>

#include "core/base/memory.h"

namespace loom {

Cache::Cache(std::size_t budget_bytes)
    : budget_(budget_bytes), number_(Memory::process().add_cache([this](std::size_t bytes) { yield(bytes); })) {}

Cache::~Cache() { Memory::process().remove_cache(number_); }

std::shared_ptr<const Bundle> Cache::find(const Key& key) {
    const std::lock_guard lock(mutex_);
    const auto found = index_.find(key);
    if (found == index_.end()) return nullptr;
    entries_.splice(entries_.begin(), entries_, found->second);
    return found->second->bundle;
}

std::list<Cache::Entry> Cache::shrunk_to(std::size_t bytes) {
    std::list<Entry> gone;
    while (bytes_ > bytes && !entries_.empty()) {
        bytes_ -= entries_.back().bytes;
        index_.erase(entries_.back().key);
        gone.splice(gone.begin(), entries_, std::prev(entries_.end()));
    }
    return gone;
}

void Cache::keep(const Key& key, std::shared_ptr<const Bundle> bundle) {
    const std::size_t bytes = bundle->bytes();
    std::list<Entry> gone;
    const std::lock_guard lock(mutex_);
    if (bytes > budget_ || index_.contains(key)) return;
    entries_.push_front({key, std::move(bundle), bytes});
    index_[key] = entries_.begin();
    bytes_ += bytes;
    gone = shrunk_to(budget_);
}

void Cache::yield(std::size_t bytes) {
    std::list<Entry> gone;
    const std::lock_guard lock(mutex_);
    gone = shrunk_to(bytes < bytes_ ? bytes_ - bytes : 0);
}

std::size_t Cache::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

void Cache::clear() {
    std::list<Entry> gone;
    const std::lock_guard lock(mutex_);
    gone = shrunk_to(0);
}

}  // namespace loom
