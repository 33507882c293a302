// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture_builder.h"

#include <algorithm>

#include "core/base/memory.h"
#include "core/base/quick_math.h"
#include "core/colour/colour.h"
#include "core/files/exif.h"

namespace loom {

bool PictureBuilder::begin(const PictureHead& head) {
    head_ = head, next_ = 0;
    colours_ = head.channels >= 3 ? 3 : 1, alpha_ = head.channels % 2 == 0;
    const std::size_t bytes = head.size.pixels() * sizeof(float) * static_cast<std::size_t>(head.channels) + head.beside;
    if (const std::size_t limit = Memory::process().limit(); bytes > limit) {
        error_ = Error{Fault::memory, "it has " + std::to_string(head.size.width) + "x" + std::to_string(head.size.height) +
                                          " pixels and needs " + std::to_string(bytes >> 20) + " MiB of memory, " +
                                          std::to_string(limit >> 20) + " MiB are allowed; use a smaller picture"};
        return false;
    }
    if (!head.profile.empty()) profile_ = ToSrgb::from_icc(head.profile, colours_);
    // What a profile says counts; without one the values are linear light or sRGB, by the file's kind.
    linear_ = head.linear && !profile_;
    if (linear_ && colours_ == 3) profile_ = ToSrgb::from_primaries(head.chromaticities);
    planes_.clear();
    for (int c = 0; c < head.channels; ++c) planes_.emplace_back(upright(head.size, head.orientation));
    return true;
}

void PictureBuilder::add(int rows, const float* values) {
    const std::size_t length = static_cast<std::size_t>(head_.size.width) * static_cast<std::size_t>(head_.channels);
    rows = std::min(rows, head_.size.height - next_);
    for_ranges(job_, rows, 4, [&](int first, int last) {
        for (int k = first; k < last; ++k) take_row(next_ + k, values + static_cast<std::size_t>(k) * length);
    });
    next_ += std::max(0, rows);
}

unsigned char* PictureBuilder::room(std::size_t bytes) {
    const std::size_t values = (bytes + sizeof(float) - 1) / sizeof(float), width = 1 << 20;
    room_ = Plane(Size{static_cast<int>(std::min(values, width)), static_cast<int>((values + width - 1) / width)});
    return reinterpret_cast<unsigned char*>(room_.data());
}

void PictureBuilder::take_row(int y, const float* values) {
    const auto width = static_cast<std::size_t>(head_.size.width), step = static_cast<std::size_t>(head_.channels),
               colours = static_cast<std::size_t>(colours_);
    std::vector<float> row(width * colours), cover(width, 1.0f);
    for (std::size_t x = 0; x < width; ++x) {
        const float* from = values + x * step;
        if (alpha_) cover[x] = within(finite(from[colours]), 0.0f, 1.0f);
        for (std::size_t c = 0; c < colours; ++c) row[x * colours + c] = finite(from[c]);
    }
    // Profiles and light are about straight colours.
    const bool straight = alpha_ && head_.premultiplied && (profile_ || linear_);
    if (straight)
        for (std::size_t x = 0; x < width; ++x)
            for (std::size_t c = 0; c < colours; ++c) row[x * colours + c] = cover[x] > 0 ? row[x * colours + c] / cover[x] : 0;
    if (profile_) profile_->apply(row.data(), width);
    if (linear_)
        for (float& value : row) value = to_encoded(value);
    if (alpha_ && (straight || !head_.premultiplied))
        for (std::size_t x = 0; x < width; ++x)
            for (std::size_t c = 0; c < colours; ++c) row[x * colours + c] *= cover[x];
    for (std::size_t c = 0; c < step; ++c)
        for (std::size_t x = 0; x < width; ++x) {
            const ShownPixel to = upright(static_cast<int>(x), y, head_.size, head_.orientation);
            planes_[c].row(to.y)[to.x] = c < colours ? finite(row[x * colours + c]) : cover[x];
        }
}

Bundle PictureBuilder::picture() && {
    Bundle picture;
    for (int c = 0; c < head_.channels; ++c) {
        PlaneRef plane = share(std::move(planes_[static_cast<std::size_t>(c)]));
        if (c < colours_)
            picture.colour.push_back(std::move(plane));
        else
            picture.coverage = std::move(plane);
    }
    return picture;
}

}  // namespace loom
