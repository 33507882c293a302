// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/step_card.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QTextLayout>
#include <algorithm>

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/catalogue/description.h"
#include "core/measure/measure.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {
constexpr int picture_side = 42, inset = 6;

/// Long words are drawn narrower rather than cut, down to four fifths.
QFont fitting(QFont font, const QString& text, int width) {
    int widest = 1;
    for (const QString& word : text.split(' ')) widest = std::max(widest, QFontMetrics(font).horizontalAdvance(word));
    if (widest > width) font.setStretch(std::max(80, 100 * width / widest - 1));
    return font;
}

}  // namespace

StepCard::StepCard(std::string strand, const Step& step, QWidget* parent) : QWidget(parent), strand_(std::move(strand)) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedSize(sizeHint());
    set_step(step);
}

QSize StepCard::sizeHint() const { return {theme::card_width - 8, theme::card_height}; }

void StepCard::set_step(const Step& step) {
    step_ = step;
    setAccessibleName(
        tr("Step %1, %2%3").arg(QString::fromStdString(step_title(step)), headline(), step.on ? QString() : tr(", bypassed")));
    const StepDescription* description = find_step(step.kind);
    const QString note = step.note.empty() ? QString() : QString::fromStdString(step.note) + "\n";
    setToolTip(note + (description
                           ? qt(description->summary) +
                                 (cannot_repeat() ? tr("\nCan open the seam: %1.").arg(qt(description->tiles_note)) : QString())
                           : tr("This version does not know the step '%1'. It is kept and passed over.")
                                 .arg(QString::fromStdString(step.kind))));
    update();
}

void StepCard::set_picture(const CardPicture& picture) {
    picture_ = picture;
    update();
}

void StepCard::set_selected(bool selected, bool lead) {
    if (selected_ == selected && lead_ == lead) return;
    selected_ = selected, lead_ = lead;
    update();
}

bool StepCard::cannot_repeat() const {
    const StepDescription* description = find_step(step_.kind);
    return description && description->tiles == Tiling::breaks;
}

QString StepCard::headline() const {
    const StepDescription* description = find_step(step_.kind);
    if (!description) return tr("unknown");
    QStringList parts;
    for (std::string_view id : description->headline)
        if (const Parameter* p = description->parameter(id); p && relevant(*description, *p, step_.set))
            parts << QString::fromStdString(show_value(*p, value_or_default(*p, step_.set)));
    if (step_.amount < 100) parts << tr("at %1 %").arg(step_.amount, 0, 'f', 0);
    if (!step_.where.empty()) parts << tr("in places");
    return parts.join(QString::fromUtf8(", "));
}

void StepCard::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF frame = QRectF(rect()).adjusted(1, 1, -1, -1);
    painter.setPen(QPen(selected_ ? c.accent : c.line, lead_ ? 2.4 : selected_ ? 1.4 : 1));
    painter.setBrush(c.card);
    painter.drawRoundedRect(frame, 3, 3);
    if (hasFocus()) {
        painter.setPen(QPen(c.accent, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(frame.adjusted(2.5, 2.5, -2.5, -2.5), 2, 2);
    }
    const QRect picture(inset, (height() - picture_side) / 2, picture_side, picture_side);
    if (picture_.image.isNull()) {
        painter.fillRect(picture, c.window);
    } else {
        // The middle of the tile, large enough that grain can be told from cloud.
        const QImage& image = picture_.image;
        const int side = std::min(image.width(), image.height()) / 2;
        const QRect source((image.width() - side) / 2, (image.height() - side) / 2, side, side);
        painter.fillRect(picture, QColor(160, 160, 160));
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(picture, image, source);
    }
    if (!step_.on) {
        painter.setOpacity(0.45);
        painter.fillRect(picture, c.card);
        painter.setOpacity(1);
        painter.setPen(QPen(c.text, 2));
        painter.drawLine(picture.topLeft() + QPoint(6, 6), picture.bottomRight() - QPoint(6, 6));
    }

    const int left = inset + picture_side + 5;
    const QRect text(left, inset - 1, width() - left - 5, height() - 2 * inset + 2);
    painter.setPen(step_.on ? c.text : c.faint);
    const QString title = QString::fromStdString(step_title(step_));
    painter.setFont(fitting(theme::strong_font(11), title, text.width()));
    const QFontMetrics metrics(painter.font());
    QTextLayout layout(title, painter.font());
    layout.beginLayout();
    int y = text.top(), lines = 0;
    while (lines < 2) {
        QTextLine line = layout.createLine();
        if (!line.isValid()) break;
        line.setLineWidth(text.width());
        QString part = title.mid(line.textStart(), line.textLength());
        if (lines == 1) part = metrics.elidedText(title.mid(line.textStart()), Qt::ElideRight, text.width());
        painter.drawText(QRect(text.left(), y, text.width(), 14), Qt::AlignLeft | Qt::AlignVCenter,
                         metrics.elidedText(part.trimmed(), Qt::ElideRight, text.width()));
        y += 14;
        ++lines;
    }
    layout.endLayout();
    // The last line is the value that matters, unless the step opens a seam.
    const bool visible = !picture_.image.isNull() && step_.on && picture_.seam > seam_visible;
    painter.setFont(visible ? theme::strong_font(11) : theme::small_font());
    painter.setPen(visible ? c.warn : c.faint);
    const QString detail = visible    ? tr("seam %1").arg(picture_.seam, 0, 'f', picture_.seam < 9.95 ? 1 : 0)
                           : step_.on ? headline()
                                      : tr("bypassed");
    painter.drawText(QRect(text.left(), text.bottom() - 14, text.width(), 14), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetrics(painter.font()).elidedText(detail, Qt::ElideRight, text.width()));
}

void StepCard::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    pressed_ = event->pos();
    setFocus(Qt::MouseFocusReason);
    // One of several that is pressed may be about to be dragged with the others.
    choose_at_release_ = selected_ && event->modifiers() == Qt::NoModifier;
    if (!choose_at_release_) emit chosen(event->modifiers());
}

void StepCard::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton)) return;
    if (!dragging_ && (event->pos() - pressed_).manhattanLength() < QApplication::startDragDistance()) return;
    dragging_ = true;
    setCursor(Qt::ClosedHandCursor);
    emit dragged(event->globalPosition().toPoint());
}

void StepCard::mouseReleaseEvent(QMouseEvent* event) {
    if (!dragging_) {
        if (choose_at_release_) emit chosen(Qt::NoModifier);
        choose_at_release_ = false;
        return;
    }
    dragging_ = choose_at_release_ = false;
    unsetCursor();
    emit dropped(event->globalPosition().toPoint());
}

void StepCard::keyPressEvent(QKeyEvent* event) {
    if (dragging_ && event->key() == Qt::Key_Escape) {
        dragging_ = false;
        unsetCursor();
        emit drag_given_up();
        return;
    }
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return emit chosen(Qt::NoModifier);
    // Arrows walk from card to card; with Shift they take the next one along.
    if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
        if (event->modifiers() == Qt::NoModifier) {
            focusNextPrevChild(event->key() == Qt::Key_Down);
            return;
        }
        if (event->modifiers() == Qt::ShiftModifier) return emit extended(event->key() == Qt::Key_Down ? 1 : -1);
    }
    QWidget::keyPressEvent(event);
}

void StepCard::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason) emit chosen(Qt::NoModifier);
    update();
}

void StepCard::contextMenuEvent(QContextMenuEvent* event) {
    if (!selected_) emit chosen(Qt::NoModifier);
    emit menu_wanted(event->globalPos());
}

}  // namespace loom
