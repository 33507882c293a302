// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/container.h"

#include <zip.h>

#include <algorithm>
#include <filesystem>
#include <memory>

#include "core/base/files.h"

namespace loom {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t most_json = 64u << 20, most_file = 2048u << 20, most_asset = 512u << 20;

Error broken(const std::string& path, const std::string& why) { return {Fault::file, "cannot read '" + path + "': " + why}; }

struct CloseZip {
    void operator()(zip_t* zip) const { zip_discard(zip); }
};
using Zip = std::unique_ptr<zip_t, CloseZip>;

/// One entry's bytes; its declared size is checked before anything is unpacked.
Result<std::string> read_entry(zip_t* zip, zip_uint64_t index, std::size_t most, const std::string& path) {
    zip_stat_t stat;
    zip_stat_init(&stat);
    if (zip_stat_index(zip, index, 0, &stat) != 0) return broken(path, "the file is damaged");
    if (stat.size > most) return broken(path, std::string("'") + stat.name + "' inside it is too large");
    std::string bytes(stat.size, '\0');
    zip_file_t* file = zip_fopen_index(zip, index, 0);
    if (!file) return broken(path, std::string("'") + stat.name + "' inside it is damaged");
    const zip_int64_t count = zip_fread(file, bytes.data(), bytes.size());
    const bool closed = zip_fclose(file) == 0;
    if (count != static_cast<zip_int64_t>(bytes.size()) || !closed)
        return broken(path, std::string("'") + stat.name + "' inside it is damaged");
    return bytes;
}

Result<LoomFile> read_zip(const std::string& path) {
    int code = 0;
    Zip zip(zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &code));
    if (!zip) return broken(path, "it is no complete .loom file; it may have been cut off while it was copied");
    LoomFile file;
    bool found = false;
    for (zip_int64_t k = 0, count = zip_get_num_entries(zip.get(), 0); k < count; ++k) {
        const auto index = static_cast<zip_uint64_t>(k);
        const char* raw_name = zip_get_name(zip.get(), index, 0);
        const std::string name = raw_name ? raw_name : "";
        const bool asset = name.starts_with("assets/") && name.find("..") == std::string::npos && name.back() != '/';
        if (name != "recipe.json" && name != "preview.png" && !asset) continue;
        auto bytes = read_entry(zip.get(), index, name == "recipe.json" ? most_json : most_asset, path);
        if (!bytes) return bytes.error();
        if (name == "recipe.json") {
            Reading reading = read_recipe(*bytes);
            file.recipe = std::move(reading.recipe);
            file.findings = std::move(reading.findings);
            found = true;
        } else if (name == "preview.png") {
            file.preview_png = std::move(*bytes);
        } else {
            file.assets[name] = std::move(*bytes);
        }
    }
    if (!found) return broken(path, "there is no recipe.json inside");
    return file;
}

Result<LoomFile> read_json(const std::string& path) {
    auto bytes = read_file(path, most_json);
    if (!bytes) return bytes.error();
    Reading reading = read_recipe(*bytes);
    LoomFile file;
    file.recipe = std::move(reading.recipe);
    file.findings = std::move(reading.findings);
    return file;
}

Result<LoomFile> read_folder(const std::string& path) {
    auto file = read_json(path + "/recipe.json");
    if (!file) return file;
    if (auto preview = read_file(path + "/preview.png", most_asset)) file->preview_png = std::move(*preview);
    std::error_code ignored;
    for (const auto& entry : fs::directory_iterator(path + "/assets", ignored)) {
        if (!entry.is_regular_file()) continue;
        auto bytes = read_file(entry.path().string(), most_asset);
        if (!bytes) return bytes.error();
        file->assets["assets/" + entry.path().filename().string()] = std::move(*bytes);
    }
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

Result<Done> write_zip(const std::string& path, const LoomFile& file) {
    const std::string json = write_recipe(file.recipe);
    return replace_file(path, [&](const std::string& temporary) -> Result<Done> {
        int code = 0;
        Zip zip(zip_open(temporary.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &code));
        if (!zip) return file_error("cannot write", path, errno);
        bool ok = add_entry(zip.get(), "mimetype", loom_mimetype, true) && add_entry(zip.get(), "recipe.json", json, false);
        for (const auto& [name, bytes] : file.assets) ok = ok && add_entry(zip.get(), name, bytes, false);
        if (!file.preview_png.empty()) ok = ok && add_entry(zip.get(), "preview.png", file.preview_png, true);
        if (!ok) return Error{Fault::file, "cannot write '" + path + "': " + zip_strerror(zip.get())};
        if (zip_close(zip.get()) != 0) {
            const int system_error = zip_error_code_system(zip_get_error(zip.get()));
            return file_error("cannot write", path, system_error != 0 ? system_error : EIO);
        }
        zip.release();
        return Done{};
    });
}

Result<Done> write_folder(const std::string& path, const LoomFile& file) {
    std::error_code error;
    fs::create_directories(path + "/assets", error);
    if (error) return file_error("cannot write", path, error.value());
    for (const auto& [name, bytes] : file.assets)
        if (auto written = write_file(path + "/" + name, bytes); !written) return written;
    if (!file.preview_png.empty())
        if (auto written = write_file(path + "/preview.png", file.preview_png); !written) return written;
    return write_file(path + "/recipe.json", write_recipe(file.recipe));
}

}  // namespace

Result<LoomFile> inspect_loom(const std::string& path) {
    std::error_code error;
    if (fs::is_directory(path, error)) return read_folder(path);
    if (!fs::exists(path, error)) return file_error("cannot read", path, ENOENT);
    if (fs::file_size(path, error) > most_file) return broken(path, "it is larger than 2 GiB");
    // The contents decide, not the name: a zip begins with "PK", anything else has to be JSON.
    auto start = read_file(path, most_file);
    if (!start) return start.error();
    if (start->starts_with("PK")) return read_zip(path);
    if (path.ends_with(".loom") && !start->starts_with("{")) return broken(path, "it is no .loom file");
    return read_json(path);
}

Result<LoomFile> read_loom(const std::string& path) {
    auto file = inspect_loom(path);
    if (!file) return file;
    for (const Finding& finding : file->findings)
        if (finding.weight == Finding::Weight::fault) return Error{Fault::recipe, path + ": " + finding.text()};
    return file;
}

Result<Done> write_loom(const std::string& path, const LoomFile& file) {
    std::error_code error;
    return fs::is_directory(path, error) ? write_folder(path, file) : write_zip(path, file);
}

}  // namespace loom
