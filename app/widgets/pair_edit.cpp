// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/pair_edit.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/theme/theme.h"

namespace loom {

Pad::Pad(QWidget* parent) : QWidget(parent) {
    setFixedSize(sizeHint());
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::CrossCursor);
}

QRectF Pad::ground() const { return QRectF(rect()).adjusted(6, 6, -6, -6); }

void Pad::set_shares(double across, double down) {
    const QPointF shares(std::clamp(across, 0.0, 1.0), std::clamp(down, 0.0, 1.0));
    if (shares == shares_) return;
    shares_ = shares;
    update();
}

void Pad::move_to(QPointF shares) {
    const QPointF before = shares_;
    set_shares(shares.x(), shares.y());
    if (shares_ != before) emit dragged(shares_.x(), shares_.y());
}

void Pad::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(hasFocus() ? c.accent : c.line, hasFocus() ? 2 : 1));
    painter.setBrush(c.field);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 3, 3);
    const QRectF all = ground();
    const QPointF at(all.left() + shares_.x() * all.width(), all.top() + shares_.y() * all.height());
    painter.setPen(QPen(c.line, 1));
    painter.drawLine(QPointF(at.x(), all.top()), QPointF(at.x(), all.bottom()));
    painter.drawLine(QPointF(all.left(), at.y()), QPointF(all.right(), at.y()));
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.text);
    painter.drawEllipse(at, 4, 4);
}

void Pad::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return event->ignore();
    setFocus(Qt::MouseFocusReason);
    emit drag_began();
    mouseMoveEvent(event);
}

void Pad::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton)) return;
    const QRectF all = ground();
    move_to({(event->position().x() - all.left()) / all.width(), (event->position().y() - all.top()) / all.height()});
}

void Pad::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) emit drag_ended();
}

void Pad::keyPressEvent(QKeyEvent* event) {
    const double by = event->modifiers() & Qt::ShiftModifier ? 0.1 : event->modifiers() & Qt::ControlModifier ? 0.002 : 0.02;
    switch (event->key()) {
        case Qt::Key_Left: return move_to(shares_ - QPointF(by, 0));
        case Qt::Key_Right: return move_to(shares_ + QPointF(by, 0));
        case Qt::Key_Up: return move_to(shares_ - QPointF(0, by));
        case Qt::Key_Down: return move_to(shares_ + QPointF(0, by));
        default: QWidget::keyPressEvent(event);
    }
}

void Pad::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}
void Pad::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

PairEdit::PairEdit(NumberEdit* across, NumberEdit* down, const QString& accessible_name, QWidget* parent)
    : QWidget(parent), across_(across), down_(down) {
    pad_ = new Pad(this);
    pad_->setAccessibleName(tr("%1, both at once").arg(accessible_name));
    pad_->setToolTip(tr("%1: across from left to right, down from top to bottom").arg(accessible_name));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(4);
    grid->addWidget(across, 0, 0);
    grid->addWidget(down, 1, 0);
    grid->addWidget(pad_, 0, 1, 2, 1);
    grid->setColumnStretch(0, 1);
    connect(pad_, &Pad::drag_began, this, [this] { gestures_.begin(); });
    connect(pad_, &Pad::drag_ended, this, [this] { gestures_.end(); });
    connect(pad_, &Pad::dragged, this,
            [this](double x, double y) { emit changed(across_->at_share(x), down_->at_share(y), gestures_.current()); });
    for (NumberEdit* each : {across, down}) connect(each, &NumberEdit::changed, this, &PairEdit::follow);
}

void PairEdit::follow() { pad_->set_shares(across_->share(), down_->share()); }

}  // namespace loom
