// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/step_finder.h"

#include <QKeyEvent>
#include <QLabel>
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

enum Role { kind_role = Qt::UserRole, summary_role, family_role, picture_role };

constexpr int near_side = 140, picture_side = 88, cell_width = 108, cell_height = 130, shown_columns = 5;

/// A picture with the title below.
class PictureCell : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {cell_width, cell_height}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const theme::Colours& c = theme::colours();
        const bool marked = option.state & QStyle::State_Selected;
        const QRect frame(option.rect.left() + (cell_width - picture_side) / 2, option.rect.top() + 6, picture_side,
                          picture_side);
        if (marked) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(c.accent);
            painter->setRenderHint(QPainter::Antialiasing);
            painter->drawRoundedRect(QRectF(option.rect).adjusted(3, 1, -3, -1), 4, 4);
            painter->setRenderHint(QPainter::Antialiasing, false);
        }
        painter->fillRect(frame, c.field);
        const QImage picture = index.data(picture_role).value<QImage>();
        if (!picture.isNull()) {
            painter->setClipRect(frame);
            if (picture.hasAlphaChannel())
                for (int y = 0; y < picture_side; y += 8)
                    for (int x = y / 8 % 2 * 8; x < picture_side; x += 16)
                        painter->fillRect(frame.left() + x, frame.top() + y, 8, 8, QColor(205, 205, 205));
            const QImage shown = picture.scaled(frame.size(), Qt::KeepAspectRatio, Qt::SmoothTransformation);
            painter->drawImage(frame.topLeft() + QPoint((picture_side - shown.width()) / 2, (picture_side - shown.height()) / 2),
                               shown);
            painter->setClipping(false);
        }
        painter->setBrush(Qt::NoBrush);
        painter->setPen(marked ? c.on_accent : c.line);
        painter->drawRect(frame.adjusted(0, 0, -1, -1));
        painter->setFont(theme::strong_font(11));
        painter->setPen(marked ? c.on_accent : c.text);
        const QRect text(option.rect.left() + 4, frame.bottom() + 3, cell_width - 8, 30);
        painter->drawText(text, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, index.data().toString());
    }
};

}  // namespace

Recipe with_new_step(const Recipe& recipe, const Slot& slot, const StepDescription& description, std::string& id) {
    const Strand* strand = recipe.strand(slot.strand);
    Step step;
    step.kind = std::string(description.id);
    step.id = id = strand ? new_step_id(*strand) : std::string();
    // Two draws of the same kind should not look alike unless somebody wants them to.
    if (description.seeded)
        for (const StrandRef& each : recipe.strands)
            for (ChainKind chain : all_chains)
                for (const Step& other : each->chain(chain)) step.seed = std::max(step.seed, other.seed + 1);
    return step_added(recipe, slot, std::move(step));
}

namespace {
/// Where nothing has been made yet, only steps that make something do anything.
bool begins(const Slot& slot) { return slot.chain == ChainKind::steps && slot.index == 0; }
}  // namespace

StepFinder* StepFinder::for_new(const Recipe& recipe, const Slot& slot, QWidget* parent) {
    const auto trial = [&](const StepDescription& step) {
        std::string id;
        TryOrder order{with_new_step(recipe, slot, step, id), {}};
        order.wanted.what = Wanted::What::step, order.wanted.strand = slot.strand, order.wanted.step = id;
        return order;
    };
    return new StepFinder(trial, begins(slot), parent);
}

StepFinder* StepFinder::for_exchange(const Recipe& recipe, const Slot& slot, QWidget* parent) {
    const Step present = recipe.strand(slot.strand)->chain(slot.chain)[static_cast<std::size_t>(slot.index)];
    const auto trial = [&](const StepDescription& step) {
        return TryOrder{step_exchanged(recipe, slot.strand, present.id, step), {}};
    };
    auto* finder = new StepFinder(trial, begins(slot), parent);
    finder->mark(QString::fromStdString(present.kind));
    return finder;
}

StepFinder::StepFinder(const Trial& trial, bool begins, QWidget* parent) : QFrame(parent, Qt::Popup) {
    setFrameShape(QFrame::StyledPanel);
    setAttribute(Qt::WA_DeleteOnClose);
    search_ = new QLineEdit(this);
    search_->setPlaceholderText(tr("Find a step: name or what it does"));
    search_->setAccessibleName(tr("Find a step"));
    list_ = new QListWidget(this);
    list_->setViewMode(QListView::IconMode);
    list_->setResizeMode(QListView::Adjust);
    list_->setMovement(QListView::Static);
    list_->setUniformItemSizes(true);
    list_->setGridSize({cell_width, cell_height});
    list_->setSpacing(0);
    list_->setItemDelegate(new PictureCell(list_));
    list_->setAccessibleName(tr("Steps"));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
    summary_ = new QLabel(this);
    summary_->setFont(theme::small_font());
    summary_->setWordWrap(true);
    summary_->setMinimumHeight(32);
    summary_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 8);
    layout->addWidget(search_);
    layout->addWidget(list_, 1);
    layout->addWidget(summary_);

    std::vector<const StepDescription*> steps;
    for (const StepDescription& step : all_steps()) steps.push_back(&step);
    std::stable_partition(steps.begin(), steps.end(),
                          [&](const StepDescription* step) { return (step->family == Family::make) == begins; });
    std::vector<TryOrder> orders;
    for (const StepDescription* step : steps) {
        auto* item = new QListWidgetItem(qt(step->title), list_);
        QString family = qt(word(step->family));
        family[0] = family[0].toUpper();
        item->setData(kind_role, qt(step->id));
        item->setData(summary_role, qt(step->summary));
        item->setData(family_role, family);
        item->setData(Qt::AccessibleTextRole, qt(step->title) + ", " + qt(step->summary));
        orders.push_back(trial(*step));
    }
    missing_ = static_cast<int>(orders.size());
    list_->setCurrentRow(0);
    search_->installEventFilter(this);
    connect(search_, &QLineEdit::textChanged, this, &StepFinder::filter);
    connect(list_, &QListWidget::itemClicked, this, &StepFinder::take);
    connect(list_, &QListWidget::currentRowChanged, this, &StepFinder::show_summary);
    const bool cloth = orders.front().wanted.what == Wanted::What::cloth;
    connect(&service_, &TryService::ready, this, [this, cloth](quint64, int index, const QImage& image) {
        --missing_;
        QListWidgetItem* item = list_->item(index);
        if (!item) return;
        // What is made is seen whole; what is done to a picture is seen near, where it shows.
        const StepDescription* step = find_step(item->data(kind_role).toString().toStdString());
        const bool whole =
            cloth || (step && (step->family == Family::make || !step->handles.empty() || step->tiles == Tiling::breaks));
        const QSize near(std::min(image.width(), near_side), std::min(image.height(), near_side));
        item->setData(picture_role, whole ? image : image.copy(QRect(QPoint(0, 0), near)));
    });
    service_.submit(std::move(orders));
    fit();
    show_summary();
}

void StepFinder::mark(const QString& kind) {
    for (int row = 0; row < list_->count(); ++row)
        if (list_->item(row)->data(kind_role).toString() == kind) list_->setCurrentRow(row);
    list_->scrollToItem(list_->currentItem());
}

void StepFinder::open_beside(const QRect& work, const QRect& within) {
    constexpr int gap = 8;
    const bool right = work.right() + gap + width() <= within.right() || work.left() - within.left() < width() + gap;
    const int x = right ? work.right() + 1 + gap : work.left() - gap - width();
    move(std::clamp(x, within.left(), std::max(within.left(), within.right() - width())),
         std::clamp(work.top(), within.top(), std::max(within.top(), within.bottom() - height())));
    show();
    search_->setFocus();
}

/// As high as its pictures need, up to three rows.
void StepFinder::fit() {
    int visible = 0;
    for (int row = 0; row < list_->count(); ++row) visible += !list_->item(row)->isHidden();
    const int rows = std::clamp((visible + shown_columns - 1) / shown_columns, 1, 3);
    resize(shown_columns * cell_width + 36, rows * cell_height + 98);
}

void StepFinder::show_summary() {
    const QListWidgetItem* item = list_->currentItem();
    const bool shown = item && !item->isHidden();
    summary_->setText(shown ? QString("<b>%1</b> · %2 · %3")
                                  .arg(item->text().toHtmlEscaped(), item->data(family_role).toString(),
                                       item->data(summary_role).toString().toHtmlEscaped())
                            : tr("No step fits these words."));
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
    fit();
    show_summary();
}

void StepFinder::take() {
    QListWidgetItem* item = list_->currentItem();
    if (!item || item->isHidden()) return;
    const QString kind = item->data(kind_role).toString();
    service_.stop();
    close();
    emit chosen(kind);
}

int StepFinder::columns() const { return std::max(1, list_->viewport()->width() / cell_width); }

/// So many visible items on or back; stays where there are none.
void StepFinder::move_by(int way) {
    int left = std::abs(way);
    int row = list_->currentRow(), last = row;
    while (left > 0) {
        row += way < 0 ? -1 : 1;
        if (row < 0 || row >= list_->count()) return;
        if (list_->item(row)->isHidden()) continue;
        last = row;
        --left;
    }
    list_->setCurrentRow(last);
    list_->scrollToItem(list_->item(last));
}

bool StepFinder::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool at_end = search_->cursorPosition() == search_->text().size();
        switch (key->key()) {
            case Qt::Key_Return:
            case Qt::Key_Enter: take(); return true;
            case Qt::Key_Up: move_by(-columns()); return true;
            case Qt::Key_Down: move_by(columns()); return true;
            case Qt::Key_Right:
                if (!at_end) break;
                move_by(1);
                return true;
            case Qt::Key_Left:
                if (!search_->text().isEmpty()) break;
                move_by(-1);
                return true;
            default: break;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace loom
