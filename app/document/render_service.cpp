// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/render_service.h"

#include <algorithm>
#include <chrono>
#include <cstring>

#include "core/base/guard.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"

namespace loom {

namespace {
constexpr std::size_t cache_bytes = std::size_t{1} << 30;
}

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

RenderService::RenderService(QObject* parent) : QObject(parent), cache_(cache_bytes) {
    qRegisterMetaType<ClothPicture>();
    qRegisterMetaType<CardPictures>();
    qRegisterMetaType<Measures>();
    thread_ = std::thread([this] { loop(); });
}

RenderService::~RenderService() {
    {
        const std::lock_guard lock(mutex_);
        stop_ = true;
        if (current_) current_->cancel();
    }
    wake_.notify_all();
    thread_.join();
}

std::uint64_t RenderService::submit(Recipe recipe, std::uint64_t document) {
    const std::lock_guard lock(mutex_);
    next_ = Work{std::move(recipe), false, ++tickets_, document};
    next_before_.reset();
    if (current_) current_->cancel();
    wake_.notify_all();
    return tickets_;
}

void RenderService::submit_before(Recipe recipe, std::uint64_t document) {
    const std::lock_guard lock(mutex_);
    next_before_ = Work{std::move(recipe), true, tickets_, document};
    wake_.notify_all();
}

void RenderService::set_memory_limit(std::size_t bytes) {
    const std::lock_guard lock(mutex_);
    memory_limit_ = bytes;
}

bool RenderService::busy() const {
    const std::lock_guard lock(mutex_);
    return working_ || next_ || next_before_;
}

void RenderService::loop() {
    for (;;) {
        Work work;
        auto job = std::make_shared<Job>();
        {
            std::unique_lock lock(mutex_);
            if (working_ && !next_ && !next_before_) {
                working_ = false;
                emit busy_changed(false);
            }
            wake_.wait(lock, [&] { return stop_ || next_ || next_before_; });
            if (stop_) return;
            std::optional<Work>& source = next_ ? next_ : next_before_;
            work = std::move(*source);
            source.reset();
            current_ = job;
            if (!working_) {
                working_ = true;
                emit busy_changed(true);
            }
        }
        const auto done = guarded("rendering '" + work.recipe.name + "'", [&]() -> Result<Done> {
            render_all(work, job);
            return Done{};
        });
        if (!done) fail(done.error());
        const std::lock_guard lock(mutex_);
        current_.reset();
    }
}

void RenderService::render_all(const Work& work, const std::shared_ptr<Job>& job) {
    const int full = std::max(work.recipe.tile.width, work.recipe.tile.height);
    // The draft has a job of its own that nobody cancels: it is short, and it keeps a drag alive.
    const Job never;
    if (full > draft_size && !render_one(work, draft_size, true, never, nullptr)) return;
    Bundle cloth;
    if (!render_one(work, full, false, *job, &cloth) || work.before) return;
    render_cards(work, *job);
    emit measures_ready(measure(cloth, *job), work.ticket);
}

bool RenderService::render_one(const Work& work, int longest, bool draft, const Job& job, Bundle* cloth) {
    const auto start = std::chrono::steady_clock::now();
    RenderOptions options;
    options.cache = &cache_, options.pictures = &picture_reader();
    {
        const std::lock_guard lock(mutex_);
        options.memory_limit = memory_limit_;
    }
    auto result = render(work.recipe, size_for(work.recipe.tile, longest), {Wanted{}}, options, job);
    if (!result) {
        fail(result.error());
        return false;
    }
    Bundle& whole = result->results.begin()->second;
    ClothPicture picture;
    picture.image = to_image(whole);
    picture.draft = draft, picture.before = work.before, picture.ticket = work.ticket, picture.document = work.document;
    for (const std::string& warning : result->warnings) picture.warnings << QString::fromStdString(warning);
    picture.milliseconds = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    emit cloth_ready(picture);
    if (cloth) *cloth = std::move(whole);
    return true;
}

void RenderService::render_cards(const Work& work, const Job& job) {
    std::vector<Wanted> wanted;
    for (const StrandRef& strand : work.recipe.strands)
        for (ChainKind chain : all_chains)
            for (const Step& step : strand->chain(chain))
                wanted.push_back({Wanted::What::step, strand->id, step.id, Map::height});
    if (wanted.empty()) return;
    RenderOptions options;
    options.cache = &cache_, options.pictures = &picture_reader();
    auto rendering = render(work.recipe, size_for(work.recipe.tile, card_size), wanted, options, job);
    if (!rendering) return fail(rendering.error());
    CardPictures cards;
    for (const auto& [each, picture] : rendering->results) {
        if (job.cancelled()) return;
        CardPicture card;
        card.image = to_image(picture);
        card.seam = std::max(seam_across(picture).ratio, seam_down(picture).ratio);
        card.histogram = histogram_of(picture);
        cards[{each.strand, each.step}] = std::move(card);
    }
    emit cards_ready(cards, work.ticket);
}

void RenderService::fail(const Error& error) {
    if (error.fault != Fault::cancelled) emit failed(QString::fromStdString(error.message));
}

}  // namespace loom
