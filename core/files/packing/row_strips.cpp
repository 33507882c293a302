// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/packing/row_strips.h"

#include <oneapi/tbb/parallel_for.h>
#include <oneapi/tbb/task_arena.h>

#include <algorithm>

#include "core/base/fork.h"

namespace loom {

RowStrips::RowStrips(const Shape& shape, Pack pack, Encode encode, Put put)
    : shape_(shape), pack_(std::move(pack)), encode_(std::move(encode)), put_(std::move(put)) {
    // Several strips for each thread, so that one that takes longer does not make the others wait.
    room_ = std::min(shape.height, 6 * tbb::this_task_arena::max_concurrency() * shape.strip_rows);
    bytes_.resize(static_cast<std::size_t>(room_) * shape.row_bytes);
}

bool RowStrips::add(int rows, const LayRow& lay) {
    for (int from = 0; from < rows;) {
        const int count = std::min(rows - from, room_ - gathered_);
        Fork fork;
        tbb::parallel_for(tbb::blocked_range<int>(0, count, 4), [&](const tbb::blocked_range<int>& part) {
            const Fork::Part some(fork);
            std::vector<float> values(shape_.values);
            for (int k = part.begin(); k < part.end(); ++k) {
                lay(from + k, values.data());
                pack_(values.data(), bytes_.data() + static_cast<std::size_t>(gathered_ + k) * shape_.row_bytes);
            }
        });
        gathered_ += count, from += count;
        if ((gathered_ == room_ || done_ + gathered_ == shape_.height) && !encode_gathered()) return false;
    }
    return true;
}

bool RowStrips::encode_gathered() {
    const int strips = (gathered_ + shape_.strip_rows - 1) / shape_.strip_rows;
    std::vector<Strip> each(static_cast<std::size_t>(strips));
    std::vector<std::string> encoded(each.size());
    for (int s = 0; s < strips; ++s) {
        const int first = s * shape_.strip_rows;
        Strip& strip = each[static_cast<std::size_t>(s)];
        strip.first = done_ + first, strip.rows = std::min(shape_.strip_rows, gathered_ - first);
        strip.bytes = bytes_.data() + static_cast<std::size_t>(first) * shape_.row_bytes;
        strip.before = first > 0 ? strip.bytes - shape_.row_bytes : before_.empty() ? nullptr : before_.data();
        strip.last = strip.first + strip.rows == shape_.height;
    }
    {
        Fork fork;
        tbb::parallel_for(std::size_t{0}, each.size(), [&](std::size_t s) {
            const Fork::Part one(fork);
            encoded[s] = encode_(each[s]);
        });
    }
    for (std::size_t s = 0; s < each.size(); ++s)
        if (!put_(each[s], std::move(encoded[s]))) return false;
    before_.assign(bytes_.begin() + static_cast<std::ptrdiff_t>(static_cast<std::size_t>(gathered_ - 1) * shape_.row_bytes),
                   bytes_.begin() + static_cast<std::ptrdiff_t>(static_cast<std::size_t>(gathered_) * shape_.row_bytes));
    done_ += gathered_, gathered_ = 0;
    return true;
}

}  // namespace loom
