// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "batch/command.h"
#include "batch/options.h"
#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/catalogue/value_kind.h"
#include "core/files/export_command.h"
#include "core/files/kept_picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/references.h"
#include "core/render/render.h"

namespace loom::batch {

namespace {

struct Options {
    std::string recipe, folder, size, format, colourway, memory, names, preset, material, green;
    std::vector<std::string> maps, packs, set, dial;
    std::int64_t seed = -1;
    int threads = 0;
    bool all_colourways = false, list_jobs = false, document_only = false, timing = false, json = false;
};

/// Puts a file into the recipe and says what it is called there.
Result<std::string> keep_file(Recipe& recipe, const Parameter& parameter, const std::string& path) {
    std::string name;
    if (parameter.kind == Kind::recipe) {
        auto asset = recipe_asset(path, name);
        if (!asset) return asset.error();
        recipe = with_asset(std::move(recipe), name, *asset);
        return name;
    }
    auto bytes = parameter.kind == Kind::drawing ? read_kept_drawing(path) : read_kept_picture(path);
    if (!bytes) return bytes.error();
    name = asset_name(*bytes, extension_in(path));
    recipe = with_asset(std::move(recipe), name, make_asset(name, std::move(*bytes)));
    return name;
}

Result<Recipe> with_sets(Recipe recipe, const Options& o) {
    for (const std::string& text : o.set) {
        const auto parts = split_assignment(text, "--set");
        if (!parts) return parts.error();
        const auto at = Address::parse(parts->first);
        if (!at) return call_error("--set '" + text + "' must be written STRAND/STEP.PARAM=VALUE");
        const auto place = place_at(recipe, *at);
        if (!place) return call_error("--set " + at->text() + "=" + parts->second + ": " + no_place(recipe, *at));
        const Parameter* parameter = &place->parameter;
        std::optional<Value> value;
        if (names_kept(parameter->kind) && !parts->second.starts_with("assets/")) {
            auto kept = keep_file(recipe, *parameter, parts->second);
            if (!kept) return kept.error();
            value = Value(*kept);
        } else if (const auto draft = draft_of_file(*parameter, parts->second)) {
            if (!*draft) return draft->error();
            value = **draft;
        } else {
            value = parse_value(*parameter, parts->second);
        }
        // Text that is no value at all is refused in the same words as a wrong value.
        if (const auto why = value ? refuses(recipe, *at, *value) : std::optional(kind_of(*parameter).must_be(*parameter)))
            return call_error("--set " + at->text() + "=" + parts->second + ": " + at->parameter + " " + *why);
        recipe = with_value(std::move(recipe), *at, *value);
    }
    return recipe;
}

/// The recipe as the options want it.
Result<Recipe> prepared(Recipe recipe, const Options& o) {
    if (!o.colourway.empty()) {
        if (!recipe.colourway(o.colourway)) {
            std::string names;
            for (const Colourway& each : recipe.colourways) names += (names.empty() ? "" : ", ") + each.name;
            return call_error("'" + o.recipe + "' has no colourway '" + o.colourway + "'" +
                              (names.empty() ? "" : "; it has " + names));
        }
        recipe = with_colourway(std::move(recipe), o.colourway);
    }
    for (const std::string& text : o.dial) {
        const auto parts = split_assignment(text, "--dial");
        if (!parts) return parts.error();
        bool known = false;
        std::string names;
        for (const Dial& dial : recipe.dials) {
            known = known || dial.name == parts->first;
            names += (names.empty() ? "" : ", ") + dial.name;
        }
        if (!known)
            return call_error("'" + o.recipe + "' has no dial '" + parts->first + "'" +
                              (names.empty() ? "" : "; it has " + names));
        Parameter range;
        range.fallback = 0.0, range.max = 100;
        const auto value = parse_value(range, parts->second);
        if (!value || refuses(range, *value))
            return call_error("--dial '" + text + "': the value must be a number from 0 to 100");
        recipe = with_dial(std::move(recipe), parts->first, as<double>(*value));
    }
    auto set = with_sets(std::move(recipe), o);
    if (!set) return set;
    if (o.seed >= 0) set = with_seed(*set, static_cast<std::uint32_t>(o.seed));
    for (const Reference& reference : references(*set))
        if (!set->strand(reference.to))
            return Error{Fault::recipe, "'" + o.recipe + "': there is no strand '" + reference.to + "'"};
    if (const std::string ring = circle(*set); !ring.empty())
        return Error{Fault::recipe, "'" + o.recipe + "': strands go round in a circle: " + ring};
    return set;
}

/// "NAME=R,G,B,A".
Result<ExportPicture> parse_pack(const std::string& text, PictureFormat format) {
    const auto parts = split_assignment(text, "--pack");
    if (!parts) return parts.error();
    ExportPicture picture;
    picture.pack = parts->first, picture.format = format;
    for (std::size_t from = 0; from <= parts->second.size();) {
        const auto comma = std::min(parts->second.find(',', from), parts->second.size());
        const std::string word = parts->second.substr(from, comma - from);
        const auto channel = find_channel(word);
        if (!channel)
            return call_error("--pack '" + text + "': '" + word + "' must be of " + channel_words() +
                              ", perhaps after 1-, or nothing for black");
        picture.channels.push_back(*channel);
        from = comma + 1;
    }
    if (picture.channels.size() > 4) return call_error("--pack '" + text + "' names more than four channels");
    return picture;
}

/// What is to be written: a preset of the recipe with what the options change of it.
Result<ExportPreset> wanted(const Recipe& recipe, const Options& o) {
    ExportPreset preset;
    if (!o.preset.empty()) {
        const auto found = std::find_if(recipe.exports.begin(), recipe.exports.end(),
                                        [&](const ExportPreset& each) { return each.name == o.preset && each.foreign.empty(); });
        std::string names;
        for (const ExportPreset& each : recipe.exports) names += (names.empty() ? "" : ", ") + each.name;
        if (found == recipe.exports.end())
            return call_error("'" + o.recipe + "' has no preset '" + o.preset + "'" + (names.empty() ? "" : "; it has " + names));
        preset = *found;
    }
    const auto format = find_picture_format(o.format.empty() ? "png" : o.format);
    if (!format) return call_error("--format '" + o.format + "' must be one of " + picture_format_ids());
    if (!o.material.empty()) {
        const auto material = find_material(o.material);
        if (!material) return call_error("--material '" + o.material + "' must be glb, gltf or materialx");
        preset.material = *material;
    }
    if (!o.maps.empty() || !o.packs.empty()) preset.pictures.clear();
    std::vector<std::string> maps = o.maps;
    if (maps.empty() && o.packs.empty() && o.material.empty() && o.preset.empty()) maps = {"colour"};
    for (const std::string& id : maps) {
        const auto map = find_map(id);
        if (!map) return call_error("--maps '" + id + "' must be of " + map_words());
        preset.pictures.push_back({*map, "", {}, *format});
    }
    for (const std::string& text : o.packs) {
        auto pack = parse_pack(text, *format);
        if (!pack) return pack.error();
        preset.pictures.push_back(std::move(*pack));
    }
    if (!o.format.empty())
        for (ExportPicture& picture : preset.pictures) picture.format = *format;
    if (!o.names.empty()) preset.names = o.names;
    if (o.all_colourways) preset.every_colourway = true;
    if (!o.green.empty() && o.green != "up" && o.green != "down")
        return call_error("--green '" + o.green + "' must be up or down");
    if (!o.green.empty()) preset.green_down = o.green == "down";
    return preset;
}

/// The options that every job has as this call has them.
std::string common_options(const Options& o) {
    std::string text;
    for (const std::string& each : o.set) text += shell_option("--set", each);
    for (const std::string& each : o.dial) text += shell_option("--dial", each);
    if (o.seed >= 0) text += shell_option("--seed", std::to_string(o.seed));
    if (o.threads > 0) text += shell_option("--threads", std::to_string(o.threads));
    if (!o.all_colourways) text += shell_option("--colourway", o.colourway);
    return text + shell_option("--memory", o.memory);
}

/// What to write, as this call has it.
std::string wanted_options(const Options& o, const ExportPreset& preset) {
    std::string text = shell_option("--preset", o.preset), maps;
    for (const std::string& map : o.maps) (maps += maps.empty() ? "" : ",") += map;
    text += shell_option("--maps", maps);
    for (const std::string& pack : o.packs) text += shell_option("--pack", pack);
    text += shell_option("--format", o.format) + shell_option("--green", o.green);
    // A job has one size and one colourway, and would leave them out of its names.
    return text + shell_option("--name", preset.names.empty() ? usual_pattern(preset) : preset.names);
}

Outcome run(const Options& o, const Surroundings& around) {
    const auto start = std::chrono::steady_clock::now();
    auto file = read_loom(o.recipe);
    if (!file) return file.error();
    for (const Finding& finding : file->findings)
        std::fprintf(stderr, "keen-loom-batch: warning: %s: %s\n", o.recipe.c_str(), finding.text().c_str());
    auto recipe = prepared(file->recipe, o);
    if (!recipe) return recipe.error();
    const auto size = parse_size(o.size, recipe->tile);
    if (!size) return size.error();
    const auto preset = wanted(*recipe, o);
    if (!preset) return preset.error();
    if (o.document_only && preset->material != Material::gltf && preset->material != Material::materialx)
        return call_error("--document-only needs --material gltf or materialx, which lie beside their pictures");
    const bool own_sizes = o.size.empty() && !preset->sizes.empty();
    auto runs = export_runs(*recipe, *preset, o.folder, own_sizes ? std::nullopt : std::optional(*size));
    if (!runs) return runs.error();
    // What is set by hand holds in every colourway.
    for (ExportRun& each : *runs) {
        if (each.colourway.empty()) continue;
        Options with = o;
        with.colourway = each.colourway;
        auto laid = prepared(file->recipe, with);
        if (!laid) return laid.error();
        each.recipe = std::move(*laid);
    }
    if (o.list_jobs) {
        const auto jobs = export_jobs(*runs, o.recipe, o.folder, common_options(o), wanted_options(o, *preset));
        if (o.json)
            print_json({{"jobs", jobs}});
        else
            for (const std::string& job : jobs) std::printf("%s\n", job.c_str());
        return 0;
    }
    RenderOptions options;
    options.threads = o.threads, options.pictures = &picture_reader();
    if (!o.memory.empty()) {
        const auto bytes = parse_bytes(o.memory);
        if (!bytes) return bytes.error();
        options.memory_limit = *bytes;
    }
    // A folder that cannot be written is found out before the work, not after it.
    std::error_code error;
    std::filesystem::create_directories(o.folder, error);
    if (error) return file_error("cannot write into", o.folder, error.value());

    const std::chrono::duration<double, std::milli> read = std::chrono::steady_clock::now() - start;
    nlohmann::ordered_json document = {{"recipe", o.recipe},
                                       {"name", recipe->name},
                                       {"width", runs->front().size.width},
                                       {"height", runs->front().size.height},
                                       {"files", nlohmann::ordered_json::array()},
                                       {"bytes", nlohmann::ordered_json::array()}};
    std::size_t peak = 0;
    double render_ms = 0, write_ms = 0;
    std::vector<NodeTiming> timings;
    FilesTogether together;
    for (const ExportRun& each : *runs) {
        const auto written = o.document_only ? write_document(each, together, options, around.job)
                                             : write_export(each, together, options, around.job);
        if (!written) return written.error();
        const Rendering& rendering = written->maps.rendering;
        for (const std::string& warning : rendering.warnings)
            std::fprintf(stderr, "keen-loom-batch: warning: %s: %s\n", o.recipe.c_str(), warning.c_str());
        for (const ExportedFile& one : written->files)
            document["files"].push_back(one.path), document["bytes"].push_back(one.bytes);
        peak = std::max(peak, rendering.peak_bytes);
        render_ms += written->maps.render_ms, write_ms += written->maps.write_ms;
        timings.insert(timings.end(), rendering.timings.begin(), rendering.timings.end());
    }
    const auto last = std::chrono::steady_clock::now();
    if (auto done = together.finish(); !done) return done.error();
    write_ms += std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - last).count();
    const std::chrono::duration<double, std::milli> whole = std::chrono::steady_clock::now() - start;
    if (o.json) {
        document["peak-bytes"] = peak, document["used-bytes"] = Memory::process().counts().most;
        if (o.timing) {
            document["read-ms"] = read.count(), document["render-ms"] = render_ms;
            document["write-ms"] = write_ms, document["total-ms"] = whole.count();
            document["nodes"] = nlohmann::ordered_json::array();
            for (const NodeTiming& t : timings) document["nodes"].push_back({{"node", t.label}, {"ms", t.milliseconds}});
        }
        print_json(document);
    } else if (o.timing) {
        for (const NodeTiming& t : timings) std::printf("%8.1f ms  %s\n", t.milliseconds, t.label.c_str());
        // Files are encoded while the next rows are rendered; what is left then is told by itself.
        std::printf("%8.1f ms  reading the recipe\n%8.1f ms  rendering\n%8.1f ms  files\n%8.1f ms  in all\n", read.count(),
                    render_ms, write_ms, whole.count());
    }
    return 0;
}

}  // namespace

void add_render(CLI::App& app, Action& action) {
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("render", "Renders a recipe's cloth and maps into a folder.");
    command->add_option("RECIPE", o->recipe, "A .loom file, a recipe folder or a recipe.json")->required();
    command->add_option("-o", o->folder, "The folder to write into")->required();
    command->add_option("--size", o->size, "Longer side in pixels, or WxH; the tile's own size if left out");
    command->add_option("--maps", o->maps, map_words())->delimiter(',');
    command->add_option("--format", o->format, picture_format_ids());
    command->add_option("--pack", o->packs, "NAME=R,G,B,A: up to four channels in one picture, of " + channel_words())
        ->expected(1)
        ->take_all();
    command->add_option("--material", o->material, "glb, gltf or materialx, with the pictures it needs");
    command->add_option("--preset", o->preset, "What an export preset of the recipe writes");
    command->add_flag("--all-colourways", o->all_colourways, "Every colourway, each in files of its own");
    command->add_option("--name", o->names, "Names of files, of {name}, {map}, {size}, {width}, {height} and {colourway}");
    command->add_option("--green", o->green, "Whether normals point up (OpenGL) or down (DirectX) in green");
    command->add_flag("--document-only", o->document_only, "Of a material beside its pictures only the document");
    command->add_flag("--list-jobs", o->list_jobs, "Writes nothing, prints one command for each file");
    command->add_option("--colourway", o->colourway, "A colourway of the recipe");
    command->add_option("--set", o->set, "STRAND/STEP.PARAM=VALUE; may be given often")->expected(1)->take_all();
    command->add_option("--dial", o->dial, "NAME=VALUE; may be given often")->expected(1)->take_all();
    command->add_option("--seed", o->seed, "Another seed for the recipe")
        ->check(CLI::Range(std::int64_t{0}, std::int64_t{4294967295}));
    command->add_option("--threads", o->threads, "At most so many threads")->check(CLI::Range(1, 1024));
    command->add_option("--memory", o->memory, "At most so many bytes; K, M and G are understood");
    command->add_flag("--timing", o->timing, "Prints what took how long");
    command->add_flag("--json", o->json, "Prints one JSON document");
    command->callback([o, &action] { action = [o](const Surroundings& around) { return run(*o, around); }; });
}

}  // namespace loom::batch
