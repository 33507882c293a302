// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/packing/deflate.h"

#include <isa-l/crc.h>
#include <isa-l/igzip_lib.h>
#include <zlib.h>

#include <cstring>
#include <memory>
#include <new>
#include <stdexcept>

namespace loom {

namespace {

/// What the library works in, kept for each thread: it is longer than most pieces.
std::uint8_t* workplace() {
    thread_local const auto place = std::make_unique<std::uint8_t[]>(ISAL_DEF_LVL3_DEFAULT);
    return place.get();
}

std::string deflated(std::string_view bytes, bool last, std::uint16_t wrapping) {
    // The library looks for matches at whatever was left in its tables; what comes out must not depend on what was before.
    static thread_local isal_zstream stream;
    stream = isal_zstream{};
    std::memset(workplace(), 0, ISAL_DEF_LVL3_DEFAULT);
    isal_deflate_stateless_init(&stream);
    stream.level = 3, stream.level_buf = workplace(), stream.level_buf_size = ISAL_DEF_LVL3_DEFAULT;
    stream.gzip_flag = wrapping;
    stream.end_of_stream = last ? 1 : 0, stream.flush = last ? NO_FLUSH : FULL_FLUSH;
    // The library does not change what it reads.
    stream.next_in = reinterpret_cast<std::uint8_t*>(const_cast<char*>(bytes.data()));
    stream.avail_in = static_cast<std::uint32_t>(bytes.size());
    // Codes of up to 15 bits, and a table for each block.
    std::string out(bytes.size() + bytes.size() / 8 + 4096, '\0');
    stream.next_out = reinterpret_cast<std::uint8_t*>(out.data());
    stream.avail_out = static_cast<std::uint32_t>(out.size());
    if (const int code = isal_deflate_stateless(&stream); code != COMP_OK || stream.avail_in != 0)
        throw std::runtime_error("the compressor gave up with code " + std::to_string(code));
    out.resize(out.size() - stream.avail_out);
    return out;
}

const std::uint8_t* raw(std::string_view bytes) { return reinterpret_cast<const std::uint8_t*>(bytes.data()); }

}  // namespace

std::string deflated_piece(std::string_view bytes, bool last) { return deflated(bytes, last, IGZIP_DEFLATE); }
std::string zlib_stream(std::string_view bytes) { return deflated(bytes, true, IGZIP_ZLIB); }

std::uint32_t adler32_of(std::string_view bytes) { return isal_adler32(1, raw(bytes), bytes.size()); }
std::uint32_t adler32_joined(std::uint32_t first, std::uint32_t second, std::size_t second_length) {
    return static_cast<std::uint32_t>(adler32_combine(first, second, static_cast<z_off_t>(second_length)));
}
std::uint32_t crc32_of(std::string_view one, std::string_view other) {
    const std::uint32_t begun = crc32_gzip_refl(0, raw(one), one.size());
    return crc32_gzip_refl(begun, raw(other), other.size());
}

}  // namespace loom
