// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/lit_service.h"

#include <chrono>
#include <mutex>
#include <span>

#include "core/render/lighting.h"

namespace loom {

/// What workers keep from picture to picture.
struct LitService::Kept {
    std::mutex mutex;
    std::array<std::shared_ptr<const LitMaterial>, 1 + std::size(scene_place_table)> materials;
    std::uint64_t ticket = 0;  ///< of the first
    std::shared_ptr<const LitGeometry> geometry;
    Scene of;  ///< the geometry's
};

namespace {

/// What nothing lies on yet.
const LitMaterial& bare() {
    static const LitMaterial material = [] {
        LitMaps maps;
        const Plane grey({1, 1}, 0.6f);
        maps.colour = Bundle::of(grey.clone(), grey.clone(), grey.clone());
        return LitMaterial(maps, Job());
    }();
    return material;
}

std::vector<std::uint32_t> drawn_scene(const LitService::Scene& scene,
                                       std::span<const std::shared_ptr<const LitMaterial>> materials, const LitGeometry& geometry,
                                       const Job& job) {
    if (scene.shape != LitShape::scene)
        return lit_picture(*materials.front(), geometry, scene.light, scene.ground, job, scene.finish);
    std::vector<LitSurface> surfaces;
    for (std::size_t k = 0; k < scene.laid.size(); ++k) {
        const LitService::OnPlace& laid = scene.laid[k];
        const LitMaterial* material = materials[laid.other ? 1 + k : 0].get();
        const double wide = laid.wide_cm;
        surfaces.push_back({material ? material : &bare(), laid.finish, 1 / wide, 1 / (wide * laid.aspect)});
    }
    const LitLight light = light_in_scene(scene.light);
    return lit_picture(surfaces, geometry, lamp_in_scene(geometry, room_for(light, {}), job), light, scene.ground, job);
}

}  // namespace

LitService::LitService(QObject* parent)
    : QObject(parent), kept_(std::make_shared<Kept>()), client_("lit", [this](const QString& why) { emit failed(why); }) {}

void LitService::stop() {
    wanted_ = false;
    client_.cancel_all();
}

std::uint64_t LitService::submit(const Recipe& recipe, int longest, int finest) {
    ask_maps(0, recipe, longest, finest, ++tickets_);
    return tickets_;
}

void LitService::submit_beside(ScenePlace place, const Recipe& recipe, int longest) {
    ask_maps(1 + static_cast<std::size_t>(place), recipe, longest, 0, 0);
}

void LitService::ask_maps(std::size_t slot, const Recipe& recipe, int longest, int finest, std::uint64_t ticket) {
    PictureRequest request;
    request.recipe = recipe, request.longest = longest;
    request.wanted = wanted_for_light();
    Work of;
    of.slot = "maps " + std::to_string(slot);
    client_.submit(
        std::move(request), std::move(of),
        [this, kept = kept_, slot, recipe, longest, finest, ticket](const PictureResponse& made, const WorkContext& context) {
            const LitMaps maps = maps_for_light(recipe, size_for(recipe.tile, longest), made.pictures);
            if (maps.colour.empty()) return;
            auto material = std::make_shared<const LitMaterial>(maps, context.job);
            {
                const std::lock_guard lock(kept->mutex);
                kept->materials[slot] = std::move(material);
                if (slot == 0) kept->ticket = ticket;
            }
            context.tell([this, slot, recipe, longest, finest, ticket] {
                ask_picture();
                if (finest > longest && ticket == tickets_) ask_maps(slot, recipe, finest, 0, ticket);
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
        decltype(kept->materials) materials;
        std::shared_ptr<const LitGeometry> geometry;
        std::uint64_t ticket = 0;
        {
            const std::lock_guard lock(kept->mutex);
            materials = kept->materials, ticket = kept->ticket;
            const Scene& of = kept->of;
            if (of.shape == scene.shape && of.size == scene.size && of.repeats == scene.repeats && of.aspect == scene.aspect)
                geometry = kept->geometry;
        }
        QImage picture;
        auto start = std::chrono::steady_clock::now();
        if (materials.front()) {
            if (!geometry) {
                geometry =
                    std::make_shared<const LitGeometry>(lit_geometry(scene.shape, scene.size, scene.repeats, scene.aspect));
                const std::lock_guard lock(kept->mutex);
                kept->geometry = geometry, kept->of = scene;
            }
            // What is found once for a size is no part of what a moving lamp costs.
            start = std::chrono::steady_clock::now();
            const auto pixels = drawn_scene(scene, materials, *geometry, context.job);
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
