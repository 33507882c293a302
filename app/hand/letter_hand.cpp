// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/letter_hand.h"

#include <QTransform>

#include "app/theme/theme.h"

namespace loom {

const Parameter* LetterHand::parameter() const {
    const Step* step = session_.selected_step();
    const StepDescription* description = step && step->on ? find_step(step->kind) : nullptr;
    if (!description || !description->extent) return nullptr;
    const Parameter* p = description->parameter_of(Kind::text);
    return p && p->lines ? p : nullptr;
}

QString LetterHand::text() const {
    return QString::fromStdString(as<std::string>(value_or_default(*parameter(), session_.selected_step()->set)));
}

void LetterHand::set(const QString& text) {
    const Selection& at = session_.selection();
    session_.set_value({at.strand, at.step, std::string(parameter()->id)}, Value(text.toStdString()),
                       QString("typed %1").arg(runs_));
}

QPolygonF LetterHand::box(const QRectF& tile) const {
    const Step* step = session_.selected_step();
    const StepDescription* description = find_step(step->kind);
    const Extent extent = description->extent(step->set);
    const auto number = [&](std::string_view id) { return as<double>(value_or_default(*description->parameter(id), step->set)); };
    const Tile& design = session_.recipe().tile;
    QTransform transform;
    transform.translate(tile.left() + number("x") / 100 * tile.width(), tile.top() + number("y") / 100 * tile.height());
    transform.scale(tile.width() / design.width, tile.height() / design.height);
    transform.rotate(-number("turn"));
    return transform.map(QPolygonF(QRectF(extent.left, extent.top, extent.width(), extent.height())));
}

bool LetterHand::press(const Touch& touch, const QRectF& tile) {
    if (!parameter()) return typing_ = false;
    const bool inside = box(tile).containsPoint(touch.at, Qt::OddEvenFill);
    if (touch.twice && inside) {
        typing_ = true;
        ++runs_;
    } else if (!inside) {
        typing_ = false;
    }
    return false;
}

void LetterHand::insert(const QString& more) {
    if (types() && !more.isEmpty()) set(text() + more);
}

bool LetterHand::key(const QKeyEvent& event, bool pressed) {
    if (!parameter()) return typing_ = false;
    if (!typing_) {
        if (event.key() != Qt::Key_Return || event.modifiers() != Qt::NoModifier) return false;
        if (pressed) typing_ = true, ++runs_;
        return true;
    }
    // Commands with Ctrl go on working.
    if (event.modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier)) return false;
    if (!pressed) return true;
    switch (event.key()) {
        case Qt::Key_Escape: typing_ = false; return true;
        case Qt::Key_Return:
        case Qt::Key_Enter: set(text() + '\n'); return true;
        case Qt::Key_Backspace: {
            QString shorter = text();
            // A letter outside of the first plane is two of Qt's.
            if (!shorter.isEmpty()) shorter.chop(shorter.size() > 1 && shorter.back().isLowSurrogate() ? 2 : 1);
            set(shorter);
            return true;
        }
        default: break;
    }
    if (event.text().isEmpty() || !event.text().front().isPrint()) return false;
    insert(event.text());
    return true;
}

void LetterHand::paint(QPainter& painter, const QRectF& tile) const {
    if (!types()) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const QPolygonF around = box(tile);
    QPen pen(theme::colours().accent, 2, Qt::DashLine);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(pen);
    painter.drawPolygon(around);
    // The caret stands behind the last letter.
    if (around.size() >= 4) {
        painter.setPen(QPen(theme::colours().accent, 3));
        painter.drawLine(around[1], around[2]);
    }
    painter.setFont(theme::small_font());
    const QString help = QObject::tr("typing; Escape ends");
    const QRectF label(around.boundingRect().left(), around.boundingRect().bottom() + 6,
                       painter.fontMetrics().horizontalAdvance(help) + 12, 18);
    painter.fillRect(label, QColor(0, 0, 0, 150));
    painter.setPen(Qt::white);
    painter.drawText(label, Qt::AlignCenter, help);
}

}  // namespace loom
