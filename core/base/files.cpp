// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/files.h"
#include "core/base/answering.h"

#include <dirent.h>
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

Result<std::string> read_open_file(int descriptor, const std::string& path, std::size_t most_bytes) {
    takes_its_time("reading a file");
    struct stat info {};
    std::FILE* file = ::fstat(descriptor, &info) == 0 ? ::fdopen(descriptor, "rb") : nullptr;
    if (!file) {
        const int error = errno;
        ::close(descriptor);
        return file_error("cannot read", path, error);
    }
    const Error too_large{Fault::file,
                          "cannot read '" + path + "': it is larger than " + std::to_string(most_bytes >> 20) + " MiB"};
    std::string bytes;
    if (S_ISREG(info.st_mode) && static_cast<std::size_t>(info.st_size) <= most_bytes)
        bytes.reserve(static_cast<std::size_t>(info.st_size));
    char buffer[1 << 16];
    std::size_t count = 0;
    while (bytes.size() <= most_bytes && (count = std::fread(buffer, 1, sizeof buffer, file)) > 0) bytes.append(buffer, count);
    const bool failed = std::ferror(file) != 0;
    std::fclose(file);
    if (failed) return file_error("cannot read", path, S_ISDIR(info.st_mode) ? EISDIR : EIO);
    if (bytes.size() > most_bytes) return too_large;
    return bytes;
}

Result<std::string> read_file(const std::string& path, std::size_t most_bytes) {
    struct stat info {};
    if (::stat(path.c_str(), &info) != 0) return file_error("cannot read", path, errno);
    if (S_ISDIR(info.st_mode)) return file_error("cannot read", path, EISDIR);
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0) return file_error("cannot read", path, errno);
    return read_open_file(file, path, most_bytes);
}

Result<std::string> read_start(const std::string& path, std::size_t count) {
    takes_its_time("reading a file");
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
void remove_leftovers(int folder) {
    const int twin = ::openat(folder, ".", O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    DIR* stream = twin < 0 ? nullptr : ::fdopendir(twin);
    if (!stream) return;
    while (const dirent* entry = ::readdir(stream)) {
        if (!std::string_view(entry->d_name).starts_with(FileWriter::part_prefix)) continue;
        const int file = ::openat(folder, entry->d_name, O_RDONLY | O_CLOEXEC | O_NOFOLLOW | O_NONBLOCK);
        if (file < 0) continue;
        if (::flock(file, LOCK_EX | LOCK_NB) == 0) ::unlinkat(folder, entry->d_name, 0);
        ::close(file);
    }
    ::closedir(stream);
}

}  // namespace

int FileWriter::open_part() {
    for (int tries = 0; tries < 100; ++tries) {
        unsigned char lot[8];
        if (::getrandom(lot, sizeof lot, 0) != sizeof lot) return -1;
        part_ = part_prefix;
        for (unsigned char byte : lot) part_ += static_cast<char>('a' + byte % 26);
        const int file = ::openat(folder_, part_.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
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

Result<Done> FileWriter::open_beside(bool exists, unsigned mode, unsigned owner, unsigned group) {
    takes_its_time("writing a file");
    remove_leftovers(folder_);
    file_ = open_part();
    if (file_ < 0) return failed(errno);
    if (exists) {
        // The owner can be kept only by root; everybody else owns what they write.
        [[maybe_unused]] const int owned = ::fchown(file_, owner, group);
        ::fchmod(file_, mode & 07777);
    }
    return Done{};
}

Result<FileWriter> FileWriter::open(const std::string& path) {
    FileWriter writer(path);
    const std::string target = followed(path);
    struct stat info {};
    const bool exists = ::stat(target.c_str(), &info) == 0;
    if (exists && S_ISDIR(info.st_mode)) return file_error("cannot write", path, EISDIR);
    if (exists && !S_ISREG(info.st_mode)) {
        writer.direct_ = true;
        writer.file_ = ::open(target.c_str(), O_WRONLY | O_CLOEXEC);
        if (writer.file_ < 0) return file_error("cannot write", path, errno);
        return writer;
    }
    if (exists && ::access(target.c_str(), W_OK) != 0) return file_error("cannot write", path, errno);
    writer.name_ = fs::path(target).filename().string();
    if (writer.name_.empty()) return file_error("cannot write", path, EISDIR);
    // A folder into which one may write, but not look, is a folder all the same.
    writer.folder_ = ::open(folder_of(target).c_str(), O_PATH | O_DIRECTORY | O_CLOEXEC);
    if (writer.folder_ < 0) return file_error("cannot write", path, errno);
    if (auto opened = writer.open_beside(exists, info.st_mode, info.st_uid, info.st_gid); !opened) return opened.error();
    return writer;
}

Result<FileWriter> FileWriter::open_in(int folder, const std::string& name, const std::string& path) {
    FileWriter writer(path);
    writer.name_ = name;
    writer.folder_ = ::fcntl(folder, F_DUPFD_CLOEXEC, 0);
    if (writer.folder_ < 0) return file_error("cannot write", path, errno);
    struct stat info {};
    const bool exists = ::fstatat(folder, name.c_str(), &info, AT_SYMLINK_NOFOLLOW) == 0 && S_ISREG(info.st_mode);
    if (exists && ::faccessat(folder, name.c_str(), W_OK, 0) != 0) return file_error("cannot write", path, errno);
    if (auto opened = writer.open_beside(exists, info.st_mode, info.st_uid, info.st_gid); !opened) return opened.error();
    return writer;
}

FileWriter::FileWriter(FileWriter&& other) noexcept
    : path_(std::move(other.path_)),
      name_(std::move(other.name_)),
      part_(std::exchange(other.part_, {})),
      folder_(std::exchange(other.folder_, -1)),
      file_(std::exchange(other.file_, -1)),
      before_(std::exchange(other.before_, -1)),
      in_place_(std::exchange(other.in_place_, false)),
      direct_(other.direct_) {}

FileWriter::~FileWriter() { close_all(); }

void FileWriter::close_all() {
    if (!part_.empty()) ::unlinkat(folder_, part_.c_str(), 0);
    part_.clear();
    for (int* each : {&file_, &before_, &folder_})
        if (*each >= 0) ::close(std::exchange(*each, -1));
}

Result<Done> FileWriter::failed(int system_error) const { return file_error("cannot write", path_, system_error); }

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
    if (::fsync(file_) != 0 && !direct_) return failed(errno);
    // Some file systems tell of a failure only when a file is closed; this one stays open, as its lock is still needed.
    if (const int twin = ::dup(file_); twin >= 0 && ::close(twin) != 0) return failed(errno);
    return Done{};
}

std::size_t FileWriter::bytes() const {
    struct stat info {};
    return ::fstat(file_, &info) == 0 && S_ISREG(info.st_mode) ? static_cast<std::size_t>(info.st_size) : 0;
}

void FileWriter::sync_folder() const {
    // The new name is on the disk only when the folder is.
    if (const int folder = ::openat(folder_, ".", O_RDONLY | O_DIRECTORY | O_CLOEXEC); folder >= 0) {
        ::fsync(folder);
        ::close(folder);
    }
}

Result<Done> FileWriter::finish() {
    if (auto done = sync(); !done) return done;
    if (!direct_) {
        if (::renameat(folder_, part_.c_str(), folder_, name_.c_str()) != 0) return failed(errno);
        part_.clear();
        sync_folder();
    }
    close_all();
    return Done{};
}

Result<Done> FileWriter::take_place() {
    if (direct_) return Done{};
    struct stat info {};
    const bool exists = ::fstatat(folder_, name_.c_str(), &info, AT_SYMLINK_NOFOLLOW) == 0;
    if (exists && S_ISDIR(info.st_mode)) return failed(EISDIR);
    if (!exists) {
        // Not over what has come in between.
        int error = ::renameat2(folder_, part_.c_str(), folder_, name_.c_str(), RENAME_NOREPLACE) == 0 ? 0 : errno;
        if (error == EINVAL || error == ENOSYS)
            error = ::renameat(folder_, part_.c_str(), folder_, name_.c_str()) == 0 ? 0 : errno;
        if (error != 0) return failed(error);
        part_.clear();
        in_place_ = true;
        return Done{};
    }
    // Locked, or another process would take it for a leftover.
    before_ = ::openat(folder_, name_.c_str(), O_RDONLY | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC);
    if (before_ >= 0) ::flock(before_, LOCK_EX | LOCK_NB);
    if (::renameat2(folder_, part_.c_str(), folder_, name_.c_str(), RENAME_EXCHANGE) == 0) {
        in_place_ = true;
        return Done{};
    }
    if (errno != EINVAL && errno != ENOSYS) return failed(errno);
    // A file system that cannot exchange two names: one after the other.
    const std::string aside = part_ + "-before";
    if (::renameat(folder_, name_.c_str(), folder_, aside.c_str()) != 0) return failed(errno);
    if (::renameat(folder_, part_.c_str(), folder_, name_.c_str()) != 0) {
        const int error = errno;
        ::renameat(folder_, aside.c_str(), folder_, name_.c_str());
        return failed(error);
    }
    part_ = aside;
    in_place_ = true;
    return Done{};
}

void FileWriter::settle() {
    if (!direct_) {
        if (!part_.empty()) ::unlinkat(folder_, part_.c_str(), 0);
        part_.clear();
        sync_folder();
    }
    close_all();
}

Result<Done> FileWriter::take_back() {
    if (!in_place_) return Done{};
    in_place_ = false;
    const bool done = part_.empty() ? ::unlinkat(folder_, name_.c_str(), 0) == 0
                                    : ::renameat(folder_, part_.c_str(), folder_, name_.c_str()) == 0;
    if (done) {
        part_.clear();
        return Done{};
    }
    Error error = failed(errno).error();
    // What could not be put back is left where it is rather than lost.
    if (const std::string left = std::exchange(part_, {}); !left.empty()) error.message += "; what was there is called " + left;
    return error;
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
    Result<Done> done{Done{}};
    std::size_t placed = 0;
    for (; placed < files_.size() && done; ++placed) done = files_[placed].take_place();
    if (done) {
        for (FileWriter& file : files_) file.settle();
    } else {
        Error error = done.error();
        for (std::size_t k = placed; k-- > 0;)
            if (const auto back = files_[k].take_back(); !back)
                error.message += "; nor could the file before it be put back, " + back.error().message;
        done = error;
    }
    files_.clear();
    return done;
}

Result<Done> write_file(const std::string& path, std::string_view bytes) {
    auto writer = FileWriter::open(path);
    if (!writer) return writer.error();
    if (auto written = writer->write(bytes); !written) return written;
    return writer->finish();
}

}  // namespace loom
