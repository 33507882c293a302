// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/repeat/measure_list.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/measure/examples.h"

namespace loom {

namespace {
constexpr const char* all_key = "measures/all-on-repeat";
}

MeasureScale::MeasureScale(const MeasureInfo& info, QWidget* parent) : QWidget(parent), info_(info) {
    setFixedHeight(14);
    setMinimumWidth(160);
}

void MeasureScale::show_value(double value, bool known) {
    value_ = value, known_ = known;
    update();
}

void MeasureScale::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    const auto place = [&](double value) {
        return std::clamp((value - info_.least) / (info_.most - info_.least), 0.0, 1.0) * (width() - 4) + 2;
    };
    painter.fillRect(QRectF(0, 4, width(), 6), c.line);
    QColor good = c.good;
    good.setAlpha(110);
    const double from = info_.low <= info_.least ? 0 : place(info_.low),
                 to = info_.high >= info_.most ? width() : place(info_.high);
    painter.fillRect(QRectF(from, 4, to - from, 6), good);
    if (known_) painter.fillRect(QRectF(place(value_) - 2, 1, 4, 12), c.text);
}

MeasureList::MeasureList(QWidget* parent) : QWidget(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 12, 16, 12);
    layout->setSpacing(0);
    for (const MeasureInfo& info : measure_table) {
        Row row;
        row.box = new QWidget(this);
        auto* own = new QVBoxLayout(row.box);
        own->setContentsMargins(0, 0, 0, 0);
        own->setSpacing(0);
        auto* head = new QHBoxLayout;
        auto* title = new QLabel(qt(info.title), this);
        title->setToolTip(qt(words_of(info.kind)));
        title->setFont(theme::strong_font(13));
        row.value = new QLabel(this);
        row.value->setFont(theme::strong_font(13));
        row.value->setAlignment(Qt::AlignRight);
        head->addWidget(title);
        head->addWidget(row.value, 1);
        own->addLayout(head);
        row.scale = new MeasureScale(info, this);
        own->addSpacing(3);
        own->addWidget(row.scale);
        row.sentence = new QLabel(this);
        row.sentence->setFont(theme::small_font());
        row.sentence->setForegroundRole(QPalette::PlaceholderText);
        row.sentence->setWordWrap(true);
        own->addWidget(row.sentence);
        // All that may ever be offered, so that nothing is made while one is clicked.
        auto* buttons = new QHBoxLayout;
        buttons->setSpacing(8);
        buttons->setContentsMargins(0, 5, 0, 0);
        for (const double far : {info.least - 1, info.most + 1})
            for (Remedy remedy : remedies_of(far, info.kind)) {
                if (std::any_of(row.remedies.begin(), row.remedies.end(), [&](const auto& each) { return each.first == remedy; }))
                    continue;
                auto* button = new QPushButton(qt(remedy_info(remedy).title), this);
                button->setToolTip(qt(remedy_info(remedy).help));
                button->setAccessibleName(tr("%1: %2").arg(qt(info.title), qt(remedy_info(remedy).title)));
                connect(button, &QPushButton::clicked, this, [this, remedy] { emit remedy_wanted(remedy); });
                buttons->addWidget(button);
                row.remedies.emplace_back(remedy, button);
            }
        buttons->addStretch(1);
        own->addLayout(buttons);
        own->addSpacing(14);
        layout->addWidget(row.box);
        rows_.push_back(std::move(row));
    }
    more_ = new QPushButton(this);
    connect(more_, &QPushButton::clicked, this, [this] { show_all(rows_.back().box->isHidden()); });
    layout->addWidget(more_, 0, Qt::AlignLeft);
    layout->addStretch(1);
    show_all(QSettings().value(all_key).toBool());
    refresh();
}

void MeasureList::show_all(bool all) {
    QSettings().setValue(all_key, all);
    for (std::size_t k = 0; k < rows_.size(); ++k) rows_[k].box->setVisible(all || is_first_measure(measure_table[k].kind));
    more_->setText(all ? tr("Fewer measures") : tr("More measures"));
}

void MeasureList::show_measures(const Measures& measures) {
    measures_ = measures, known_ = true, stale_ = false;
    refresh();
}

void MeasureList::set_stale(bool stale) {
    stale_ = stale;
    refresh();
}

void MeasureList::set_busy(bool busy) {
    busy_ = busy;
    refresh();
}

void MeasureList::refresh() {
    const theme::Colours& c = theme::colours();
    for (std::size_t k = 0; k < rows_.size(); ++k) {
        const MeasureInfo& info = measure_table[k];
        const auto [value, verdict, sentence, remedies] = judgement_of(measures_, info.kind);
        Row& row = rows_[k];
        row.value->setText(known_ ? QString::number(value, 'f', info.digits) : QString::fromUtf8("–"));
        QPalette palette = row.value->palette();
        palette.setColor(QPalette::WindowText, !known_ || stale_ ? c.faint : verdict == Verdict::good ? c.good : c.warn);
        row.value->setPalette(palette);
        row.scale->show_value(value, known_);
        row.sentence->setText(known_ ? qt(sentence) : QString());
        const auto offered = known_ ? remedies : std::vector<Remedy>{};
        for (const auto& [remedy, button] : row.remedies) {
            button->setVisible(std::find(offered.begin(), offered.end(), remedy) != offered.end());
            button->setEnabled(!busy_ && !stale_);
        }
    }
}

QPushButton* MeasureList::button(MeasureKind kind, Remedy remedy) const {
    for (const auto& [each, button] : rows_[static_cast<std::size_t>(kind)].remedies)
        if (each == remedy && !button->isHidden()) return button;
    return nullptr;
}

QString MeasureList::sentence(MeasureKind kind) const { return rows_[static_cast<std::size_t>(kind)].sentence->text(); }

}  // namespace loom
