// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "batch/options.h"

#include <charconv>
#include <cmath>
#include <cstdio>

#include "core/base/draft.h"
#include "core/files/wif.h"
#include "core/render/render.h"

namespace loom::batch {

Error call_error(std::string message) { return {Fault::call, std::move(message)}; }

Result<std::pair<std::string, std::string>> split_assignment(std::string_view text, std::string_view what) {
    const auto equals = text.find('=');
    if (equals == std::string_view::npos || equals == 0)
        return call_error(std::string(what) + " '" + std::string(text) + "' must be written NAME=VALUE");
    return std::pair{std::string(text.substr(0, equals)), std::string(text.substr(equals + 1))};
}

namespace {

bool parse_whole(std::string_view text, long long& number) {
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    return error == std::errc() && end == text.data() + text.size();
}

}  // namespace

Result<Size> parse_size(std::string_view text, const Tile& tile) {
    if (text.empty()) return tile.size();
    const auto cross = text.find('x');
    long long first = 0, second = 0;
    const bool one = cross == std::string_view::npos;
    if (!parse_whole(text.substr(0, cross), first) || (!one && !parse_whole(text.substr(cross + 1), second)))
        return call_error("--size '" + std::string(text) + "' must be a number of pixels such as 1024, or WxH such as 1024x512");
    const auto allowed = [](long long n) { return n >= 1 && n <= greatest_picture; };
    if (!allowed(first) || (!one && !allowed(second)))
        return call_error("--size '" + std::string(text) + "' must be from 1 to " + std::to_string(greatest_picture) + " pixels");
    return one ? size_for(tile, static_cast<int>(first)) : Size{static_cast<int>(first), static_cast<int>(second)};
}

std::optional<Result<Value>> draft_of_file(const Parameter& parameter, const std::string& text) {
    if (parameter.kind != Kind::draft || !text.ends_with(".wif")) return std::nullopt;
    const auto draft = read_wif_file(text);
    if (!draft) return draft.error();
    return Value(LongText(draft_text(*draft)));
}

Result<std::size_t> parse_bytes(std::string_view text) {
    std::size_t factor = 1;
    std::string_view digits = text;
    if (!text.empty()) {
        const char unit = text.back();
        if (unit == 'K') factor = 1u << 10;
        if (unit == 'M') factor = 1u << 20;
        if (unit == 'G') factor = 1u << 30;
        if (factor > 1) digits.remove_suffix(1);
    }
    long long number = 0;
    if (!parse_whole(digits, number) || number < 1 || number > (1LL << 33))
        return call_error("--memory '" + std::string(text) + "' must be a number of bytes such as 2000000000, 500M or 2G");
    return static_cast<std::size_t>(number) * factor;
}

Result<PictureFormat> format_for(const std::string& path) {
    if (const auto format = format_of_path(path)) return *format;
    return call_error("'" + path + "' must end in .png, .tif, .exr, .jpg or .webp");
}

void print_json(const nlohmann::ordered_json& document) {
    std::printf("%s\n", document.dump(2, ' ', false, nlohmann::json::error_handler_t::replace).c_str());
}

nlohmann::ordered_json measures_json(const Measures& m) {
    auto rounded = [](double value) { return std::round(value * 10000) / 10000; };
    auto seam = [&](const Seam& s) {
        return nlohmann::ordered_json{{"ratio", rounded(s.ratio)},
                                      {"rank", rounded(s.rank)},
                                      {"worst-place", rounded(s.worst_place)},
                                      {"band", rounded(s.band)}};
    };
    return {{"seam-across", seam(m.across)},
            {"seam-down", seam(m.down)},
            {"standout", {{"score", rounded(m.standout.score)}, {"x", rounded(m.standout.x)}, {"y", rounded(m.standout.y)}}},
            {"evenness", rounded(m.evenness)},
            {"spark", rounded(m.life.spark)},
            {"kinship", rounded(m.life.kinship)},
            {"play", rounded(m.life.play)},
            {"black", rounded(m.histogram.black)},
            {"white", rounded(m.histogram.white)},
            {"mean-tone", rounded(m.histogram.mean)},
            {"mean-colour", write_colour(m.mean)}};
}

}  // namespace loom::batch
