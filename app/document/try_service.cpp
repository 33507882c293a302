// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/try_service.h"

#include "app/document/render_service.h"

namespace loom {

TryService::TryService(int longest, QObject* parent, bool measured)
    // A picture that cannot be made comes empty.
    : QObject(parent), longest_(longest), measured_(measured), client_("tries", [](const QString&) {}) {}

std::uint64_t TryService::submit(std::vector<TryOrder> orders) {
    client_.cancel_all();
    ++ticket_;
    for (std::size_t k = 0; k < orders.size(); ++k) {
        PictureRequest request;
        request.recipe = std::move(orders[k].recipe), request.wanted = {orders[k].wanted}, request.longest = longest_;
        const auto index = static_cast<int>(k);
        Work of;
        of.urgency = Urgency::pictures;
        of.ended = [this, ticket = ticket_, index](const Ended& how) {
            if (how.failed()) emit ready(ticket, index, {});
        };
        client_.submit(
            std::move(request), std::move(of),
            [this, ticket = ticket_, index, measure_too = measured_](const PictureResponse& made, const WorkContext& context) {
                const Bundle& picture = made.pictures.begin()->second;
                context.tell([this, ticket, index, image = to_image(picture)] { emit ready(ticket, index, image); });
                if (!measure_too) return;
                const Measures measures = measure(picture, context.job);
                context.tell([this, ticket, index, measures] { emit measured(ticket, index, measures); });
            });
    }
    return ticket_;
}

}  // namespace loom
