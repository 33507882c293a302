// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The kinds of picture files that are written, said once: recipe files, the writers, the command line and export follow from this
// table.
#pragma once

#include <iterator>
#include <optional>
#include <string>
#include <string_view>

namespace loom {

/// Pixels on a side of any picture, in and out: rendered, written, read or kept. Beyond it a plane's pixels are more than have
/// been tried with every step.
constexpr int greatest_picture = 16384;

enum class PictureFormat { png, png16, tiff, exr, exr_float, jpg, webp };

struct PictureFormatInfo {
    PictureFormat format;
    std::string_view id, extension, title;  ///< extension without the dot
    int bits;                               ///< of a sample
    bool linear;                            ///< colour is written in linear light
};

constexpr PictureFormatInfo picture_format_table[] = {
    {PictureFormat::png, "png", "png", "PNG, 8 bit", 8, false},
    {PictureFormat::png16, "png16", "png", "PNG, 16 bit", 16, false},
    {PictureFormat::tiff, "tiff", "tif", "TIFF, 16 bit", 16, false},
    {PictureFormat::exr, "exr", "exr", "EXR, half", 16, true},
    {PictureFormat::exr_float, "exr-float", "exr", "EXR, float", 32, true},
    {PictureFormat::jpg, "jpg", "jpg", "JPEG", 8, false},
    {PictureFormat::webp, "webp", "webp", "WebP", 8, false},
};

constexpr const PictureFormatInfo& picture_format_info(PictureFormat format) {
    return picture_format_table[static_cast<std::size_t>(format)];
}
constexpr std::string_view picture_format_id(PictureFormat format) { return picture_format_info(format).id; }
/// What kind of picture a file is that begins so, as people call it; "" for what is none we know. 16 bytes tell.
constexpr std::string_view picture_kind(std::string_view start) {
    using namespace std::string_view_literals;
    constexpr std::pair<std::string_view, std::string_view> kinds[] = {{"\x89PNG\r\n\x1a\n"sv, "PNG"},
                                                                       {"\xff\xd8\xff"sv, "JPEG"},
                                                                       {"II*\0"sv, "TIFF"},
                                                                       {"MM\0*"sv, "TIFF"},
                                                                       {"II+\0"sv, "TIFF"},
                                                                       {"MM\0+"sv, "TIFF"},
                                                                       {"GIF8"sv, "GIF"},
                                                                       {"\x76\x2f\x31\x01"sv, "EXR"},
                                                                       {"\0\0\0\x0cjP  "sv, "JPEG 2000"},
                                                                       {"qoif"sv, "QOI"}};
    for (const auto& [head, kind] : kinds)
        if (start.starts_with(head)) return kind;
    return start.starts_with("RIFF") && start.size() >= 12 && start.substr(8, 4) == "WEBP" ? "WebP"sv : ""sv;
}

constexpr std::string_view extension_of(PictureFormat format) { return picture_format_info(format).extension; }

constexpr std::optional<PictureFormat> find_picture_format(std::string_view id) {
    for (const PictureFormatInfo& info : picture_format_table)
        if (info.id == id) return info.format;
    return std::nullopt;
}

/// "png, png16, tiff, ...": for messages.
inline std::string picture_format_ids() {
    std::string ids;
    for (const PictureFormatInfo& info : picture_format_table) {
        if (!ids.empty()) ids += ", ";
        ids += info.id;
    }
    return ids;
}

}  // namespace loom
