// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The small picture of what a step works with, such as the room that it mirrors, beside the parameter that chooses it.
#pragma once

#include <QLabel>

#include "app/document/background.h"
#include "core/recipe/recipe.h"

namespace loom {

class AsidePicture : public QLabel {
    Q_OBJECT
public:
    explicit AsidePicture(const StepDescription& step, QWidget* parent = nullptr);
    /// Asks for the picture anew where it would be another.
    void show_for(const Recipe& recipe, const Step& step);

    static constexpr int side = 84;

private:
    const StepDescription& description_;
    Step shown_;
    std::uint32_t seed_ = 0;
    Background client_;
};

}  // namespace loom
