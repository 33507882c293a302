// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Rows of pictures as files hold them, built once for every instruction set.
#pragma once

#include <cstddef>
#include <cstdint>

namespace loom {

/// Cut to 0..1 and rounded to 0..255; what is no number becomes black.
void samples_to_bytes(const float* values, std::size_t count, std::uint8_t* out);
/// The same to 0..65535, in this machine's order of bytes, or with the greater byte first.
void samples_to_words(const float* values, std::size_t count, std::uint16_t* out);
void samples_to_words_greater_first(const float* values, std::size_t count, std::uint16_t* out);
/// IEEE half floats, rounded to the nearest; beyond 65504 as that.
void samples_to_halves(const float* values, std::size_t count, std::uint16_t* out);

/// A row of a PNG with the filter of the five whose bytes are nearest to zero in sum (PNG specification, 12.8): a byte that names
/// it, then the row. `before` is the row above, of zeros for the first; `step` is the bytes of a pixel. `scratch` has `count`
/// bytes.
void png_filtered(const std::uint8_t* row, const std::uint8_t* before, std::size_t count, std::size_t step, std::uint8_t* scratch,
                  std::uint8_t* out);
/// What TIFF's predictor 2 leaves of a row of 16-bit samples, `step` of them a pixel.
void tiff_differences(const std::uint16_t* row, std::size_t count, std::size_t step, std::uint16_t* out);
/// As EXR's ZIP wants its bytes (two halves of every other one, then the difference to the one before, plus 128).
void exr_shuffled(const std::uint8_t* bytes, std::size_t count, std::uint8_t* scratch, std::uint8_t* out);

}  // namespace loom
