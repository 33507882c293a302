// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/try_service.h"

#include "app/document/render_service.h"
#include "core/base/guard.h"
#include "core/files/kept_picture.h"

namespace loom {

TryService::TryService(int longest, QObject* parent)
    : QObject(parent), longest_(longest), cache_(std::size_t{128} << 20), thread_([this] { loop(); }) {}

TryService::~TryService() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
        if (current_) current_->cancel();
    }
    wake_.notify_all();
    thread_.join();
}

std::uint64_t TryService::submit(std::vector<TryOrder> orders) {
    const std::lock_guard lock(mutex_);
    orders_ = std::move(orders);
    next_ = 0;
    if (current_) current_->cancel();
    wake_.notify_all();
    return ++ticket_;
}

void TryService::loop() {
    for (;;) {
        TryOrder order;
        std::uint64_t ticket = 0;
        int index = 0;
        auto job = std::make_shared<Job>();
        {
            std::unique_lock lock(mutex_);
            current_.reset();
            wake_.wait(lock, [&] { return stop_ || next_ < orders_.size(); });
            if (stop_) return;
            index = static_cast<int>(next_++);
            order = orders_[static_cast<std::size_t>(index)];
            ticket = ticket_;
            current_ = job;
        }
        RenderOptions options;
        // One thread leaves the others to the cloth.
        options.threads = 1, options.cache = &cache_, options.pictures = &picture_reader();
        const auto rendering = render(order.recipe, size_for(order.recipe.tile, longest_), {order.wanted}, options, *job);
        if (!rendering && rendering.error().fault == Fault::cancelled) continue;
        const auto image = guarded("showing a picture", [&]() -> Result<QImage> {
            return rendering ? to_image(rendering->results.begin()->second) : QImage();
        });
        emit ready(ticket, index, image ? *image : QImage());
    }
}

}  // namespace loom
