// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <filesystem>

#include "core/base/files.h"
#include "core/colour/colour.h"
#include "core/files/picture_codec.h"

namespace loom {

namespace {

struct FormatRow {
    std::string_view id, extension;
};
constexpr FormatRow rows[] = {{"png", "png"}, {"png16", "png"}, {"tiff", "tif"},
                              {"exr", "exr"}, {"jpg", "jpg"},   {"webp", "webp"}};

Error unreadable(const std::string& path, const std::string& why) { return {Fault::file, "cannot read '" + path + "': " + why}; }

/// Straight channels, interleaved. Alpha last if there is coverage.
std::vector<float> interleaved(const Bundle& picture, bool linear, bool over_white, bool always_colour) {
    const int colours = picture.grey() && !always_colour ? 1 : 3;
    const bool alpha = picture.coverage && !over_white;
    const auto channels = static_cast<std::size_t>(colours + (alpha ? 1 : 0));
    std::vector<float> pixels(picture.size().pixels() * channels);
    for (std::size_t i = 0; i < picture.size().pixels(); ++i) {
        const float cover = picture.coverage ? picture.coverage->data()[i] : 1.0f;
        for (int c = 0; c < colours; ++c) {
            float value = picture.channel(c).data()[i];
            if (over_white) value += 1 - cover;
            // EXR keeps alpha premultiplied; all others want it straight.
            else if (picture.coverage && !linear)
                value = cover > 0 ? value / cover : 0.0f;
            else if (linear)
                value = cover > 0 ? to_linear(value / cover) * cover : 0.0f;
            pixels[i * channels + static_cast<std::size_t>(c)] = value;
        }
        if (alpha) pixels[i * channels + channels - 1] = cover;
    }
    return pixels;
}

}  // namespace

std::string_view picture_format_id(PictureFormat format) { return rows[static_cast<std::size_t>(format)].id; }
std::string_view extension_of(PictureFormat format) { return rows[static_cast<std::size_t>(format)].extension; }

std::optional<PictureFormat> find_picture_format(std::string_view id) {
    for (PictureFormat format : all_picture_formats)
        if (picture_format_id(format) == id) return format;
    return std::nullopt;
}

std::optional<PictureFormat> format_of_path(std::string_view path) {
    const auto dot = path.rfind('.');
    if (dot == std::string_view::npos) return std::nullopt;
    std::string extension(path.substr(dot + 1));
    std::transform(extension.begin(), extension.end(), extension.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (extension == "jpeg") extension = "jpg";
    if (extension == "tiff") extension = "tif";
    for (PictureFormat format : all_picture_formats)
        if (extension_of(format) == extension) return format;
    return std::nullopt;
}

Result<Bundle> read_picture(const std::string& path) {
    std::error_code error;
    if (!std::filesystem::exists(path, error)) return file_error("cannot read", path, ENOENT);
    if (std::filesystem::is_directory(path, error)) return file_error("cannot read", path, EISDIR);
    const auto codec = picture_codec();
    if (!codec) return codec.error();
    RawPicture raw;
    try {
        if (const CodecFailure failure = (*codec)->read(path, greatest_picture, raw)) return unreadable(path, failure.words);
    } catch (const std::bad_alloc&) {
        return Error{Fault::memory, "'" + path + "' does not fit into memory; use a smaller picture"};
    }
    const auto channels = static_cast<std::size_t>(raw.channels);
    const int colours = raw.channels >= 3 ? 3 : 1;
    const int alpha = raw.channels == 2 ? 1 : raw.channels >= 4 ? 3 : -1;
    auto cover_at = [&](std::size_t i) {
        return alpha < 0 ? 1.0f : std::clamp(raw.pixels[i * channels + static_cast<std::size_t>(alpha)], 0.0f, 1.0f);
    };
    Bundle picture;
    for (int c = 0; c < colours; ++c) {
        Plane plane(raw.size);
        for (std::size_t i = 0; i < raw.size.pixels(); ++i) {
            float value = raw.pixels[i * channels + static_cast<std::size_t>(c)];
            if (!std::isfinite(value)) value = 0;
            if (raw.linear) value = cover_at(i) > 0 ? to_encoded(value / cover_at(i)) * cover_at(i) : 0.0f;
            plane.data()[i] = value;
        }
        picture.colour.push_back(share(std::move(plane)));
    }
    if (alpha >= 0) {
        Plane cover(raw.size);
        for (std::size_t i = 0; i < raw.size.pixels(); ++i) cover.data()[i] = cover_at(i);
        picture.coverage = share(std::move(cover));
    }
    return picture;
}

Result<Done> write_picture(const std::string& path, const Bundle& picture, PictureFormat format, bool data) {
    const auto codec = picture_codec();
    if (!codec) return codec.error();
    const bool linear = format == PictureFormat::exr && !data;
    RawPicture raw;
    raw.size = picture.size();
    // WebP knows no grey.
    raw.pixels = interleaved(picture, linear, format == PictureFormat::jpg, format == PictureFormat::webp);
    raw.channels = static_cast<int>(raw.pixels.size() / raw.size.pixels());
    return replace_file(path, [&](const std::string& temporary) -> Result<Done> {
        const CodecFailure failure = (*codec)->write(temporary, raw, format,
                                                     data     ? ColourMark::data
                                                     : linear ? ColourMark::linear
                                                              : ColourMark::srgb);
        if (failure.system_error != 0) return file_error("cannot write", path, failure.system_error);
        if (failure) return Error{Fault::file, "cannot write '" + path + "': " + failure.words};
        return Done{};
    });
}

std::vector<unsigned char> to_bytes(const Bundle& picture, int channels) {
    const std::size_t count = picture.size().pixels();
    std::vector<unsigned char> bytes(count * static_cast<std::size_t>(channels));
    const float* cover = picture.coverage ? picture.coverage->data() : nullptr;
    for (int c = 0; c < channels; ++c) {
        const float* plane = c < 3 ? picture.channel(c).data() : cover;
        unsigned char* out = bytes.data() + c;
        for (std::size_t i = 0; i < count; ++i, out += channels) {
            float value = plane ? plane[i] : 1.0f;
            if (c < 3 && cover) value = cover[i] > 0 ? value / cover[i] : 0.0f;
            *out = static_cast<unsigned char>(std::clamp(value * 255.0f + 0.5f, 0.0f, 255.0f));
        }
    }
    return bytes;
}

Result<std::string> encode_preview(const Bundle& picture, int longest) {
    Bundle small = picture;
    const Size size = picture.size();
    if (std::max(size.width, size.height) > longest) {
        const double scale = static_cast<double>(longest) / std::max(size.width, size.height);
        small = resized(picture,
                        {std::max(1, static_cast<int>(size.width * scale)), std::max(1, static_cast<int>(size.height * scale))});
    }
    const int channels = picture.coverage ? 4 : 3;
    const auto bytes = to_bytes(small, channels);
    const auto codec = picture_codec();
    if (!codec) return codec.error();
    std::string file;
    if (const CodecFailure failure = (*codec)->png(small.size(), channels, bytes, file))
        return Error{Fault::file, "cannot make a preview: " + failure.words};
    return file;
}

std::string picture_name(std::string_view recipe_name, std::string_view map, PictureFormat format) {
    std::string name;
    for (char c : recipe_name) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte >= 128 || std::isalnum(byte))
            name += static_cast<char>(byte < 128 ? std::tolower(byte) : c);
        else if (!name.empty() && name.back() != '-' && c != '\'')
            name += '-';
    }
    while (!name.empty() && name.back() == '-') name.pop_back();
    if (name.empty()) name = "untitled";
    return name + "-" + std::string(map) + "." + std::string(extension_of(format));
}

}  // namespace loom
