// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture_codec.h"

#include <dlfcn.h>

#include <filesystem>

namespace loom {

namespace {

constexpr const char* module_name = "keen-loom-pictures.so";

Result<const PictureCodec*> load() {
    namespace fs = std::filesystem;
    std::error_code error;
    const fs::path beside = fs::read_symlink("/proc/self/exe", error).parent_path();
    std::string words;
    for (const fs::path& folder : {beside, beside / "../lib/keen-loom"}) {
        const fs::path path = folder / module_name;
        if (!fs::exists(path, error)) continue;
        void* handle = ::dlopen(path.c_str(), RTLD_LAZY | RTLD_LOCAL);
        if (!handle) {
            words = ::dlerror();
            continue;
        }
        void* symbol = ::dlsym(handle, "keen_loom_picture_codec");
        if (symbol) return reinterpret_cast<const PictureCodec* (*)()>(symbol)();
    }
    return Error{Fault::file, std::string("cannot load ") + module_name +
                                  (words.empty() ? " from beside the program; install it again" : ": " + words)};
}

}  // namespace

Result<const PictureCodec*> picture_codec() {
    static const Result<const PictureCodec*> codec = load();
    return codec;
}

}  // namespace loom
