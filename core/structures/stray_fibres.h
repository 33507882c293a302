// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Loose fibres that lie on a cloth: a third along the warp, a third along the weft, the rest as they fell.
#pragma once

#include "core/structures/woven.h"

namespace loom {

/// Paints them onto colour and height, where there is one.
void lay_stray_fibres(const Woven& settings, const StepContext& context, Bundle& cloth);

}  // namespace loom
