// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lit cloth off the interface thread: its maps when the recipe changes, and a picture for every move of the lamp.
#pragma once

#include <QImage>
#include <QObject>
#include <memory>

#include "app/document/background.h"
#include "core/maps/lit.h"
#include "core/maps/lit_scene.h"

namespace loom {

class LitService : public QObject {
    Q_OBJECT
public:
    explicit LitService(QObject* parent = nullptr);

    /// The maps of a recipe, `longest` pixels on the longer side of the tile, and a picture; then, if that is more, the same with
    /// `finest`. Returns a number that rises; pictures say from which on they are.
    std::uint64_t submit(const Recipe& recipe, int longest, int finest = 0);
    /// The same for what lies on a part of the corner of the halt, where that is another recipe.
    void submit_beside(ScenePlace place, const Recipe& recipe, int longest);
    /// What lies on one part of the corner.
    struct OnPlace {
        bool other = false;  ///< what submit_beside was given
        double wide_cm = unknown_wide_cm, aspect = 1;
        LitFinish finish;
        bool operator==(const OnPlace&) const = default;
    };
    struct Scene {
        LitShape shape = LitShape::tile;
        Size size{256, 256};
        double repeats = 1, aspect = 1;
        LitLight light;
        LitFinish finish;
        float ground = 0.1f;  ///< grey beside the shape, in linear light
        std::array<OnPlace, std::size(scene_place_table)> laid;
        bool operator==(const Scene&) const = default;
    };
    /// What is shown; a newer scene replaces one that waits.
    void show(const Scene& scene);
    /// Also while a picture is made already and not heard of yet.
    bool busy() const { return client_.busy() || unheard_ > 0; }
    void stop();

signals:
    void ready(const QImage& picture, double milliseconds, quint64 ticket);
    void failed(const QString& message);

private:
    struct Kept;
    /// `slot`: 0 the recipe's own, then those of the places.
    void ask_maps(std::size_t slot, const Recipe& recipe, int longest, int finest, std::uint64_t ticket);
    void ask_picture();
    std::shared_ptr<Kept> kept_;
    Scene scene_;
    bool wanted_ = false;  ///< another picture, once the one under way is there
    Task picture_;
    int unheard_ = 0;  ///< pictures whose end was not heard yet
    std::uint64_t tickets_ = 0;
    Background client_;
};

}  // namespace loom
