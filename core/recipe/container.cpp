// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/container.h"

#include <zip.h>

#include <algorithm>
#include <filesystem>
#include <memory>

#include "core/base/files.h"
#include "core/base/own_folder.h"
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
    // The checksum is compared at the end, which is found by reading on.
    char beyond = 0;
    const bool ended = zip_fread(file, &beyond, 1) == 0;
    const bool closed = zip_fclose(file) == 0;
    if (count != static_cast<zip_int64_t>(bytes.size()) || !ended || !closed)
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
        // What stands in the folder is kept; the folder may have an entry of its own.
        const bool asset = name.starts_with("assets/") && name != "assets/";
        if (name != "recipe.json" && name != "preview.png" && !asset) continue;
        if (asset)
            if (const std::string fault = asset_name_fault(name); !fault.empty())
                return broken(path, "the name '" + name_in_words(name) + "' inside it is not allowed, " + fault);
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

Result<LoomFile> file_of(Result<std::string> json) {
    if (!json) return json.error();
    LoomFile file;
    take_recipe(file, *json);
    return file;
}

Result<LoomFile> read_folder(const std::string& path) {
    const auto folder = OwnFolder::open(path);
    if (!folder) return folder.error();
    auto file = file_of(folder->read("recipe.json", most_json));
    if (!file) return file;
    // A preview can be made anew, but nothing may be read through a link in its place.
    if (folder->there("preview.png") != OwnFolder::There::nothing) {
        auto preview = folder->read("preview.png", most_preview);
        if (!preview) return preview.error();
        file->preview_png = std::move(*preview);
    }
    if (folder->there("assets") != OwnFolder::There::nothing) {
        const auto assets = folder->folder("assets");
        if (!assets) return assets.error();
        const auto names = assets->names();
        if (!names) return names.error();
        ReadingBudget budget;
        for (const std::string& own : *names) {
            if (const auto spent = spend(budget, assets->bytes_of(own), path); !spent) return spent.error();
            auto bytes = assets->read(own, most_asset);
            if (!bytes) return bytes.error();
            const std::string name = "assets/" + own;
            file->recipe.assets[name] = make_asset(name, std::move(*bytes), budget);
        }
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
    // The same recipe gives the same bytes whenever and wherever it is saved: an archive's clock knows no time zone, and its
    // first day is the first of 1980.
    constexpr zip_uint16_t midnight = 0, first_day = 1 << 5 | 1;
    if (zip_file_set_dostime(zip, static_cast<zip_uint64_t>(index), midnight, first_day, 0) != 0) return false;
    return !store || zip_set_file_compression(zip, static_cast<zip_uint64_t>(index), ZIP_CM_STORE, 0) == 0;
}

/// Deflating it again takes its time and gains nothing.
bool is_compressed(std::string_view name) {
    constexpr std::string_view endings[] = {".png", ".jpg", ".jpeg", ".webp", ".exr", ".loom"};
    return std::any_of(std::begin(endings), std::end(endings), [&](std::string_view each) { return name.ends_with(each); });
}

/// `json` has to outlive zip_close.
bool add_all(zip_t* zip, const LoomFile& file, const std::string& json) {
    bool ok = add_entry(zip, "mimetype", loom_mimetype, true) && add_entry(zip, "recipe.json", json, false);
    for (const auto& [name, asset] : file.recipe.assets) ok = ok && add_entry(zip, name, asset->bytes, is_compressed(name));
    return ok && (file.preview_png.empty() || add_entry(zip, "preview.png", file.preview_png, true));
}

Result<Done> write_zip(const std::string& path, const LoomFile& file) {
    // In memory first: only our own writer knows every way in which a disk can fail.
    const auto bytes = loom_bytes(file);
    if (!bytes) return bytes.error();
    return write_file(path, *bytes);
}

Result<Done> write_folder(const std::string& path, const LoomFile& file) {
    const auto folder = OwnFolder::open(path);
    if (!folder) return folder.error();
    if (!file.recipe.assets.empty() || folder->there("assets") != OwnFolder::There::nothing) {
        const auto assets = folder->folder("assets", true);
        if (!assets) return assets.error();
        for (const auto& [name, asset] : file.recipe.assets) {
            if (const std::string fault = asset_name_fault(name); !fault.empty())
                return Error{Fault::file,
                             "cannot write '" + name_in_words(path + "/" + name) + "': its name is not allowed, " + fault};
            const std::string own = name.substr(std::string_view("assets/").size());
            // A file named by its hash that is there already holds the same.
            if (name_fit(name, *asset) == NameFit::fits && assets->there(own) == OwnFolder::There::file &&
                assets->bytes_of(own) == asset->bytes.size())
                continue;
            if (auto written = assets->write(own, asset->bytes); !written) return written;
        }
    }
    if (auto written = folder->write("recipe.json", write_recipe(file.recipe)); !written) return written;
    if (!file.preview_png.empty())
        if (auto written = folder->write("preview.png", file.preview_png); !written) return written;
    if (folder->there("assets") != OwnFolder::There::folder) return Done{};
    const auto assets = folder->folder("assets");
    const auto names = assets ? assets->names() : assets.error();
    // What is stale does no harm; the recipe is saved.
    if (!names) return Done{};
    for (const std::string& own : *names) {
        const std::string name = "assets/" + own;
        // Only what we have named ourselves is ours to remove.
        if (!file.recipe.assets.contains(name) && name_fit(name, {}) == NameFit::wrong) assets->remove(own);
    }
    return Done{};
}

}  // namespace

Result<LoomFile> inspect_loom(const std::string& path) {
    std::error_code error;
    if (fs::is_directory(path, error)) return read_folder(path);
    if (!fs::exists(path, error)) return file_error("cannot read", path, ENOENT);
    if (fs::file_size(path, error) > most_file) return broken(path, "it is larger than 2 GiB");
    // The contents decide, not the name: a zip begins with "PK", anything else has to be JSON.
    const auto start = read_start(path, 16);
    if (!start) return start.error();
    if (const std::string_view kind = picture_kind(*start); !kind.empty())
        return Error{Fault::recipe, "cannot read '" + path + "': it is a picture (" + std::string(kind) +
                                        "), not a recipe; the step Picture can hold it, and it can be the reference"};
    if (start->starts_with("PK")) {
        int code = 0;
        const Zip zip(zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &code));
        if (!zip) return cut_off(path);
        ReadingBudget budget;
        return read_zip(zip.get(), path, budget);
    }
    if (path.ends_with(".loom") && !start->starts_with("{")) return broken(path, "it is no .loom file");
    return file_of(read_file(path, most_json));
}

std::string preview_in(const std::string& path) {
    std::error_code error;
    if (fs::is_directory(path, error)) {
        const auto folder = OwnFolder::open(path);
        const auto bytes = folder ? folder->read("preview.png", most_preview) : folder.error();
        return bytes ? *bytes : std::string();
    }
    if (!fs::is_regular_file(path, error) || fs::file_size(path, error) > most_file) return {};
    int code = 0;
    const Zip zip(zip_open(path.c_str(), ZIP_RDONLY, &code));
    const zip_int64_t index = zip ? zip_name_locate(zip.get(), "preview.png", 0) : -1;
    if (index < 0) return {};
    ReadingBudget budget;
    const auto bytes = read_entry(zip.get(), static_cast<zip_uint64_t>(index), most_preview, path, budget);
    return bytes ? *bytes : std::string();
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
