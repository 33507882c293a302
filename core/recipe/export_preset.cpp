// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/export_preset.h"

#include <algorithm>
#include <cctype>

namespace loom {

namespace {

struct ChannelWord {
    Channel::Of of;
    std::string_view word;
};
constexpr ChannelWord channel_table[] = {
    {Channel::Of::red, "red"},           {Channel::Of::green, "green"},       {Channel::Of::blue, "blue"},
    {Channel::Of::coverage, "coverage"}, {Channel::Of::normal_x, "normal-x"}, {Channel::Of::normal_y, "normal-y"},
};
constexpr std::string_view inverse_sign = "1-";

bool grey(Map map) { return map != Map::colour && map != Map::normal; }

}  // namespace

std::optional<Channel> find_channel(std::string_view text) {
    Channel channel;
    if (text.empty()) return channel;
    if (text.starts_with(inverse_sign)) channel.inverse = true, text.remove_prefix(inverse_sign.size());
    for (const ChannelWord& each : channel_table)
        if (each.word == text) return channel.of = each.of, channel;
    const auto map = find_map(text);
    if (!map || !grey(*map)) return std::nullopt;
    channel.of = Channel::Of::map, channel.map = *map;
    return channel;
}

std::string channel_text(const Channel& channel) {
    if (channel.of == Channel::Of::nothing) return "";
    std::string text(channel.inverse ? inverse_sign : "");
    if (channel.of == Channel::Of::map) return text += map_id(channel.map), text;
    for (const ChannelWord& each : channel_table)
        if (each.of == channel.of) text += each.word;
    return text;
}

std::string channel_words() {
    std::string words;
    for (const ChannelWord& each : channel_table) (words += each.word) += ", ";
    for (const MapInfo& info : map_table)
        if (grey(info.map)) (words += info.id) += ", ";
    words.resize(words.size() - 2);
    return words;
}

std::optional<Map> map_of(const Channel& channel) {
    switch (channel.of) {
        case Channel::Of::nothing: return std::nullopt;
        case Channel::Of::map: return channel.map;
        case Channel::Of::normal_x:
        case Channel::Of::normal_y: return Map::normal;
        case Channel::Of::red:
        case Channel::Of::green:
        case Channel::Of::blue:
        case Channel::Of::coverage: break;
    }
    return Map::colour;
}

std::vector<Map> ExportPicture::reads() const {
    if (pack.empty()) return {map};
    std::vector<Map> maps;
    for (const Channel& channel : channels)
        if (const auto from = map_of(channel); from && std::find(maps.begin(), maps.end(), *from) == maps.end())
            maps.push_back(*from);
    return maps;
}

bool ExportPicture::colours() const {
    if (pack.empty()) return !map_info(map).data;
    return channels.size() >= 3 && std::all_of(channels.begin(), channels.begin() + 3, [](const Channel& channel) {
               return channel.of == Channel::Of::red || channel.of == Channel::Of::green || channel.of == Channel::Of::blue;
           });
}

std::string file_word(std::string_view name) {
    std::string word;
    for (char c : name) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte >= 128 || std::isalnum(byte))
            word += static_cast<char>(byte < 128 ? std::tolower(byte) : c);
        else if (!word.empty() && word.back() != '-' && c != '\'')
            word += '-';
    }
    while (!word.empty() && word.back() == '-') word.pop_back();
    return word.empty() ? "untitled" : word;
}

std::string usual_pattern(const ExportPreset& preset) {
    std::string pattern = preset.every_colourway ? "{name}-{colourway}-{map}" : "{name}-{map}";
    if (preset.sizes.size() > 1) pattern += "-{size}";
    return pattern;
}

Result<std::string> export_name(std::string_view pattern, const ExportWords& words) {
    const auto refused = [&](const std::string& why) {
        return Error{Fault::call, "the names '" + std::string(pattern) + "' " + why};
    };
    std::string name;
    for (std::size_t at = 0; at < pattern.size();) {
        if (pattern[at] != '{') {
            const char c = pattern[at++];
            if (static_cast<unsigned char>(c) < 32 || c == '\\') return refused("hold a character that no file name should have");
            name += c;
            continue;
        }
        const auto end = pattern.find('}', at);
        if (end == std::string_view::npos) return refused("have a { without its }");
        const std::string_view word = pattern.substr(at + 1, end - at - 1);
        if (word == "name")
            name += file_word(words.name);
        else if (word == "map")
            name += words.map;
        else if (word == "colourway")
            name += words.colourway.empty() ? "plain" : file_word(words.colourway);
        else if (word == "size")
            name += std::to_string(std::max(words.width, words.height));
        else if (word == "width")
            name += std::to_string(words.width);
        else if (word == "height")
            name += std::to_string(words.height);
        else
            return refused("know {name}, {map}, {colourway}, {size}, {width} and {height}, not {" + std::string(word) + "}");
        at = end + 1;
    }
    for (std::size_t from = 0; from <= name.size();) {
        const auto slash = std::min(name.find('/', from), name.size());
        const std::string_view part = std::string_view(name).substr(from, slash - from);
        if (part.empty()) return refused("leave a file or folder without a name");
        if (part == "." || part == "..") return refused("lead out of the folder");
        if (part.size() > 200) return refused("make a name of more than 200 bytes");
        from = slash + 1;
    }
    return name;
}

}  // namespace loom
