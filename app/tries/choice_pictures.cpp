// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/choice_pictures.h"

#include <QAbstractItemView>
#include <QComboBox>
#include <QIcon>
#include <QPixmap>

#include "core/recipe/choice_recipe.h"

namespace loom {

ChoicePictures::ChoicePictures(const StepDescription& step, const Parameter& parameter, QComboBox* box) : QObject(box) {
    // Small in the closed list, large enough to be judged in the open one.
    box->setIconSize({side / 2, side / 2});
    box->view()->setIconSize({side, side});
    // The place is kept from the start, so that nothing moves when a picture comes.
    QPixmap empty(side, side);
    empty.fill(Qt::transparent);
    for (int k = 0; k < box->count(); ++k) box->setItemIcon(k, QIcon(empty));
    connect(&service_, &TryService::ready, box, [box](quint64, int index, const QImage& image) {
        if (!image.isNull()) box->setItemIcon(index, QIcon(QPixmap::fromImage(image)));
    });
    std::vector<TryOrder> orders;
    for (const Choice& choice : parameter.choices) orders.push_back({choice_recipe(step, parameter, choice), {}});
    service_.submit(std::move(orders));
}

}  // namespace loom
