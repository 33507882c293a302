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
    std::vector<TryOrder> orders;
    std::vector<int> rows;
    for (std::size_t k = 0; k < parameter.choices.size(); ++k) {
        if (!has_picture(step, parameter, parameter.choices[k])) continue;
        orders.push_back({choice_recipe(step, parameter, parameter.choices[k]), {}});
        rows.push_back(static_cast<int>(k));
    }
    connect(&service_, &TryService::ready, box, [box, rows](quint64, int index, const QImage& image) {
        if (!image.isNull()) box->setItemIcon(rows[static_cast<std::size_t>(index)], QIcon(QPixmap::fromImage(image)));
    });
    service_.submit(std::move(orders));
}

}  // namespace loom
