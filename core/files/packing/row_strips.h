// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Rows of a picture that are packed and compressed in strips side by side, and put out in their order.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace loom {

/// Puts row k of those that are added into `out`, interleaved; called on several threads at once.
using LayRow = std::function<void(int k, float* out)>;

class RowStrips {
public:
    struct Shape {
        int height = 0, strip_rows = 16;
        std::size_t values = 0;     ///< of a row, as they are laid
        std::size_t row_bytes = 0;  ///< of a row, packed
    };
    struct Strip {
        int first = 0, rows = 0;
        const std::uint8_t* bytes = nullptr;
        const std::uint8_t* before = nullptr;  ///< the row above; null at the picture's top
        bool last = false;
    };
    using Pack = std::function<void(float* values, std::uint8_t* out)>;  ///< may change the values
    using Encode = std::function<std::string(const Strip&)>;
    /// False ends the writing; why is known to whoever puts.
    using Put = std::function<bool(const Strip&, std::string)>;

    RowStrips(const Shape& shape, Pack pack, Encode encode, Put put);
    /// The next rows. Pack and encode run on all threads of the arena that this is called in, put on this one.
    bool add(int rows, const LayRow& lay);
    /// Whether every row has been put.
    bool whole() const { return done_ == shape_.height; }

private:
    bool encode_gathered();

    Shape shape_;
    Pack pack_;
    Encode encode_;
    Put put_;
    int gathered_ = 0, done_ = 0, room_ = 0;
    std::vector<std::uint8_t> bytes_, before_;
};

}  // namespace loom
