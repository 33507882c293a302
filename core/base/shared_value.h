// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Large values that many hold at once: shared, never changed, with their hash kept. What is hashed says how by
// `void hash_value(Key&, const T&)` beside it.
#pragma once

#include <array>
#include <cstddef>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "core/base/hash.h"

namespace loom {

inline void hash_value(Key& key, double value) { key.add(value); }
inline void hash_value(Key& key, bool value) { key.add(static_cast<std::uint64_t>(value)); }
inline void hash_value(Key& key, const std::string& value) { key.add(std::string_view(value)); }

/// A value that copies like a pointer. Equal ones need not be the same one.
template <class T>
class SharedValue {
public:
    SharedValue() : SharedValue(T{}) {}
    SharedValue(T value) : held_(std::make_shared<const Held>(std::move(value))) {}

    const T& operator*() const { return held_->value; }
    const T* operator->() const { return &held_->value; }
    const Key& hash() const { return held_->hash; }
    bool same_as(const SharedValue& other) const { return held_ == other.held_; }
    bool operator==(const SharedValue& other) const {
        return same_as(other) || (hash() == other.hash() && held_->value == other.held_->value);
    }

private:
    struct Held {
        explicit Held(T given) : value(std::move(given)) { hash_value(hash, value); }
        T value;
        Key hash;
    };
    std::shared_ptr<const Held> held_;
};

template <class T>
void hash_value(Key& key, const SharedValue<T>& value) {
    key.add(value.hash());
}

/// A list that grows at its end without its items being copied: each list shares them with the one it was made from, and all
/// full pieces of pointers to them. Appending to n items takes about n / 64 + 32 pointers.
template <class T>
class SharedList {
public:
    SharedList() = default;

    std::size_t size() const { return body_ ? body_->size : 0; }
    bool empty() const { return size() == 0; }
    const T& operator[](std::size_t index) const { return *(*body_->pieces[index / piece])[index % piece]; }
    /// Of all items in their order; kept, and carried on from item to item.
    const Key& hash() const { return body_ ? body_->hash : none_; }

    SharedList appended(T item) const {
        auto body = body_ ? std::make_shared<Body>(*body_) : std::make_shared<Body>();
        hash_value(body->hash, item);
        auto last = body->size % piece ? std::make_shared<Piece>(*body->pieces.back()) : std::make_shared<Piece>();
        if (body->size % piece) body->pieces.pop_back();
        (*last)[body->size++ % piece] = std::make_shared<const T>(std::move(item));
        body->pieces.push_back(std::move(last));
        SharedList result;
        result.body_ = std::move(body);
        return result;
    }

    bool operator==(const SharedList& other) const {
        if (body_ == other.body_) return true;
        if (size() != other.size() || !(hash() == other.hash())) return false;
        for (std::size_t k = 0; k < size(); ++k)
            if (&(*this)[k] != &other[k] && !((*this)[k] == other[k])) return false;
        return true;
    }

private:
    static constexpr std::size_t piece = 64;
    using Piece = std::array<std::shared_ptr<const T>, piece>;
    struct Body {
        std::vector<std::shared_ptr<const Piece>> pieces;
        std::size_t size = 0;
        Key hash;
    };
    static constexpr Key none_{};
    std::shared_ptr<const Body> body_;
};

template <class T>
void hash_value(Key& key, const SharedList<T>& list) {
    key.add(static_cast<std::uint64_t>(list.size())).add(list.hash());
}

}  // namespace loom
