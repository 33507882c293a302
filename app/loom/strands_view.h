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
class QRubberBand;
class QMenu;
class QPushButton;
class QToolButton;

namespace loom {

class StrandColumn;
class FoldedStrands;
class GroupBand;
class StrandsOverview;

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
    void set_menus(QMenu* of_card, QMenu* of_strand) { card_menu_ = of_card, strand_menu_ = of_strand; }
    /// Where a strand or its group is folded; null where it is open.
    FoldedStrands* folded(const std::string& strand) const;
    GroupBand* group_band(const std::string& strand) const;
    /// How many strands lie left and right of what can be seen.
    std::pair<int, int> beyond() const;
    StrandsOverview* overview() const { return overview_; }
    QPushButton* add_strand_button() const { return add_strand_; }
    QToolButton* to_left() const { return to_left_; }
    QToolButton* to_right() const { return to_right_; }
    /// Asks for a name of the strand's group.
    void rename_group(const std::string& strand);

signals:
    void add_step_wanted(const loom::Slot& slot);
    void add_strand_wanted();
    /// Of what is selected.
    void rename_wanted();
    /// To see all blends of a strand's join.
    void blends_wanted(const std::string& strand);

protected:
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    bool focusNextPrevChild(bool next) override;

private:
    void refresh();
    void pin();
    void rebuild();
    void show_selection();
    void reveal_selected();
    void reveal(const QWidget* widget);
    void show_drop(const QPoint& global, const StepCard& card);
    void end_drag();
    void add_column(const Strand& strand, bool first, int above);
    void add_folded(const Strand& strand, int group_count);
    void connect_card(StepCard* card);
    void choose(const StepCard& card, Qt::KeyboardModifiers with);
    void extend(const StepCard& card, int way);
    void drop(const StepCard& card, const QPoint& place);
    bool draws_band(QEvent* event);
    void take_in(const QRect& band, bool also);
    void place_bands();
    void build_rail();
    /// What stands beside and over the strands, after anything has moved.
    void follow_view();
    /// Of a strand, where it or its group stands on the canvas.
    QRect place_on_canvas(const std::string& strand) const;
    void bring_into_view(const std::string& strand);

    Session& session_;
    QWidget* canvas_;
    QWidget* rail_;
    StrandsOverview* overview_;
    QPushButton* add_strand_;
    QToolButton *to_left_, *to_right_;
    QLabel* ghost_ = nullptr;
    QWidget* mark_ = nullptr;
    QMenu *card_menu_ = nullptr, *strand_menu_ = nullptr;
    std::vector<StrandColumn*> columns_;
    std::vector<FoldedStrands*> folded_;
    std::vector<GroupBand*> bands_;
    QRubberBand* rubber_ = nullptr;
    QPoint pressed_;
    Selection anchor_;   ///< where a choice of several began
    std::string shape_;  ///< ids of all strands and steps: what decides whether cards are built anew
    CardPictures pictures_;
};

}  // namespace loom
