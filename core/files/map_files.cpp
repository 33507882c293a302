// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/map_files.h"

#include <oneapi/tbb/task_arena.h>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>

#include "core/base/priority.h"
#include "core/base/fork.h"
#include "core/base/guard.h"
#include "core/files/packed_bands.h"

namespace loom {

namespace {

/// A file that is encoded on a thread of its own, a few bands behind what is rendered.
class FileInWork {
public:
    /// `told` hears how many rows are encoded. `arena` holds the threads that help.
    FileInWork(const MapFile& file, PictureWriter writer, tbb::task_arena& arena, std::function<void(int)> told)
        : path_(file.path),
          bands_of_(file.picture, file.green_down),
          writer_(std::move(writer)),
          arena_(arena),
          told_(std::move(told)) {
        thread_ = std::thread([this] {
            step_back();
            loop();
        });
    }
    FileInWork(const FileInWork&) = delete;
    ~FileInWork() { (void)end(false); }

    /// Waits while the encoder is too far behind.
    Result<Done> add(Map map, const Bundle& of_map) {
        // A map that is behind the others holds rows back; what they have then comes in several bands.
        for (auto band = bands_of_.add(map, of_map); band; band = bands_of_.next())
            if (auto done = add(std::move(*band)); !done) return done;
        return Done{};
    }
    std::string taken() { return writer_.taken(); }
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
    Result<Done> hand_over(FilesTogether& together) {
        auto file = writer_.end();
        if (!file) return file.error();
        return *file ? together.add(std::move(**file)) : Result<Done>(Done{});
    }
    /// 2 and 4 are grey and colour with alpha.
    bool transparent() const { return writer_.channels() % 2 == 0; }

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
            const auto done = guarded("writing '" + path_ + "'", [&] {
                Result<Done> added{Done{}};
                Fork fork;
                arena_.execute([&] {
                    // Where the arena is full one of its own threads does it.
                    const Fork::Part part(fork);
                    added = writer_.add(band);
                });
                return added;
            });
            if (done) {
                rows_ += band.rows().count;
                told_(rows_);
                continue;
            }
            const std::lock_guard lock(mutex_);
            error_ = done.error();
            changed_.notify_all();
            return;
        }
    }

    std::string path_;
    PackedBands bands_of_;
    PictureWriter writer_;
    tbb::task_arena& arena_;
    std::function<void(int)> told_;
    int rows_ = 0;
    std::mutex mutex_;
    std::condition_variable changed_;
    std::deque<Bundle> bands_;
    std::optional<Error> error_;
    bool ended_ = false;
    std::thread thread_;
};

}  // namespace

std::vector<Wanted> wanted_of(const ExportPicture& picture) {
    std::vector<Wanted> wanted;
    for (Map map : picture.reads()) wanted.push_back(map == Map::colour ? Wanted{} : Wanted{Wanted::What::map, "", "", map});
    return wanted;
}

Result<WrittenMaps> write_maps(const Recipe& recipe, Size size, const std::vector<MapFile>& files, FilesTogether& together,
                               const RenderOptions& options, const Job& job, const FileProgress& progress) {
    using Clock = std::chrono::steady_clock;
    const auto since = [](Clock::time_point start) {
        return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
    };
    return guarded("writing the maps of '" + recipe.name + "'", [&]() -> Result<WrittenMaps> {
        const auto begun = Clock::now();
        tbb::task_arena arena(options.threads > 0 ? options.threads : tbb::task_arena::automatic);
        std::vector<std::unique_ptr<FileInWork>> in_work;
        std::vector<Wanted> wanted;
        for (const MapFile& file : files) {
            const Meaning meaning = !file.picture.colours()     ? Meaning::data
                                    : file.picture.pack.empty() ? Meaning::colour
                                                                : Meaning::packed;
            auto writer = file.path.empty() ? PictureWriter::open(size, file.picture.format, meaning)
                                            : PictureWriter::open(file.path, size, file.picture.format, meaning);
            if (!writer) return writer.error();
            auto told = [&progress, index = in_work.size(), rows = size.height](int done) {
                if (progress) progress(index, static_cast<double>(done) / rows);
            };
            in_work.push_back(std::make_unique<FileInWork>(file, std::move(*writer), arena, std::move(told)));
            for (const Wanted& each : wanted_of(file.picture))
                if (std::find(wanted.begin(), wanted.end(), each) == wanted.end()) wanted.push_back(each);
        }
        WrittenMaps written;
        const auto start = Clock::now();
        auto rendering = render_bands(
            recipe, size, wanted, options,
            [&](const Wanted& which, const Bundle& band) -> Result<Done> {
                const Map map = which.what == Wanted::What::map ? which.map : Map::colour;
                for (std::size_t k = 0; k < files.size(); ++k) {
                    const auto reads = files[k].picture.reads();
                    if (std::find(reads.begin(), reads.end(), map) == reads.end()) continue;
                    if (auto done = in_work[k]->add(map, band); !done) return done;
                }
                return Done{};
            },
            job);
        if (!rendering) return rendering.error();
        written.rendering = std::move(*rendering), written.render_ms = since(start);
        for (auto& file : in_work)
            if (auto done = file->end(true); !done) return done.error();
        for (auto& file : in_work) {
            if (job.cancelled()) return Error{Fault::cancelled, "cancelled; nothing was left behind"};
            if (auto done = file->hand_over(together); !done) return done.error();
            written.in_memory.push_back(file->taken());
            written.transparent.push_back(file->transparent());
        }
        written.write_ms = since(begun) - written.render_ms;
        return written;
    });
}

}  // namespace loom
