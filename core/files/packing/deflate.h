// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Deflate (RFC 1951) and zlib streams (RFC 1950) through ISA-L, which takes an eighth of zlib's time for about the same size.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace loom {

/// A piece of a deflate stream that begins and ends on a byte and refers to nothing before it: pieces made side by side and put
/// one after the other are one stream. The last one ends it.
std::string deflated_piece(std::string_view bytes, bool last);
/// A zlib stream of its own.
std::string zlib_stream(std::string_view bytes);
/// What stands before the pieces of a zlib stream; after them comes the Adler-32 of all their bytes, greatest byte first.
constexpr std::string_view zlib_head{"\x78\x01", 2};

std::uint32_t adler32_of(std::string_view bytes);
/// Of two texts one after the other.
std::uint32_t adler32_joined(std::uint32_t first, std::uint32_t second, std::size_t second_length);
/// As PNG wants it (ISO 3309).
std::uint32_t crc32_of(std::string_view one, std::string_view other);

}  // namespace loom
