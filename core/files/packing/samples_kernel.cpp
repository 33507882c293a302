// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/packing/samples_kernel.h"

#include <cstring>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/files/packing/samples_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// Times `most`, plus a half, cut: the comparison is false for what is no number.
HWY_INLINE std::int32_t Whole(float value, float most) {
    const float scaled = value > 0.0f ? value * most + 0.5f : 0.0f;
    return static_cast<std::int32_t>(scaled < most ? scaled : most);
}

void Bytes(const float* HWY_RESTRICT values, std::size_t count, std::uint8_t* HWY_RESTRICT out) {
    for (std::size_t k = 0; k < count; ++k) out[k] = static_cast<std::uint8_t>(Whole(values[k], 255.0f));
}

void Words(const float* HWY_RESTRICT values, std::size_t count, std::uint16_t* HWY_RESTRICT out) {
    for (std::size_t k = 0; k < count; ++k) out[k] = static_cast<std::uint16_t>(Whole(values[k], 65535.0f));
}

void WordsGreaterFirst(const float* HWY_RESTRICT values, std::size_t count, std::uint16_t* HWY_RESTRICT out) {
    for (std::size_t k = 0; k < count; ++k) {
        const auto word = static_cast<std::uint32_t>(Whole(values[k], 65535.0f));
        out[k] = static_cast<std::uint16_t>((word >> 8) | (word << 8));
    }
}

/// To what a half can hold, the nearest: processors without an instruction for halves would cut.
template <class D, class V = hn::Vec<D>>
HWY_INLINE V AsHalves(D d, V value) {
    const hn::RebindToUnsigned<D> whole;
    const V cut = hn::Max(hn::Set(d, -65504.0f), hn::Min(hn::Set(d, 65504.0f), value)), size = hn::Abs(cut);
    // Thirteen bits of the fraction go; half way to the even one.
    const auto bits = hn::BitCast(whole, size);
    const auto odd = hn::And(hn::ShiftRight<13>(bits), hn::Set(whole, 1u));
    const auto kept = hn::And(hn::Add(bits, hn::Add(odd, hn::Set(whole, 0xfffu))), hn::Set(whole, 0xffffe000u));
    // Below the least with all its bits halves are multiples of 2^-24, as floats from 0.5 on are.
    const V half = hn::Set(d, 0.5f), small = hn::Sub(hn::Add(size, half), half);
    const V near = hn::IfThenElse(hn::Lt(size, hn::Set(d, 0x1p-14f)), small, hn::BitCast(d, kept));
    return hn::CopySignToAbs(near, cut);
}

void Halves(const float* HWY_RESTRICT values, std::size_t count, std::uint16_t* HWY_RESTRICT out) {
    const hn::ScalableTag<float> d;
    const hn::Rebind<hwy::float16_t, decltype(d)> half;
    const std::size_t lanes = hn::Lanes(d);
    std::size_t k = 0;
    auto* to = reinterpret_cast<hwy::float16_t*>(out);
    for (; k + lanes <= count; k += lanes) hn::StoreU(hn::DemoteTo(half, AsHalves(d, hn::LoadU(d, values + k))), half, to + k);
    if (k == count) return;
    HWY_ALIGN float rest[HWY_MAX_BYTES / sizeof(float)] = {};
    HWY_ALIGN hwy::float16_t halves[HWY_MAX_BYTES / sizeof(float)];
    std::memcpy(rest, values + k, (count - k) * sizeof(float));
    hn::Store(hn::DemoteTo(half, AsHalves(d, hn::Load(d, rest))), half, halves);
    std::memcpy(to + k, halves, (count - k) * sizeof(std::uint16_t));
}

HWY_INLINE std::uint8_t Nearest(int a, int b, int c) {
    const int p = b - c, q = a - c, r = p + q;
    const int pa = p < 0 ? -p : p, pb = q < 0 ? -q : q, pc = r < 0 ? -r : r;
    return static_cast<std::uint8_t>(pa <= pb && pa <= pc ? a : pb <= pc ? b : c);
}

/// The sum of the bytes' distances from zero, as signed ones.
HWY_INLINE std::uint32_t Distance(const std::uint8_t* HWY_RESTRICT bytes, std::size_t count) {
    std::uint32_t sum = 0;
    for (std::size_t k = 0; k < count; ++k) sum += bytes[k] < 128 ? bytes[k] : 256u - bytes[k];
    return sum;
}

HWY_INLINE void Filter(int which, const std::uint8_t* HWY_RESTRICT row, const std::uint8_t* HWY_RESTRICT before,
                       std::size_t count, std::size_t step, std::uint8_t* HWY_RESTRICT out) {
    // The first pixel has nothing at its left.
    for (std::size_t k = 0; k < step; ++k) {
        const int up = before[k];
        const int guess = which == 0 || which == 1 ? 0 : which == 3 ? up / 2 : up;
        out[k] = static_cast<std::uint8_t>(row[k] - guess);
    }
    const std::uint8_t *HWY_RESTRICT r = row + step, *HWY_RESTRICT b = before + step;
    const std::uint8_t *left = row, *corner = before;
    std::uint8_t* HWY_RESTRICT o = out + step;
    const std::size_t rest = count - step;
    if (which == 0)
        std::memcpy(o, r, rest);
    else if (which == 1)
        for (std::size_t k = 0; k < rest; ++k) o[k] = static_cast<std::uint8_t>(r[k] - left[k]);
    else if (which == 2)
        for (std::size_t k = 0; k < rest; ++k) o[k] = static_cast<std::uint8_t>(r[k] - b[k]);
    else if (which == 3)
        for (std::size_t k = 0; k < rest; ++k) o[k] = static_cast<std::uint8_t>(r[k] - (left[k] + b[k]) / 2);
    else
        for (std::size_t k = 0; k < rest; ++k) o[k] = static_cast<std::uint8_t>(r[k] - Nearest(left[k], b[k], corner[k]));
}

void Filtered(const std::uint8_t* HWY_RESTRICT row, const std::uint8_t* HWY_RESTRICT before, std::size_t count, std::size_t step,
              std::uint8_t* HWY_RESTRICT scratch, std::uint8_t* HWY_RESTRICT out) {
    std::uint32_t least = 0;
    for (int which = 0; which < 5; ++which) {
        std::uint8_t* const to = which == 0 ? out + 1 : scratch;
        Filter(which, row, before, count, step, to);
        const std::uint32_t distance = Distance(to, count);
        if (which > 0 && distance >= least) continue;
        least = distance, out[0] = static_cast<std::uint8_t>(which);
        if (which > 0) std::memcpy(out + 1, scratch, count);
    }
}

void Differences(const std::uint16_t* HWY_RESTRICT row, std::size_t count, std::size_t step, std::uint16_t* HWY_RESTRICT out) {
    for (std::size_t k = 0; k < step; ++k) out[k] = row[k];
    for (std::size_t k = step; k < count; ++k) out[k] = static_cast<std::uint16_t>(row[k] - row[k - step]);
}

void Shuffled(const std::uint8_t* HWY_RESTRICT bytes, std::size_t count, std::uint8_t* HWY_RESTRICT scratch,
              std::uint8_t* HWY_RESTRICT out) {
    const std::size_t first = (count + 1) / 2;
    for (std::size_t k = 0; k < count / 2; ++k) scratch[k] = bytes[2 * k], scratch[first + k] = bytes[2 * k + 1];
    if (count % 2) scratch[first - 1] = bytes[count - 1];
    out[0] = scratch[0];
    for (std::size_t k = 1; k < count; ++k) out[k] = static_cast<std::uint8_t>(scratch[k] - scratch[k - 1] + 128);
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Bytes);
HWY_EXPORT(Words);
HWY_EXPORT(WordsGreaterFirst);
HWY_EXPORT(Halves);
HWY_EXPORT(Filtered);
HWY_EXPORT(Differences);
HWY_EXPORT(Shuffled);
void samples_to_bytes(const float* values, std::size_t count, std::uint8_t* out) {
    HWY_DYNAMIC_DISPATCH(Bytes)(values, count, out);
}
void samples_to_words(const float* values, std::size_t count, std::uint16_t* out) {
    HWY_DYNAMIC_DISPATCH(Words)(values, count, out);
}
void samples_to_words_greater_first(const float* values, std::size_t count, std::uint16_t* out) {
    HWY_DYNAMIC_DISPATCH(WordsGreaterFirst)(values, count, out);
}
void samples_to_halves(const float* values, std::size_t count, std::uint16_t* out) {
    HWY_DYNAMIC_DISPATCH(Halves)(values, count, out);
}
void png_filtered(const std::uint8_t* row, const std::uint8_t* before, std::size_t count, std::size_t step, std::uint8_t* scratch,
                  std::uint8_t* out) {
    HWY_DYNAMIC_DISPATCH(Filtered)(row, before, count, step, scratch, out);
}
void tiff_differences(const std::uint16_t* row, std::size_t count, std::size_t step, std::uint16_t* out) {
    HWY_DYNAMIC_DISPATCH(Differences)(row, count, step, out);
}
void exr_shuffled(const std::uint8_t* bytes, std::size_t count, std::uint8_t* scratch, std::uint8_t* out) {
    HWY_DYNAMIC_DISPATCH(Shuffled)(bytes, count, scratch, out);
}
}  // namespace loom
#endif
