// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture_codec.h"

#include <dlfcn.h>

#include <chrono>
#include <filesystem>
#include <future>
#include <mutex>
#include <thread>

#include "core/base/job.h"

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

std::shared_future<Result<const PictureCodec*>> loading;
std::once_flag once;

void begin(std::launch policy) {
    std::call_once(once, [&] { loading = std::async(policy, load).share(); });
}

}  // namespace

Result<const PictureCodec*> picture_codec() {
    begin(std::launch::deferred);
    return loading.get();
}

void prepare_picture_files() {
    // Worker threads cannot start while the loader is at work, so they start first.
    const Job job;
    for_ranges(job, 64, 1, [](int, int) { std::this_thread::sleep_for(std::chrono::microseconds(50)); });
    begin(std::launch::async);
}

}  // namespace loom
