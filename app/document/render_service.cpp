// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/render_service.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <string>

#include "core/files/picture.h"

namespace loom {

QImage to_image(const Bundle& picture) {
    const Size size = picture.size();
    const int channels = picture.coverage ? 4 : 3;
    const auto bytes = to_bytes(picture, channels);
    QImage image(size.width, size.height, channels == 4 ? QImage::Format_RGBA8888 : QImage::Format_RGB888);
    const auto row = static_cast<std::size_t>(size.width * channels);
    for (int y = 0; y < size.height; ++y) std::memcpy(image.scanLine(y), bytes.data() + static_cast<std::size_t>(y) * row, row);
    // The formats that are drawn fastest.
    image.convertTo(channels == 4 ? QImage::Format_ARGB32_Premultiplied : QImage::Format_RGB32);
    return image;
}

std::vector<QImage> halves_of(const QImage& picture) {
    constexpr int small = 256;
    std::vector<QImage> halves;
    for (QImage now = picture; std::max(now.width(), now.height()) > small; halves.push_back(now))
        now = now.scaled((now.width() + 1) / 2, (now.height() + 1) / 2, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    return halves;
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

RenderService::RenderService(QObject* parent)
    : QObject(parent),
      client_("cloth", [this](const QString& why) { emit failed(why); }),
      // What cannot be made beforehand is told when it is wanted.
      warming_("warming", [](const QString&) {}) {
    qRegisterMetaType<ClothPicture>();
    qRegisterMetaType<CardPictures>();
    qRegisterMetaType<Measures>();
    client_.when_at_rest([this] { told_busy(); });
}

std::uint64_t RenderService::submit(Recipe recipe, std::uint64_t document, bool coarse) {
    client_.begin_document(document);
    // Whatever is under way for the picture before an edit is worthless after it.
    client_.drop("before");
    ++tickets_;
    const Cloth of{std::make_shared<const Recipe>(std::move(recipe)), false, tickets_, document};
    const auto whole = std::make_shared<Bundle>();
    // What a hand drew is in it.
    part_recipe_.reset();
    ask_cloth(of, "cloth", whole, coarse);
    ask_cards(of, whole);
    ask_measures(of, whole);
    told_busy();
    return tickets_;
}

void RenderService::submit_before(Recipe recipe, std::uint64_t document) {
    ask_cloth({std::make_shared<const Recipe>(std::move(recipe)), true, tickets_, document}, "before", nullptr);
    told_busy();
}

Work RenderService::live(const Cloth& of, std::string slot) {
    Work work;
    work.slot = std::move(slot), work.document = of.document;
    return work;
}

void RenderService::submit_part(Recipe recipe, const QRectF& part, std::uint64_t document) {
    if (document != part_document_) part_size_.reset();
    part_ = part_recipe_ && document == part_document_ ? part_.united(part) : part;
    part_recipe_ = std::move(recipe), part_document_ = document;
    if (!making_part_.under_way()) ask_part();
}

void RenderService::warm_parts(const Recipe& recipe, std::uint64_t document) {
    warming_.begin_document(document);
    std::vector<int> sizes = PartSize::sizes(std::max(recipe.tile.width, recipe.tile.height));
    // The tile's own size is what the window shows. The one in use comes first.
    const auto now = std::find(sizes.begin(), sizes.end(), part_size());
    if (now != sizes.begin() && now != sizes.end()) std::rotate(std::next(sizes.begin()), now, std::next(now));
    for (auto side = std::next(sizes.begin()); side != sizes.end(); ++side) {
        PictureRequest request;
        request.recipe = recipe, request.longest = *side, request.memory_limit = memory_limit_;
        Work of;
        of.urgency = Urgency::pictures, of.slot = std::to_string(*side), of.document = document;
        // It is in the cache then.
        warming_.submit(std::move(request), std::move(of), [](const PictureResponse&, const WorkContext&) {});
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
    PictureRequest request;
    request.recipe = std::move(*part_recipe_);
    part_recipe_.reset();
    request.longest = pixels;
    // At the tile's own size everything before the stroke is there from the picture before. At others it is kept as soon as all
    // of the picture has been made once.
    const bool in_part = part_size_->part();
    if (in_part) request.region = region;
    request.memory_limit = memory_limit_, request.fleeting = true;
    Work of;
    of.slot = "part", of.document = part_document_;
    of.ended = [this](const Ended& how) {
        if (how.failed()) emit failed(QString::fromStdString(how.error.message));
        if (part_recipe_ && !making_part_.under_way()) ask_part();
    };
    making_part_ = client_.submit(
        std::move(request), std::move(of),
        [this, shares, in_part, pixels, document = part_document_](const PictureResponse& made, const WorkContext& context) {
            const QImage picture = to_image(made.pictures.begin()->second);
            context.tell_anyway([=, this, milliseconds = made.milliseconds] {
                // The next document or step begins anew.
                if (part_size_) part_size_->took(milliseconds, pixels);
                emit part_ready(picture, in_part ? shares : QRectF(0, 0, 1, 1), shares, document);
            });
        });
}

void RenderService::ask_cloth(const Cloth& of, std::string slot, std::shared_ptr<Bundle> whole, bool coarse) {
    PictureRequest request;
    request.recipe = *of.recipe;
    request.longest = std::max(request.recipe.tile.width, request.recipe.tile.height);
    request.coarse = coarse ? draft_size() : 0;
    request.memory_limit = memory_limit_;
    client_.submit(std::move(request), live(of, std::move(slot)),
                   [this, of, whole](const PictureResponse& made, const WorkContext& context) {
                       const Bundle& cloth = made.pictures.begin()->second;
                       ClothPicture picture;
                       picture.image = to_image(cloth);
                       picture.draft = made.coarse, picture.before = of.before;
                       picture.ticket = of.ticket, picture.document = of.document;
                       for (const std::string& warning : made.warnings) picture.warnings << QString::fromStdString(warning);
                       picture.milliseconds = made.milliseconds;
                       picture.halves = halves_of(picture.image);
                       if (whole && !made.coarse) *whole = cloth;
                       const auto show = [this, picture] { show_cloth(picture); };
                       made.coarse ? context.tell_anyway(show) : context.tell(show);
                   });
}

void RenderService::show_cloth(const ClothPicture& picture) {
    if (!picture.draft && !picture.before) cloth_ms_ = picture.milliseconds;
    if (picture.draft) draft_.took(picture.milliseconds, std::max(picture.image.width(), picture.image.height()));
    emit cloth_ready(picture);
}

void RenderService::ask_cards(const Cloth& of, std::shared_ptr<const Bundle> whole) {
    PictureRequest request;
    request.recipe = *of.recipe, request.longest = card_size, request.wanted.clear();
    for (const StrandRef& strand : request.recipe.strands)
        for (ChainKind chain : all_chains)
            for (const Step& step : strand->chain(chain))
                request.wanted.push_back({Wanted::What::step, strand->id, step.id, Map::height});
    if (request.wanted.empty()) return client_.drop("cards");
    Work work = live(of, "cards");
    work.ended = [this, whole](const Ended& how) {
        // What went wrong with the cloth was told with it.
        if (how.failed() && !whole->colour.empty()) emit failed(QString::fromStdString(how.error.message));
    };
    client_.submit(std::move(request), std::move(work),
                   [this, of, whole](const PictureResponse& made, const WorkContext& context) {
                       if (whole->colour.empty()) return;
                       CardPictures cards;
                       for (const auto& [each, picture] : made.pictures) {
                           context.job.check();
                           CardPicture card;
                           card.image = to_image(picture);
                           card.seam = std::max(seam_across(picture).ratio, seam_down(picture).ratio);
                           card.histogram = histogram_of(picture);
                           cards[{each.strand, each.step}] = std::move(card);
                       }
                       context.tell([this, cards, ticket = of.ticket] { emit cards_ready(cards, ticket); });
                   });
}

void RenderService::ask_measures(const Cloth& of, std::shared_ptr<const Bundle> whole) {
    Work work = live(of, "measures");
    work.doing = "measuring '" + of.recipe->name + "'";
    work.run = [this, ticket = of.ticket, whole](const WorkContext& context) -> Result<Done> {
        if (whole->colour.empty()) return Done{};
        const Measures measures = measure(*whole, context.job);
        context.tell([this, measures, ticket] { emit measures_ready(measures, ticket); });
        return Done{};
    };
    client_.submit(std::move(work));
}

void RenderService::told_busy() {
    const bool now = busy();
    if (now == shown_busy_) return;
    shown_busy_ = now;
    emit busy_changed(now);
}

void RenderService::set_memory_limit(std::size_t bytes) { memory_limit_ = bytes; }

bool RenderService::busy() const { return client_.busy(); }

}  // namespace loom
