// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What steps that lay out objects write: picture, height and the object planes that somebody reads; and how objects that reach
// over the tile's edges are drawn band by band, the same on any number of threads.
#pragma once

#include <array>
#include <cmath>
#include <functional>
#include <iterator>
#include <optional>
#include <vector>

#include "core/base/hash.h"
#include "core/catalogue/context.h"

namespace loom {

/// All named planes an object step makes, for its description.
inline std::vector<std::string_view> object_step_planes() {
    return {height_plane, objects::id, objects::u, objects::v, objects::random[0], objects::random[1], objects::random[2]};
}

/// The three draws that later steps read of object `id`, 0..1.
inline float object_draw(std::uint64_t seed, std::uint32_t id, int which) {
    return unit_float(mix64(mix64(seed, 0x6f626a65 + id), static_cast<std::uint64_t>(which)));
}

/// Planes of steps whose objects are tilted planes: how their height rises to the right and down, in height a design pixel.
inline std::vector<std::string_view> tilted_step_planes() {
    std::vector<std::string_view> planes = object_step_planes();
    planes.insert(planes.end(), std::begin(objects::tilt), std::end(objects::tilt));
    return planes;
}

class ObjectSheet {
public:
    /// Planes begin at 0, the picture at `ground`. Where every pixel of picture and height is written anyway, `blank` leaves them
    /// as they are in memory.
    ObjectSheet(const StepContext& context, int channels, bool covered, float ground = 0, bool blank = false)
        : size_(context.size), seed_(context.seed) {
        for (int c = 0; c < channels; ++c) colour_.push_back(blank ? Plane(size_) : Plane(size_, ground));
        if (covered) cover_.emplace(size_, 0.0f);
        auto want = [&](std::string_view name) {
            return context.wants(name) ? std::optional<Plane>(Plane(size_, 0.0f)) : std::nullopt;
        };
        if (context.wants(height_plane)) height_ = blank ? Plane(size_) : Plane(size_, 0.0f);
        id_ = want(objects::id), u_ = want(objects::u), v_ = want(objects::v);
        for (std::size_t k = 0; k < 3; ++k) lots_[k] = want(objects::random[k]);
        for (std::size_t k = 0; k < 2; ++k) tilt_[k] = want(objects::tilt[k]);
        owned_ = id_ || u_ || v_ || lots_[0] || lots_[1] || lots_[2];
    }

    Size size() const { return size_; }
    float* colour(int channel, int y) { return colour_[static_cast<std::size_t>(channel)].row(y); }
    float* cover(int y) { return cover_->row(y); }
    /// Null where nobody reads it.
    float* height(int y) { return height_ ? height_->row(y) : nullptr; }

    /// Whether any object plane is read.
    bool owned() const { return owned_; }
    /// Notes that object `id` (from 1) owns a pixel, at (u, v) of its own frame.
    void own(int x, int y, std::uint32_t id, float u, float v) {
        if (!owned_) return;
        if (id_) id_->row(y)[x] = static_cast<float>(id);
        if (u_) u_->row(y)[x] = u < 0 ? 0 : u > 1 ? 1 : u;
        if (v_) v_->row(y)[x] = v < 0 ? 0 : v > 1 ? 1 : v;
        for (std::size_t k = 0; k < 3; ++k)
            if (lots_[k]) lots_[k]->row(y)[x] = object_draw(seed_, id, static_cast<int>(k));
    }

    /// Notes how the object that owns a pixel rises there.
    void lean(int x, int y, float right, float down) {
        if (tilt_[0]) tilt_[0]->row(y)[x] = right;
        if (tilt_[1]) tilt_[1]->row(y)[x] = down;
    }

    Bundle finish() {
        Bundle bundle;
        for (Plane& plane : colour_) bundle.colour.push_back(share(std::move(plane)));
        if (cover_) bundle.coverage = share(std::move(*cover_));
        auto name = [&](std::string_view word, std::optional<Plane>& plane) {
            if (plane) bundle.named[std::string(word)] = share(std::move(*plane));
        };
        name(height_plane, height_), name(objects::id, id_), name(objects::u, u_), name(objects::v, v_);
        for (std::size_t k = 0; k < 3; ++k) name(objects::random[k], lots_[k]);
        for (std::size_t k = 0; k < 2; ++k) name(objects::tilt[k], tilt_[k]);
        return bundle;
    }

private:
    Size size_;
    std::uint64_t seed_;
    bool owned_ = false;
    std::vector<Plane> colour_;
    std::optional<Plane> cover_, height_, id_, u_, v_;
    std::array<std::optional<Plane>, 3> lots_;
    std::array<std::optional<Plane>, 2> tilt_;
};

/// Where an object may draw, in pixels; it may reach beyond the tile.
struct ObjectBox {
    float left, top, right, bottom;
};

/// One copy of an object in a band: its number, and by how much it is moved so that this copy shows.
struct ObjectCopy {
    std::uint32_t object;
    float dx, dy;
};

/// Calls paint(first, last, copies) for bands of at most `band` rows; copies come in the order of their objects and are all whose
/// boxes touch the band within the tile.
inline void for_object_bands(const Job& job, Size size, const std::vector<ObjectBox>& boxes, int band,
                             const std::function<void(int first, int last, const std::vector<ObjectCopy>&)>& paint) {
    // Small pictures have many objects in few rows: still enough bands to share among threads.
    band = std::min(band, std::max(8, size.height / 12));
    const int bands = (size.height + band - 1) / band;
    std::vector<std::vector<ObjectCopy>> of_band(static_cast<std::size_t>(bands));
    const auto width = static_cast<float>(size.width), height = static_cast<float>(size.height);
    for (std::uint32_t k = 0; k < boxes.size(); ++k) {
        if (k % 4096 == 0) job.check();
        const ObjectBox& box = boxes[k];
        for (float dy = -std::floor(box.bottom / height) * height; box.top + dy < height; dy += height) {
            if (box.bottom + dy < 0) continue;
            for (float dx = -std::floor(box.right / width) * width; box.left + dx < width; dx += width) {
                if (box.right + dx < 0) continue;
                const int from = std::max(0, static_cast<int>(box.top + dy)) / band;
                const int to = std::min(size.height - 1, static_cast<int>(box.bottom + dy)) / band;
                for (int b = from; b <= to; ++b) of_band[static_cast<std::size_t>(b)].push_back({k, dx, dy});
            }
        }
    }
    for_ranges(job, bands, 1, [&](int from, int to) {
        for (int b = from; b < to; ++b)
            paint(b * band, std::min((b + 1) * band, size.height), of_band[static_cast<std::size_t>(b)]);
    });
}

}  // namespace loom
