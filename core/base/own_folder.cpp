// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/own_folder.h"

#include <dirent.h>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>

#include "core/base/files.h"

namespace loom {

std::string plain_name_fault(std::string_view name) {
    if (name.empty()) return "it is empty";
    if (name.front() == '.') return "it begins with a dot";
    if (name.size() > 255) return "it is longer than 255 bytes";
    for (char c : name) {
        if (c == '/' || c == '\\') return "it leads into another folder";
        if (static_cast<unsigned char>(c) < 32 || c == 127) return "it has control characters";
    }
    return {};
}

std::string name_in_words(std::string_view name) {
    std::string words(name.substr(0, 120));
    for (char& c : words)
        if (static_cast<unsigned char>(c) < 32 || c == 127) c = '?';
    return name.size() > 120 ? words + "..." : words;
}

OwnFolder::OwnFolder(std::string path, int file)
    : path_(std::move(path)), file_(new int(file), [](const int* held) {
          ::close(*held);
          delete held;
      }) {}

Result<OwnFolder> OwnFolder::open(const std::string& path) {
    const int file = ::open(path.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (file < 0) return file_error("cannot open", path, errno);
    return OwnFolder(path, file);
}

namespace {

Error refused(const char* what, const std::string& path) {
    return {Fault::file, std::string(what) + " '" + path +
                             "': it is a link or no ordinary file, and could lead out of the folder; put the file itself there"};
}

}  // namespace

Result<OwnFolder> OwnFolder::folder(const std::string& name, bool make) const {
    if (make && ::mkdirat(*file_, name.c_str(), 0777) != 0 && errno != EEXIST)
        return file_error("cannot write", path_of(name), errno);
    const int file = ::openat(*file_, name.c_str(), O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC);
    if (file >= 0) return OwnFolder(path_of(name), file);
    if (there(name) == There::other) return refused("cannot open", path_of(name));
    return file_error("cannot open", path_of(name), errno);
}

OwnFolder::There OwnFolder::there(const std::string& name) const {
    struct stat info {};
    if (::fstatat(*file_, name.c_str(), &info, AT_SYMLINK_NOFOLLOW) != 0) return There::nothing;
    return S_ISREG(info.st_mode) ? There::file : S_ISDIR(info.st_mode) ? There::folder : There::other;
}

std::size_t OwnFolder::bytes_of(const std::string& name) const {
    struct stat info {};
    const bool file = ::fstatat(*file_, name.c_str(), &info, AT_SYMLINK_NOFOLLOW) == 0 && S_ISREG(info.st_mode);
    return file ? static_cast<std::size_t>(info.st_size) : 0;
}

Result<std::vector<std::string>> OwnFolder::names() const {
    // The stream closes what it is given, and begins where that stands.
    const int twin = ::openat(*file_, ".", O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    DIR* stream = twin < 0 ? nullptr : ::fdopendir(twin);
    if (!stream) return file_error("cannot read", path_, errno);
    std::vector<std::string> names;
    while (const dirent* entry = ::readdir(stream))
        if (entry->d_name[0] != '.') names.emplace_back(entry->d_name);
    ::closedir(stream);
    std::sort(names.begin(), names.end());
    return names;
}

Result<std::string> OwnFolder::read(const std::string& name, std::size_t most_bytes) const {
    if (const std::string fault = plain_name_fault(name); !fault.empty())
        return Error{Fault::file, "cannot read '" + name_in_words(path_of(name)) + "': its name is not allowed here, " + fault};
    if (there(name) == There::other) return refused("cannot read", path_of(name));
    // Not waiting for whoever writes into a pipe that has just taken the file's place.
    const int file = ::openat(*file_, name.c_str(), O_RDONLY | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC);
    if (file < 0) return errno == ELOOP ? refused("cannot read", path_of(name)) : file_error("cannot read", path_of(name), errno);
    struct stat info {};
    if (::fstat(file, &info) != 0 || !S_ISREG(info.st_mode)) {
        ::close(file);
        return S_ISDIR(info.st_mode) ? file_error("cannot read", path_of(name), EISDIR) : refused("cannot read", path_of(name));
    }
    return read_open_file(file, path_of(name), most_bytes);
}

Result<Done> OwnFolder::write(const std::string& name, std::string_view bytes) const {
    if (const std::string fault = plain_name_fault(name); !fault.empty())
        return Error{Fault::file, "cannot write '" + name_in_words(path_of(name)) + "': its name is not allowed here, " + fault};
    if (there(name) == There::other) return refused("cannot write", path_of(name));
    auto writer = FileWriter::open_in(*file_, name, path_of(name));
    if (!writer) return writer.error();
    if (auto written = writer->write(bytes); !written) return written;
    return writer->finish();
}

void OwnFolder::remove(const std::string& name) const {
    if (plain_name_fault(name).empty()) ::unlinkat(*file_, name.c_str(), 0);
}

}  // namespace loom
