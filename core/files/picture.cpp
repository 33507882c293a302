// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <new>

#include "core/base/answering.h"
#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/base/quick_math.h"
#include "core/colour/colour.h"
#include "core/files/exif.h"
#include "core/files/picture_builder.h"
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

Result<Bundle> decode_picture(std::string_view file, const Job& job) {
    takes_its_time("decoding a picture");
    return guarded("decoding a picture", [&]() -> Result<Bundle> {
        PictureBuilder builder(job);
        const auto error = decoded(
            file, [&] { return read_png(file, greatest_picture, builder); },
            [&](auto& codec) { return codec.read(file, greatest_picture, builder); });
        if (builder.error()) return *builder.error();
        if (error) return *error;
        return std::move(builder).picture();
    });
}

Result<Size> decode_size(std::string_view file, int greatest) {
    PictureHead head;
    const auto error = decoded(
        file, [&] { return png_head(file, greatest, head); }, [&](auto& codec) { return codec.head(file, greatest, head); });
    if (error) return *error;
    return upright(head.size, head.orientation);
}

Result<Bundle> read_picture(const std::string& path, const Job& job) {
    const auto file = read_file(path, greatest_file);
    if (!file) return file.error();
    auto picture = decode_picture(*file, job);
    if (!picture && picture.error().fault != Fault::cancelled)
        return Error{picture.error().fault, "cannot read '" + path + "': " + picture.error().message};
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
            *out = static_cast<unsigned char>(within(value * 255.0f + 0.5f, 0.0f, 255.0f));
        }
    }
    return bytes;
}

Result<std::string> encode_preview(const Bundle& picture, int longest) {
    takes_its_time("packing a picture");
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
