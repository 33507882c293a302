// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/strand_column.h"

#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/tab_order.h"
#include "app/widgets/text.h"

namespace loom {

StrandHeader::StrandHeader(QWidget* parent) : QWidget(parent) {
    setFixedSize(theme::card_width - 8, 27);
    setFocusPolicy(Qt::StrongFocus);
}

void StrandHeader::set(const QString& name, bool on, bool selected) {
    name_ = name, on_ = on, selected_ = selected;
    setAccessibleName(tr("Strand %1%2").arg(name, on ? QString() : tr(", switched off")));
    setToolTip(
        tr("%1: click to see how it is joined and routed, double-click to rename; the dot switches it on and off.").arg(name));
    update();
}

QRect StrandHeader::dot() const { return {width() - 20, 0, 20, height()}; }

void StrandHeader::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(selected_ ? c.accent : c.line, selected_ ? 1.6 : 1));
    painter.setBrush(c.panel);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 3, 3);
    if (hasFocus()) {
        painter.setPen(QPen(c.accent, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(3.5, 3.5, -3.5, -3.5), 2, 2);
    }
    painter.setPen(on_ ? c.text : c.faint);
    painter.setFont(theme::strong_font(12));
    painter.drawText(rect().adjusted(8, 0, -20, 0), Qt::AlignVCenter | Qt::AlignLeft,
                     QFontMetrics(painter.font()).elidedText(name_, Qt::ElideRight, width() - 28));
    painter.setPen(QPen(on_ ? c.text : c.faint, 1.4));
    painter.setBrush(on_ ? QBrush(c.text) : Qt::NoBrush);
    painter.drawEllipse(QPointF(dot().center()) + QPointF(1, 0.5), 3.5, 3.5);
}

void StrandHeader::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    setFocus(Qt::MouseFocusReason);
    if (dot().contains(event->pos()))
        emit switched();
    else
        emit chosen();
}

void StrandHeader::mouseDoubleClickEvent(QMouseEvent* event) {
    if (!dot().contains(event->pos())) emit rename_wanted();
}

void StrandHeader::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return emit chosen();
    QWidget::keyPressEvent(event);
}

void StrandHeader::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason) emit chosen();
    update();
}

void StrandHeader::contextMenuEvent(QContextMenuEvent* event) {
    emit chosen();
    emit menu_wanted(event->globalPos());
}

namespace {

/// A strip that hides the cards scrolled beneath it and lets the thread run on.
class Strip : public QWidget {
public:
    Strip(bool foot, QWidget* parent) : QWidget(parent), foot_(foot) { setProperty("pinned", true); }
    QColor thread;
    double thickness = 1.6;
    bool on = true;
    std::vector<Map> fed;  ///< maps that the strand goes into besides the cloth

protected:
    void paintEvent(QPaintEvent*) override {
        const theme::Colours& c = theme::colours();
        QPainter painter(this);
        painter.fillRect(rect(), c.window);
        painter.setRenderHint(QPainter::Antialiasing);
        const int x = width() / 2, weft = height() - weft_above_bottom;
        painter.setPen(QPen(thread, thickness));
        painter.drawLine(x, foot_ ? 0 : height() - 24, x, foot_ ? weft : height());
        if (!foot_) return;
        painter.setPen(QPen(c.text, 1.8));
        painter.drawLine(0, weft, width(), weft);
        painter.setPen(QPen(c.text, 1.4));
        painter.setBrush(on ? c.text : c.window);
        painter.drawEllipse(QPointF(x, weft), 4, 4);
        // On the weft, so that one look along it says which strand feeds what.
        painter.setFont(theme::small_font());
        constexpr int wide = 15, gap = 9;
        for (std::size_t k = 0; k < fed.size(); ++k) {
            // Two on the right, all others on the left of the joint.
            const int along = static_cast<int>(k < 2 ? k : k - 2) * (wide + 1);
            const QRect mark(k < 2 ? x + gap + along : x - gap - wide - along, weft - 7, wide, 15);
            painter.setPen(QPen(c.line, 1));
            painter.setBrush(c.panel);
            painter.drawRoundedRect(QRectF(mark).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
            painter.setPen(on ? c.text : c.faint);
            painter.drawText(mark, Qt::AlignCenter, qt(map_info(fed[k]).title).left(1));
        }
    }

private:
    bool foot_;
};

/// A plus on the thread.
class Insert : public QAbstractButton {
public:
    explicit Insert(QWidget* parent) : QAbstractButton(parent) {
        setFixedSize(24, theme::gap);
        // The keyboard adds below the card it is on.
        setFocusPolicy(Qt::NoFocus);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        const theme::Colours& c = theme::colours();
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const QPointF middle = QRectF(rect()).center();
        const double radius = 6;
        painter.setPen(QPen(underMouse() ? c.accent : c.thread, 1.2));
        painter.setBrush(c.panel);
        painter.drawEllipse(middle, radius, radius);
        painter.setPen(QPen(underMouse() ? c.accent : c.faint, 1.2));
        painter.drawLine(middle - QPointF(3, 0), middle + QPointF(3, 0));
        painter.drawLine(middle - QPointF(0, 3), middle + QPointF(0, 3));
    }
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }
};

}  // namespace

StrandColumn::StrandColumn(const Strand& strand, bool first, int above, QWidget* parent)
    : QWidget(parent), id_(strand.id), above_(above) {
    setFixedWidth(theme::card_width);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(4, above_ + header_strip, 4, foot_strip);
    layout->setSpacing(theme::gap);
    for (ChainKind chain : all_chains) {
        cards_[chain] = {};
        inserts_[chain] = {};
        if (chain != ChainKind::steps && !strand.chain(chain).empty()) {
            auto* caption = new QLabel(chain == ChainKind::mask ? tr("Mask") : tr("Edge"), this);
            caption->setFont(theme::strong_font(11));
            caption->setAlignment(Qt::AlignHCenter);
            caption->setAutoFillBackground(true);
            QPalette palette = caption->palette();
            palette.setColor(QPalette::Window, theme::colours().window);
            palette.setColor(QPalette::WindowText, theme::colours().faint);
            caption->setPalette(palette);
            layout->addWidget(caption);
        }
        for (const Step& step : strand.chain(chain)) {
            auto* card = new StepCard(strand.id, step, this);
            cards_[chain].push_back(card);
            layout->addWidget(card);
            auto* insert = new Insert(this);
            insert->setAccessibleName(tr("Add a step before %1").arg(QString::fromStdString(step_title(step))));
            insert->setToolTip(insert->accessibleName());
            const int index = static_cast<int>(inserts_[chain].size());
            connect(insert, &QAbstractButton::clicked, this, [this, chain, index] { emit insert_wanted({id_, chain, index}); });
            inserts_[chain].push_back(insert);
        }
        add_[chain] = make_add_button(chain);
        if (chain == ChainKind::steps || !strand.chain(chain).empty())
            layout->addWidget(add_[chain], 0, Qt::AlignHCenter);
        else
            add_[chain]->hide();
    }
    // Chains that are still empty are begun from one quiet line.
    auto* more = new QWidget(this);
    auto* line = new QHBoxLayout(more);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    line->addStretch(1);
    bool any = false;
    for (ChainKind chain : {ChainKind::mask, ChainKind::edge})
        if (strand.chain(chain).empty()) {
            line->addWidget(add_[chain]);
            add_[chain]->show();
            any = true;
        }
    line->addStretch(1);
    layout->addWidget(more);
    more->setVisible(any);
    layout->addStretch(1);
    top_ = new Strip(false, this);
    header_ = new StrandHeader(top_);
    header_->move(4, above_ + 8);
    foot_ = new Strip(true, this);
    join_ = new JoinCard(foot_);
    join_->move(4, 8);
    set(strand, first);
}

QWidget* StrandColumn::tab_from(QWidget* before) {
    before = tab_through(before, header_);
    for (ChainKind chain : all_chains) {
        for (StepCard* card : cards_[chain]) before = tab_through(before, card);
        before = tab_through(before, add_[chain]);
    }
    return tab_through(before, join_);
}

void StrandColumn::pin(int top, int height) {
    seen_top_ = top, seen_height_ = height;
    top_->setGeometry(0, top, width(), above_ + header_strip - theme::gap);
    foot_->setGeometry(0, top + height - foot_strip, width(), foot_strip);
    place_inserts();
    top_->raise();
    foot_->raise();
}

QPushButton* StrandColumn::make_add_button(ChainKind chain) {
    auto* button = new QPushButton(this);
    const bool main = chain == ChainKind::steps;
    button->setText(main ? "+" : chain == ChainKind::mask ? tr("+ mask") : tr("+ edge"));
    button->setFixedHeight(main ? 24 : 18);
    button->setFixedWidth(main ? 32 : 50);
    if (!main) button->setFont(theme::small_font());
    const QColor line = theme::colours().line, fill = theme::colours().panel;
    button->setStyleSheet(QString("QPushButton { border-radius: %1px; padding: 0; background: %2; border: 1px solid %3; } "
                                  "QPushButton:focus { border: 2px solid %4; padding: 0; }")
                              .arg(main ? 12 : 9)
                              .arg(fill.name(), line.name(), theme::colours().accent.name()));
    const QString what = main                       ? tr("Add a step to this strand")
                         : chain == ChainKind::mask ? tr("Add a step to the mask")
                                                    : tr("Add a step to the edge chain");
    button->setAccessibleName(what);
    button->setToolTip(what);
    return button;
}

void StrandColumn::set(const Strand& strand, bool first) {
    header_->set(QString::fromStdString(strand.name), strand.on, selected_);
    for (ChainKind chain : all_chains)
        for (std::size_t k = 0; k < cards_[chain].size() && k < strand.chain(chain).size(); ++k)
            cards_[chain][k]->set_step(strand.chain(chain)[k]);
    auto* foot = static_cast<Strip*>(foot_);
    foot->on = strand.on;
    foot->fed.clear();
    QStringList words;
    for (const auto& [map, route] : strand.routes)
        if (route.amount > 0) foot->fed.push_back(map), words << qt(map_info(map).title);
    const QString feeds = words.isEmpty() ? QString() : tr("Feeds the maps: %1").arg(words.join(", "));
    foot->setToolTip(feeds);
    foot->setAccessibleDescription(feeds);
    foot->update();
    join_->set_join(strand.join, first, QString::fromStdString(strand.name));
}

void StrandColumn::set_selection(bool strand_selected, const StepPlaces& steps, const StepPlace& lead) {
    selected_ = strand_selected;
    for (auto& [chain, cards] : cards_)
        for (StepCard* card : cards) {
            const StepPlace own{id_, card->step_id()};
            card->set_selected(std::find(steps.begin(), steps.end(), own) != steps.end(), own == lead);
        }
    join_->set_selected(strand_selected);
    for (QWidget* widget : {top_, foot_}) {
        auto* strip = static_cast<Strip*>(widget);
        strip->thread = selected_ ? theme::colours().accent : theme::colours().thread;
        strip->thickness = selected_ ? 2.4 : 1.6;
        strip->update();
    }
    update();
}

Slot StrandColumn::slot_at(const QPoint& place) const {
    Slot best{id_, ChainKind::steps, 0};
    int nearest = 1 << 30;
    for (ChainKind chain : all_chains) {
        const auto& list = cards_.at(chain);
        for (int index = 0; index <= static_cast<int>(list.size()); ++index) {
            const Slot slot{id_, chain, index};
            // An empty mask or edge is dropped into on its own button.
            if (list.empty() && chain != ChainKind::steps &&
                !add_.at(chain)->geometry().adjusted(-6, -6, 6, 6).contains(place - add_.at(chain)->parentWidget()->pos()))
                continue;
            const int distance = std::abs(slot_mark(slot).center().y() - place.y());
            if (distance < nearest) nearest = distance, best = slot;
        }
    }
    return best;
}

QRect StrandColumn::slot_mark(const Slot& slot) const {
    const auto& list = cards_.at(slot.chain);
    int y = above_ + header_strip - theme::gap / 2;
    if (!list.empty()) {
        const bool end = slot.index >= static_cast<int>(list.size());
        y = end ? list.back()->geometry().bottom() + theme::gap / 2
                : list[static_cast<std::size_t>(slot.index)]->geometry().top() - theme::gap / 2;
    } else if (slot.chain != ChainKind::steps) {
        y = add_.at(slot.chain)->mapTo(this, QPoint(0, 0)).y() + add_.at(slot.chain)->height();
    }
    return {4, y - 2, width() - 8, 4};
}

void StrandColumn::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const int x = width() / 2;
    const QColor colour = selected_ ? c.accent : c.thread;
    painter.setPen(QPen(colour, selected_ ? 2.4 : 1.6));
    painter.drawLine(x, 0, x, height());
}

void StrandColumn::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    place_inserts();
}

void StrandColumn::place_inserts() {
    layout()->activate();
    for (const auto& [chain, inserts] : inserts_)
        for (std::size_t k = 0; k < inserts.size(); ++k) {
            const QRect card = cards_.at(chain)[k]->geometry();
            const int y = card.top() - theme::gap;
            inserts[k]->move((width() - inserts[k]->width()) / 2, y);
            // None is cut by the strips at top and foot.
            inserts[k]->setVisible(y >= seen_top_ + above_ + header_strip - theme::gap &&
                                   y + theme::gap <= seen_top_ + seen_height_ - foot_strip);
            inserts[k]->lower();
        }
}

}  // namespace loom
