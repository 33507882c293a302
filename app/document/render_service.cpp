// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/render_service.h"

#include <QTimer>
#include <algorithm>
#include <chrono>
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
}

std::uint64_t RenderService::submit(Recipe recipe, std::uint64_t document) {
    client_.begin_document(document);
    ++tickets_;
    enter({std::move(recipe), false, tickets_, document, memory_limit_}, "cloth");
    return tickets_;
}

void RenderService::submit_before(Recipe recipe, std::uint64_t document) {
    enter({std::move(recipe), true, tickets_, document, memory_limit_}, "before");
}

void RenderService::enter(Work work, std::string slot) {
    // Whatever is under way for the picture before an edit is worthless after it.
    if (!work.before) client_.drop("before");
    Client::Request request;
    request.urgency = Urgency::live, request.slot = std::move(slot), request.document = work.document;
    request.run = [this, work = std::move(work)](const Surface& surface) {
        const auto done = guarded("rendering '" + work.recipe.name + "'", [&]() -> Result<Done> {
            render_all(work, surface);
            return Done{};
        });
        if (!done) fail(done.error(), surface);
        surface.answer([this] { QMetaObject::invokeMethod(this, &RenderService::told_busy, Qt::QueuedConnection); }, true);
    };
    client_.submit(std::move(request));
    told_busy();
}

void RenderService::told_busy() {
    const bool now = busy();
    if (now == shown_busy_) return;
    shown_busy_ = now;
    emit busy_changed(now);
    // The worker may still be on its way out of what it has just answered.
    if (now) QTimer::singleShot(5, this, &RenderService::told_busy);
}

void RenderService::set_memory_limit(std::size_t bytes) { memory_limit_ = bytes; }

bool RenderService::busy() const { return client_.busy(); }

void RenderService::render_all(const Work& work, const Surface& surface) {
    const int full = std::max(work.recipe.tile.width, work.recipe.tile.height);
    // The draft has a job of its own that nobody cancels: it is short, and it keeps a drag alive.
    const Job never;
    if (full > draft_size && !render_one(work, draft_size, true, never, surface, nullptr)) return;
    Bundle cloth;
    if (!render_one(work, full, false, surface.job, surface, &cloth) || work.before) return;
    render_cards(work, surface);
    const Measures measures = measure(cloth, surface.job);
    surface.answer([&] { emit measures_ready(measures, work.ticket); }, false);
}

bool RenderService::render_one(const Work& work, int longest, bool draft, const Job& job, const Surface& surface, Bundle* cloth) {
    const auto start = std::chrono::steady_clock::now();
    RenderOptions options = surface.options;
    options.memory_limit = work.memory_limit;
    auto result = render(work.recipe, size_for(work.recipe.tile, longest), {Wanted{}}, options, job);
    if (!result) {
        fail(result.error(), surface);
        return false;
    }
    Bundle& whole = result->results.begin()->second;
    ClothPicture picture;
    picture.image = to_image(whole);
    picture.draft = draft, picture.before = work.before, picture.ticket = work.ticket, picture.document = work.document;
    for (const std::string& warning : result->warnings) picture.warnings << QString::fromStdString(warning);
    picture.milliseconds = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    surface.answer([&] { emit cloth_ready(picture); }, draft);
    if (cloth) *cloth = std::move(whole);
    return true;
}

void RenderService::render_cards(const Work& work, const Surface& surface) {
    std::vector<Wanted> wanted;
    for (const StrandRef& strand : work.recipe.strands)
        for (ChainKind chain : all_chains)
            for (const Step& step : strand->chain(chain))
                wanted.push_back({Wanted::What::step, strand->id, step.id, Map::height});
    if (wanted.empty()) return;
    auto rendering = render(work.recipe, size_for(work.recipe.tile, card_size), wanted, surface.options, surface.job);
    if (!rendering) return fail(rendering.error(), surface);
    CardPictures cards;
    for (const auto& [each, picture] : rendering->results) {
        if (surface.job.cancelled()) return;
        CardPicture card;
        card.image = to_image(picture);
        card.seam = std::max(seam_across(picture).ratio, seam_down(picture).ratio);
        card.histogram = histogram_of(picture);
        cards[{each.strand, each.step}] = std::move(card);
    }
    surface.answer([&] { emit cards_ready(cards, work.ticket); }, false);
}

void RenderService::fail(const Error& error, const Surface& surface) {
    if (error.fault == Fault::cancelled) return;
    surface.answer([&] { emit failed(QString::fromStdString(error.message)); }, false);
}

}  // namespace loom
