// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/kept_picture.h"

#include <algorithm>
#include <cctype>

#include "core/base/files.h"
#include "core/files/kept_drawing.h"
#include "core/files/picture.h"
#include "core/files/picture_codec.h"

namespace loom {

namespace {

class Reader final : public PictureReader {
public:
    Result<Size> size_of(const std::string& bytes) const override {
        auto size = decode_size(bytes, greatest_picture);
        return size ? size : Result<Size>(kept_error(size.error()));
    }
    Result<Bundle> read(const std::string& bytes, const Job& job) const override {
        auto picture = decode_picture(bytes, job);
        return picture ? std::move(picture) : Result<Bundle>(kept_error(picture.error()));
    }

    Result<std::shared_ptr<const ReadDrawing>> drawing(std::shared_ptr<const std::string> svg, const Job& job) const override {
        return kept_drawing(std::move(svg), job);
    }

private:
    static Error kept_error(const Error& error) {
        return {error.fault, "a picture in the recipe cannot be read: " + error.message};
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
    auto bytes = read_file(path, most_kept_bytes);
    if (!bytes) return bytes;
    // The head is looked at first: a large picture is refused before it is unpacked.
    const auto size = decode_size(*bytes, greatest_picture);
    if (!size) return Error{size.error().fault, "cannot keep '" + path + "': " + size.error().message};
    const auto picture = decode_picture(*bytes);
    if (!picture) return Error{picture.error().fault, "cannot read '" + path + "': " + picture.error().message};
    return bytes;
}

Result<std::string> read_kept_drawing(const std::string& path) {
    auto bytes = read_file(path, most_drawing_bytes);
    if (!bytes) return bytes;
    const auto codec = picture_codec();
    if (!codec) return codec.error();
    CodecFailure failure;
    (void)(*codec)->drawing(*bytes, failure);
    if (failure) return Error{Fault::file, "cannot keep '" + path + "': " + failure.words};
    return bytes;
}

const PictureReader& picture_reader() {
    static const Reader reader;
    return reader;
}

}  // namespace loom
