// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The strands as threads that run down, each with its cards and its join at the foot, and the weft that runs
// across them into the cloth.
#pragma once

#include <QScrollArea>
#include <map>

#include "app/document/session.h"
#include "app/loom/join_card.h"
#include "app/loom/step_card.h"

class QLabel;
class QMenu;
class QPushButton;

namespace loom {

class StrandColumn;

class StrandsView : public QScrollArea {
    Q_OBJECT
public:
    explicit StrandsView(Session& session, QWidget* parent = nullptr);

    void show_cards(const CardPictures& cards);
    StepCard* card(const std::string& strand, const std::string& step) const;
    JoinCard* join(const std::string& strand) const;
    QPushButton* add_button(const std::string& strand, ChainKind chain) const;
    /// Where a card dropped at this global place would go; nothing outside all strands.
    std::optional<Slot> slot_at(const QPoint& global) const;
    /// What can be seen of a strand, in global places; of all if it is not there.
    QRect strand_place(const std::string& strand) const;
    void focus_selected();
    void set_card_menu(QMenu* menu) { card_menu_ = menu; }

signals:
    void add_step_wanted(const loom::Slot& slot);
    void add_strand_wanted();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void pin();
    void rebuild();
    void show_selection();
    void reveal_selected();
    void show_drop(const QPoint& global, const StepCard& card);
    void end_drag();

    Session& session_;
    QWidget* canvas_;
    QLabel* ghost_ = nullptr;
    QWidget* mark_ = nullptr;
    QMenu* card_menu_ = nullptr;
    std::vector<StrandColumn*> columns_;
    std::string shape_;  ///< ids of all strands and steps: what decides whether cards are built anew
    CardPictures pictures_;
};

}  // namespace loom
