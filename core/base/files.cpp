// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/files.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/random.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <utility>

namespace loom {

namespace fs = std::filesystem;

Error file_error(std::string_view what, const std::string& path, int system_error) {
    std::string remedy;
    switch (system_error) {
        case ENOENT: remedy = "there is no such file or folder"; break;
        case EACCES:
        case EPERM:
        case EROFS: remedy = "no permission; choose another folder or change its rights"; break;
        case ENOSPC:
        case EDQUOT: remedy = "the disk is full; free some space or choose another disk"; break;
        case EISDIR: remedy = "it is a folder"; break;
        case EFBIG: remedy = "the file would be larger than is allowed here; free some space or choose another disk"; break;
        case ENAMETOOLONG: remedy = "the name is too long; choose a shorter one"; break;
        case ENOTDIR: remedy = "a part of the path is a file, not a folder"; break;
        default: remedy = std::strerror(system_error); break;
    }
    return {Fault::file, std::string(what) + " '" + path + "': " + remedy};
}

Result<std::string> read_file(const std::string& path, std::size_t most_bytes) {
    struct stat info {};
    if (::stat(path.c_str(), &info) != 0) return file_error("cannot read", path, errno);
    if (S_ISDIR(info.st_mode)) return file_error("cannot read", path, EISDIR);
    if (info.st_size > 0 && static_cast<std::size_t>(info.st_size) > most_bytes)
        return Error{Fault::file, "cannot read '" + path + "': it is larger than " + std::to_string(most_bytes >> 20) + " MiB"};
    std::FILE* file = std::fopen(path.c_str(), "rb");
    if (!file) return file_error("cannot read", path, errno);
    std::string bytes;
    char buffer[1 << 16];
    std::size_t count = 0;
    while (bytes.size() <= most_bytes && (count = std::fread(buffer, 1, sizeof buffer, file)) > 0) bytes.append(buffer, count);
    const bool failed = std::ferror(file) != 0;
    std::fclose(file);
    if (failed) return file_error("cannot read", path, EIO);
    return bytes;
}

Result<std::string> read_start(const std::string& path, std::size_t count) {
    struct stat info {};
    if (::stat(path.c_str(), &info) != 0) return file_error("cannot read", path, errno);
    if (S_ISDIR(info.st_mode)) return file_error("cannot read", path, EISDIR);
    std::FILE* file = std::fopen(path.c_str(), "rb");
    if (!file) return file_error("cannot read", path, errno);
    std::string bytes(count, '\0');
    bytes.resize(std::fread(bytes.data(), 1, count, file));
    const bool failed = std::ferror(file) != 0;
    std::fclose(file);
    if (failed) return file_error("cannot read", path, EIO);
    return bytes;
}

namespace {

std::string folder_of(const std::string& path) {
    const std::string folder = fs::path(path).parent_path().string();
    return folder.empty() ? "." : folder;
}

/// Where a chain of links ends, whether there is a file or not.
std::string followed(const std::string& path) {
    std::error_code error;
    fs::path target(path);
    for (int links = 0; links < 40 && fs::is_symlink(target, error); ++links) {
        const fs::path next = fs::read_symlink(target, error);
        if (error) break;
        target = next.is_absolute() ? next : target.parent_path() / next;
    }
    return target.string();
}

/// Removes what killed processes left: who still writes holds a lock.
void remove_leftovers(const std::string& folder) {
    std::error_code error;
    for (fs::directory_iterator entry(folder, error), end; !error && entry != end; entry.increment(error)) {
        if (!entry->path().filename().string().starts_with(FileWriter::part_prefix)) continue;
        const int file = ::open(entry->path().c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW);
        if (file < 0) continue;
        if (::flock(file, LOCK_EX | LOCK_NB) == 0) ::unlink(entry->path().c_str());
        ::close(file);
    }
}

}  // namespace

int FileWriter::open_part(const std::string& folder) {
    for (int tries = 0; tries < 100; ++tries) {
        unsigned char lot[8];
        if (::getrandom(lot, sizeof lot, 0) != sizeof lot) return -1;
        std::string name(part_prefix);
        for (unsigned char byte : lot) name += static_cast<char>('a' + byte % 26);
        part_ = folder + "/" + name;
        const int file = ::open(part_.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
        if (file < 0 && errno == EEXIST) continue;
        if (file < 0) break;
        // Between making and locking it another process may have taken it for a leftover.
        struct stat info {};
        ::flock(file, LOCK_EX | LOCK_NB);
        if (::fstat(file, &info) == 0 && info.st_nlink > 0) return file;
        ::close(file);
    }
    const int error = errno;
    part_.clear();
    errno = error;
    return -1;
}

Result<FileWriter> FileWriter::open(const std::string& path) {
    FileWriter writer(path, followed(path));
    struct stat info {};
    const bool exists = ::stat(writer.target_.c_str(), &info) == 0;
    if (exists && S_ISDIR(info.st_mode)) return file_error("cannot write", path, EISDIR);
    if (exists && !S_ISREG(info.st_mode)) {
        writer.file_ = ::open(writer.target_.c_str(), O_WRONLY | O_CLOEXEC);
        if (writer.file_ < 0) return file_error("cannot write", path, errno);
        return writer;
    }
    if (exists && ::access(writer.target_.c_str(), W_OK) != 0) return file_error("cannot write", path, errno);
    const std::string folder = folder_of(writer.target_);
    remove_leftovers(folder);
    writer.file_ = writer.open_part(folder);
    if (writer.file_ < 0) return file_error("cannot write", path, errno);
    if (exists) {
        // The owner can be kept only by root; everybody else owns what they write.
        [[maybe_unused]] const int owner = ::fchown(writer.file_, info.st_uid, info.st_gid);
        ::fchmod(writer.file_, info.st_mode & 07777);
    }
    return writer;
}

FileWriter::FileWriter(FileWriter&& other) noexcept
    : path_(std::move(other.path_)),
      target_(std::move(other.target_)),
      part_(std::exchange(other.part_, {})),
      file_(std::exchange(other.file_, -1)) {}

FileWriter::~FileWriter() {
    if (file_ < 0) return;
    if (!part_.empty()) ::unlink(part_.c_str());
    ::close(file_);
}

Result<Done> FileWriter::failed(int system_error) { return file_error("cannot write", path_, system_error); }

namespace {

/// Writes all of `bytes`; the system's error, or 0. `put` says how many bytes it took.
template <class Put>
int write_all(std::string_view bytes, Put&& put) {
    while (!bytes.empty()) {
        // In pieces, as some systems write at most 2 GiB at a time.
        const ssize_t count = put(bytes.data(), std::min(bytes.size(), std::size_t{64} << 20));
        if (count < 0 && errno == EINTR) continue;
        if (count <= 0) return count < 0 ? errno : ENOSPC;
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
    return 0;
}

}  // namespace

Result<Done> FileWriter::write(std::string_view bytes) {
    const int error = write_all(bytes, [&](const char* from, std::size_t count) { return ::write(file_, from, count); });
    return error ? failed(error) : Done{};
}

Result<Done> FileWriter::write_at(std::size_t offset, std::string_view bytes) {
    auto at = static_cast<off_t>(offset);
    const int error = write_all(bytes, [&](const char* from, std::size_t count) {
        const ssize_t written = ::pwrite(file_, from, count, at);
        if (written > 0) at += written;
        return written;
    });
    return error ? failed(error) : Done{};
}

Result<Done> FileWriter::sync() {
    // A device or a pipe knows no syncing.
    if (::fsync(file_) != 0 && !part_.empty()) return failed(errno);
    // Some file systems tell of a failure only when a file is closed; this one stays open, as its lock is still needed.
    if (const int twin = ::dup(file_); twin >= 0 && ::close(twin) != 0) return failed(errno);
    return Done{};
}

std::size_t FileWriter::bytes() const {
    struct stat info {};
    return ::fstat(file_, &info) == 0 && S_ISREG(info.st_mode) ? static_cast<std::size_t>(info.st_size) : 0;
}

Result<Done> FileWriter::finish() {
    if (auto done = sync(); !done) return done;
    if (!part_.empty() && ::rename(part_.c_str(), target_.c_str()) != 0) return failed(errno);
    part_.clear();
    ::close(std::exchange(file_, -1));
    // The new name is on the disk only when the folder is.
    if (const int folder = ::open(folder_of(target_).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); folder >= 0) {
        ::fsync(folder);
        ::close(folder);
    }
    return Done{};
}

FilesTogether::FilesTogether() {
    // Each file stays open until all are whole, and an export may have many.
    rlimit files{};
    if (::getrlimit(RLIMIT_NOFILE, &files) == 0 && files.rlim_cur < files.rlim_max) {
        files.rlim_cur = files.rlim_max;
        ::setrlimit(RLIMIT_NOFILE, &files);
    }
}

Result<Done> FilesTogether::add(FileWriter file) {
    if (auto done = file.sync(); !done) return done;
    files_.push_back(std::move(file));
    return Done{};
}

Result<Done> FilesTogether::add(const std::string& path, std::string_view bytes) {
    auto file = FileWriter::open(path);
    if (!file) return file.error();
    if (auto done = file->write(bytes); !done) return done;
    return add(std::move(*file));
}

Result<Done> FilesTogether::finish() {
    std::vector<std::string> placed;
    Result<Done> done{Done{}};
    for (FileWriter& file : files_) {
        std::error_code error;
        const bool is_new = !fs::exists(file.path(), error);
        done = file.finish();
        if (!done) break;
        if (is_new) placed.push_back(file.path());
    }
    files_.clear();
    if (!done)
        for (const std::string& path : placed) {
            std::error_code error;
            fs::remove(path, error);
        }
    return done;
}

Result<Done> write_file(const std::string& path, std::string_view bytes) {
    auto writer = FileWriter::open(path);
    if (!writer) return writer.error();
    if (auto written = writer->write(bytes); !written) return written;
    return writer->finish();
}

}  // namespace loom
