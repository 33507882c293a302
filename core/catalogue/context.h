// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a step is given when it runs.
#pragma once

#include <cstdint>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <string>
#include <string_view>
#include <unordered_map>

#include "core/base/hash.h"
#include "core/base/job.h"
#include "core/image/bundle.h"
#include "core/image/picture_reader.h"

namespace loom {

/// What a step makes once for all bands of a picture: laid objects, tables, noise.
struct Prepared {
    std::mutex mutex;
    std::shared_ptr<const void> made;
};

/// What steps of one rendering have in common, such as the same clouds that bend several strands; it lives as long as one of them
/// uses it.
class Shared {
public:
    template <class Make>
    auto get(const Key& key, Make&& make) {
        using Made = std::decay_t<decltype(make())>;
        const std::lock_guard lock(mutex_);
        std::weak_ptr<const void>& known = known_[key];
        if (const auto there = known.lock()) return std::static_pointer_cast<const Made>(there);
        const auto made = std::make_shared<const Made>(make());
        known = made;
        return made;
    }

private:
    std::mutex mutex_;
    std::unordered_map<Key, std::weak_ptr<const void>, KeyHash> known_;
};

struct StepContext {
    /// Pixels of the picture; the whole tile.
    Size size;
    /// The rows of it to make: all of them (count 0 stands for that too), or some if the step's footprint allows bands.
    Rows rows;
    /// The tile in design pixels.
    Size tile;
    /// Hash of the recipe's and the step's seed.
    std::uint64_t seed = 0;
    /// What came in; null for the first step of a strand. It and the other strands hold the rows that the footprint asks for.
    const Bundle* input = nullptr;
    /// Results of the strands that the parameters of kind `strand` name, by parameter id; pictures and recipes within
    /// the recipe likewise, at sizes of their own; and the joined strands to the left under "beneath" for steps that
    /// read it.
    std::map<std::string, const Bundle*, std::less<>> others;
    /// The bytes of the drawings that parameters of kind `drawing` name, and who reads them.
    std::map<std::string, std::shared_ptr<const std::string>, std::less<>> drawings;
    const PictureReader* pictures = nullptr;
    /// What strokes have made so far (StepDescription::carry); null: none yet.
    const Bundle* carried = nullptr;
    /// Named planes that somebody reads; others need not be made. Null: all are wanted.
    const std::set<std::string, std::less<>>* wanted = nullptr;
    /// Where the recipe's lamp stands, in degrees: 0 is right, 90 above; and how high.
    double lamp_direction = 135, lamp_elevation = 45;
    /// Whether the recipe blends in linear light.
    bool linear_light = false;
    const Job* job = nullptr;
    /// Kept from band to band; null where the picture is made in one piece.
    Prepared* prepared = nullptr;
    /// Of this rendering; null where a step runs alone.
    Shared* shared = nullptr;

    Rows wanted_rows() const { return rows.count > 0 ? rows : Rows{0, size.height}; }
    /// The wanted rows and so many to both sides, as far as the tile has them.
    Rows grown(int by) const {
        const Rows own = wanted_rows();
        if (own.count + 2 * by >= size.height) return {0, size.height};
        return {wrap(own.first - by, size.height), own.count + 2 * by};
    }
    /// A plane for the wanted rows.
    Plane plane() const { return Plane(size, wanted_rows()); }
    Plane plane(float value) const { return Plane(size, wanted_rows(), value); }
    /// body(first, last) for ranges of the wanted rows, on all threads.
    template <class Body>
    void for_rows(Body&& body) const {
        const Rows own = wanted_rows();
        loom::for_rows(*job, own.count, [&](int from, int to) { body(from + own.first, to + own.first); });
    }
    /// What `make` returned for the first band. It must not depend on the rows.
    template <class Make>
    auto once(Make&& make) const {
        using Made = std::decay_t<decltype(make())>;
        if (!prepared) return std::make_shared<const Made>(make());
        const std::lock_guard lock(prepared->mutex);
        if (!prepared->made) prepared->made = std::make_shared<const Made>(make());
        return std::static_pointer_cast<const Made>(prepared->made);
    }

    /// One thing for all steps that ask with the same key, which says everything it is made from.
    template <class Make>
    auto in_common(const Key& key, Make&& make) const {
        using Made = std::decay_t<decltype(make())>;
        if (!shared) return std::make_shared<const Made>(make());
        return shared->get(key, std::forward<Make>(make));
    }

    bool wants(std::string_view plane) const { return !wanted || wanted->contains(plane); }

    /// Pixels per design pixel.
    double scale_x() const { return static_cast<double>(size.width) / tile.width; }
    double scale_y() const { return static_cast<double>(size.height) / tile.height; }

    const Bundle* other(std::string_view name) const {
        const auto found = others.find(name);
        return found == others.end() ? nullptr : found->second;
    }
};

}  // namespace loom
