// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// One strand: header, the cards of its three chains, and its join.
#pragma once

#include <QPushButton>
#include <QWidget>
#include <map>
#include <vector>

#include "app/loom/join_card.h"
#include "app/loom/step_card.h"
#include "core/recipe/several.h"

namespace loom {

/// Name and on/off dot of a strand; a click selects it, a double click renames it.
class StrandHeader : public QWidget {
    Q_OBJECT
public:
    explicit StrandHeader(QWidget* parent = nullptr);
    void set(const QString& name, bool on, bool selected);

signals:
    void chosen();
    void menu_wanted(const QPoint& place);
    void switched();
    void rename_wanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    QRect dot() const;
    QString name_;
    bool on_ = true, selected_ = false;
};

/// Heights of the strips that stay in place: the headers, and the joins with the weft below them.
constexpr int header_strip = 52, foot_strip = 110, weft_above_bottom = 13;

class StrandColumn : public QWidget {
    Q_OBJECT
public:
    /// `above`: room for the names of groups, in pixels.
    StrandColumn(const Strand& strand, bool first, int above, QWidget* parent = nullptr);

    void set(const Strand& strand, bool first);
    void set_selection(bool strand_selected, const StepPlaces& steps, const StepPlace& lead);
    const std::string& strand_id() const { return id_; }
    const std::vector<StepCard*>& cards(ChainKind chain) const { return cards_.at(chain); }
    StrandHeader* header() const { return header_; }
    JoinCard* join() const { return join_; }
    /// On the thread above a card.
    QAbstractButton* insert_button(ChainKind chain, int index) const {
        return inserts_.at(chain).at(static_cast<std::size_t>(index));
    }
    QPushButton* add_button(ChainKind chain) const { return add_.at(chain); }
    /// Lets Tab go on from `before` to the header, through the cards to the join; returns the last.
    QWidget* tab_from(QWidget* before);
    /// Keeps the header at the top and the join at the foot of what can be seen, `height` pixels from `top` on.
    void pin(int top, int height);
    /// The slot nearest to a place in this widget.
    Slot slot_at(const QPoint& place) const;
    /// The line where a card put into the slot would appear, in this widget.
    QRect slot_mark(const Slot& slot) const;

signals:
    void insert_wanted(const loom::Slot& slot);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void place_inserts();
    QPushButton* make_add_button(ChainKind chain);
    std::string id_;
    QWidget *top_, *foot_;
    StrandHeader* header_;
    JoinCard* join_;
    std::map<ChainKind, std::vector<StepCard*>> cards_;
    std::map<ChainKind, std::vector<QAbstractButton*>> inserts_;
    std::map<ChainKind, QPushButton*> add_;
    int above_, seen_top_ = 0, seen_height_ = 0;
    bool selected_ = false;
};

}  // namespace loom
