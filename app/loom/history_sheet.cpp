// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/history_sheet.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr int picture_side = 76;
constexpr std::size_t most_states = 60;

/// A picture stays as it is while it is chosen.
QIcon icon_of(const QPixmap& picture) {
    QIcon icon(picture);
    icon.addPixmap(picture, QIcon::Selected);
    return icon;
}
}  // namespace

HistorySheet::HistorySheet(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* title = new QLabel(tr("History"), this);
    title->setFont(theme::strong_font(15));
    auto* hint = new QLabel(tr("The newest first; a click goes there."), this);
    hint->setFont(theme::small_font());
    hint->setForegroundRole(QPalette::PlaceholderText);
    hint->setWordWrap(true);
    list_ = new QListWidget(this);
    list_->setViewMode(QListView::IconMode);
    list_->setResizeMode(QListView::Adjust);
    list_->setMovement(QListView::Static);
    list_->setIconSize({picture_side, picture_side});
    list_->setGridSize({picture_side + 46, picture_side + 48});
    list_->setWordWrap(true);
    list_->setUniformItemSizes(true);
    list_->setTextElideMode(Qt::ElideRight);
    list_->setStyleSheet(
        "QListWidget::item { border: 2px solid transparent; padding: 2px; }"
        "QListWidget::item:selected { border-color: palette(highlight); background: transparent; "
        "color: palette(text); }");
    list_->setAccessibleName(tr("States of the recipe"));
    const auto button = [this](const QString& text, const QString& help) {
        auto* made = new QToolButton(this);
        made->setText(text);
        made->setToolTip(help);
        made->setFocusPolicy(Qt::StrongFocus);
        return made;
    };
    auto* pin_button = button(tr("Pin it"), tr("Shows the chosen state beside the present one, under a line to be dragged (P)"));
    auto* close_button = button(tr("Close"), tr("Back to the strands (Escape)"));
    auto* head = new QHBoxLayout;
    head->addWidget(title);
    head->addWidget(hint, 1);
    head->addWidget(pin_button);
    head->addWidget(close_button);
    auto* stack = new QVBoxLayout(this);
    stack->setContentsMargins(16, 10, 14, 8);
    stack->addLayout(head);
    stack->addWidget(list_, 1);
    // A list would look for names that begin with the letter.
    list_->installEventFilter(this);
    connect(close_button, &QToolButton::clicked, this, &HistorySheet::closed);
    connect(pin_button, &QToolButton::clicked, this, &HistorySheet::pin);
    connect(list_, &QListWidget::itemClicked, this, &HistorySheet::go);
    connect(list_, &QListWidget::itemActivated, this, &HistorySheet::go);
    connect(&session_, &Session::recipe_changed, this, &HistorySheet::follow);
    connect(&session_.undo_stack(), &QUndoStack::indexChanged, this, &HistorySheet::follow);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        --missing_;
        const int row = asked_[static_cast<std::size_t>(index)];
        known_[static_cast<std::size_t>(row)].picture = image;
        if (QListWidgetItem* item = list_->item(row)) item->setIcon(icon_of(QPixmap::fromImage(image)));
    });
}

void HistorySheet::follow() {
    if (!isVisible()) return;
    auto states = session_.states();
    std::reverse(states.begin(), states.end());
    if (states.size() > most_states) states.resize(most_states);
    std::vector<Known> known;
    std::vector<TryOrder> orders;
    asked_.clear();
    updating_ = true;
    list_->clear();
    QPixmap blank(picture_side, picture_side);
    blank.fill(theme::colours().field);
    for (std::size_t k = 0; k < states.size(); ++k) {
        auto& [text, recipe] = states[k];
        const auto same = std::find_if(known_.begin(), known_.end(), [&now = recipe](const Known& each) {
            return !each.picture.isNull() && each.recipe == now;
        });
        const QImage picture = same == known_.end() ? QImage() : same->picture;
        auto* item = new QListWidgetItem(icon_of(picture.isNull() ? blank : QPixmap::fromImage(picture)), text, list_);
        item->setToolTip(text);
        if (picture.isNull()) asked_.push_back(static_cast<int>(k)), orders.push_back({recipe, own_picture});
        known.push_back({std::move(recipe), picture});
    }
    known_ = std::move(known);
    list_->setCurrentRow(session_.undo_stack().count() - session_.undo_stack().index());
    updating_ = false;
    missing_ = static_cast<int>(orders.size());
    ticket_ = service_.submit(std::move(orders));
}

void HistorySheet::go() {
    if (updating_ || list_->currentRow() < 0) return;
    session_.undo_stack().setIndex(session_.undo_stack().count() - list_->currentRow());
}

void HistorySheet::pin() {
    const int row = list_->currentRow();
    if (row >= 0) emit pin_wanted(known_[static_cast<std::size_t>(row)].recipe, list_->item(row)->text());
}

void HistorySheet::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    follow();
    list_->setFocus();
}

void HistorySheet::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    service_.stop();
    missing_ = 0;
}

bool HistorySheet::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress)
        if (const int key = static_cast<QKeyEvent*>(event)->key(); key == Qt::Key_P || key == Qt::Key_Escape) {
            keyPressEvent(static_cast<QKeyEvent*>(event));
            return true;
        }
    return QWidget::eventFilter(watched, event);
}

void HistorySheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return emit closed();
    if (event->key() == Qt::Key_P) return pin();
    QWidget::keyPressEvent(event);
}

}  // namespace loom
