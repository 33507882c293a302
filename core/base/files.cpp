// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/files.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>

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

Result<Done> write_file(const std::string& path, std::string_view bytes) {
    return replace_file(path, [&](const std::string& temporary) -> Result<Done> {
        std::FILE* file = std::fopen(temporary.c_str(), "wb");
        if (!file) return file_error("cannot write", path, errno);
        const bool written = std::fwrite(bytes.data(), 1, bytes.size(), file) == bytes.size() && std::fflush(file) == 0;
        const int error = errno;
        const bool closed = std::fclose(file) == 0;
        if (!written || !closed) return file_error("cannot write", path, written ? errno : error);
        return Done{};
    });
}

Result<Done> replace_file(const std::string& path, const std::function<Result<Done>(const std::string&)>& fill) {
    const fs::path target(path);
    const fs::path folder = target.has_parent_path() ? target.parent_path() : fs::path(".");
    if (fs::is_directory(target)) return file_error("cannot write", path, EISDIR);
    if (::access(folder.c_str(), W_OK) != 0) return file_error("cannot write", path, errno);
    std::string name(".");
    name.append(target.stem().string()).append(".part-").append(std::to_string(::getpid())).append(target.extension().string());
    const fs::path temporary = folder / name;
    auto filled = fill(temporary.string());
    std::error_code ignored;
    if (!filled) {
        fs::remove(temporary, ignored);
        return filled;
    }
    // On the disk before it takes the old file's place.
    const int handle = ::open(temporary.c_str(), O_RDONLY);
    const bool synced = handle >= 0 && ::fsync(handle) == 0;
    const int error = errno;
    if (handle >= 0) ::close(handle);
    if (!synced || ::rename(temporary.c_str(), target.c_str()) != 0) {
        const int reason = synced ? errno : error;
        fs::remove(temporary, ignored);
        return file_error("cannot write", path, reason);
    }
    return Done{};
}

}  // namespace loom
