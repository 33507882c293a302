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
    const T& operator[](std::size_t index) const { return *body_->pieces[index / piece]->items[index % piece]; }
    /// Of all items in their order; kept, and carried on from item to item.
    const Key& hash() const { return body_ ? body_->hash : none_; }

    /// Of the first `count` items, as hash() of a list of those.
    const Key& hash_of_first(std::size_t count) const {
        return count == 0 ? none_ : body_->pieces[(count - 1) / piece]->hashes[(count - 1) % piece];
    }

    SharedList appended(T item) const {
        auto body = body_ ? std::make_shared<Body>(*body_) : std::make_shared<Body>();
        add(*body, std::make_shared<const T>(std::move(item)));
        return of(std::move(body));
    }
    /// The first `count` items.
    SharedList first(std::size_t count) const {
        SharedList result;
        return result.with(*this, 0, count);
    }
    /// With items [from, to) of another list at its end, shared with that.
    SharedList with(const SharedList& other, std::size_t from, std::size_t to) const {
        if (from >= to) return *this;
        auto body = body_ ? std::make_shared<Body>(*body_) : std::make_shared<Body>();
        for (std::size_t k = from; k < to; ++k) add(*body, other.body_->pieces[k / piece]->items[k % piece]);
        return of(std::move(body));
    }
    /// Without item `index`, or with another in its place.
    SharedList without(std::size_t index) const { return first(index).with(*this, index + 1, size()); }
    SharedList replaced(std::size_t index, T item) const {
        return first(index).appended(std::move(item)).with(*this, index + 1, size());
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
    struct Piece {
        std::array<std::shared_ptr<const T>, piece> items;
        std::array<Key, piece> hashes;  // of all items as far as each
    };
    struct Body {
        std::vector<std::shared_ptr<const Piece>> pieces;
        std::size_t size = 0;
        Key hash;
    };
    static void add(Body& body, std::shared_ptr<const T> item) {
        hash_value(body.hash, *item);
        const std::size_t at = body.size++ % piece;
        // A piece that others see is copied before it grows.
        if (at == 0)
            body.pieces.push_back(std::make_shared<Piece>());
        else if (body.pieces.back().use_count() > 1)
            body.pieces.back() = std::make_shared<Piece>(*body.pieces.back());
        auto& last = const_cast<Piece&>(*body.pieces.back());
        last.items[at] = std::move(item);
        last.hashes[at] = body.hash;
    }
    static SharedList of(std::shared_ptr<const Body> body) {
        SharedList result;
        result.body_ = std::move(body);
        return result;
    }
    static constexpr Key none_{};
    std::shared_ptr<const Body> body_;
};

template <class T>
void hash_value(Key& key, const SharedList<T>& list) {
    key.add(static_cast<std::uint64_t>(list.size())).add(list.hash());
}

}  // namespace loom
