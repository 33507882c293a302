// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A disk that fails at one certain call: the system's calls that write, sync, make and rename are this program's own here, and
// go on to the kernel unless it is their turn to fail.
#pragma once

namespace loom::test {

/// From now on until it goes, the `turn`th call (from 1) that changes a disk fails with `error`; 0: none does, they are counted.
class DiskTrouble {
public:
    DiskTrouble(int turn, int error);
    ~DiskTrouble();
    DiskTrouble(const DiskTrouble&) = delete;
    /// How many there were so far.
    static int calls();
};

}  // namespace loom::test
