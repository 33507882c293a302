// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/export_command.h"

#include <algorithm>
#include <cctype>
#include <filesystem>
#include <map>

namespace loom {

namespace {

std::string pack_text(const ExportPicture& picture) {
    std::string text = picture.pack + "=";
    for (const Channel& channel : picture.channels) (text += channel_text(channel)) += ",";
    text.pop_back();
    return text;
}

std::string begun(const std::string& path, const std::string& folder) {
    return "keen-loom-batch render " + shell_word(path) + " -o " + shell_word(folder);
}

}  // namespace

std::string shell_word(const std::string& word) {
    const bool plain = !word.empty() && std::all_of(word.begin(), word.end(), [](unsigned char c) {
        return std::isalnum(c) || std::string_view("-_./=,:@%+").find(static_cast<char>(c)) != std::string_view::npos;
    });
    if (plain) return word;
    std::string text = "'";
    for (char c : word) {
        if (c == '\'')
            text += "'\\''";
        else
            text += c;
    }
    return text += "'";
}

std::string shell_option(const std::string& option, const std::string& value) {
    return value.empty() ? std::string() : " " + option + " " + shell_word(value);
}

std::string export_command(const ExportPreset& preset, const Recipe& recipe, const std::string& path, const std::string& folder) {
    std::map<PictureFormat, std::vector<const ExportPicture*>> by_format;
    for (const ExportPicture& picture : preset.pictures) by_format[picture.format].push_back(&picture);
    if (by_format.empty()) by_format[PictureFormat::png];
    std::vector<int> sizes = preset.sizes;
    if (sizes.empty()) sizes.push_back(std::max(recipe.tile.width, recipe.tile.height));
    const std::string names = preset.names.empty() ? usual_pattern(preset) : preset.names;
    std::string commands;
    for (int size : sizes) {
        // The material once a size, with the first format's pictures.
        bool first = true;
        for (const auto& [format, pictures] : by_format) {
            if (!commands.empty()) commands += "\n";
            commands += begun(path, folder) + " --size " + std::to_string(size);
            std::string maps;
            for (const ExportPicture* picture : pictures)
                if (picture->pack.empty()) (maps += maps.empty() ? "" : ",") += map_id(picture->map);
            commands += shell_option("--maps", maps);
            for (const ExportPicture* picture : pictures)
                if (!picture->pack.empty()) commands += shell_option("--pack", pack_text(*picture));
            if (!pictures.empty()) commands += shell_option("--format", std::string(picture_format_id(format)));
            if (first && preset.material != Material::none)
                commands += shell_option("--material", std::string(material_info(preset.material).id));
            if (preset.every_colourway) commands += " --all-colourways";
            if (preset.green_down) commands += " --green down";
            commands += shell_option("--name", names);
            first = false;
        }
    }
    return commands;
}

std::vector<std::string> export_jobs(const std::vector<ExportRun>& runs, const std::string& path, const std::string& folder,
                                     const std::string& common, const std::string& wanted) {
    std::vector<std::string> jobs;
    const auto name_of = [&](const std::string& file) {
        const std::filesystem::path name = std::filesystem::path(file).lexically_relative(folder);
        return (name.parent_path() / name.stem()).generic_string();
    };
    for (const ExportRun& run : runs) {
        std::string begin =
            begun(path, folder) + " --size " + std::to_string(run.size.width) + "x" + std::to_string(run.size.height);
        begin += shell_option("--colourway", run.colourway);
        begin += common;
        for (const MapFile& file : run.files) {
            if (file.path.empty()) continue;
            const ExportPicture& picture = file.picture;
            std::string job = begin;
            job += picture.pack.empty() ? shell_option("--maps", std::string(map_id(picture.map)))
                                        : shell_option("--pack", pack_text(picture));
            job += shell_option("--format", std::string(picture_format_id(picture.format)));
            if (file.green_down) job += " --green down";
            jobs.push_back(job + shell_option("--name", name_of(file.path)));
        }
        const std::string material = shell_option("--material", std::string(material_info(run.material).id));
        if (run.material == Material::glb)
            jobs.push_back(begin + material + shell_option("--name", name_of(run.material_path)));
        else if (run.material != Material::none)
            jobs.push_back(begin + wanted + material + " --document-only");
    }
    return jobs;
}

}  // namespace loom
