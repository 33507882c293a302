// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Small pictures of many variations of a recipe, made one after the other beside the main rendering. What is asked for
// last replaces what was asked for before.
#pragma once

#include <QImage>
#include <QObject>
#include <memory>
#include <vector>

#include "app/document/background.h"
#include "core/measure/measure.h"

namespace loom {

struct TryOrder {
    Recipe recipe;
    Wanted wanted;
};

class TryService : public QObject {
    Q_OBJECT
public:
    /// `longest`: pixels of the longer side of each picture. `measured`: each is measured too.
    explicit TryService(int longest, QObject* parent = nullptr, bool measured = false);

    std::uint64_t submit(std::vector<TryOrder> orders);
    /// Gives up what is under way.
    void stop() { submit({}); }

signals:
    /// `index` counts in the orders of that ticket; the image is null if the variation cannot be rendered.
    void ready(quint64 ticket, int index, const QImage& image);
    /// Follows the picture.
    void measured(quint64 ticket, int index, const loom::Measures& measures);

private:
    int longest_;
    bool measured_;
    std::uint64_t ticket_ = 0;
    Background client_;
};

}  // namespace loom
