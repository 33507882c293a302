// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gives each choice of a list a small picture of what it does, made by the step itself.
#pragma once

#include <QObject>

#include "app/document/try_service.h"
#include "core/catalogue/description.h"

class QComboBox;

namespace loom {

class ChoicePictures : public QObject {
    Q_OBJECT
public:
    /// Belongs to `box`, whose items are the parameter's choices in their order. Pictures come as they are ready.
    ChoicePictures(const StepDescription& step, const Parameter& parameter, QComboBox* box);

    static constexpr int side = 36;

private:
    TryService service_{2 * side};
};

}  // namespace loom
