// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/export.h"

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <set>

#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/files/material.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

/// Writing is tried at two sizes: what the larger one takes more is what grows with the pixels.
constexpr int tried_small = 256, tried_large = 512;

/// The pictures that a material is made of besides what is wanted anyway.
std::vector<MapFile> material_files(const ExportRun& run, const std::string& base) {
    std::vector<MapFile> files;
    for (const ExportPicture& picture : material_pictures(run.material, run.recipe)) {
        const bool inside = run.material == Material::glb;
        // One of the same picture is written anyway; only its path is asked for.
        const auto same = std::find_if(run.files.begin(), run.files.end(), [&](const MapFile& file) {
            return !inside && file.picture.channels == picture.channels && file.picture.map == picture.map &&
                   file.picture.pack.empty() == picture.pack.empty() && !file.green_down &&
                   usable(run.material, file.picture.format);
        });
        if (same != run.files.end()) continue;
        MapFile file{picture, ""};
        if (!inside) file.path = base + "-" + picture.word() + "." + std::string(extension_of(picture.format));
        files.push_back(std::move(file));
    }
    return files;
}

}  // namespace

std::vector<std::string> ExportRun::paths() const {
    std::vector<std::string> paths;
    for (const MapFile& file : files)
        if (!file.path.empty()) paths.push_back(file.path);
    if (!material_path.empty()) paths.push_back(material_path);
    if (material == Material::gltf) paths.push_back(geometry_path(material_path));
    return paths;
}

Result<std::vector<ExportRun>> export_runs(const Recipe& recipe, const ExportPreset& preset, const std::string& folder,
                                           std::optional<Size> exact) {
    if (preset.pictures.empty() && preset.material == Material::none)
        return Error{Fault::call, "nothing is wanted: choose a map or a material"};
    const std::string pattern = preset.names.empty() ? usual_pattern(preset) : preset.names;
    std::vector<std::string> ways;
    if (preset.every_colourway)
        for (const Colourway& colourway : recipe.colourways) ways.push_back(colourway.name);
    if (ways.empty()) ways.push_back("");
    std::vector<int> sizes = preset.sizes;
    if (exact) sizes.clear();
    if (sizes.empty()) sizes.push_back(std::max(recipe.tile.width, recipe.tile.height));
    std::vector<ExportRun> runs;
    std::set<std::string> taken;
    for (const std::string& way : ways)
        for (int size : sizes) {
            ExportRun run;
            run.recipe = way.empty() ? recipe : with_colourway(recipe, way);
            run.colourway = way, run.size = size_for(recipe.tile, size), run.material = preset.material;
            if (exact) run.size = *exact;
            const int most = exact ? std::max(exact->width, exact->height) : size,
                      least = exact ? std::min(exact->width, exact->height) : size;
            if (least < 1 || most > greatest_picture)
                return Error{
                    Fault::call,
                    "a size of " +
                        (exact ? std::to_string(exact->width) + "x" + std::to_string(exact->height) : std::to_string(size)) +
                        " pixels cannot be written; choose from 1 to " + std::to_string(greatest_picture) + " on a side"};
            const std::string shown = way.empty() ? present_colourway(recipe) : way;
            const auto named = [&](const std::string& map) {
                return export_name(pattern, {recipe.name, map, shown, run.size.width, run.size.height});
            };
            for (const ExportPicture& picture : preset.pictures) {
                if (picture.reads().empty())
                    return Error{Fault::call, "the packed picture '" + picture.pack + "' takes nothing from any map"};
                const auto name = named(picture.word());
                if (!name) return name.error();
                const auto maps = picture.reads();
                run.files.push_back({picture, folder + "/" + *name + "." + std::string(extension_of(picture.format)),
                                     preset.green_down && std::any_of(maps.begin(), maps.end(), points)});
            }
            if (run.material != Material::none) {
                auto name = named("material");
                if (!name) return name.error();
                run.material_path = folder + "/" + *name + "." + std::string(material_info(run.material).extension);
                for (MapFile& file : material_files(run, folder + "/" + *name)) run.files.push_back(std::move(file));
            }
            for (const std::string& path : run.paths())
                if (!taken.insert(path).second)
                    return Error{Fault::call, "two files would be called '" + path.substr(folder.size() + 1) + "'; put " +
                                                  (ways.size() > 1    ? "{colourway}"
                                                   : sizes.size() > 1 ? "{size}"
                                                                      : "{map}") +
                                                  " into the names"};
            runs.push_back(std::move(run));
        }
    return runs;
}

namespace {

/// What files hold besides the rendering.
std::size_t held_bytes(const ExportRun& run) {
    std::size_t held = 0;
    for (const MapFile& file : run.files) {
        // A packed picture may have to wait for the slowest of its maps.
        if (file.picture.reads().size() > 1)
            for (Map map : file.picture.reads())
                held += run.size.pixels() * sizeof(float) * static_cast<std::size_t>(map_info(map).channels);
        // Twice: once as it was encoded and once in the file's own layout.
        if (file.path.empty())
            held += 2 * run.size.pixels() * 3 * static_cast<std::size_t>(picture_format_info(file.picture.format).bits / 8);
    }
    return held;
}

}  // namespace

std::size_t announced_bytes(const ExportRun& run, const RenderOptions& options, const Job& job) {
    std::vector<Wanted> wanted;
    for (const MapFile& file : run.files)
        for (const Wanted& each : wanted_of(file.picture))
            if (std::find(wanted.begin(), wanted.end(), each) == wanted.end()) wanted.push_back(each);
    return announced_bytes(make_plan(run.recipe, run.size, wanted, options.pictures, &job), options) + held_bytes(run);
}

Result<std::size_t> announced_bytes(const std::vector<ExportRun>& runs, const RenderOptions& options, const Job& job) {
    return guarded("planning the export", [&]() -> Result<std::size_t> {
        std::size_t most = 0;
        for (const ExportRun& run : runs)
            // Large pictures of a colourway take what those of another take.
            if (run.colourway == runs.front().colourway) most = std::max(most, announced_bytes(run, options, job));
        return most;
    });
}

Result<ExportEstimate> estimated(const std::vector<ExportRun>& runs, const RenderOptions& with, const Job& job) {
    ExportEstimate estimate;
    RenderOptions options = with;
    // What is kept would tell of nothing.
    options.cache = nullptr;
    // As many threads as writing will have.
    options.threads = 0;
    for (const ExportRun& run : runs) {
        std::vector<MapFile> files = run.files;
        for (MapFile& file : files) file.path.clear();
        const int longest = std::max(run.size.width, run.size.height);
        double seconds[2] = {};
        Size tried_at[2];
        Result<WrittenMaps> tried = Error{};
        // The first time loads what is not there yet, and does not count.
        for (int turn = 0; turn < 3; ++turn) {
            const int k = std::max(0, turn - 1);
            tried_at[k] = size_for(run.recipe.tile, std::min(k == 0 ? tried_small : tried_large, longest));
            const auto start = std::chrono::steady_clock::now();
            FilesTogether none;
            tried = write_maps(run.recipe, tried_at[k], files, none, options, job);
            if (!tried) return tried.error();
            seconds[k] = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        }
        const auto pixels = [](Size size) { return static_cast<double>(size.pixels()); };
        const double times = pixels(run.size) / pixels(tried_at[1]);
        const double more = pixels(tried_at[1]) - pixels(tried_at[0]);
        const double each = more > 0 ? std::max(0.0, seconds[1] - seconds[0]) / more : seconds[1] / pixels(tried_at[1]);
        estimate.seconds += seconds[1] + each * (pixels(run.size) - pixels(tried_at[1]));
        double inside = 0;
        for (std::size_t k = 0; k < files.size(); ++k) {
            const double bytes = times * static_cast<double>(tried->in_memory[k].size());
            if (run.files[k].path.empty())
                inside += bytes;
            else
                estimate.bytes.push_back(bytes);
        }
        constexpr double geometry = 60000;
        if (run.material != Material::none) estimate.bytes.push_back(inside + geometry);
        if (run.material == Material::gltf) estimate.bytes.push_back(geometry);
    }
    return estimate;
}

namespace {

Result<Done> make_folders(const ExportRun& run) {
    for (const std::string& path : run.paths()) {
        std::error_code error;
        const auto folder = std::filesystem::path(path).parent_path();
        if (!folder.empty()) std::filesystem::create_directories(folder, error);
        if (error) return file_error("cannot write into", folder.string(), error.value());
    }
    return Done{};
}

std::vector<ExportedFile> files_from(const FilesTogether& together, std::size_t first) {
    std::vector<ExportedFile> files;
    for (std::size_t k = first; k < together.files().size(); ++k)
        files.push_back({together.files()[k].path(), together.files()[k].bytes()});
    return files;
}

}  // namespace

Result<Exported> write_export(const ExportRun& run, FilesTogether& together, const RenderOptions& options, const Job& job,
                              const FileProgress& progress) {
    if (const auto done = make_folders(run); !done) return done.error();
    const std::size_t before = together.files().size();
    RenderOptions beside = options;
    beside.held = held_bytes(run);
    auto maps = write_maps(run.recipe, run.size, run.files, together, beside, job, progress);
    if (!maps) return maps.error();
    if (run.material != Material::none)
        if (const auto done = write_material(run, *maps, together); !done) return done.error();
    Exported exported;
    exported.files = files_from(together, before);
    exported.warnings = maps->rendering.warnings;
    maps->in_memory.clear();
    exported.maps = std::move(*maps);
    return exported;
}

Result<Exported> write_document(const ExportRun& run, FilesTogether& together, const RenderOptions& options, const Job& job) {
    if (const auto done = make_folders(run); !done) return done.error();
    // Whether the cloth leaves anything bare is known without rendering it.
    const auto is_bare = guarded("planning the export", [&]() -> Result<bool> {
        const Plan plan = make_plan(run.recipe, run.size, {Wanted{}}, options.pictures, &job);
        return plan.nodes[static_cast<std::size_t>(plan.outputs.begin()->second)].shape.coverage;
    });
    if (!is_bare) return is_bare.error();
    WrittenMaps maps;
    const bool bare = *is_bare;
    for (const MapFile& file : run.files) maps.transparent.push_back(bare && file.picture.format != PictureFormat::jpg);
    maps.in_memory.resize(run.files.size());
    if (const auto done = write_material(run, maps, together); !done) return done.error();
    Exported exported;
    exported.files = files_from(together, 0);
    return exported;
}

}  // namespace loom
