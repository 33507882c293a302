// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QString>
#include <string_view>

namespace loom {

/// The core's words (UTF-8) as Qt's.
inline QString qt(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<int>(text.size())); }

}  // namespace loom
