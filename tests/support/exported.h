// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/files/export.h"

namespace loom::test {

/// One run, all of whose files are in their places then.
inline Result<Exported> exported(const ExportRun& run, const Job& job = {}) {
    FilesTogether together;
    auto written = write_export(run, together, {}, job);
    if (!written) return written.error();
    if (const auto done = together.finish(); !done) return done.error();
    return written;
}

}  // namespace loom::test
