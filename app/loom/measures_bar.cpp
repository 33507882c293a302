// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/measures_bar.h"

#include <QPainter>
#include <algorithm>

#include "app/theme/theme.h"
#include "core/colour/colour.h"
#include "core/measure/judgement.h"

namespace loom {

MeasuresBar::MeasuresBar(QWidget* parent) : QWidget(parent) {
    setFixedHeight(30);
    setToolTip(
        tr("Seam, across and down: difference across the tile edge beside what neighbours differ inside; up to 1 there is none, "
           "over 1.3 it shows.\n"
           "Standout: how far the strongest spot differs from the rest.\nEvenness: 1 is even light all over.\n"
           "Spark: few strong details among many faint ones; real surfaces have 3.4 to 6.7.\n"
           "Kinship: fine detail sits where coarse detail is; 0.57 to 0.87.\nPlay: colour that is not only tone; 0.42 to 1.4.\n"
           "In brackets: of the reference picture."));
}

void MeasuresBar::show_measures(const Measures& measures) {
    measures_ = measures;
    known_ = true;
    stale_ = false;
    setAccessibleName(
        tr("Measures: seam across %1, seam down %2").arg(measures.across.ratio, 0, 'f', 2).arg(measures.down.ratio, 0, 'f', 2));
    update();
}

void MeasuresBar::show_reference(const std::optional<Measures>& measures) {
    reference_ = measures;
    update();
}

void MeasuresBar::set_stale(bool stale) {
    stale_ = stale;
    update();
}

void MeasuresBar::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.panel);
    painter.setPen(c.line);
    painter.drawLine(0, 0, width(), 0);
    struct Item {
        QString name, value;
        QColor colour;
        QString beside = {};  ///< of the reference picture
    };
    const auto seam_colour = [&](MeasureKind kind) {
        const Verdict verdict = judgement_of(measures_, kind).verdict;
        return verdict == Verdict::poor ? c.warn : verdict == Verdict::good ? c.good : c.text;
    };
    auto number = [](double value) { return QString::number(value, 'f', 2); };
    const Measures& m = measures_;
    const auto among = [&](double value, const LifeRange& real) {
        return value >= real.low && value <= real.high ? c.good : c.text;
    };
    const auto beside = [&](double Measures::*member) { return reference_ ? number((*reference_).*member) : QString(); };
    const auto of_life = [&](double Life::*member, int digits) {
        return reference_ ? QString::number(reference_->life.*member, 'f', digits) : QString();
    };
    const double standout = m.standout.score;
    const QString word = standout < standout_low ? tr("low") : standout < standout_high ? tr("some") : tr("high");
    const Item items[] = {
        {tr("Seam"), number(m.across.ratio), seam_colour(MeasureKind::across)},
        {QString::fromUtf8("·"), number(m.down.ratio), seam_colour(MeasureKind::down)},
        {tr("Standout"), QString("%1 %2").arg(word).arg(standout, 0, 'f', 1),
         standout < standout_low    ? c.good
         : standout < standout_high ? c.text
                                    : c.warn},
        {tr("Evenness"), number(m.evenness), m.evenness < 0.8 ? c.warn : c.text, beside(&Measures::evenness)},
        {tr("Spark"), QString::number(m.life.spark, 'f', 1), among(m.life.spark, real_spark), of_life(&Life::spark, 1)},
        {tr("Kinship"), number(m.life.kinship), among(m.life.kinship, real_kinship), of_life(&Life::kinship, 2)},
        {tr("Play"), number(m.life.play), among(m.life.play, real_play), of_life(&Life::play, 2)},
        {{}, reference_ ? QString() : QString::fromStdString(write_colour(m.mean)).toUpper(), c.text},
    };
    int x = 16;
    // With a second number beside most of them they stand closer, and the colour's code gives way.
    const bool tight = reference_ || width() < 640;
    const int gap = tight ? 10 : 18;
    const auto draw = [&](const QFont& font, const QColor& colour, const QString& text) {
        painter.setFont(font);
        painter.setPen(colour);
        const int wide = QFontMetrics(font).horizontalAdvance(text);
        painter.drawText(QRect(x, 1, wide + 2, height() - 1), Qt::AlignLeft | Qt::AlignVCenter, text);
        x += wide;
    };
    for (const Item& item : items) {
        const bool second = item.name == QString::fromUtf8("·");
        x += &item == items ? 0 : second ? 5 : gap;
        if (item.name.isEmpty() && known_) {
            painter.fillRect(QRect(x, height() / 2 - 6, 12, 12),
                             QColor::fromRgbF(std::clamp(m.mean.red, 0.0f, 1.0f), std::clamp(m.mean.green, 0.0f, 1.0f),
                                              std::clamp(m.mean.blue, 0.0f, 1.0f)));
            x += 18;
        }
        draw(theme::small_font(), c.faint, item.name);
        x += item.name.isEmpty() ? 0 : 5;
        draw(theme::strong_font(12), !known_ || stale_ ? c.thread : item.colour, known_ ? item.value : QString::fromUtf8("–"));
        if (item.beside.isEmpty()) continue;
        x += 3;
        draw(theme::small_font(), c.faint, "(" + item.beside + ")");
    }
}

}  // namespace loom
