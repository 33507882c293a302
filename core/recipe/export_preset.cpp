// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/export_preset.h"

#include <algorithm>
#include <cctype>

namespace loom {

namespace {

struct ChannelWord {
    std::string_view word;
    Channel channel;
};

constexpr std::string_view inverse_sign = "1-";

/// Every channel there is, by its word.
const std::vector<ChannelWord>& channel_table() {
    static const std::vector<ChannelWord> table = [] {
        using Of = Channel::Of;
        std::vector<ChannelWord> words = {
            {"red", {Of::plane, Map::colour, 0}},          {"green", {Of::plane, Map::colour, 1}},
            {"blue", {Of::plane, Map::colour, 2}},         {"coverage", {Of::coverage, Map::colour, 0}},
            {"normal-x", {Of::plane, Map::normal, 0}},     {"normal-y", {Of::plane, Map::normal, 1}},
            {"brushing-x", {Of::plane, Map::brushing, 0}}, {"brushing-y", {Of::plane, Map::brushing, 1}},
            {"brushing", {Of::plane, Map::brushing, 2}},
        };
        for (const MapInfo& info : map_table)
            if (info.channels == 1) words.push_back({info.id, {Of::plane, info.map, 0}});
        return words;
    }();
    return table;
}

}  // namespace

std::optional<Channel> find_channel(std::string_view text) {
    if (text.empty()) return Channel{};
    const bool inverse = text.starts_with(inverse_sign);
    if (inverse) text.remove_prefix(inverse_sign.size());
    for (const ChannelWord& each : channel_table())
        if (each.word == text) {
            Channel channel = each.channel;
            channel.inverse = inverse;
            return channel;
        }
    return std::nullopt;
}

std::string channel_text(const Channel& channel) {
    for (const ChannelWord& each : channel_table())
        if (each.channel.of == channel.of && each.channel.map == channel.map && each.channel.plane == channel.plane)
            return std::string(channel.inverse ? inverse_sign : "").append(each.word);
    return "";
}

std::string channel_words() {
    std::string words;
    for (const ChannelWord& each : channel_table()) (words += words.empty() ? "" : ", ") += each.word;
    return words;
}

std::optional<Map> map_of(const Channel& channel) {
    if (channel.of == Channel::Of::nothing) return std::nullopt;
    return channel.map;
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
               return channel.of == Channel::Of::plane && channel.map == Map::colour;
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
