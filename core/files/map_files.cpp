// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/map_files.h"

#include <chrono>
#include <condition_variable>
#include <deque>
#include <filesystem>
#include <mutex>
#include <thread>

#include "core/base/guard.h"

namespace loom {

namespace {

/// A file that is encoded on a thread of its own, a few bands behind what is rendered.
class FileInWork {
public:
    FileInWork(std::string path, PictureWriter writer) : path_(std::move(path)), writer_(std::move(writer)) {
        thread_ = std::thread([this] { loop(); });
    }
    FileInWork(const FileInWork&) = delete;
    ~FileInWork() { (void)end(false); }

    /// Waits while the encoder is too far behind.
    Result<Done> add(Bundle band) {
        std::unique_lock lock(mutex_);
        changed_.wait(lock, [&] { return bands_.size() < most_behind || error_; });
        if (error_) return *error_;
        bands_.push_back(std::move(band));
        changed_.notify_all();
        return Done{};
    }
    /// Everything is encoded, or the first error.
    Result<Done> end(bool whole) {
        {
            const std::lock_guard lock(mutex_);
            ended_ = true;
            if (!whole) bands_.clear();
            changed_.notify_all();
        }
        if (thread_.joinable()) thread_.join();
        return error_ ? Result<Done>(*error_) : Result<Done>(Done{});
    }
    Result<Done> finish() { return writer_.finish(); }
    const std::string& path() const { return path_; }

private:
    static constexpr std::size_t most_behind = 4;

    void loop() {
        for (;;) {
            Bundle band;
            {
                std::unique_lock lock(mutex_);
                changed_.wait(lock, [&] { return ended_ || !bands_.empty(); });
                if (bands_.empty() || error_) return;
                band = std::move(bands_.front());
                bands_.pop_front();
                changed_.notify_all();
            }
            const auto done = guarded("writing '" + path_ + "'", [&] { return writer_.add(band); });
            if (done) continue;
            const std::lock_guard lock(mutex_);
            error_ = done.error();
            changed_.notify_all();
            return;
        }
    }

    std::string path_;
    PictureWriter writer_;
    std::mutex mutex_;
    std::condition_variable changed_;
    std::deque<Bundle> bands_;
    std::optional<Error> error_;
    bool ended_ = false;
    std::thread thread_;
};

Wanted wanted_of(Map map) {
    if (map == Map::colour) return {};
    return {Wanted::What::map, "", "", map};
}

}  // namespace

Result<WrittenMaps> write_maps(const Recipe& recipe, Size size, const std::vector<MapFile>& files, const RenderOptions& options,
                               const Job& job) {
    using Clock = std::chrono::steady_clock;
    const auto since = [](Clock::time_point start) {
        return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
    };
    return guarded("writing the maps of '" + recipe.name + "'", [&]() -> Result<WrittenMaps> {
        const auto begun = Clock::now();
        std::multimap<Wanted, std::unique_ptr<FileInWork>> in_work;
        std::vector<Wanted> wanted;
        for (const MapFile& file : files) {
            auto writer = PictureWriter::open(file.path, size, file.format, map_info(file.map).data);
            if (!writer) return writer.error();
            in_work.emplace(wanted_of(file.map), std::make_unique<FileInWork>(file.path, std::move(*writer)));
            wanted.push_back(wanted_of(file.map));
        }
        WrittenMaps written;
        const auto start = Clock::now();
        auto rendering = render_bands(
            recipe, size, wanted, options,
            [&](const Wanted& which, const Bundle& band) -> Result<Done> {
                const auto [first, last] = in_work.equal_range(which);
                for (auto file = first; file != last; ++file)
                    if (auto done = file->second->add(band); !done) return done;
                return Done{};
            },
            job);
        if (!rendering) return rendering.error();
        written.rendering = std::move(*rendering), written.render_ms = since(start);
        for (auto& [which, file] : in_work)
            if (auto done = file->end(true); !done) return done.error();
        std::vector<std::string> there;
        for (auto& [which, file] : in_work) {
            auto done =
                job.cancelled() ? Result<Done>(Error{Fault::cancelled, "cancelled; nothing was left behind"}) : file->finish();
            if (!done) {
                std::error_code error;
                for (const std::string& path : there) std::filesystem::remove(path, error);
                return done.error();
            }
            there.push_back(file->path());
        }
        written.write_ms = since(begun) - written.render_ms;
        return written;
    });
}

}  // namespace loom
