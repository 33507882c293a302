// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/measures_bar.h"

#include <QPainter>

#include "app/theme/theme.h"
#include "core/colour/colour.h"

namespace loom {

MeasuresBar::MeasuresBar(QWidget* parent) : QWidget(parent) {
    setFixedHeight(62);
    setToolTip(tr(
        "Seam: difference across the tile edge beside what neighbours differ inside; up to 1 there is none, over 1.3 it shows.\n"
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
        {tr("Seam across"), number(m.across.ratio), seam_colour(m.across.ratio)},
        {tr("Seam down"), number(m.down.ratio), seam_colour(m.down.ratio)},
        {tr("Standout"), QString("%1 %2").arg(word).arg(standout, 0, 'f', 1),
         standout < standout_low    ? c.good
         : standout < standout_high ? c.text
                                    : c.warn},
        {tr("Evenness"), number(m.evenness), m.evenness < 0.8 ? c.warn : c.text},
        {tr("Mean"), QString::fromStdString(write_colour(m.mean)).toUpper(), c.text},
    };
    const int margin = 18, column = (width() - 2 * margin) / 5;
    for (int k = 0; k < 5; ++k) {
        const int x = margin + k * column;
        painter.setFont(theme::small_font());
        painter.setPen(c.faint);
        painter.drawText(QRect(x, 11, column, 16), Qt::AlignLeft | Qt::AlignVCenter, items[k].name);
        painter.setFont(theme::strong_font(15));
        painter.setPen(!known_ || stale_ ? c.thread : items[k].colour);
        const QRect value(x, 29, column, 22);
        int indent = 0;
        if (k == 4 && known_) {
            const QRect swatch(x, 34, 14, 14);
            painter.fillRect(swatch, QColor::fromRgbF(std::clamp(m.mean.red, 0.0f, 1.0f), std::clamp(m.mean.green, 0.0f, 1.0f),
                                                      std::clamp(m.mean.blue, 0.0f, 1.0f)));
            indent = 20;
        }
        painter.drawText(value.adjusted(indent, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                         known_ ? items[k].value : QString::fromUtf8("–"));
    }
}

}  // namespace loom
