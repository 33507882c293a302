// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/distance_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/distance_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void SweepRow(const float* HWY_RESTRICT before, const float* HWY_RESTRICT here, float level, float far, int count,
              float* HWY_RESTRICT way) {
    const hn::ScalableTag<float> f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const auto l = hn::Set(f, level), most = hn::Set(f, far), one = hn::Set(f, 1.0f);
    const auto step = [&](auto a, auto b, auto since) {
        const auto crossed = hn::Xor(hn::VecFromMask(f, hn::Gt(a, l)), hn::VecFromMask(f, hn::Gt(b, l)));
        const auto share = hn::Div(hn::Sub(l, a), hn::Sub(b, a));
        return hn::IfThenElse(hn::MaskFromVec(crossed), hn::Sub(one, share), hn::Min(hn::Add(since, one), most));
    };
    for (int x = 0; x < count; x += lanes)
        hn::StoreU(step(hn::LoadU(f, before + x), hn::LoadU(f, here + x), hn::LoadU(f, way + x)), f, way + x);
}

/// A block of pixels, as vectors of at most its length. Far blocks are passed over while their least value says that nothing in
/// them can matter, and the search ends where the way alone is longer than what was found.
void LowerEnvelope(const float* HWY_RESTRICT squares, int margin, int count, float* HWY_RESTRICT least, float* HWY_RESTRICT out) {
    constexpr int block = envelope_block;
    const hn::CappedTag<float, block> f;
    const auto two = hn::Set(f, 2.0f);
    const int lanes = static_cast<int>(hn::Lanes(f)), side = margin / block, blocks = count / block;
    for (int b = -side; b < blocks + side; ++b) {
        auto low = hn::LoadU(f, squares + b * block);
        for (int i = lanes; i < block; i += lanes) low = hn::Min(low, hn::LoadU(f, squares + b * block + i));
        least[b + side] = hn::GetLane(hn::MinOfLanes(f, low));
    }
    for (int b = 0; b < blocks; ++b) {
        const float* lows = least + b + side;
        for (int i = 0; i < block; i += lanes) {
            const float* from = squares + b * block + i;
            auto best = hn::LoadU(f, from);
            for (int far = 0; far < side; ++far) {
                const int nearest = far * block + 1;
                const float way = static_cast<float>(nearest) * static_cast<float>(nearest);
                const float worst = hn::GetLane(hn::MaxOfLanes(f, best));
                if (way >= worst) break;
                const float left = lows[-far] < lows[-far - 1] ? lows[-far] : lows[-far - 1];
                const float right = lows[far] < lows[far + 1] ? lows[far] : lows[far + 1];
                if (way + (left < right ? left : right) >= worst) continue;
                // Squares by their differences, which floats hold exactly up to 4096.
                auto square = hn::Set(f, way), more = hn::Set(f, static_cast<float>(2 * nearest + 1));
                for (int k = nearest; k < nearest + block; ++k) {
                    const auto near = hn::Min(hn::LoadU(f, from - k), hn::LoadU(f, from + k));
                    best = hn::Min(best, hn::Add(near, square));
                    square = hn::Add(square, more), more = hn::Add(more, two);
                }
            }
            hn::StoreU(best, f, out + b * block + i);
        }
    }
}

int CrossingSquares(const float* HWY_RESTRICT top, const float* HWY_RESTRICT low, float level, int count,
                    int* HWY_RESTRICT found) {
    const hn::ScalableTag<float> f;
    const hn::RebindToSigned<decltype(f)> d;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const auto l = hn::Set(f, level);
    std::size_t number = 0;
    for (int x = 0; x < count; x += lanes) {
        const auto a = hn::Gt(hn::LoadU(f, top + x), l), b = hn::Gt(hn::LoadU(f, top + x + 1), l);
        const auto c = hn::Gt(hn::LoadU(f, low + x), l), e = hn::Gt(hn::LoadU(f, low + x + 1), l);
        const auto mixed = hn::AndNot(hn::And(hn::And(a, b), hn::And(c, e)), hn::Or(hn::Or(a, b), hn::Or(c, e)));
        if (hn::AllFalse(f, mixed)) continue;
        number += hn::CompressStore(hn::Iota(d, x), hn::RebindMask(d, mixed), d, found + number);
    }
    while (number > 0 && found[number - 1] >= count - 1) --number;
    return static_cast<int>(number);
}

void NearPiece(const EdgePiece& piece, int rows, std::ptrdiff_t stride, float* HWY_RESTRICT squares) {
    const hn::CappedTag<float, piece_columns> f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const float dx = piece.bx - piece.ax, dy = piece.by - piece.ay, length = dx * dx + dy * dy;
    const float scale = length > 0 ? 1 / length : 0;
    const auto ex = hn::Set(f, dx), ey = hn::Set(f, dy), zero = hn::Zero(f), one = hn::Set(f, 1.0f);
    for (int i = 0; i < piece_columns; i += lanes) {
        const auto px = hn::Sub(hn::Iota(f, static_cast<float>(i)), hn::Set(f, piece.ax));
        const auto along = hn::Mul(px, ex);
        for (int row = 0; row < rows; ++row) {
            const float way = static_cast<float>(row) - piece.ay;
            const auto t = hn::Mul(hn::Add(along, hn::Set(f, way * dy)), hn::Set(f, scale));
            const auto at = hn::Min(hn::Max(t, zero), one);
            const auto ox = hn::Sub(px, hn::Mul(at, ex)), oy = hn::Sub(hn::Set(f, way), hn::Mul(at, ey));
            float* to = squares + row * stride + i;
            hn::StoreU(hn::Min(hn::LoadU(f, to), hn::Add(hn::Mul(ox, ox), hn::Mul(oy, oy))), f, to);
        }
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(SweepRow);
void sweep_row(const float* before, const float* here, float level, float far, int count, float* way) {
    HWY_DYNAMIC_DISPATCH(SweepRow)(before, here, level, far, count, way);
}
HWY_EXPORT(LowerEnvelope);
void lower_envelope(const float* squares, int margin, int count, float* least, float* out) {
    HWY_DYNAMIC_DISPATCH(LowerEnvelope)(squares, margin, count, least, out);
}
HWY_EXPORT(CrossingSquares);
int crossing_squares(const float* top, const float* low, float level, int count, int* found) {
    return HWY_DYNAMIC_DISPATCH(CrossingSquares)(top, low, level, count, found);
}
HWY_EXPORT(NearPiece);
void near_piece(const EdgePiece& piece, int rows, std::ptrdiff_t stride, float* squares) {
    HWY_DYNAMIC_DISPATCH(NearPiece)(piece, rows, stride, squares);
}
}  // namespace loom
#endif
