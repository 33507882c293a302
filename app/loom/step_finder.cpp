// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/step_finder.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

enum Role { kind_role = Qt::UserRole, summary_role, family_role };

/// Title and family on one line, the summary below.
class TwoLines : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {320, 42}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const theme::Colours& c = theme::colours();
        const bool marked = option.state & QStyle::State_Selected;
        painter->fillRect(option.rect, marked ? c.accent : c.card);
        const QRect text = option.rect.adjusted(12, 4, -12, -4);
        painter->setPen(marked ? c.on_accent : c.text);
        painter->setFont(theme::strong_font(12));
        painter->drawText(text, Qt::AlignTop | Qt::AlignLeft, index.data(Qt::DisplayRole).toString());
        painter->setFont(theme::small_font());
        painter->setPen(marked ? c.on_accent : c.faint);
        painter->drawText(text, Qt::AlignTop | Qt::AlignRight, index.data(family_role).toString());
        const QFontMetrics metrics(painter->font());
        painter->drawText(text, Qt::AlignBottom | Qt::AlignLeft,
                          metrics.elidedText(index.data(summary_role).toString(), Qt::ElideRight, text.width()));
    }
};

}  // namespace

StepFinder::StepFinder(bool makes_first, QWidget* parent) : QFrame(parent, Qt::Popup) {
    setFrameShape(QFrame::StyledPanel);
    setAttribute(Qt::WA_DeleteOnClose);
    search_ = new QLineEdit(this);
    search_->setPlaceholderText(tr("Find a step: name or what it does"));
    search_->setAccessibleName(tr("Find a step"));
    list_ = new QListWidget(this);
    list_->setItemDelegate(new TwoLines(list_));
    list_->setAccessibleName(tr("Steps"));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 8);
    layout->addWidget(search_);
    layout->addWidget(list_);
    resize(380, 420);
    std::vector<const StepDescription*> steps;
    for (const StepDescription& step : all_steps()) steps.push_back(&step);
    std::stable_partition(steps.begin(), steps.end(),
                          [&](const StepDescription* step) { return (step->family == Family::make) == makes_first; });
    for (const StepDescription* step : steps) {
        auto* item = new QListWidgetItem(qt(step->title), list_);
        QString family = qt(word(step->family));
        family[0] = family[0].toUpper();
        item->setData(kind_role, qt(step->id));
        item->setData(summary_role, qt(step->summary));
        item->setData(family_role, family);
        item->setData(Qt::AccessibleTextRole, qt(step->title) + ", " + qt(step->summary));
    }
    list_->setCurrentRow(0);
    search_->installEventFilter(this);
    connect(search_, &QLineEdit::textChanged, this, &StepFinder::filter);
    connect(list_, &QListWidget::itemClicked, this, &StepFinder::take);
}

void StepFinder::open_at(const QPoint& place, const QRect& within) {
    QPoint at = place;
    at.setX(std::clamp(at.x(), within.left(), std::max(within.left(), within.right() - width())));
    at.setY(std::clamp(at.y(), within.top(), std::max(within.top(), within.bottom() - height())));
    move(at);
    show();
    search_->setFocus();
}

void StepFinder::filter(const QString& words) {
    int first = -1;
    for (int row = 0; row < list_->count(); ++row) {
        QListWidgetItem* item = list_->item(row);
        const QString all = item->text() + " " + item->data(summary_role).toString() + " " + item->data(family_role).toString() +
                            " " + item->data(kind_role).toString();
        bool fits = true;
        for (const QString& each : words.split(' ', Qt::SkipEmptyParts)) fits = fits && all.contains(each, Qt::CaseInsensitive);
        item->setHidden(!fits);
        // A step whose name begins with the word comes before one that mentions it.
        if (fits && (first < 0 || (item->text().startsWith(words, Qt::CaseInsensitive) &&
                                   !list_->item(first)->text().startsWith(words, Qt::CaseInsensitive))))
            first = row;
    }
    list_->setCurrentRow(first);
}

void StepFinder::take() {
    QListWidgetItem* item = list_->currentItem();
    if (!item || item->isHidden()) return;
    const QString kind = item->data(kind_role).toString();
    close();
    emit chosen(kind);
}

bool StepFinder::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
            take();
            return true;
        }
        if (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down) {
            const int way = key->key() == Qt::Key_Down ? 1 : -1;
            for (int row = list_->currentRow() + way; row >= 0 && row < list_->count(); row += way)
                if (!list_->item(row)->isHidden()) {
                    list_->setCurrentRow(row);
                    break;
                }
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace loom
