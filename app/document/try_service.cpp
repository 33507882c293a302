// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/try_service.h"

#include "app/document/render_service.h"
#include "app/document/scheduler.h"

namespace loom {

TryService::TryService(int longest, QObject* parent, bool measured)
    : QObject(parent), longest_(longest), measured_(measured), client_(scheduler(), "tries") {}

std::uint64_t TryService::submit(std::vector<TryOrder> orders) {
    client_.cancel_all();
    ++ticket_;
    for (std::size_t k = 0; k < orders.size(); ++k) {
        Ask ask;
        ask.recipe = std::move(orders[k].recipe), ask.wanted = {orders[k].wanted}, ask.longest = longest_;
        Client::Request request;
        request.urgency = Urgency::pictures;
        client_.submit(std::move(ask), std::move(request),
                       [this, ticket = ticket_, index = static_cast<int>(k), measure_too = measured_](
                           const Result<Answer>& answer, const Surface& surface) {
                           const QImage image = answer ? to_image(answer->pictures.begin()->second) : QImage();
                           surface.answer([&] { emit ready(ticket, index, image); }, false);
                           if (!answer || !measure_too) return;
                           const Measures measures = measure(answer->pictures.begin()->second, surface.job);
                           surface.answer([&] { emit measured(ticket, index, measures); }, false);
                       });
    }
    return ticket_;
}

}  // namespace loom
