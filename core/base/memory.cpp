// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/memory.h"

#include <sys/mman.h>
#include <unistd.h>

#include <algorithm>
#include <fstream>
#include <limits>
#include <new>

namespace loom {

namespace {

/// Less than this comes from the allocator, which keeps small pieces itself.
constexpr std::size_t small = std::size_t{64} << 10;
/// More than this goes back at once: it would keep too much for one plane, whose work takes longer than its pages do.
constexpr std::size_t large = std::size_t{256} << 20;
/// Up to here together with what is in use, kept memory does no harm.
constexpr std::size_t roomy = std::size_t{1} << 30;
constexpr std::size_t page = std::size_t{2} << 20;
constexpr std::align_val_t alignment{64};

/// In whole pages; large ones for what is large, as rows lie pages apart and filters walk over many of them at once.
std::size_t rounded(std::size_t bytes) {
    if (bytes < small) return bytes;
    const std::size_t step = bytes < 4 * page ? std::size_t{4} << 10 : std::size_t{64} << 10;
    return (bytes + step - 1) / step * step;
}

/// A thread that frees a cached plane while it makes one must not ask the caches again.
thread_local bool asking_caches = false;

}  // namespace

Memory& Memory::process() {
    // Never destroyed: planes that static objects hold may outlive everything else.
    static auto* memory = new Memory;
    return *memory;
}

std::size_t Memory::usual_limit() {
    static const std::size_t most = [] {
        const auto pages = static_cast<std::size_t>(std::max(0L, ::sysconf(_SC_PHYS_PAGES)));
        return std::min(pages * static_cast<std::size_t>(::sysconf(_SC_PAGESIZE)), group_limit()) / 10 * 7;
    }();
    return most;
}

std::size_t Memory::group_limit(const std::string& root) {
    constexpr auto none = std::numeric_limits<std::size_t>::max();
    std::size_t least = none;
    // "0::/a/b" for the second version of control groups, "4:memory:/a/b" for the first.
    std::ifstream groups(root + "/proc/self/cgroup");
    for (std::string line; std::getline(groups, line);) {
        const auto second = line.find(':'), third = line.find(':', second + 1);
        if (second == std::string::npos || third == std::string::npos) continue;
        std::string controllers(1, ',');
        controllers.append(line, second + 1, third - second - 1).push_back(',');
        const bool unified = controllers == ",,";
        if (!unified && controllers.find(",memory,") == std::string::npos) continue;
        const std::string base = root + (unified ? "/sys/fs/cgroup" : "/sys/fs/cgroup/memory");
        // Within a container the path may be the machine's own, and only the root is there.
        for (std::string path = line.substr(third + 1);; path.resize(path.rfind('/'))) {
            while (!path.empty() && path.back() == '/') path.pop_back();
            std::ifstream file(base + path + (unified ? "/memory.max" : "/memory.limit_in_bytes"));
            std::size_t bytes = 0;
            if (file >> bytes && bytes > 0) least = std::min(least, bytes);
            if (path.rfind('/') == std::string::npos) break;
        }
    }
    return least;
}

Memory::~Memory() { release(); }

Memory::Piece Memory::kept(std::size_t bytes) {
    // Bands differ by some rows: what is up to half as large again will do.
    const auto found = free_.lower_bound(bytes);
    if (found == free_.end() || found->first > bytes + bytes / 2) return {};
    const Piece piece{found->second, found->first};
    free_.erase(found);
    counts_.kept -= piece.bytes;
    return piece;
}

void* Memory::fresh(std::size_t bytes) {
    const std::size_t room = bytes >= page ? bytes + page : bytes;
    void* data = ::mmap(nullptr, room, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (data == MAP_FAILED) return nullptr;
    if (bytes < page) return data;
    // From the first large page on; what lies before and behind goes back.
    const auto begin = reinterpret_cast<std::uintptr_t>(data), first = (begin + page - 1) / page * page;
    if (first > begin) ::munmap(data, first - begin);
    if (const std::size_t behind = begin + room - (first + bytes)) ::munmap(reinterpret_cast<void*>(first + bytes), behind);
    ::madvise(reinterpret_cast<void*>(first), bytes, MADV_HUGEPAGE);
    return reinterpret_cast<void*>(first);
}

void Memory::drop_kept(std::size_t down_to) {
    while (counts_.kept > down_to && !free_.empty()) {
        const auto last = std::prev(free_.end());
        ::munmap(last->second, last->first);
        counts_.kept -= last->first;
        free_.erase(last);
    }
}

Memory::Piece Memory::take(std::size_t bytes) {
    if (bytes < small) return {::operator new(bytes, alignment), bytes};
    bytes = rounded(bytes);
    std::unique_lock lock(mutex_);
    const std::size_t limit = limit_ ? limit_ : usual_limit();
    Piece piece = kept(bytes);
    if (!piece.data) {
        const auto over = [&](std::size_t most) { return counts_.used + counts_.kept + bytes > most; };
        const auto make_room = [&] { drop_kept(limit > counts_.used + bytes ? limit - counts_.used - bytes : 0); };
        if (over(limit)) make_room();
        if (over(limit) && !asking_caches) {
            const std::size_t wanted = counts_.used + counts_.kept + bytes - limit;
            lock.unlock();
            {
                asking_caches = true;
                const std::lock_guard caches(caches_mutex_);
                for (const auto& [number, yield] : caches_) yield(wanted);
                asking_caches = false;
            }
            lock.lock();
            piece = kept(bytes);
            if (!piece.data) make_room();
        }
        if (!piece.data && over(limit + static_cast<std::size_t>(leeway * static_cast<double>(limit)))) throw std::bad_alloc();
    }
    if (!piece.data) {
        // Where much is in use, what is kept in other sizes may not be memory besides.
        const std::size_t most = std::max(roomy, counts_.most), now = counts_.used + bytes;
        if (now + counts_.kept > most) drop_kept(most > now ? most - now : 0);
        piece = {fresh(bytes), bytes};
        if (!piece.data) drop_kept(0), piece.data = fresh(bytes);
        if (!piece.data) throw std::bad_alloc();
        counts_.fresh += bytes;
    }
    counts_.used += piece.bytes;
    counts_.most = std::max(counts_.most, counts_.used);
    return piece;
}

void Memory::give_back(Piece piece) noexcept {
    if (!piece.data) return;
    if (piece.bytes < small) return ::operator delete(piece.data, alignment);
    const std::lock_guard lock(mutex_);
    counts_.used -= piece.bytes;
    try {
        if (piece.bytes < large && counts_.kept + piece.bytes <= most_kept_) {
            free_.emplace(piece.bytes, piece.data);
            counts_.kept += piece.bytes;
            return;
        }
    } catch (const std::bad_alloc&) {
        // No room for a note of it: the system gets it back.
    }
    ::munmap(piece.data, piece.bytes);
}

void Memory::set_limit(std::size_t bytes) {
    const std::lock_guard lock(mutex_);
    limit_ = bytes;
}

std::size_t Memory::limit() const {
    const std::lock_guard lock(mutex_);
    return limit_ ? limit_ : usual_limit();
}

Memory::Counts Memory::counts() const {
    const std::lock_guard lock(mutex_);
    return counts_;
}

void Memory::count_anew() {
    const std::lock_guard lock(mutex_);
    counts_.most = counts_.used;
}

void Memory::release() {
    const std::lock_guard lock(mutex_);
    drop_kept(0);
}

int Memory::add_cache(std::function<void(std::size_t)> yield) {
    const std::lock_guard lock(caches_mutex_);
    caches_[++numbers_] = std::move(yield);
    return numbers_;
}

void Memory::remove_cache(int number) {
    const std::lock_guard lock(caches_mutex_);
    caches_.erase(number);
}

}  // namespace loom
