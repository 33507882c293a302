// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Hashes: the only source of chance in Keen Loom, and the keys of the render cache.
#pragma once

#include <bit>
#include <cstdint>
#include <string_view>

namespace loom {

/// Finaliser of SplitMix64 (Steele, Lea & Flood 2014): every input bit reaches every output bit.
constexpr std::uint64_t mix64(std::uint64_t value) {
    value += 0x9e3779b97f4a7c15ULL;
    value = (value ^ (value >> 30)) * 0xbf58476d1ce4e5b9ULL;
    value = (value ^ (value >> 27)) * 0x94d049bb133111ebULL;
    return value ^ (value >> 31);
}

constexpr std::uint64_t mix64(std::uint64_t a, std::uint64_t b) { return mix64(mix64(a) ^ b); }

/// 24 high bits as a number in [0, 1).
constexpr float unit_float(std::uint64_t hash) { return static_cast<float>(hash >> 40) * (1.0f / 16777216.0f); }

/// 128-bit content key; collisions are not expected within the life of any cache.
struct Key {
    std::uint64_t low = 0x6b65656e6c6f6f6dULL;
    std::uint64_t high = 0x7761727077656674ULL;
    bool operator==(const Key&) const = default;

    constexpr Key& add(std::uint64_t value) {
        low = mix64(low, value);
        high = mix64(high ^ 0xa5a5a5a5a5a5a5a5ULL, value + low);
        return *this;
    }
    Key& add(double value) { return add(std::bit_cast<std::uint64_t>(value == 0 ? 0.0 : value)); }
    Key& add(std::string_view text) {
        add(static_cast<std::uint64_t>(text.size()));
        for (char c : text) add(static_cast<std::uint64_t>(static_cast<unsigned char>(c)));
        return *this;
    }
    Key& add(const Key& key) { return add(key.low).add(key.high); }
};

struct KeyHash {
    std::size_t operator()(const Key& key) const { return static_cast<std::size_t>(key.low); }
};

}  // namespace loom
