// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

/// Before a loop whose turns do not depend on each other, whatever its pointers look like.
#if defined(__clang__)
#define KEEN_LOOM_VECTOR_LOOP _Pragma("clang loop vectorize(assume_safety)")
#else
#define KEEN_LOOM_VECTOR_LOOP _Pragma("GCC ivdep")
#endif
