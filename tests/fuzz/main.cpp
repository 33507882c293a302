// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A fuzzer for one door, KEEN_LOOM_DOOR.
#include <cstdint>

#include "tests/fuzz/targets.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    loom::fuzz::KEEN_LOOM_DOOR({reinterpret_cast<const char*>(data), size});
    return 0;
}
