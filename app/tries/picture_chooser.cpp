// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/tries/picture_chooser.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>
#include <QSettings>
#include <QSignalBlocker>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>
#include <numeric>

#include "app/theme/theme.h"

namespace loom {

namespace {

enum Role { id_role = Qt::UserRole, summary_role, group_role, picture_role, candidate_role };
enum Chip { all_chip, used_chip, first_group_chip };

constexpr int near_side = 140, picture_side = 88, cell_width = 108, cell_height = 138, shown_columns = 5, most_used = 10;

/// A picture with its name below, and the group's name above the first of each.
class PictureCell : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {cell_width, cell_height}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const theme::Colours& c = theme::colours();
        const bool marked = option.state & QStyle::State_Selected;
        const QRect frame(option.rect.left() + (cell_width - picture_side) / 2, option.rect.top() + 17, picture_side,
                          picture_side);
        if (marked) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(c.accent);
            painter->setRenderHint(QPainter::Antialiasing);
            painter->drawRoundedRect(QRectF(option.rect).adjusted(3, 13, -3, -1), 4, 4);
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
        if (begins_group(index)) {
            painter->setFont(theme::small_font());
            painter->setPen(c.faint);
            painter->drawText(QRect(frame.left(), option.rect.top() + 2, cell_width, 14), Qt::AlignLeft | Qt::AlignVCenter,
                              index.data(group_role).toString());
        }
        painter->setFont(theme::strong_font(11));
        painter->setPen(marked ? c.on_accent : c.text);
        const QRect text(option.rect.left() + 4, frame.bottom() + 2, cell_width - 8, 28);
        painter->drawText(text, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, index.data().toString());
    }

private:
    bool begins_group(const QModelIndex& index) const {
        const auto* list = static_cast<const QListWidget*>(parent());
        return index.row() == 0 || list->item(index.row() - 1)->data(group_role) != index.data(group_role);
    }
};

}  // namespace

PictureChooser::PictureChooser(const QString& id, const QString& name, const QString& hint, std::vector<Candidate> candidates,
                               std::vector<Scope> scopes, QWidget* parent)
    : QFrame(parent, Qt::Popup), id_(id), candidates_(std::move(candidates)), ways_(std::move(scopes)) {
    setFrameShape(QFrame::StyledPanel);
    setAttribute(Qt::WA_DeleteOnClose);
    setAccessibleName(name);
    used_ = QSettings().value("used/" + id_).toStringList();
    search_ = new QLineEdit(this);
    search_->setPlaceholderText(hint);
    search_->setAccessibleName(hint);
    chips_ = new QButtonGroup(this);
    scopes_ = new QButtonGroup(this);
    list_ = new QListWidget(this);
    list_->setViewMode(QListView::IconMode);
    list_->setResizeMode(QListView::Adjust);
    list_->setMovement(QListView::Static);
    list_->setUniformItemSizes(true);
    list_->setGridSize({cell_width, cell_height});
    list_->setSpacing(0);
    list_->setItemDelegate(new PictureCell(list_));
    list_->setAccessibleName(name);
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
    summary_ = new QLabel(this);
    summary_->setFont(theme::small_font());
    summary_->setWordWrap(true);
    summary_->setMinimumHeight(32);
    summary_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    head->addWidget(search_, 1);
    auto* chips = new QHBoxLayout;
    chips->setSpacing(4);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 8, 8, 8);
    layout->addLayout(head);
    layout->addLayout(chips);
    layout->addWidget(list_, 1);
    layout->addWidget(summary_);

    build_chips(chips);
    scope_ = std::clamp(QSettings().value("scopes/" + id_).toInt(), 0, static_cast<int>(ways_.size()) - 1);
    for (std::size_t k = 0; ways_.size() > 1 && k < ways_.size(); ++k) {
        auto* button = new QPushButton(ways_[k].title, this);
        button->setCheckable(true);
        button->setProperty("chip", true);
        button->setChecked(static_cast<int>(k) == scope_);
        scopes_->addButton(button, static_cast<int>(k));
        head->addWidget(button);
    }
    pictures_.resize(candidates_.size());
    order_.resize(candidates_.size());
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    filter();
    search_->installEventFilter(this);
    connect(search_, &QLineEdit::textChanged, this, &PictureChooser::filter);
    connect(chips_, &QButtonGroup::idClicked, this, [this] {
        filter();
        search_->setFocus();
    });
    connect(scopes_, &QButtonGroup::idClicked, this, [this](int scope) {
        QSettings().setValue("scopes/" + id_, scope);
        try_all(scope);
        search_->setFocus();
    });
    connect(list_, &QListWidget::itemClicked, this, &PictureChooser::take);
    connect(list_, &QListWidget::currentRowChanged, this, &PictureChooser::show_summary);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        --missing_;
        if (index == static_cast<int>(candidates_.size())) picture_without_ = image;
        if (index >= static_cast<int>(candidates_.size())) return missing_ == 0 ? sort_by_strength() : void();
        // What is done to a picture is seen near, where it shows.
        const bool whole = ways_[static_cast<std::size_t>(scope_)].whole || candidates_[static_cast<std::size_t>(index)].whole;
        const QSize near(std::min(image.width(), near_side), std::min(image.height(), near_side));
        const auto k = static_cast<std::size_t>(index);
        pictures_[k] = whole ? image : image.copy(QRect(QPoint(0, 0), near));
        for (int row = 0; row < list_->count(); ++row)
            if (list_->item(row)->data(candidate_role).toInt() == index) list_->item(row)->setData(picture_role, pictures_[k]);
        if (missing_ == 0) sort_by_strength();
    });
    try_all(scope_);
}

void PictureChooser::build_chips(QBoxLayout* line) {
    const auto add = [&](const QString& title, int id) {
        auto* chip = new QPushButton(title, this);
        chip->setCheckable(true);
        chip->setProperty("chip", true);
        chip->setFont(theme::small_font());
        chip->setChecked(id == all_chip);
        chips_->addButton(chip, id);
        line->addWidget(chip);
    };
    QStringList groups;
    bool any_used = false;
    for (const Candidate& each : candidates_) {
        if (!groups.contains(each.group)) groups << each.group;
        any_used = any_used || used_.contains(each.id);
    }
    add(tr("All"), all_chip);
    if (any_used) add(tr("Lately used"), used_chip);
    for (int k = 0; k < groups.size(); ++k) add(groups[k], first_group_chip + k);
    line->addStretch(1);
}

QList<QAbstractButton*> PictureChooser::chips() const { return chips_->buttons(); }
QList<QAbstractButton*> PictureChooser::scopes() const { return scopes_->buttons(); }

void PictureChooser::try_all(int scope) {
    scope_ = scope;
    std::vector<TryOrder> orders;
    for (const Candidate& each : candidates_) orders.push_back(ways_[static_cast<std::size_t>(scope)].trial(each.id));
    if (without_) orders.push_back(*without_);
    missing_ = static_cast<int>(orders.size());
    ticket_ = service_.submit(std::move(orders));
}

void PictureChooser::order_by_strength(TryOrder without) {
    without_ = std::move(without);
    try_all(scope_);
}

namespace {
/// Mean difference of the channels; both are made at the same size.
double difference(const QImage& a, const QImage& b) {
    constexpr int side = 48;
    const QImage first = a.scaled(side, side).convertToFormat(QImage::Format_RGB32),
                 second = b.scaled(side, side).convertToFormat(QImage::Format_RGB32);
    double sum = 0;
    for (int y = 0; y < first.height(); ++y)
        for (int x = 0; x < first.width(); ++x) {
            const QRgb p = first.pixel(x, y), q = second.pixel(x, y);
            sum += std::abs(qRed(p) - qRed(q)) + std::abs(qGreen(p) - qGreen(q)) + std::abs(qBlue(p) - qBlue(q));
        }
    return sum;
}
}  // namespace

void PictureChooser::sort_by_strength() {
    if (picture_without_.isNull()) return;
    std::vector<double> strengths;
    for (const QImage& picture : pictures_) strengths.push_back(picture.isNull() ? 0 : difference(picture, picture_without_));
    // Groups stay as they are, and so does what is chosen.
    std::vector<QString> groups;
    for (const Candidate& each : candidates_)
        if (groups.empty() || groups.back() != each.group) groups.push_back(each.group);
    const auto place = [&](std::size_t k) {
        return std::pair(std::find(groups.begin(), groups.end(), candidates_[k].group) - groups.begin(), strengths[k]);
    };
    std::stable_sort(order_.begin(), order_.end(), [&](std::size_t a, std::size_t b) { return place(a) < place(b); });
    const QListWidgetItem* current = list_->currentItem();
    const QString chosen = current ? current->data(id_role).toString() : QString();
    filter();
    if (!chosen.isEmpty()) mark(chosen);
}

void PictureChooser::mark(const QString& id) {
    for (int row = 0; row < list_->count(); ++row)
        if (list_->item(row)->data(id_role).toString() == id) list_->setCurrentRow(row);
    list_->scrollToItem(list_->currentItem());
}

void PictureChooser::open_beside(const QRect& work, const QRect& within) {
    constexpr int gap = 8;
    const bool right = work.right() + gap + width() <= within.right() || work.left() - within.left() < width() + gap;
    const int x = right ? work.right() + 1 + gap : work.left() - gap - width();
    move(std::clamp(x, within.left(), std::max(within.left(), within.right() - width())),
         std::clamp(work.top(), within.top(), std::max(within.top(), within.bottom() - height())));
    show();
    search_->setFocus();
    list_->scrollToItem(list_->currentItem());
}

/// As high as its pictures need, up to three rows.
void PictureChooser::fit() {
    const int rows = std::clamp((list_->count() + shown_columns - 1) / shown_columns, 1, 3);
    resize(shown_columns * cell_width + 36, rows * cell_height + 134);
}

void PictureChooser::show_summary() {
    const QListWidgetItem* item = list_->currentItem();
    if (!item) return summary_->setText(tr("Nothing fits these words."));
    QString text = QString("<span style='font-weight:600'>%1</span> · %2")
                       .arg(item->text().toHtmlEscaped(), item->data(group_role).toString());
    if (const QString summary = item->data(summary_role).toString(); !summary.isEmpty())
        text += QString(" · ") + summary.toHtmlEscaped();
    summary_->setText(text);
}

std::optional<int> PictureChooser::rank(const Candidate& candidate, const QStringList& words) const {
    // Whole words before parts, and the name before what is said of it.
    const QString places[] = {candidate.title + " " + candidate.id, candidate.words, candidate.summary + " " + candidate.group};
    constexpr int none = 100;
    int worst = 0;
    for (const QString& word : words) {
        int best = none;
        for (int place = 0; place < 3; ++place)
            for (const QString& own : places[place].split(QRegularExpression("[^\\w]+"), Qt::SkipEmptyParts)) {
                const int way = own.compare(word, Qt::CaseInsensitive) == 0 ? 0
                                : own.startsWith(word, Qt::CaseInsensitive) ? 3
                                : own.contains(word, Qt::CaseInsensitive)   ? 6
                                                                            : none;
                best = std::min(best, way + place);
            }
        if (best >= none) return std::nullopt;
        worst = std::max(worst, best);
    }
    return worst;
}

void PictureChooser::filter() {
    const QStringList words = search_->text().split(' ', Qt::SkipEmptyParts);
    const int chip = chips_->checkedId();
    const QString group = chip >= first_group_chip ? chips_->checkedButton()->text() : QString();
    std::vector<std::pair<int, std::size_t>> found;
    for (std::size_t k : order_) {
        const Candidate& each = candidates_[k];
        if ((!group.isEmpty() && each.group != group) || (chip == used_chip && !used_.contains(each.id))) continue;
        if (const auto fits = rank(each, words)) found.emplace_back(*fits, k);
    }
    std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<std::size_t> fitting;
    for (const auto& each : found) fitting.push_back(each.second);
    fill(fitting);
    fit();
    show_summary();
}

void PictureChooser::fill(const std::vector<std::size_t>& fitting) {
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (std::size_t k : fitting) {
        const Candidate& each = candidates_[k];
        auto* item = new QListWidgetItem(each.title, list_);
        item->setData(id_role, each.id);
        item->setData(summary_role, each.summary);
        item->setData(group_role, each.group);
        item->setData(candidate_role, static_cast<int>(k));
        item->setData(picture_role, pictures_[k]);
        item->setData(Qt::AccessibleTextRole, each.summary.isEmpty() ? each.title : each.title + ", " + each.summary);
    }
    list_->setCurrentRow(fitting.empty() ? -1 : 0);
}

void PictureChooser::take() {
    QListWidgetItem* item = list_->currentItem();
    if (!item) return;
    const QString id = item->data(id_role).toString();
    used_.removeAll(id);
    used_.prepend(id);
    QSettings().setValue("used/" + id_, QStringList(used_.mid(0, most_used)));
    service_.stop();
    close();
    emit chosen(id);
}

int PictureChooser::columns() const { return std::max(1, list_->viewport()->width() / cell_width); }

/// So many items on or back; stays where there are none.
void PictureChooser::move_by(int way) {
    const int row = list_->currentRow() + way;
    if (row < 0 || row >= list_->count()) return;
    list_->setCurrentRow(row);
    list_->scrollToItem(list_->item(row));
}

bool PictureChooser::eventFilter(QObject* watched, QEvent* event) {
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
