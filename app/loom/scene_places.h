// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What lies on the wall, the floor and the crate of the lit scene: the cloth that is open, or a recipe of the sample book.
#pragma once

#include <QVariantMap>
#include <QWidget>
#include <array>

#include "core/maps/lit_scene.h"

class QPushButton;

namespace loom {

class SampleBook;
struct Recipe;

class ScenePlaces : public QWidget {
    Q_OBJECT
public:
    explicit ScenePlaces(QWidget* parent = nullptr);
    /// Has to outlive this; nothing but the open cloth can be chosen before.
    void set_book(const SampleBook& book);
    /// Null: the cloth that is open.
    const Recipe* recipe(ScenePlace place) const;
    QPushButton* button(ScenePlace place) const { return buttons_[static_cast<std::size_t>(place)]; }
    /// A name of the sample book; "": the cloth that is open.
    void choose(ScenePlace place, const QString& name);
    QVariantMap state() const;
    void set_state(const QVariantMap& state);

signals:
    void changed();

private:
    void fill_menu(ScenePlace place);
    void take_usual();
    void show_names();
    const SampleBook* book_ = nullptr;
    std::array<QPushButton*, std::size(scene_place_table)> buttons_{};
    std::array<QString, std::size(scene_place_table)> names_;
    bool chosen_ = false;  ///< by somebody, and not what usually lies there
};

}  // namespace loom
