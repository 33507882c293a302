// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/measures_bar.h"

#include <QPainter>
#include <algorithm>

#include "app/theme/theme.h"
#include "core/colour/colour.h"

namespace loom {

MeasuresBar::MeasuresBar(QWidget* parent) : QWidget(parent) {
    setFixedHeight(30);
    setToolTip(
        tr("Seam, across and down: difference across the tile edge beside what neighbours differ inside; up to 1 there is none, "
           "over 1.3 it shows.\n"
           "Standout: how far the strongest spot differs from the rest.\nEvenness: 1 is even light all over."));
}

void MeasuresBar::show_measures(const Measures& measures) {
    measures_ = measures;
    known_ = true;
    stale_ = false;
    setAccessibleName(
        tr("Measures: seam across %1, seam down %2").arg(measures.across.ratio, 0, 'f', 2).arg(measures.down.ratio, 0, 'f', 2));
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
    };
    auto seam_colour = [&](double ratio) { return ratio > seam_visible ? c.warn : ratio <= seam_good ? c.good : c.text; };
    auto number = [](double value) { return QString::number(value, 'f', 2); };
    const Measures& m = measures_;
    const double standout = m.standout.score;
    const QString word = standout < standout_low ? tr("low") : standout < standout_high ? tr("some") : tr("high");
    const Item items[] = {
        {tr("Seam"), number(m.across.ratio), seam_colour(m.across.ratio)},
        {QString::fromUtf8("·"), number(m.down.ratio), seam_colour(m.down.ratio)},
        {tr("Standout"), QString("%1 %2").arg(word).arg(standout, 0, 'f', 1),
         standout < standout_low    ? c.good
         : standout < standout_high ? c.text
                                    : c.warn},
        {tr("Evenness"), number(m.evenness), m.evenness < 0.8 ? c.warn : c.text},
        {{}, QString::fromStdString(write_colour(m.mean)).toUpper(), c.text},
    };
    int x = 16;
    const auto draw = [&](const QFont& font, const QColor& colour, const QString& text) {
        painter.setFont(font);
        painter.setPen(colour);
        const int wide = QFontMetrics(font).horizontalAdvance(text);
        painter.drawText(QRect(x, 1, wide + 2, height() - 1), Qt::AlignLeft | Qt::AlignVCenter, text);
        x += wide;
    };
    for (const Item& item : items) {
        const bool second = item.name == QString::fromUtf8("·");
        x += &item == items ? 0 : second ? 5 : 20;
        if (item.name.isEmpty() && known_) {
            painter.fillRect(QRect(x, height() / 2 - 6, 12, 12),
                             QColor::fromRgbF(std::clamp(m.mean.red, 0.0f, 1.0f), std::clamp(m.mean.green, 0.0f, 1.0f),
                                              std::clamp(m.mean.blue, 0.0f, 1.0f)));
            x += 18;
        }
        draw(theme::small_font(), c.faint, item.name);
        x += item.name.isEmpty() ? 0 : 5;
        draw(theme::strong_font(12), !known_ || stale_ ? c.thread : item.colour, known_ ? item.value : QString::fromUtf8("–"));
    }
}

}  // namespace loom
