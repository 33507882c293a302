// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/render_service.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <string>

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

RenderService::RenderService(QObject* parent) : QObject(parent), client_(scheduler(), "cloth"), warming_(scheduler(), "warming") {
    qRegisterMetaType<ClothPicture>();
    qRegisterMetaType<CardPictures>();
    qRegisterMetaType<Measures>();
    // Pictures come from a worker and are heard here.
    connect(this, &RenderService::cloth_ready, this, [this](const ClothPicture& picture) {
        if (!picture.draft && !picture.before) cloth_ms_ = picture.milliseconds;
        if (picture.draft) draft_.took(picture.milliseconds, std::max(picture.image.width(), picture.image.height()));
    });
    client_.when_at_rest([this] { QMetaObject::invokeMethod(this, &RenderService::told_busy, Qt::QueuedConnection); });
}

std::uint64_t RenderService::submit(Recipe recipe, std::uint64_t document, bool coarse) {
    client_.begin_document(document);
    // Whatever is under way for the picture before an edit is worthless after it.
    client_.drop("before");
    ++tickets_;
    const Work work{std::make_shared<const Recipe>(std::move(recipe)), false, tickets_, document};
    const auto cloth = std::make_shared<Bundle>();
    // What a hand drew is in it.
    part_recipe_.reset();
    ask_cloth(work, "cloth", cloth, coarse);
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

void RenderService::submit_part(Recipe recipe, const QRectF& part, std::uint64_t document) {
    if (document != part_document_) part_size_.reset();
    part_ = part_recipe_ && document == part_document_ ? part_.united(part) : part;
    part_recipe_ = std::move(recipe), part_document_ = document;
    if (!part_running_) ask_part();
}

void RenderService::warm_parts(const Recipe& recipe, std::uint64_t document) {
    warming_.begin_document(document);
    std::vector<int> sizes = PartSize::sizes(std::max(recipe.tile.width, recipe.tile.height));
    // The tile's own size is what the window shows. The one in use comes first.
    const auto now = std::find(sizes.begin(), sizes.end(), part_size());
    if (now != sizes.begin() && now != sizes.end()) std::rotate(std::next(sizes.begin()), now, std::next(now));
    for (auto side = std::next(sizes.begin()); side != sizes.end(); ++side) {
        Ask ask;
        ask.recipe = recipe, ask.longest = *side, ask.memory_limit = memory_limit_;
        Client::Request request;
        request.urgency = Urgency::pictures, request.slot = std::to_string(*side), request.document = document;
        // It is in the cache then.
        warming_.submit(std::move(ask), std::move(request), [](const Result<Answer>&, const Surface&) {});
    }
}

void RenderService::ask_part() {
    const Tile tile = part_recipe_->tile;
    const int longest = std::max(tile.width, tile.height);
    if (!part_size_ || part_size_->longest() != longest) part_size_ = PartSize(longest, cloth_ms_);
    const int pixels = part_size_->pixels();
    // Whole pixels around the part.
    const Size size = size_for(tile, pixels);
    const double sx = static_cast<double>(size.width) / tile.width, sy = static_cast<double>(size.height) / tile.height;
    const int left = static_cast<int>(std::floor(part_.left() * sx)), top = static_cast<int>(std::floor(part_.top() * sy));
    Region region{wrap(left, size.width), wrap(top, size.height),
                  std::min(size.width, static_cast<int>(std::ceil(part_.right() * sx)) - left),
                  std::min(size.height, static_cast<int>(std::ceil(part_.bottom() * sy)) - top)};
    region.width = std::max(1, region.width), region.height = std::max(1, region.height);
    const QRectF shares(static_cast<double>(region.x) / size.width, static_cast<double>(region.y) / size.height,
                        static_cast<double>(region.width) / size.width, static_cast<double>(region.height) / size.height);
    Ask ask;
    ask.recipe = std::move(*part_recipe_);
    part_recipe_.reset();
    ask.longest = pixels;
    // At the tile's own size everything before the stroke is there from the picture before. At others it is kept as soon as all
    // of the picture has been made once.
    const bool in_part = part_size_->part();
    if (in_part) ask.region = region;
    ask.memory_limit = memory_limit_, ask.fleeting = true;
    Client::Request request;
    request.urgency = Urgency::live, request.slot = "part", request.document = part_document_;
    part_running_ = true;
    client_.submit(
        std::move(ask), std::move(request),
        [this, shares, in_part, pixels, document = part_document_](const Result<Answer>& answer, const Surface& surface) {
            QImage picture;
            double milliseconds = 0;
            if (answer) picture = to_image(answer->pictures.begin()->second), milliseconds = answer->milliseconds;
            const QRectF whole(0, 0, 1, 1);
            surface.answer(
                [&] {
                    if (answer) emit part_ready(picture, in_part ? shares : whole, shares, document);
                    QMetaObject::invokeMethod(
                        this, [this, milliseconds, pixels] { part_done(milliseconds, pixels); }, Qt::QueuedConnection);
                },
                true);
        });
}

void RenderService::part_done(double milliseconds, int of_pixels) {
    part_running_ = false;
    // The next document or step begins anew.
    if (part_size_) part_size_->took(milliseconds, of_pixels);
    if (part_recipe_) ask_part();
}

void RenderService::ask_cloth(const Work& work, std::string slot, std::shared_ptr<Bundle> cloth, bool coarse) {
    Ask ask;
    ask.recipe = *work.recipe;
    ask.longest = std::max(ask.recipe.tile.width, ask.recipe.tile.height), ask.coarse = coarse ? draft_size() : 0;
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
