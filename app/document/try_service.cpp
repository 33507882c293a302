// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/try_service.h"

#include "app/document/render_service.h"
#include "app/document/scheduler.h"
#include "core/base/guard.h"

namespace loom {

TryService::TryService(int longest, QObject* parent) : QObject(parent), longest_(longest), client_(scheduler(), "tries") {}

std::uint64_t TryService::submit(std::vector<TryOrder> orders) {
    client_.cancel_all();
    ++ticket_;
    for (std::size_t k = 0; k < orders.size(); ++k) {
        Client::Request request;
        request.urgency = Urgency::pictures;
        request.run = [this, ticket = ticket_, index = static_cast<int>(k), longest = longest_,
                       order = std::move(orders[k])](const Surface& surface) {
            const auto rendering =
                render(order.recipe, size_for(order.recipe.tile, longest), {order.wanted}, surface.options, surface.job);
            if (!rendering && rendering.error().fault == Fault::cancelled) return;
            const auto image = guarded("showing a picture", [&]() -> Result<QImage> {
                return rendering ? to_image(rendering->results.begin()->second) : QImage();
            });
            surface.answer([&] { emit ready(ticket, index, image ? *image : QImage()); }, false);
        };
        client_.submit(std::move(request));
    }
    return ticket_;
}

}  // namespace loom
