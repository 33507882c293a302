// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What files are packed with: filters and compression against their standards' own words, zlib's reader, and plain rounding.
#include <zlib.h>

#include <bit>
#include <cmath>
#include <limits>

#include "core/base/job.h"
#include "core/files/packing/deflate.h"
#include "core/files/packing/row_strips.h"
#include "core/files/packing/samples_kernel.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// What zlib reads of a stream; "" if it is none.
std::string inflated(const std::string& stream, std::size_t length) {
    std::string out(length + 1, '\0');
    uLongf got = static_cast<uLongf>(out.size());
    const int code = uncompress(reinterpret_cast<Bytef*>(out.data()), &got, reinterpret_cast<const Bytef*>(stream.data()),
                                static_cast<uLong>(stream.size()));
    out.resize(code == Z_OK ? got : 0);
    return out;
}

/// Noise, runs and nothing: what compresses badly, well and not at all.
std::string bytes_of_kind(int kind, std::size_t count) {
    std::string bytes(count, '\0');
    std::uint32_t state = 7;
    for (char& byte : bytes) {
        state = state * 1664525u + 1013904223u;
        byte = static_cast<char>(kind == 0 ? state >> 24 : kind == 1 ? (state >> 29) * 3 : 0);
    }
    return bytes;
}

/// The PNG specification's filters, one byte after the other (W3C, 9.2).
int predicted(int filter, int left, int up, int corner) {
    const int p = left + up - corner;
    const int pa = std::abs(p - left), pb = std::abs(p - up), pc = std::abs(p - corner);
    switch (filter) {
        case 1: return left;
        case 2: return up;
        case 3: return (left + up) / 2;
        case 4: return pa <= pb && pa <= pc ? left : pb <= pc ? up : corner;
        default: return 0;
    }
}

}  // namespace

TEST_CASE("pieces deflated side by side are one stream, and zlib reads it", "[files][packing]") {
    for (int kind : {0, 1, 2})
        for (std::size_t count : {std::size_t{1}, std::size_t{100}, std::size_t{400000}}) {
            INFO(kind << " " << count);
            const std::string bytes = bytes_of_kind(kind, count);
            const std::size_t cut = count / 3;
            const std::string_view first = std::string_view(bytes).substr(0, cut), second = std::string_view(bytes).substr(cut);
            std::string stream(zlib_head);
            if (!first.empty()) stream += deflated_piece(first, false);
            stream += deflated_piece(second, true);
            const std::uint32_t sum = adler32_joined(adler32_of(first), adler32_of(second), second.size());
            CHECK(sum == adler32(1, reinterpret_cast<const Bytef*>(bytes.data()), static_cast<uInt>(count)));
            for (int shift : {24, 16, 8, 0}) stream += static_cast<char>(sum >> shift);
            CHECK((inflated(stream, count) == bytes));
            CHECK((inflated(zlib_stream(bytes), count) == bytes));
            CHECK(crc32_of(first, second) == crc32(0, reinterpret_cast<const Bytef*>(bytes.data()), static_cast<uInt>(count)));
            // Noise does not grow by more than what stands around it.
            CHECK(zlib_stream(bytes).size() <= count + count / 1000 + 512);
        }
}

TEST_CASE("a PNG's row comes back from its filter, whose bytes are the smallest", "[files][packing]") {
    for (std::size_t step : {std::size_t{1}, std::size_t{3}, std::size_t{6}, std::size_t{8}}) {
        const std::size_t count = step * 37;
        for (int kind : {0, 1}) {
            const std::string noise = bytes_of_kind(kind, 2 * count);
            std::vector<std::uint8_t> row(noise.begin(), noise.begin() + static_cast<std::ptrdiff_t>(count)),
                before(noise.begin() + static_cast<std::ptrdiff_t>(count), noise.end()), scratch(count), out(count + 1);
            png_filtered(row.data(), before.data(), count, step, scratch.data(), out.data());
            REQUIRE(out[0] < 5);
            std::vector<std::uint8_t> back(count);
            std::vector<int> sums(5);
            for (std::size_t k = 0; k < count; ++k) {
                const int left = k >= step ? row[k - step] : 0, up = before[k], corner = k >= step ? before[k - step] : 0;
                back[k] = static_cast<std::uint8_t>(out[k + 1] + predicted(out[0], k >= step ? back[k - step] : 0, up, corner));
                for (int filter = 0; filter < 5; ++filter) {
                    const auto left_over = static_cast<std::int8_t>(row[k] - predicted(filter, left, up, corner));
                    sums[static_cast<std::size_t>(filter)] += std::abs(int{left_over});
                }
            }
            CHECK(back == row);
            CHECK(sums[out[0]] == *std::min_element(sums.begin(), sums.end()));
        }
    }
}

TEST_CASE("samples are rounded to the nearest, and what is no number is black", "[files][packing]") {
    const float none = std::numeric_limits<float>::quiet_NaN(), endless = std::numeric_limits<float>::infinity();
    std::vector<float> values{0, 1, 0.5f, -3, 7, none, endless, -endless, 1e-9f, 0.25f};
    for (int k = 0; k < 91; ++k) values.push_back(static_cast<float>(k) / 90);
    // Down to the smallest halves, and below 0.
    for (int k = 0; k < 40; ++k) values.push_back(static_cast<float>(std::ldexp(k % 2 ? 1.37 + 0.01 * k : -1.91 + 0.01 * k, -k)));
    std::vector<std::uint8_t> bytes(values.size());
    std::vector<std::uint16_t> words(values.size()), turned(values.size()), halves(values.size());
    samples_to_bytes(values.data(), values.size(), bytes.data());
    samples_to_words(values.data(), values.size(), words.data());
    samples_to_words_greater_first(values.data(), values.size(), turned.data());
    samples_to_halves(values.data(), values.size(), halves.data());
    for (std::size_t k = 0; k < values.size(); ++k) {
        INFO(values[k]);
        const double cut = std::isnan(values[k]) ? 0 : std::clamp(static_cast<double>(values[k]), 0.0, 1.0);
        CHECK(std::abs(bytes[k] - cut * 255) <= 0.5001);
        CHECK(std::abs(words[k] - cut * 65535) <= 0.51);
        CHECK(turned[k] == static_cast<std::uint16_t>(words[k] << 8 | words[k] >> 8));
        if (std::isnan(values[k])) continue;
        // A half by its parts: sign, five bits of exponent, ten of fraction.
        const int exponent = halves[k] >> 10 & 31, fraction = halves[k] & 1023;
        const double size = exponent == 0 ? std::ldexp(fraction, -24) : std::ldexp(1024 + fraction, exponent - 25);
        const double half = halves[k] >> 15 ? -size : size,
                     wanted = std::clamp(static_cast<double>(values[k]), -65504.0, 65504.0);
        CHECK(std::abs(half - wanted) <= std::max(std::abs(wanted) / 2048, 3e-8));
    }
}

TEST_CASE("strips come out in their order whatever the number of threads, each with the row above it", "[files][packing]") {
    std::vector<std::string> each;
    for (int threads : {1, 3}) {
        std::string whole;
        with_threads(threads, [&] {
            int next = 0;
            RowStrips strips(
                {53, 4, 1, 1}, [](float* values, std::uint8_t* out) { *out = static_cast<std::uint8_t>(*values); },
                [](const RowStrips::Strip& strip) {
                    // The row above the strip has the number before.
                    if (strip.first > 0 && (!strip.before || *strip.before != strip.first - 1)) return std::string("?");
                    return std::string(strip.bytes, strip.bytes + strip.rows);
                },
                [&](const RowStrips::Strip& strip, const std::string& bytes) {
                    CHECK(strip.first == next);
                    CHECK(strip.last == (strip.first + strip.rows == 53));
                    next += strip.rows, whole += bytes;
                    return true;
                });
            for (int y = 0; y < 53; y += 5) {
                CHECK_FALSE(strips.whole());
                REQUIRE(strips.add(std::min(5, 53 - y), [&](int k, float* out) { *out = static_cast<float>(y + k); }));
            }
            CHECK(strips.whole());
        });
        each.push_back(whole);
    }
    REQUIRE(each[0].size() == 53);
    for (int k = 0; k < 53; ++k) CHECK(each[0][static_cast<std::size_t>(k)] == static_cast<char>(k));
    CHECK(each[0] == each[1]);
}
