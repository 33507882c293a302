// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Whole files in and out. A file is written beside its place and renamed, so no half file is ever left.
#pragma once

#include <functional>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace loom {

/// Reads a file of at most `most_bytes`.
Result<std::string> read_file(const std::string& path, std::size_t most_bytes);

Result<Done> write_file(const std::string& path, std::string_view bytes);

/// Lets `fill` write the file at a temporary path beside `path` (same extension), then puts it in place.
/// If `fill` fails the temporary file is removed and `path` stays as it was.
Result<Done> replace_file(const std::string& path, const std::function<Result<Done>(const std::string& temporary)>& fill);

/// "cannot ... 'path': reason (what to do)" from the system's last error.
Error file_error(std::string_view what, const std::string& path, int system_error);

}  // namespace loom
