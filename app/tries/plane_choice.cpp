// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/plane_choice.h"

#include <QAbstractItemView>
#include <QIcon>
#include <QPixmap>
#include <algorithm>
#include <numeric>

#include "app/tries/choice_pictures.h"
#include "app/widgets/text.h"
#include "core/image/plane_names.h"
#include "core/recipe/strand_planes.h"

namespace loom {

PlaneChoice::PlaneChoice(const Parameter& parameter, QWidget* parent)
    : QComboBox(parent), parameter_(parameter), service_(2 * ChoicePictures::side) {
    view()->setIconSize({ChoicePictures::side, ChoicePictures::side});
    setIconSize({ChoicePictures::side / 2, ChoicePictures::side / 2});
    setMaxVisibleItems(12);
    setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    setMinimumContentsLength(16);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        --missing_;
        const int row = rows_[static_cast<std::size_t>(index)];
        if (!image.isNull() && row < count()) setItemIcon(row, QIcon(QPixmap::fromImage(image)));
    });
}

void PlaneChoice::show_for(const Recipe& recipe, const std::string& strand, const std::string& value) {
    recipe_ = recipe, strand_ = strand;
    const auto made = planes_of_strand(recipe, strand);
    std::vector<std::string> offered;
    for (const Choice& choice : parameter_.choices) {
        const PlaneName* plane = find_plane_word(choice.id);
        if (!plane || made.contains(plane->id) || choice.id == value) offered.emplace_back(choice.id);
    }
    if (offered != offered_) {
        offered_ = std::move(offered);
        pictured_ = -1;
        clear();
        // The place is kept from the start, so that nothing moves when a picture comes.
        QPixmap empty(ChoicePictures::side, ChoicePictures::side);
        empty.fill(Qt::transparent);
        for (const Choice& choice : parameter_.choices)
            if (std::find(offered_.begin(), offered_.end(), choice.id) != offered_.end())
                addItem(QIcon(empty), qt(choice.title), qt(choice.id));
    }
    const int row = findData(QString::fromStdString(value));
    if (row == currentIndex() && row == pictured_) return;
    setCurrentIndex(row);
    pictured_ = row;
    if (row >= 0) look_at({row});
}

void PlaneChoice::look_at(std::vector<int> rows) {
    std::vector<TryOrder> orders;
    for (int row : rows) {
        const std::string& each = offered_[static_cast<std::size_t>(row)];
        orders.push_back({taken_recipe(recipe_, strand_, each.empty() ? "picture" : each), {}});
    }
    rows_ = std::move(rows);
    missing_ = static_cast<int>(orders.size());
    ticket_ = service_.submit(std::move(orders));
}

/// Pictures are those of the moment, so they are made whenever the list is looked at.
void PlaneChoice::showPopup() {
    std::vector<int> all(offered_.size());
    std::iota(all.begin(), all.end(), 0);
    look_at(std::move(all));
    QComboBox::showPopup();
}

}  // namespace loom
