// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/kept_picture.h"

#include <sys/mman.h>
#include <unistd.h>

#include <algorithm>
#include <cctype>
#include <cerrno>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/files/picture_codec.h"

namespace loom {

namespace {

/// Bytes as a file in memory, for libraries that read files.
class MemoryFile {
public:
    explicit MemoryFile(const std::string& bytes) : file_(::memfd_create("picture", MFD_CLOEXEC)) {
        for (std::size_t done = 0; file_ >= 0 && done < bytes.size();) {
            const ssize_t count = ::write(file_, bytes.data() + done, bytes.size() - done);
            if (count <= 0) return;
            done += static_cast<std::size_t>(count);
        }
    }
    ~MemoryFile() {
        if (file_ >= 0) ::close(file_);
    }
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;
    std::string path() const { return "/proc/self/fd/" + std::to_string(file_); }

private:
    int file_;
};

/// The message without the path of the memory file, which says nothing to people.
Error kept_error(Fault fault, const std::string& words) { return {fault, "a picture in the recipe cannot be read: " + words}; }

class Reader final : public PictureReader {
public:
    Result<Size> size_of(const std::string& bytes) const override {
        const auto codec = picture_codec();
        if (!codec) return codec.error();
        const MemoryFile file(bytes);
        Size size;
        if (const CodecFailure failure = (*codec)->size(file.path(), greatest_kept_picture, size))
            return kept_error(Fault::file, failure.words);
        return size;
    }
    Result<Bundle> read(const std::string& bytes) const override {
        const MemoryFile file(bytes);
        auto picture = read_picture(file.path());
        if (picture) return picture;
        const std::string& words = picture.error().message;
        const auto colon = words.find("': ");
        return kept_error(picture.error().fault, colon == std::string::npos ? words : words.substr(colon + 3));
    }
};

}  // namespace

std::string extension_in(const std::string& path) {
    const auto dot = path.rfind('.');
    std::string extension =
        dot == std::string::npos || path.find('/', dot) != std::string::npos ? "picture" : path.substr(dot + 1);
    std::transform(extension.begin(), extension.end(), extension.begin(),
                   [](unsigned char c) { return std::isalnum(c) ? static_cast<char>(std::tolower(c)) : '-'; });
    return extension.empty() ? "picture" : extension;
}

Result<std::string> read_kept_picture(const std::string& path) {
    // The head is looked at first: a large picture is refused before it is read.
    const auto codec = picture_codec();
    if (!codec) return codec.error();
    auto bytes = read_file(path, most_kept_bytes);
    if (!bytes) return bytes.error();
    Size size;
    if (const CodecFailure failure = (*codec)->size(path, greatest_kept_picture, size))
        return Error{Fault::file, "cannot keep '" + path + "': " + failure.words};
    const auto picture = read_picture(path);
    if (!picture) return picture.error();
    return bytes;
}

const PictureReader& picture_reader() {
    static const Reader reader;
    return reader;
}

}  // namespace loom
