// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/strand_groups.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolButton>

#include "app/loom/strand_column.h"
#include "app/theme/theme.h"

namespace loom {

namespace {

constexpr int folded_width = 34;

QToolButton* arrow(const char* glyph, const QString& what, QWidget* parent) {
    auto* button = new QToolButton(parent);
    button->setText(QString::fromUtf8(glyph));
    button->setStyleSheet("QToolButton { padding: 0; }");
    button->setFocusPolicy(Qt::StrongFocus);
    button->setFixedSize(18, 18);
    button->setAccessibleName(what);
    button->setToolTip(what);
    return button;
}

}  // namespace

FoldedStrands::FoldedStrands(std::string strand, const QString& name, int count, bool on, QWidget* parent)
    : QWidget(parent),
      strand_(std::move(strand)),
      name_(count > 0 ? tr("%1 (%2)").arg(name).arg(count) : name),
      count_(count),
      on_(on) {
    setFixedWidth(folded_width);
    setProperty("pinned", true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(count > 0 ? tr("Group %1, %n strands, folded", nullptr, count).arg(name)
                                : tr("Strand %1, folded").arg(name));
    setToolTip(tr("%1: folded. Double-click or Enter unfolds it.").arg(name));
    unfold_ = arrow("▸", tr("Unfold %1").arg(name), this);
    connect(unfold_, &QToolButton::clicked, this, &FoldedStrands::unfold_wanted);
}

void FoldedStrands::set_selected(bool selected) {
    selected_ = selected;
    update();
}

void FoldedStrands::pin(int top, int height) {
    top_ = top, seen_ = height;
    unfold_->move((width() - unfold_->width()) / 2, top + 10);
    update();
}

void FoldedStrands::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double middle = width() / 2.0;
    const int weft = top_ + seen_ - weft_above_bottom;
    painter.setPen(QPen(selected_ ? c.accent : c.thread, selected_ ? 2.4 : 1.6));
    painter.drawLine(QPointF(middle, top_ + 20), QPointF(middle, weft));
    painter.setPen(QPen(c.text, 1.8));
    painter.drawLine(0, weft, width(), weft);
    painter.setPen(QPen(c.text, 1.4));
    painter.setBrush(on_ ? c.text : c.window);
    painter.drawEllipse(QPointF(middle, weft), 4, 4);
    const QRectF panel(3, top_ + 8, width() - 6, seen_ - 48);
    painter.setPen(QPen(selected_ ? c.accent : c.line, selected_ ? 1.6 : 1));
    painter.setBrush(c.panel);
    painter.drawRoundedRect(panel, 3, 3);
    if (hasFocus()) {
        painter.setPen(QPen(c.accent, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(panel.adjusted(2.5, 2.5, -2.5, -2.5), 2, 2);
    }
    painter.setPen(on_ ? c.text : c.faint);
    painter.setFont(theme::strong_font(12));
    painter.translate(middle, panel.top() + 26);
    painter.rotate(90);
    const int room = static_cast<int>(panel.height()) - 34;
    painter.drawText(QRect(0, -11, room, 22), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetrics(painter.font()).elidedText(name_, Qt::ElideRight, room));
}

void FoldedStrands::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    setFocus(Qt::MouseFocusReason);
    emit chosen();
}

void FoldedStrands::mouseDoubleClickEvent(QMouseEvent*) { emit unfold_wanted(); }

void FoldedStrands::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return emit unfold_wanted();
    QWidget::keyPressEvent(event);
}

void FoldedStrands::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason) emit chosen();
    update();
}

void FoldedStrands::contextMenuEvent(QContextMenuEvent* event) {
    emit chosen();
    emit menu_wanted(event->globalPos());
}

GroupBand::GroupBand(std::string strand, const QString& name, QWidget* parent)
    : QWidget(parent), strand_(std::move(strand)), name_(name) {
    setFixedHeight(group_strip);
    setProperty("pinned", true);
    setAccessibleName(tr("Group %1").arg(name));
    setToolTip(tr("%1: the arrow folds the group to its name, a double click renames it.").arg(name));
    fold_ = arrow("▾", tr("Fold the group %1").arg(name), this);
    fold_->move(4, 1);
    connect(fold_, &QToolButton::clicked, this, &GroupBand::fold_wanted);
}

void GroupBand::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.window);
    painter.setFont(theme::strong_font(11));
    painter.setPen(c.text);
    const QString shown = painter.fontMetrics().elidedText(name_, Qt::ElideRight, width() - 40);
    painter.drawText(QRect(24, 0, width() - 32, height()), Qt::AlignLeft | Qt::AlignVCenter, shown);
    // A line over all strands that belong to it.
    const int from = 24 + painter.fontMetrics().horizontalAdvance(shown) + 8, y = height() / 2;
    painter.setPen(QPen(c.thread, 1.2));
    painter.drawLine(from, y, width() - 6, y);
    painter.drawLine(width() - 6, y, width() - 6, height());
}

void GroupBand::mouseDoubleClickEvent(QMouseEvent*) { emit rename_wanted(); }

}  // namespace loom
