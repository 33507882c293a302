// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/help/first_cloth.h"

#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"

namespace loom {

namespace {
constexpr int text_width = 236, margin = 12, tip = 8, look_ms = 150;
}

FirstCloth::FirstCloth(std::vector<Remark> remarks, QWidget* window) : QFrame(window), remarks_(std::move(remarks)) {
    count_ = new QLabel(this);
    count_->setFont(theme::small_font());
    count_->setForegroundRole(QPalette::PlaceholderText);
    text_ = new QLabel(this);
    text_->setWordWrap(true);
    text_->setFixedWidth(text_width);
    pass_ = new QPushButton(tr("Next"), this);
    end_ = new QPushButton(tr("No more remarks"), this);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(end_);
    buttons->addStretch(1);
    buttons->addWidget(pass_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(margin + tip, margin + tip, margin + tip, margin + tip);
    layout->addWidget(count_);
    layout->addWidget(text_);
    layout->addLayout(buttons);
    connect(pass_, &QPushButton::clicked, this, &FirstCloth::show_next);
    connect(end_, &QPushButton::clicked, this, &FirstCloth::end);
    // What is followed may be done in many ways, so the outcome is looked at.
    timer_.setInterval(look_ms);
    connect(&timer_, &QTimer::timeout, this, &FirstCloth::look);
    hide();
}

void FirstCloth::begin() {
    present_ = -1;
    show_next();
}

QString FirstCloth::text() const { return text_->text(); }

void FirstCloth::show_next() {
    if (++present_ >= count()) return end();
    count_->setText(tr("First cloth, %1 of %2").arg(present_ + 1).arg(count()));
    pass_->setText(present_ + 1 < count() ? tr("Next") : tr("Done"));
    followed_ = {};
    timer_.start();
    look();
}

void FirstCloth::end() {
    timer_.stop();
    hide();
    present_ = -1;
    emit ended();
}

void FirstCloth::look() {
    if (followed_ && followed_()) return show_next();
    const Remark& remark = remarks_[static_cast<std::size_t>(present_)];
    QWidget* beside = remark.beside();
    if (beside && !beside->isVisible()) beside = nullptr;
    // What happens before it can be followed is not its doing.
    if (beside && !followed_) followed_ = remark.watch();
    // What it speaks of is not on show: it says where that is, and waits in sight.
    const QString text = beside || remark.elsewhere.isEmpty() ? remark.text : remark.text + " " + remark.elsewhere;
    if (text_->text() != text) text_->setText(text), setAccessibleName(text);
    show();
    place(beside);
}

/// Where there is room: right, left, below or above of the control, or where least of it is covered.
void FirstCloth::place(QWidget* beside) {
    adjustSize();
    const QRect all = parentWidget()->rect();
    const auto within = [&](QPoint at) {
        return QPoint(std::clamp(at.x(), all.left(), std::max(all.left(), all.right() - width())),
                      std::clamp(at.y(), all.top(), std::max(all.top(), all.bottom() - height())));
    };
    QPoint at = within({(all.width() - width()) / 2, all.bottom() - height() - 3 * margin});
    side_ = Side::none;
    if (beside) {
        const QRect control = QRect(beside->mapTo(parentWidget(), QPoint(0, 0)), beside->size()).intersected(all);
        const QPoint middle = control.center();
        const std::pair<Side, QPoint> places[] = {{Side::left, {control.right() + 1, middle.y() - height() / 2}},
                                                  {Side::right, {control.left() - width(), middle.y() - height() / 2}},
                                                  {Side::above, {middle.x() - width() / 2, control.bottom() + 1}},
                                                  {Side::below, {middle.x() - width() / 2, control.top() - height()}}};
        int least = -1;
        for (const auto& [side, wanted] : places) {
            const QRect over = QRect(within(wanted), size()).intersected(control);
            const int covered = over.width() * over.height();
            if (least < 0 || covered < least) least = covered, side_ = side, at = within(wanted);
        }
        const bool upright = side_ == Side::left || side_ == Side::right;
        const int room = upright ? height() : width();
        pointer_ = std::clamp(upright ? middle.y() - at.y() : middle.x() - at.x(), 3 * tip, room - 3 * tip);
    }
    if (pos() != at) move(at);
    raise();
    update();
}

void FirstCloth::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(tip, tip, -tip, -tip);
    const double at = pointer_;
    QPolygonF pointer;
    switch (side_) {
        case Side::none: break;
        case Side::left: pointer << QPointF(0, at) << QPointF(tip + 1, at - tip) << QPointF(tip + 1, at + tip); break;
        case Side::right:
            pointer << QPointF(width(), at) << QPointF(width() - tip - 1, at - tip) << QPointF(width() - tip - 1, at + tip);
            break;
        case Side::above: pointer << QPointF(at, 0) << QPointF(at - tip, tip + 1) << QPointF(at + tip, tip + 1); break;
        case Side::below:
            pointer << QPointF(at, height()) << QPointF(at - tip, height() - tip - 1) << QPointF(at + tip, height() - tip - 1);
            break;
    }
    QPainterPath path;
    path.addRoundedRect(box, 4, 4);
    QPainterPath corner;
    corner.addPolygon(pointer);
    corner.closeSubpath();
    painter.setPen(QPen(c.accent, 1.6));
    painter.setBrush(c.card);
    painter.drawPath(path.united(corner));
}

}  // namespace loom
