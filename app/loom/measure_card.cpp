// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/measure_card.h"

#include <QGridLayout>
#include <QGuiApplication>
#include <QLabel>
#include <QPainter>
#include <QScreen>
#include <QVBoxLayout>

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/measure/examples.h"

namespace loom {

namespace {
constexpr int card_width = 264, picture_width = 116, picture_height = 72;

/// As it is repeated, so that seams and blobs show.
QPixmap repeated(const QImage& tile) {
    QPixmap pixmap(picture_width, picture_height);
    pixmap.fill(theme::colours().field);
    if (tile.isNull()) return pixmap;
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    constexpr int side = 58;
    for (int y = 0; y < picture_height; y += side)
        for (int x = 0; x < picture_width; x += side) painter.drawImage(QRect(x, y, side, side), tile);
    return pixmap;
}
}  // namespace

MeasureCard::MeasureCard(QWidget* parent) : QFrame(parent, Qt::ToolTip) {
    setObjectName("measure");
    setFrameShape(QFrame::StyledPanel);
    setStyleSheet("#measure { background: palette(alternate-base); border: 1px solid palette(mid); }");
    title_ = new QLabel(this);
    title_->setFont(theme::strong_font(13));
    words_ = new QLabel(this);
    now_ = new QLabel(this);
    now_->setFont(theme::strong_font(12));
    for (QLabel* each : {words_, now_}) {
        each->setWordWrap(true);
        each->setFixedWidth(card_width - 24);
    }
    auto* pictures = new QGridLayout;
    pictures->setHorizontalSpacing(8);
    pictures->setVerticalSpacing(2);
    for (int k = 0; k < 2; ++k) {
        shown_[k] = new QLabel(this);
        captions_[k] = new QLabel(this);
        captions_[k]->setFont(theme::small_font());
        captions_[k]->setForegroundRole(QPalette::PlaceholderText);
        pictures->addWidget(shown_[k], 0, k);
        pictures->addWidget(captions_[k], 1, k);
    }
    auto* stack = new QVBoxLayout(this);
    stack->setContentsMargins(12, 9, 12, 9);
    stack->setSpacing(5);
    stack->addWidget(title_);
    stack->addWidget(words_);
    stack->addLayout(pictures);
    stack->addWidget(now_);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        pictures_[kind_][static_cast<std::size_t>(index)] = image;
        show_pictures();
    });
}

void MeasureCard::explain(MeasureKind kind, const Measures& measures, const QPoint& place) {
    kind_ = kind;
    const MeasureInfo& info = measure_info(kind);
    const Judgement judged = judgement_of(measures, kind);
    const MeasureExamples examples = examples_of(kind);
    // It is made once, and the theme may be another by now.
    for (QLabel* each : {title_, words_}) {
        QPalette own = each->palette();
        own.setColor(QPalette::WindowText, theme::colours().text);
        each->setPalette(own);
    }
    title_->setText(QString("%1  %2").arg(qt(info.title), QString::number(judged.value, 'f', info.digits)));
    words_->setText(qt(words_of(kind)));
    now_->setText(qt(judged.sentence));
    QPalette palette = now_->palette();
    const theme::Colours& c = theme::colours();
    palette.setColor(QPalette::WindowText, judged.verdict == Verdict::good   ? c.good
                                           : judged.verdict == Verdict::poor ? c.warn
                                                                             : c.text);
    now_->setPalette(palette);
    captions_[0]->setText(tr("low: %1").arg(qt(examples.low_words)));
    captions_[1]->setText(tr("high: %1").arg(qt(examples.high_words)));
    if (!complete()) ticket_ = service_.submit({{examples.low, {}}, {examples.high, {}}});
    show_pictures();
    setAccessibleName(title_->text() + ". " + words_->text() + " " + now_->text());
    adjustSize();
    QPoint corner = place - QPoint(width() / 2, height() + 8);
    if (const QScreen* screen = QGuiApplication::screenAt(place)) {
        const QRect room = screen->availableGeometry();
        corner.setX(std::clamp(corner.x(), room.left(), std::max(room.left(), room.right() - width())));
        if (corner.y() < room.top()) corner.setY(place.y() + 16);
    }
    move(corner);
    show();
}

void MeasureCard::show_pictures() {
    const auto found = pictures_.find(kind_);
    for (std::size_t k = 0; k < 2; ++k) shown_[k]->setPixmap(repeated(found == pictures_.end() ? QImage() : found->second[k]));
}

bool MeasureCard::complete() const {
    const auto found = pictures_.find(kind_);
    return found != pictures_.end() && !found->second[0].isNull() && !found->second[1].isNull();
}

QString MeasureCard::text() const { return words_->text() + " " + now_->text(); }

}  // namespace loom
