// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/notice_bar.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPixmap>
#include <QPushButton>

namespace loom {

NoticeBar::NoticeBar(const QImage& picture, const QString& text, std::vector<Answer> answers, QWidget* parent) : QWidget(parent) {
    setObjectName("notice");
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet("#notice { background: palette(alternate-base); border-bottom: 1px solid palette(mid); }");
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(16, 6, 14, 6);
    line->setSpacing(10);
    if (!picture.isNull()) {
        constexpr int side = 48;
        auto* shown = new QLabel(this);
        QPixmap pixmap = QPixmap::fromImage(
            picture.scaled(QSize(side, side) * devicePixelRatioF(), Qt::KeepAspectRatio, Qt::SmoothTransformation));
        pixmap.setDevicePixelRatio(devicePixelRatioF());
        shown->setPixmap(pixmap);
        line->addWidget(shown);
    }
    text_ = new QLabel(text, this);
    text_->setTextFormat(Qt::PlainText);
    text_->setWordWrap(true);
    line->addWidget(text_, 1);
    setAccessibleName(text);
    for (Answer& answer : answers) {
        auto* button = new QPushButton(QString(answer.title).replace("&", "&&"), this);
        connect(button, &QPushButton::clicked, this, [this, work = std::move(answer.work)] {
            hide();
            deleteLater();
            if (work) work();
        });
        buttons_.push_back(button);
        line->addWidget(button);
    }
}

QString NoticeBar::text() const { return text_->text(); }

QString age(const QDateTime& when, const QDateTime& now) {
    const qint64 seconds = when.secsTo(now);
    if (seconds < 90) return NoticeBar::tr("a minute ago");
    if (seconds < 90 * 60) return NoticeBar::tr("%1 minutes ago").arg((seconds + 30) / 60);
    const QString clock = QLocale().toString(when.time(), QLocale::ShortFormat);
    if (when.date() == now.date()) return NoticeBar::tr("today at %1").arg(clock);
    if (when.date().addDays(1) == now.date()) return NoticeBar::tr("yesterday at %1").arg(clock);
    return NoticeBar::tr("on %1 at %2").arg(QLocale().toString(when.date(), QLocale::ShortFormat), clock);
}

}  // namespace loom
