// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/kept_drawing.h"

#include <algorithm>
#include <mutex>
#include <optional>

#include "core/base/apart.h"
#include "core/files/picture_codec.h"

namespace loom {

namespace {

Error drawing_error(const CodecFailure& failure) {
    return {Fault::file, "a drawing in the recipe cannot be read: " + failure.words};
}

/// What the library works on. It cannot be stopped, so that this may outlive whoever asked.
struct Open {
    std::shared_ptr<const std::string> svg;
    std::unique_ptr<VectorDrawing> drawing;
    std::optional<Error> error;
    std::mutex mutex;  ///< the library's handle is for one thread at a time
};

class KeptDrawing final : public ReadDrawing {
public:
    explicit KeptDrawing(std::shared_ptr<Open> open) : open_(std::move(open)) {}

    DrawingSize size() const override { return open_->drawing->size(); }

    Result<Plane> drawn(const Affine& placing, const std::vector<std::pair<int, int>>& copies, Size size, Rows rows,
                        const Job& job) const override {
        struct Strip {
            std::vector<float> values;
            CodecFailure failure;
        };
        Plane plane(size, rows, 0.0f);
        // A strip at a time: small in memory, and cancelled between two of them.
        constexpr int most = 512;
        for (int first = 0; first < rows.count;) {
            const int from = wrap(rows.first + first, size.height),
                      count = std::min({most, rows.count - first, size.height - from});
            const auto strip = std::make_shared<Strip>();
            run_apart(job, [open = open_, strip, placing, copies, width = size.width, part = Rows{from, count}] {
                strip->values.resize(static_cast<std::size_t>(width) * static_cast<std::size_t>(part.count));
                const std::lock_guard alone(open->mutex);
                strip->failure = open->drawing->draw(placing, copies, width, part, strip->values.data());
            });
            if (strip->failure) return drawing_error(strip->failure);
            std::copy(strip->values.begin(), strip->values.end(), plane.row(from));
            first += count;
        }
        return plane;
    }

private:
    std::shared_ptr<Open> open_;
};

}  // namespace

Result<std::shared_ptr<const ReadDrawing>> kept_drawing(std::shared_ptr<const std::string> svg, const Job& job) {
    const auto open = std::make_shared<Open>();
    open->svg = std::move(svg);
    run_apart(job, [open] {
        const auto codec = picture_codec();
        CodecFailure failure;
        if (codec) open->drawing = (*codec)->drawing(*open->svg, failure);
        if (!codec) open->error = codec.error();
        if (failure) open->error = drawing_error(failure);
    });
    if (open->error) return *open->error;
    return std::shared_ptr<const ReadDrawing>(std::make_shared<KeptDrawing>(open));
}

}  // namespace loom
