// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/render_service.h"

#include <algorithm>
#include <cstring>

#include "app/document/scheduler.h"
#include "core/base/guard.h"
#include "core/files/picture.h"

namespace loom {

QImage to_image(const Bundle& picture) {
    const Size size = picture.size();
    const int channels = picture.coverage ? 4 : 3;
    const auto bytes = to_bytes(picture, channels);
    QImage image(size.width, size.height, channels == 4 ? QImage::Format_RGBA8888 : QImage::Format_RGB888);
    const auto row = static_cast<std::size_t>(size.width * channels);
    for (int y = 0; y < size.height; ++y) std::memcpy(image.scanLine(y), bytes.data() + static_cast<std::size_t>(y) * row, row);
    return image;
}

Bundle from_image(const QImage& image) {
    const QImage pixels = image.convertToFormat(QImage::Format_RGBA8888_Premultiplied);
    const Size size{pixels.width(), pixels.height()};
    Plane planes[4] = {Plane(size), Plane(size), Plane(size), Plane(size)};
    for (int y = 0; y < size.height; ++y) {
        const uchar* row = pixels.constScanLine(y);
        for (int x = 0; x < size.width; ++x)
            for (int c = 0; c < 4; ++c) planes[c].row(y)[x] = static_cast<float>(row[4 * x + c]) / 255.0f;
    }
    Bundle bundle = Bundle::of(std::move(planes[0]), std::move(planes[1]), std::move(planes[2]));
    if (image.hasAlphaChannel()) bundle.coverage = share(std::move(planes[3]));
    return bundle;
}

RenderService::RenderService(QObject* parent) : QObject(parent), client_(scheduler(), "cloth") {
    qRegisterMetaType<ClothPicture>();
    qRegisterMetaType<CardPictures>();
    qRegisterMetaType<Measures>();
    // Pictures come from a worker and are heard here.
    connect(this, &RenderService::cloth_ready, this, [this](const ClothPicture& picture) {
        if (picture.draft) draft_.took(picture.milliseconds, std::max(picture.image.width(), picture.image.height()));
    });
    client_.when_at_rest([this] { QMetaObject::invokeMethod(this, &RenderService::told_busy, Qt::QueuedConnection); });
}

std::uint64_t RenderService::submit(Recipe recipe, std::uint64_t document) {
    client_.begin_document(document);
    // Whatever is under way for the picture before an edit is worthless after it.
    client_.drop("before");
    ++tickets_;
    const Work work{std::make_shared<const Recipe>(std::move(recipe)), false, tickets_, document};
    const auto cloth = std::make_shared<Bundle>();
    ask_cloth(work, "cloth", cloth);
    ask_cards(work, cloth);
    ask_measures(work, cloth);
    told_busy();
    return tickets_;
}

void RenderService::submit_before(Recipe recipe, std::uint64_t document) {
    ask_cloth({std::make_shared<const Recipe>(std::move(recipe)), true, tickets_, document}, "before", nullptr);
    told_busy();
}

Client::Request RenderService::request_of(const Work& work, std::string slot) const {
    Client::Request request;
    request.urgency = Urgency::live, request.slot = std::move(slot), request.document = work.document;
    return request;
}

void RenderService::ask_cloth(const Work& work, std::string slot, std::shared_ptr<Bundle> cloth) {
    Ask ask;
    ask.recipe = *work.recipe;
    ask.longest = std::max(ask.recipe.tile.width, ask.recipe.tile.height), ask.coarse = draft_size();
    ask.memory_limit = memory_limit_;
    client_.submit(std::move(ask), request_of(work, std::move(slot)),
                   [this, work, cloth](const Result<Answer>& answer, const Surface& surface) {
                       if (!answer) return fail(this, answer.error(), surface);
                       const Bundle& whole = answer->pictures.begin()->second;
                       ClothPicture picture;
                       picture.image = to_image(whole);
                       picture.draft = answer->coarse, picture.before = work.before;
                       picture.ticket = work.ticket, picture.document = work.document;
                       for (const std::string& warning : answer->warnings) picture.warnings << QString::fromStdString(warning);
                       picture.milliseconds = answer->milliseconds;
                       if (cloth && !answer->coarse) *cloth = whole;
                       surface.answer([&] { emit cloth_ready(picture); }, answer->coarse);
                   });
}

void RenderService::ask_cards(const Work& work, std::shared_ptr<const Bundle> cloth) {
    Ask ask;
    ask.recipe = *work.recipe, ask.longest = card_size, ask.wanted.clear();
    for (const StrandRef& strand : ask.recipe.strands)
        for (ChainKind chain : all_chains)
            for (const Step& step : strand->chain(chain))
                ask.wanted.push_back({Wanted::What::step, strand->id, step.id, Map::height});
    if (ask.wanted.empty()) return client_.drop("cards");
    client_.submit(std::move(ask), request_of(work, "cards"),
                   [this, work, cloth](const Result<Answer>& answer, const Surface& surface) {
                       // What went wrong was told with the cloth.
                       if (cloth->colour.empty()) return;
                       if (!answer) return fail(this, answer.error(), surface);
                       CardPictures cards;
                       for (const auto& [each, picture] : answer->pictures) {
                           if (surface.job.cancelled()) return;
                           CardPicture card;
                           card.image = to_image(picture);
                           card.seam = std::max(seam_across(picture).ratio, seam_down(picture).ratio);
                           card.histogram = histogram_of(picture);
                           cards[{each.strand, each.step}] = std::move(card);
                       }
                       surface.answer([&] { emit cards_ready(cards, work.ticket); }, false);
                   });
}

void RenderService::ask_measures(const Work& work, std::shared_ptr<const Bundle> cloth) {
    Client::Request request = request_of(work, "measures");
    request.run = [this, work, cloth](const Surface& surface) {
        if (cloth->colour.empty()) return;
        const auto measured =
            guarded("measuring '" + work.recipe->name + "'", [&]() -> Result<Measures> { return measure(*cloth, surface.job); });
        if (!measured) return fail(this, measured.error(), surface);
        surface.answer([&] { emit measures_ready(*measured, work.ticket); }, false);
    };
    client_.submit(std::move(request));
}

void RenderService::told_busy() {
    const bool now = busy();
    if (now == shown_busy_) return;
    shown_busy_ = now;
    emit busy_changed(now);
}

void RenderService::set_memory_limit(std::size_t bytes) { memory_limit_ = bytes; }

bool RenderService::busy() const { return client_.busy(); }

void RenderService::fail(RenderService* service, const Error& error, const Surface& surface) {
    if (error.fault == Fault::cancelled) return;
    surface.answer([&] { emit service->failed(QString::fromStdString(error.message)); }, false);
}

}  // namespace loom
