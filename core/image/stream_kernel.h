// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops of following lines, built once for every instruction set. All arrays hold `count` entries.
#pragma once

namespace loom {

/// Turns unit steps to the directions of half the angle given by cosine and sine, whichever way lies nearer to where they went.
void stream_turn(const float* cosine, const float* sine, int count, float* dx, float* dy);
/// x += stride * dx, y += stride * dy.
void stream_move(float stride, const float* dx, const float* dy, int count, float* x, float* y);
/// sums += weight * values.
void stream_add(float weight, const float* values, int count, float* sums);

}  // namespace loom
