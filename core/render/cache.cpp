// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/cache.h"

#include <iterator>

#include "core/base/memory.h"

namespace loom {

Cache::Cache(std::size_t budget_bytes)
    : budget_(budget_bytes), number_(Memory::process().add_cache([this](std::size_t bytes) { yield(bytes); })) {}

Cache::~Cache() { Memory::process().remove_cache(number_); }

void Cache::put_first(Entries::iterator entry, Segment segment) {
    Entries& to = segments_[segment];
    to.splice(to.begin(), segments_[entry->segment], entry);
    if (entry->segment == used_again) used_bytes_ -= entry->bytes;
    if (segment == used_again) used_bytes_ += entry->bytes;
    entry->segment = segment, entry->seen = true;
}

void Cache::drop(Entries::iterator entry, Entries& gone) {
    bytes_ -= entry->bytes;
    if (entry->segment == used_again) used_bytes_ -= entry->bytes;
    index_.erase(entry->key);
    gone.splice(gone.begin(), segments_[entry->segment], entry);
}

std::size_t Cache::budget() const {
    const std::lock_guard lock(mutex_);
    return budget_;
}

void Cache::set_budget(std::size_t bytes) {
    Entries gone;
    const std::lock_guard lock(mutex_);
    budget_ = bytes;
    gone = shrunk_to(bytes);
}

std::shared_ptr<const Bundle> Cache::find(const Key& key, bool fleeting) {
    const std::lock_guard lock(mutex_);
    const auto found = index_.find(key);
    if (found == index_.end()) return nullptr;
    const Segment now = found->second->segment;
    put_first(found->second, now == for_a_moment && !fleeting ? once : now);
    return found->second->bundle;
}

void Cache::used(const Key& key) {
    const std::lock_guard lock(mutex_);
    const auto found = index_.find(key);
    if (found == index_.end()) return;  // gave way since it was found
    put_first(found->second, used_again);
    while (static_cast<double>(used_bytes_) > used_share * static_cast<double>(budget_))
        put_first(std::prev(segments_[used_again].end()), once);
}

Cache::Entries Cache::shrunk_to(std::size_t bytes) {
    Entries gone;
    for (Entries& segment : segments_)
        while (bytes_ > bytes && !segment.empty()) drop(std::prev(segment.end()), gone);
    return gone;
}

void Cache::keep(const Key& key, std::shared_ptr<const Bundle> bundle, bool fleeting) {
    const std::size_t bytes = bundle->bytes();
    Entries gone;
    const std::lock_guard lock(mutex_);
    if (bytes > budget_ || index_.contains(key)) return;
    gone = shrunk_to(budget_ - bytes);
    const Segment segment = fleeting ? for_a_moment : once;
    segments_[segment].push_front({key, std::move(bundle), bytes, segment});
    index_[key] = segments_[segment].begin();
    bytes_ += bytes;
}

void Cache::sweep() {
    Entries gone;
    const std::lock_guard lock(mutex_);
    Entries& moment = segments_[for_a_moment];
    for (auto next = moment.begin(); next != moment.end();) {
        const auto entry = next++;
        if (entry->seen)
            entry->seen = false;
        else
            drop(entry, gone);
    }
}

void Cache::yield(std::size_t bytes) {
    Entries gone;
    const std::lock_guard lock(mutex_);
    gone = shrunk_to(bytes < bytes_ ? bytes_ - bytes : 0);
}

std::size_t Cache::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

void Cache::clear() {
    Entries gone;
    const std::lock_guard lock(mutex_);
    gone = shrunk_to(0);
}

}  // namespace loom
