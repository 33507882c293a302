// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <new>

#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/colour/colour.h"
#include "core/files/picture_codec.h"
#include "core/files/png.h"
#include "core/recipe/export_preset.h"

namespace loom {

namespace {

constexpr std::size_t greatest_file = std::size_t{4} << 30;

}  // namespace

std::optional<PictureFormat> format_of_path(std::string_view path) {
    const auto dot = path.rfind('.');
    if (dot == std::string_view::npos) return std::nullopt;
    std::string extension(path.substr(dot + 1));
    std::transform(extension.begin(), extension.end(), extension.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (extension == "jpeg") extension = "jpg";
    if (extension == "tiff") extension = "tif";
    for (const PictureFormatInfo& info : picture_format_table)
        if (info.extension == extension) return info.format;
    return std::nullopt;
}

namespace {

Bundle picture_from(const RawPicture& raw) {
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

/// Reads a file of any kind: PNG here, all others through the library that is loaded for them; an error if that failed.
template <class Png, class Other>
std::optional<Error> decoded(std::string_view file, Png&& png, Other&& other) {
    CodecFailure failure;
    if (is_png(file)) {
        failure = png();
    } else {
        const auto codec = picture_codec();
        if (!codec) return codec.error();
        failure = other(**codec);
    }
    if (failure) return Error{Fault::file, failure.words};
    return std::nullopt;
}

}  // namespace

Result<Bundle> decode_picture(std::string_view file) {
    try {
        RawPicture raw;
        const auto error = decoded(
            file, [&] { return read_png(file, greatest_picture, raw); },
            [&](auto& codec) { return codec.read(file, greatest_picture, raw); });
        if (error) return *error;
        return picture_from(raw);
    } catch (const std::bad_alloc&) {
        return Error{Fault::memory, "it does not fit into memory; use a smaller picture"};
    }
}

Result<Size> decode_size(std::string_view file, int greatest) {
    Size size;
    const auto error = decoded(
        file, [&] { return png_size(file, greatest, size); }, [&](auto& codec) { return codec.size(file, greatest, size); });
    if (error) return *error;
    return size;
}

Result<Bundle> read_picture(const std::string& path) {
    const auto file = read_file(path, greatest_file);
    if (!file) return file.error();
    auto picture = decode_picture(*file);
    if (!picture) return Error{picture.error().fault, "cannot read '" + path + "': " + picture.error().message};
    return picture;
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
    // Screens show colours.
    if (small.grey()) small.colour = {small.colour[0], small.colour[0], small.colour[0]};
    auto writer = PictureWriter::open(small.size(), PictureFormat::png, Meaning::colour);
    if (!writer) return writer.error();
    if (auto done = writer->add(small); !done) return done.error();
    if (auto done = writer->finish(); !done) return done.error();
    return writer->taken();
}

std::string picture_name(std::string_view recipe_name, std::string_view map, PictureFormat format) {
    return file_word(recipe_name) + "-" + std::string(map) + "." + std::string(extension_of(format));
}

}  // namespace loom
