// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/kept_picture.h"

#include <algorithm>
#include <cctype>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/files/picture_codec.h"

namespace loom {

namespace {

class Reader final : public PictureReader {
public:
    Result<Size> size_of(const std::string& bytes) const override {
        auto size = decode_size(bytes, greatest_kept_picture);
        return size ? size : Result<Size>(kept_error(size.error()));
    }
    Result<Bundle> read(const std::string& bytes) const override {
        auto picture = decode_picture(bytes);
        return picture ? std::move(picture) : Result<Bundle>(kept_error(picture.error()));
    }

    Result<DrawingSize> drawing_size(const std::string& svg) const override {
        DrawingSize size;
        const auto codec = picture_codec();
        if (!codec) return codec.error();
        if (const CodecFailure failure = (*codec)->drawing_size(svg, size)) return drawing_error(failure);
        return size;
    }
    Result<Plane> drawn(const std::string& svg, const Affine& placing, const std::vector<std::pair<int, int>>& copies, Size size,
                        Rows rows, const Job& job) const override {
        const auto codec = picture_codec();
        if (!codec) return codec.error();
        Plane plane(size, rows, 0.0f);
        // A strip at a time: small in memory, and cancelled between two of them.
        constexpr int strip = 512;
        for (int first = 0; first < rows.count; first += strip) {
            job.check();
            const int count = std::min(strip, rows.count - first), y = wrap(rows.first + first, size.height);
            for (int done = 0; done < count;) {
                const int from = wrap(y + done, size.height), part = std::min(count - done, size.height - from);
                if (const CodecFailure failure = (*codec)->draw(svg, placing, copies, size.width, {from, part}, plane.row(from)))
                    return drawing_error(failure);
                done += part;
            }
        }
        return plane;
    }

private:
    static Error drawing_error(const CodecFailure& failure) {
        return {Fault::file, "a drawing in the recipe cannot be read: " + failure.words};
    }
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
    const auto size = decode_size(*bytes, greatest_kept_picture);
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
    DrawingSize size;
    if (const CodecFailure failure = (*codec)->drawing_size(*bytes, size))
        return Error{Fault::file, "cannot keep '" + path + "': " + failure.words};
    return bytes;
}

const PictureReader& picture_reader() {
    static const Reader reader;
    return reader;
}

}  // namespace loom
