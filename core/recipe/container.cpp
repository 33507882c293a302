// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/container.h"

#include <zip.h>

#include <algorithm>
#include <filesystem>
#include <memory>

#include "core/base/files.h"
#include "core/recipe/assets.h"

namespace loom {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t most_json = 64u << 20, most_file = 2048u << 20, most_asset = 512u << 20, most_preview = 16u << 20;

Error broken(const std::string& path, const std::string& why) { return {Fault::file, "cannot read '" + path + "': " + why}; }

Error cut_off(const std::string& path) {
    return broken(path, "it is no complete .loom file; it may have been cut off while it was copied");
}

struct CloseZip {
    void operator()(zip_t* zip) const { zip_discard(zip); }
};
using Zip = std::unique_ptr<zip_t, CloseZip>;

/// Takes one more file of so many bytes from the budget.
Result<Done> spend(ReadingBudget& budget, std::size_t bytes, const std::string& path) {
    if (budget.entries < 1) return broken(path, "it holds more than " + std::to_string(ReadingBudget{}.entries) + " files");
    if (bytes > budget.bytes)
        return broken(path, "it unpacks to more than " + std::to_string(ReadingBudget{}.bytes >> 30) + " GiB");
    --budget.entries, budget.bytes -= bytes;
    return Done{};
}

/// One entry's bytes; its declared size is checked before anything is unpacked.
Result<std::string> read_entry(zip_t* zip, zip_uint64_t index, std::size_t most, const std::string& path, ReadingBudget& budget) {
    zip_stat_t stat;
    zip_stat_init(&stat);
    if (zip_stat_index(zip, index, 0, &stat) != 0) return broken(path, "the file is damaged");
    if (stat.size > most) return broken(path, std::string("'") + stat.name + "' inside it is too large");
    if (const auto spent = spend(budget, stat.size, path); !spent) return spent.error();
    std::string bytes(stat.size, '\0');
    zip_file_t* file = zip_fopen_index(zip, index, 0);
    if (!file) return broken(path, std::string("'") + stat.name + "' inside it is damaged");
    const zip_int64_t count = zip_fread(file, bytes.data(), bytes.size());
    const bool closed = zip_fclose(file) == 0;
    if (count != static_cast<zip_int64_t>(bytes.size()) || !closed)
        return broken(path, std::string("'") + stat.name + "' inside it is damaged");
    return bytes;
}

/// Puts what was read in its place; the recipe's own findings come first.
void take_recipe(LoomFile& file, std::string_view json) {
    Reading reading = read_recipe(json);
    reading.recipe.assets = std::move(file.recipe.assets);
    file.recipe = std::move(reading.recipe);
    file.findings = std::move(reading.findings);
}

Result<LoomFile> read_zip(zip_t* zip, const std::string& path, ReadingBudget& budget) {
    LoomFile file;
    std::string recipe_json;
    for (zip_int64_t k = 0, count = zip_get_num_entries(zip, 0); k < count; ++k) {
        const auto index = static_cast<zip_uint64_t>(k);
        const char* raw_name = zip_get_name(zip, index, 0);
        const std::string name = raw_name ? raw_name : "";
        const bool asset = name.starts_with("assets/") && name.find("..") == std::string::npos && name.back() != '/';
        if (name != "recipe.json" && name != "preview.png" && !asset) continue;
        auto bytes = read_entry(zip, index, name == "recipe.json" ? most_json : asset ? most_asset : most_preview, path, budget);
        if (!bytes) return bytes.error();
        if (name == "recipe.json")
            recipe_json = std::move(*bytes);
        else if (name == "preview.png")
            file.preview_png = std::move(*bytes);
        else
            file.recipe.assets[name] = make_asset(name, std::move(*bytes), budget);
    }
    if (recipe_json.empty()) return broken(path, "there is no recipe.json inside");
    take_recipe(file, recipe_json);
    check_assets(file.recipe, file.findings);
    return file;
}

Result<LoomFile> read_json(const std::string& path) {
    auto bytes = read_file(path, most_json);
    if (!bytes) return bytes.error();
    LoomFile file;
    take_recipe(file, *bytes);
    return file;
}

Result<LoomFile> read_folder(const std::string& path) {
    auto file = read_json(path + "/recipe.json");
    if (!file) return file;
    if (auto preview = read_file(path + "/preview.png", most_preview)) file->preview_png = std::move(*preview);
    std::error_code error;
    ReadingBudget budget;
    for (fs::directory_iterator entry(path + "/assets", error), end; !error && entry != end; entry.increment(error)) {
        const std::string file_name = entry->path().filename().string();
        if (!entry->is_regular_file(error) || file_name.starts_with('.')) continue;
        if (const auto spent = spend(budget, entry->file_size(error), path); !spent) return spent.error();
        auto bytes = read_file(entry->path().string(), most_asset);
        if (!bytes) return bytes.error();
        const std::string name = "assets/" + file_name;
        file->recipe.assets[name] = make_asset(name, std::move(*bytes), budget);
    }
    check_assets(file->recipe, file->findings);
    return file;
}

/// The buffer has to outlive zip_close.
bool add_entry(zip_t* zip, const std::string& name, std::string_view bytes, bool store) {
    zip_source_t* source = zip_source_buffer(zip, bytes.data(), bytes.size(), 0);
    const zip_int64_t index = source ? zip_file_add(zip, name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
    if (index < 0) {
        if (source) zip_source_free(source);
        return false;
    }
    // The same recipe gives the same bytes whenever it is saved.
    zip_file_set_mtime(zip, static_cast<zip_uint64_t>(index), 315532800, 0);
    return !store || zip_set_file_compression(zip, static_cast<zip_uint64_t>(index), ZIP_CM_STORE, 0) == 0;
}

/// `json` has to outlive zip_close.
bool add_all(zip_t* zip, const LoomFile& file, const std::string& json) {
    bool ok = add_entry(zip, "mimetype", loom_mimetype, true) && add_entry(zip, "recipe.json", json, false);
    for (const auto& [name, asset] : file.recipe.assets) ok = ok && add_entry(zip, name, asset->bytes, false);
    return ok && (file.preview_png.empty() || add_entry(zip, "preview.png", file.preview_png, true));
}

Result<Done> write_zip(const std::string& path, const LoomFile& file) {
    // In memory first: only our own writer knows every way in which a disk can fail.
    const auto bytes = loom_bytes(file);
    if (!bytes) return bytes.error();
    return write_file(path, *bytes);
}

Result<Done> write_folder(const std::string& path, const LoomFile& file) {
    const std::string assets = path + "/assets";
    std::error_code error;
    if (!file.recipe.assets.empty()) fs::create_directories(assets, error);
    if (error) return file_error("cannot write", path, error.value());
    for (const auto& [name, asset] : file.recipe.assets) {
        // A file named by its hash that is there already holds the same.
        if (name_fit(name, *asset) == NameFit::fits && fs::file_size(path + "/" + name, error) == asset->bytes.size() && !error)
            continue;
        if (auto written = write_file(path + "/" + name, asset->bytes); !written) return written;
    }
    if (auto written = write_file(path + "/recipe.json", write_recipe(file.recipe)); !written) return written;
    if (!file.preview_png.empty())
        if (auto written = write_file(path + "/preview.png", file.preview_png); !written) return written;
    std::vector<fs::path> stale;
    for (fs::directory_iterator entry(assets, error), end; !error && entry != end; entry.increment(error)) {
        const std::string name = "assets/" + entry->path().filename().string();
        // Only what we have named ourselves is ours to remove.
        if (!file.recipe.assets.contains(name) && name_fit(name, {}) == NameFit::wrong) stale.push_back(entry->path());
    }
    for (const fs::path& each : stale) fs::remove(each, error);
    return Done{};
}

}  // namespace

Result<LoomFile> inspect_loom(const std::string& path) {
    std::error_code error;
    if (fs::is_directory(path, error)) return read_folder(path);
    if (!fs::exists(path, error)) return file_error("cannot read", path, ENOENT);
    if (fs::file_size(path, error) > most_file) return broken(path, "it is larger than 2 GiB");
    // The contents decide, not the name: a zip begins with "PK", anything else has to be JSON.
    const auto start = read_start(path, 2);
    if (!start) return start.error();
    if (start->starts_with("PK")) {
        int code = 0;
        const Zip zip(zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &code));
        if (!zip) return cut_off(path);
        ReadingBudget budget;
        return read_zip(zip.get(), path, budget);
    }
    if (path.ends_with(".loom") && !start->starts_with("{")) return broken(path, "it is no .loom file");
    return read_json(path);
}

Result<LoomFile> inspect_loom_bytes(const std::string& bytes, const std::string& name, ReadingBudget& budget) {
    if (!bytes.starts_with("PK")) {
        if (!bytes.starts_with("{")) return broken(name, "it is no .loom file");
        LoomFile file;
        take_recipe(file, bytes);
        check_assets(file.recipe, file.findings);
        return file;
    }
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    const Zip zip(source ? zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error) : nullptr);
    if (!zip) {
        if (source) zip_source_free(source);
        return cut_off(name);
    }
    return read_zip(zip.get(), name, budget);
}

Result<LoomFile> read_loom(const std::string& path) {
    auto file = inspect_loom(path);
    if (!file) return file;
    for (const Finding& finding : file->findings)
        if (finding.weight == Finding::Weight::fault) return Error{Fault::recipe, path + ": " + finding.text()};
    return file;
}

Result<std::string> loom_bytes(const LoomFile& file) {
    const Error failed{Fault::memory, "'" + file.recipe.name + "' cannot be packed: there is not enough memory"};
    const std::string json = write_recipe(file.recipe);
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (!source) return failed;
    // The archive gives its source away when it is closed; this keeps it readable.
    zip_source_keep(source);
    const std::unique_ptr<zip_source_t, void (*)(zip_source_t*)> kept(source, zip_source_free);
    Zip zip(zip_open_from_source(source, ZIP_CREATE | ZIP_TRUNCATE, &error));
    if (!zip || !add_all(zip.get(), file, json) || zip_close(zip.get()) != 0) return failed;
    zip.release();
    if (zip_source_open(source) != 0) return failed;
    zip_source_seek(source, 0, SEEK_END);
    std::string bytes(static_cast<std::size_t>(zip_source_tell(source)), '\0');
    zip_source_seek(source, 0, SEEK_SET);
    const bool read = zip_source_read(source, bytes.data(), bytes.size()) == static_cast<zip_int64_t>(bytes.size());
    zip_source_close(source);
    if (!read) return failed;
    return bytes;
}

Result<Done> write_loom(const std::string& path, const LoomFile& file) {
    std::error_code error;
    return fs::is_directory(path, error) ? write_folder(path, file) : write_zip(path, file);
}

}  // namespace loom
