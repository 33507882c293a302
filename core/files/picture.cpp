// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <filesystem>

#include "core/base/files.h"
#include "core/colour/colour.h"

namespace loom {

namespace {

struct FormatRow {
    std::string_view id, extension;
};
constexpr FormatRow rows[] = {{"png", "png"}, {"png16", "png"}, {"tiff", "tif"}, {"exr", "exr"}, {"jpg", "jpg"}, {"webp", "webp"}};

std::string one_line(std::string text) {
    std::replace(text.begin(), text.end(), '\n', ' ');
    while (!text.empty() && text.back() == ' ') text.pop_back();
    return text;
}

Error unreadable(const std::string& path, const std::string& why) { return {Fault::file, "cannot read '" + path + "': " + why}; }

/// Straight channels, interleaved. Alpha last if there is coverage.
std::vector<float> interleaved(const Bundle& picture, bool linear, bool over_white) {
    const int colours = picture.grey() ? 1 : 3;
    const bool alpha = picture.coverage && !over_white;
    const auto channels = static_cast<std::size_t>(colours + (alpha ? 1 : 0));
    std::vector<float> pixels(picture.size().pixels() * channels);
    for (std::size_t i = 0; i < picture.size().pixels(); ++i) {
        const float cover = picture.coverage ? picture.coverage->data()[i] : 1.0f;
        for (int c = 0; c < colours; ++c) {
            float value = picture.channel(c).data()[i];
            if (over_white) value += 1 - cover;
            // EXR keeps alpha premultiplied; all others want it straight.
            else if (picture.coverage && !linear) value = cover > 0 ? value / cover : 0.0f;
            else if (linear) value = cover > 0 ? to_linear(value / cover) * cover : 0.0f;
            pixels[i * channels + static_cast<std::size_t>(c)] = value;
        }
        if (alpha) pixels[i * channels + channels - 1] = cover;
    }
    return pixels;
}

OIIO::TypeDesc depth_of(PictureFormat format) {
    switch (format) {
        case PictureFormat::png16:
        case PictureFormat::tiff: return OIIO::TypeDesc::UINT16;
        case PictureFormat::exr: return OIIO::TypeDesc::HALF;
        case PictureFormat::png:
        case PictureFormat::jpg:
        case PictureFormat::webp: break;
    }
    return OIIO::TypeDesc::UINT8;
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
    std::transform(extension.begin(), extension.end(), extension.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
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
    const auto input = OIIO::ImageInput::open(path);
    if (!input) {
        (void)OIIO::geterror();
        return unreadable(path, "it is no picture of a kind that can be read (PNG, TIFF, EXR, JPEG, WebP)");
    }
    const OIIO::ImageSpec& spec = input->spec();
    if (spec.width < 1 || spec.height < 1 || spec.width > greatest_picture || spec.height > greatest_picture)
        return unreadable(path, "it has " + std::to_string(spec.width) + "x" + std::to_string(spec.height) + " pixels; at most " +
                                    std::to_string(greatest_picture) + " on a side can be read");
    const int channels = spec.nchannels;
    const bool linear = spec.get_string_attribute("oiio:ColorSpace") == "Linear" || std::string_view(input->format_name()) == "openexr";
    std::vector<float> pixels;
    try {
        pixels.resize(static_cast<std::size_t>(spec.width) * static_cast<std::size_t>(spec.height) * static_cast<std::size_t>(channels));
    } catch (const std::bad_alloc&) {
        return Error{Fault::memory, "'" + path + "' does not fit into memory; use a smaller picture"};
    }
    if (!input->read_image(0, 0, 0, channels, OIIO::TypeDesc::FLOAT, pixels.data()))
        return unreadable(path, "the picture is damaged: " + one_line(input->geterror()));
    const Size size{spec.width, spec.height};
    const int colours = channels >= 3 ? 3 : 1;
    const int alpha = channels == 2 ? 1 : channels >= 4 ? 3 : -1;
    // Formats differ in what they store, but OpenImageIO hands alpha out premultiplied.
    Bundle picture;
    for (int c = 0; c < colours; ++c) {
        Plane plane(size);
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const auto at = i * static_cast<std::size_t>(channels);
            float value = pixels[at + static_cast<std::size_t>(c)];
            if (!std::isfinite(value)) value = 0;
            if (linear) {
                const float cover = alpha < 0 ? 1.0f : pixels[at + static_cast<std::size_t>(alpha)];
                value = cover > 0 ? to_encoded(value / cover) * cover : 0.0f;
            }
            plane.data()[i] = value;
        }
        picture.colour.push_back(share(std::move(plane)));
    }
    if (alpha >= 0) {
        Plane cover(size);
        for (std::size_t i = 0; i < size.pixels(); ++i)
            cover.data()[i] = std::clamp(pixels[i * static_cast<std::size_t>(channels) + static_cast<std::size_t>(alpha)], 0.0f, 1.0f);
        picture.coverage = share(std::move(cover));
    }
    return picture;
}

Result<Done> write_picture(const std::string& path, const Bundle& picture, PictureFormat format, bool data) {
    const Size size = picture.size();
    const bool over_white = format == PictureFormat::jpg;
    const bool linear = format == PictureFormat::exr && !data;
    const std::vector<float> pixels = interleaved(picture, linear, over_white);
    const int channels = static_cast<int>(pixels.size() / size.pixels());
    return replace_file(path, [&](const std::string& temporary) -> Result<Done> {
        const auto output = OIIO::ImageOutput::create(temporary);
        if (!output) {
            (void)OIIO::geterror();
            return Error{Fault::file, "cannot write '" + path + "': this machine cannot write that format"};
        }
        OIIO::ImageSpec spec(size.width, size.height, channels, depth_of(format));
        spec.attribute("oiio:ColorSpace", data ? "Raw" : linear ? "Linear" : "sRGB");
        // Pixels are straight except in EXR, whose alpha is premultiplied by definition.
        if (format != PictureFormat::exr) spec.attribute("oiio:UnassociatedAlpha", 1);
        if (channels == 2) spec.channelnames = {"Y", "A"}, spec.alpha_channel = 1;
        // Noise hardly shrinks further at higher levels, which take several times as long.
        spec.attribute("png:compressionLevel", 2);
        if (format == PictureFormat::jpg) spec.attribute("Compression", "jpeg:95");
        if (format == PictureFormat::webp) spec.attribute("Compression", "webp:95");
        if (format == PictureFormat::tiff) spec.attribute("Compression", "zip");
        spec.attribute("Software", "Keen Loom");
        const bool written = output->open(temporary, spec) && output->write_image(OIIO::TypeDesc::FLOAT, pixels.data());
        const bool closed = output->close();
        if (written && closed) return Done{};
        const int reason = errno;
        const std::string words = one_line(output->geterror());
        if (reason == ENOSPC || reason == EACCES) return file_error("cannot write", path, reason);
        return Error{Fault::file, "cannot write '" + path + "': " + (words.empty() ? "the disk may be full" : words)};
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
        small = resized(picture, {std::max(1, static_cast<int>(size.width * scale)), std::max(1, static_cast<int>(size.height * scale))});
    }
    const int channels = picture.coverage ? 4 : 3;
    const auto bytes = to_bytes(small, channels);
    std::vector<unsigned char> file;
    OIIO::Filesystem::IOVecOutput memory(file);
    const auto output = OIIO::ImageOutput::create("preview.png");
    OIIO::ImageSpec spec(small.size().width, small.size().height, channels, OIIO::TypeDesc::UINT8);
    spec.attribute("oiio:ColorSpace", "sRGB");
    spec.attribute("oiio:UnassociatedAlpha", 1);
    if (!output || !output->set_ioproxy(&memory) || !output->open("preview.png", spec) || !output->write_image(OIIO::TypeDesc::UINT8, bytes.data()) ||
        !output->close())
        return Error{Fault::file, "cannot make a preview: " + (output ? one_line(output->geterror()) : std::string("no PNG writer"))};
    return std::string(file.begin(), file.end());
}

std::string picture_name(std::string_view recipe_name, std::string_view map, PictureFormat format) {
    std::string name;
    for (char c : recipe_name) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte >= 128 || std::isalnum(byte)) name += static_cast<char>(byte < 128 ? std::tolower(byte) : c);
        else if (!name.empty() && name.back() != '-' && c != '\'') name += '-';
    }
    while (!name.empty() && name.back() == '-') name.pop_back();
    if (name.empty()) name = "untitled";
    return name + "-" + std::string(map) + "." + std::string(extension_of(format));
}

}  // namespace loom
