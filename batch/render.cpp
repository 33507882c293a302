// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <memory>

#include "batch/command.h"
#include "batch/options.h"
#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/catalogue/value_kind.h"
#include "core/files/kept_picture.h"
#include "core/files/map_files.h"
#include "core/files/wif.h"
#include "core/recipe/assets.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/references.h"
#include "core/render/render.h"

namespace loom::batch {

namespace {

struct Options {
    std::string recipe, folder, size, format = "png", colourway, memory;
    std::vector<std::string> maps, set, dial;
    std::int64_t seed = -1;
    int threads = 0;
    bool timing = false, json = false;
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
    auto bytes = read_kept_picture(path);
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
        if ((parameter->kind == Kind::picture || parameter->kind == Kind::recipe) && !parts->second.starts_with("assets/")) {
            auto kept = keep_file(recipe, *parameter, parts->second);
            if (!kept) return kept.error();
            value = Value(*kept);
        } else if (parameter->kind == Kind::draft && parts->second.ends_with(".wif")) {
            const auto draft = read_wif_file(parts->second);
            if (!draft) return draft.error();
            value = Value(LongText(draft_text(*draft)));
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
    const auto format = find_picture_format(o.format);
    if (!format) return call_error("--format '" + o.format + "' must be one of png, png16, tiff, exr, jpg, webp");

    std::vector<MapFile> files;
    for (const std::string& id : o.maps.empty() ? std::vector<std::string>{"colour"} : o.maps) {
        const auto map = find_map(id);
        if (!map) return call_error("--maps '" + id + "' must be of colour, height, normal, roughness, metalness, occlusion");
        files.push_back({*map, o.folder + "/" + picture_name(recipe->name, id, *format), *format});
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
    const auto written = write_maps(*recipe, *size, files, options, around.job);
    if (!written) return written.error();
    const Rendering& rendering = written->rendering;
    for (const std::string& warning : rendering.warnings)
        std::fprintf(stderr, "keen-loom-batch: warning: %s: %s\n", o.recipe.c_str(), warning.c_str());
    const std::chrono::duration<double, std::milli> whole = std::chrono::steady_clock::now() - start;
    if (o.json) {
        nlohmann::ordered_json document = {
            {"recipe", o.recipe}, {"name", recipe->name}, {"width", size->width}, {"height", size->height}};
        document["files"] = nlohmann::ordered_json::array();
        for (const MapFile& each : files) document["files"].push_back(each.path);
        document["peak-bytes"] = rendering.peak_bytes, document["used-bytes"] = Memory::process().counts().most;
        if (o.timing) {
            document["read-ms"] = read.count(), document["render-ms"] = written->render_ms;
            document["write-ms"] = written->write_ms, document["total-ms"] = whole.count();
            document["nodes"] = nlohmann::ordered_json::array();
            for (const NodeTiming& t : rendering.timings)
                document["nodes"].push_back({{"node", t.label}, {"ms", t.milliseconds}});
        }
        print_json(document);
    } else if (o.timing) {
        for (const NodeTiming& t : rendering.timings) std::printf("%8.1f ms  %s\n", t.milliseconds, t.label.c_str());
        // Files are encoded while the next rows are rendered; what is left then is told by itself.
        std::printf("%8.1f ms  reading the recipe\n%8.1f ms  rendering\n%8.1f ms  files\n%8.1f ms  in all\n", read.count(),
                    written->render_ms, written->write_ms, whole.count());
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
    command->add_option("--maps", o->maps, "colour, height, normal, roughness, metalness, occlusion")->delimiter(',');
    command->add_option("--format", o->format, "png, png16, tiff, exr, jpg or webp");
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
