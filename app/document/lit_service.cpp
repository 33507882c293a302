// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/lit_service.h"

#include <chrono>
#include <mutex>

#include "core/render/lighting.h"

namespace loom {

/// What workers keep from picture to picture.
struct LitService::Kept {
    std::mutex mutex;
    std::shared_ptr<const LitMaterial> material;
    std::uint64_t ticket = 0;  ///< of the material
    std::shared_ptr<const LitGeometry> geometry;
    Scene of;  ///< the geometry's
};

LitService::LitService(QObject* parent)
    : QObject(parent), kept_(std::make_shared<Kept>()), client_("lit", [this](const QString& why) { emit failed(why); }) {}

void LitService::stop() {
    wanted_ = false;
    client_.cancel_all();
}

std::uint64_t LitService::submit(const Recipe& recipe, int longest, int finest) {
    ask_maps(recipe, longest, finest, ++tickets_);
    return tickets_;
}

void LitService::ask_maps(const Recipe& recipe, int longest, int finest, std::uint64_t ticket) {
    PictureRequest request;
    request.recipe = recipe, request.longest = longest;
    request.wanted = wanted_for_light();
    Work of;
    of.slot = "maps";
    client_.submit(
        std::move(request), std::move(of),
        [this, kept = kept_, recipe, longest, finest, ticket](const PictureResponse& made, const WorkContext& context) {
            const LitMaps maps = maps_for_light(recipe, size_for(recipe.tile, longest), made.pictures);
            if (maps.colour.empty()) return;
            auto material = std::make_shared<const LitMaterial>(maps, context.job);
            {
                const std::lock_guard lock(kept->mutex);
                kept->material = std::move(material), kept->ticket = ticket;
            }
            context.tell([this, recipe, longest, finest, ticket] {
                ask_picture();
                if (finest > longest && ticket == tickets_) ask_maps(recipe, finest, 0, ticket);
            });
        });
}

void LitService::show(const Scene& scene) {
    scene_ = scene;
    ask_picture();
}

void LitService::ask_picture() {
    // One at a time: what is asked for meanwhile is the next, so that every move is followed.
    wanted_ = picture_.under_way();
    if (wanted_) return;
    Work work;
    work.doing = "drawing the lit cloth";
    work.ended = [this](const Ended& how) {
        --unheard_;
        if (how.failed()) emit failed(QString::fromStdString(how.error.message));
        if (wanted_) ask_picture();
    };
    work.run = [this, kept = kept_, scene = scene_](const WorkContext& context) -> Result<Done> {
        const auto start = std::chrono::steady_clock::now();
        std::shared_ptr<const LitMaterial> material;
        std::shared_ptr<const LitGeometry> geometry;
        std::uint64_t ticket = 0;
        {
            const std::lock_guard lock(kept->mutex);
            material = kept->material, ticket = kept->ticket;
            const Scene& of = kept->of;
            if (of.shape == scene.shape && of.size == scene.size && of.repeats == scene.repeats && of.aspect == scene.aspect)
                geometry = kept->geometry;
        }
        QImage picture;
        if (material) {
            if (!geometry) {
                geometry =
                    std::make_shared<const LitGeometry>(lit_geometry(scene.shape, scene.size, scene.repeats, scene.aspect));
                const std::lock_guard lock(kept->mutex);
                kept->geometry = geometry, kept->of = scene;
            }
            const auto pixels = lit_picture(*material, *geometry, scene.light, scene.ground, context.job, scene.finish);
            picture =
                QImage(reinterpret_cast<const uchar*>(pixels.data()), scene.size.width, scene.size.height, QImage::Format_RGB32)
                    .copy();
        }
        const std::chrono::duration<double, std::milli> spent = std::chrono::steady_clock::now() - start;
        if (!picture.isNull()) context.tell([this, picture, ms = spent.count(), ticket] { emit ready(picture, ms, ticket); });
        return Done{};
    };
    ++unheard_;
    picture_ = client_.submit(std::move(work));
}

}  // namespace loom
