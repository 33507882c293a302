// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/measures_bar.h"

#include <QHelpEvent>
#include <QPainter>
#include <QSettings>
#include <QToolButton>
#include <algorithm>

#include "app/loom/measure_card.h"
#include "app/theme/theme.h"
#include "core/colour/colour.h"

namespace loom {

namespace {
constexpr const char* all_key = "measures/all";
constexpr int bar_height = 30, first_x = 16;
}  // namespace

MeasuresBar::MeasuresBar(QWidget* parent) : QWidget(parent), all_(QSettings().value(all_key).toBool()) {
    setFixedHeight(bar_height);
    setMouseTracking(true);
    more_ = new QToolButton(this);
    more_->setFont(theme::small_font());
    more_->setFocusPolicy(Qt::StrongFocus);
    connect(more_, &QToolButton::clicked, this, [this] { show_all(!all_); });
    show_all(all_);
}

void MeasuresBar::show_all(bool all) {
    if (all != all_) QSettings().setValue(all_key, all);
    all_ = all;
    more_->setText(all ? tr("less") : tr("more"));
    more_->setAccessibleName(all ? tr("Fewer measures") : tr("More measures"));
    more_->setToolTip(all ? tr("Only seam, standout and evenness") : tr("Also how near it is to a real surface"));
    resizeEvent(nullptr);
    update();
}

void MeasuresBar::resizeEvent(QResizeEvent*) {
    const QSize size = more_->sizeHint();
    more_->setGeometry(width() - size.width() - 8, (height() - 22) / 2, size.width(), 22);
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

std::vector<MeasuresBar::Item> MeasuresBar::items() const {
    const theme::Colours& c = theme::colours();
    const Measures& m = measures_;
    const auto colour_of = [&](MeasureKind kind) {
        const Verdict verdict = judgement_of(m, kind).verdict;
        return verdict == Verdict::poor ? c.warn : verdict == Verdict::good ? c.good : c.text;
    };
    const auto item = [&](MeasureKind kind, const QString& name, const QString& before = {}) {
        const int digits = measure_info(kind).digits;
        const bool beside = reference_ && kind >= MeasureKind::evenness;
        return Item{name,
                    before + QString::number(value_of(m, kind), 'f', digits),
                    colour_of(kind),
                    beside ? QString::number(value_of(*reference_, kind), 'f', digits) : QString(),
                    kind,
                    {}};
    };
    const double standout = m.standout.score;
    const QString word = standout < standout_low ? tr("low") : standout < standout_high ? tr("some") : tr("high");
    std::vector<Item> all{item(MeasureKind::across, tr("Seam")), item(MeasureKind::down, QString::fromUtf8("·")),
                          item(MeasureKind::standout, tr("Standout"), word + " "), item(MeasureKind::evenness, tr("Evenness"))};
    if (all_) {
        all.push_back(item(MeasureKind::spark, tr("Spark")));
        all.push_back(item(MeasureKind::kinship, tr("Kinship")));
        all.push_back(item(MeasureKind::play, tr("Play")));
    }
    if (!reference_) all.push_back({{}, QString::fromStdString(write_colour(m.mean)).toUpper(), c.text, {}, {}, {}});
    // With a second number beside most of them they stand closer.
    const int gap = reference_ || width() < 640 ? 10 : 18;
    const QFontMetrics names(theme::small_font()), numbers(theme::strong_font(12));
    int x = first_x;
    for (Item& each : all) {
        if (!known_) each.value = QString::fromUtf8("–");
        x += &each == &all.front() ? 0 : each.kind == MeasureKind::down ? 5 : gap;
        const int wide = (each.name.isEmpty() ? 18 : names.horizontalAdvance(each.name) + 5) +
                         numbers.horizontalAdvance(each.value) +
                         (each.beside.isEmpty() ? 0 : 3 + names.horizontalAdvance("(" + each.beside + ")"));
        each.place = QRect(x, 0, wide, height());
        x += wide;
    }
    // The colour's code gives way where there is no room.
    if (!all.back().kind && all.back().place.right() > more_->x() - 4) all.pop_back();
    return all;
}

void MeasuresBar::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.panel);
    painter.setPen(c.line);
    painter.drawLine(0, 0, width(), 0);
    for (const Item& item : items()) {
        int x = item.place.left();
        const auto draw = [&](const QFont& font, const QColor& colour, const QString& text) {
            painter.setFont(font);
            painter.setPen(colour);
            const int wide = QFontMetrics(font).horizontalAdvance(text);
            painter.drawText(QRect(x, 1, wide + 2, height() - 1), Qt::AlignLeft | Qt::AlignVCenter, text);
            x += wide;
        };
        if (!item.kind) {
            const Colour& mean = measures_.mean;
            const auto part = [](float value) { return std::clamp(value, 0.0f, 1.0f); };
            if (known_)
                painter.fillRect(QRect(x, height() / 2 - 6, 12, 12),
                                 QColor::fromRgbF(part(mean.red), part(mean.green), part(mean.blue)));
            x += 18;
        } else {
            draw(theme::small_font(), c.faint, item.name);
            x += 5;
        }
        draw(theme::strong_font(12), !known_ || stale_ ? c.thread : item.colour, item.value);
        if (item.beside.isEmpty()) continue;
        x += 3;
        draw(theme::small_font(), c.faint, "(" + item.beside + ")");
    }
}

QRect MeasuresBar::place_of(MeasureKind kind) const {
    for (const Item& item : items())
        if (item.kind == kind) return item.place;
    return {};
}

void MeasuresBar::explain(MeasureKind kind) {
    if (!card_) card_ = new MeasureCard(this);
    card_->explain(kind, measures_, mapToGlobal(QPoint(place_of(kind).center().x(), 0)));
}

bool MeasuresBar::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const QPoint at = static_cast<QHelpEvent*>(event)->pos();
    for (const Item& item : items())
        if (known_ && item.kind && item.place.contains(at)) explain(*item.kind);
    return true;
}

void MeasuresBar::mouseMoveEvent(QMouseEvent* event) {
    // Once one is explained, the pointer goes from one to the next.
    if (!card_ || !card_->isVisible()) return;
    for (const Item& item : items())
        if (item.kind && item.place.contains(event->pos())) {
            if (item.kind != card_->kind()) explain(*item.kind);
            return;
        }
    card_->hide();
}

void MeasuresBar::leaveEvent(QEvent*) {
    if (card_) card_->hide();
}

}  // namespace loom
