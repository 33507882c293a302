// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "tests/support/disk_trouble.h"

#include <fcntl.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>

namespace loom::test {

namespace {

std::atomic<bool> armed = false;
std::atomic<int> count = 0, failing = 0, with = 0;

/// Whether this call is the one that fails; errno says how.
bool fails() {
    if (!armed) return false;
    if (++count != failing) return false;
    errno = with;
    return true;
}

}  // namespace

DiskTrouble::DiskTrouble(int turn, int error) {
    count = 0, failing = turn, with = error;
    armed = true;
}
DiskTrouble::~DiskTrouble() { armed = false; }
int DiskTrouble::calls() { return count; }

}  // namespace loom::test

using loom::test::fails;

extern "C" {

ssize_t write(int file, const void* bytes, size_t count) {
    if (file > 2 && fails()) return -1;
    return ::syscall(SYS_write, file, bytes, count);
}

ssize_t pwrite(int file, const void* bytes, size_t count, off_t at) {
    if (fails()) return -1;
    return ::syscall(SYS_pwrite64, file, bytes, count, at);
}

int fsync(int file) {
    if (fails()) return -1;
    return static_cast<int>(::syscall(SYS_fsync, file));
}

int renameat(int from_folder, const char* from, int to_folder, const char* to) noexcept {
    if (fails()) return -1;
    return static_cast<int>(::syscall(SYS_renameat, from_folder, from, to_folder, to));
}

int renameat2(int from_folder, const char* from, int to_folder, const char* to, unsigned flags) noexcept {
    if (fails()) return -1;
    return static_cast<int>(::syscall(SYS_renameat2, from_folder, from, to_folder, to, flags));
}

int openat(int folder, const char* name, int flags, ...) {
    if (flags & O_CREAT && fails()) return -1;
    __builtin_va_list rest;
    __builtin_va_start(rest, flags);
    const mode_t mode = flags & O_CREAT ? __builtin_va_arg(rest, mode_t) : 0;
    __builtin_va_end(rest);
    return static_cast<int>(::syscall(SYS_openat, folder, name, flags, mode));
}
}
