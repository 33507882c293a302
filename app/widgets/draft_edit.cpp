// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/draft_edit.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QSaveFile>
#include <QSpinBox>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/files/wif.h"

namespace loom {

namespace {
constexpr int most_shown = 64;
}  // namespace

DraftGrid::DraftGrid(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Draft: dark squares show the warp on top"));
    setToolTip(tr("Click or drag: dark squares show the warp on top. The first pick lies at the bottom."));
    setFixedSize(sizeHint());
}

void DraftGrid::set_draft(const Draft& draft) {
    draft_ = draft;
    end_ = std::min(end_, draft.ends - 1), pick_ = std::min(pick_, draft.picks - 1);
    update();
}

int DraftGrid::side() const { return std::max(2, (std::min(width(), height()) - 4) / std::max({draft_.ends, draft_.picks, 1})); }

QRect DraftGrid::square(int end, int pick) const {
    return {2 + end * side(), 2 + (draft_.picks - 1 - pick) * side(), side(), side()};
}

void DraftGrid::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    for (int j = 0; j < draft_.picks; ++j)
        for (int i = 0; i < draft_.ends; ++i) {
            const QRect place = square(i, j);
            painter.fillRect(place, draft_.over(i, j) ? c.text : c.card);
            painter.setPen(c.line);
            if (side() > 4) painter.drawRect(place);
        }
    if (hasFocus()) {
        painter.setPen(QPen(c.accent, 2));
        painter.drawRect(square(end_, pick_));
    }
}

void DraftGrid::mark(QPoint place, bool first) {
    const int i = (place.x() - 2) / side(), j = draft_.picks - 1 - (place.y() - 2) / side();
    if (place.x() < 2 || place.y() < 2 || i >= draft_.ends || j < 0 || j >= draft_.picks) return;
    // A drag lays what its first square became.
    if (first) laying_ = !draft_.over(i, j), ++gestures_;
    if (draft_.over(i, j) == laying_) return;
    end_ = i, pick_ = j;
    emit toggled(i, j, laying_, QString("draft %1").arg(gestures_));
}

void DraftGrid::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) mark(event->pos(), true);
}
void DraftGrid::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) mark(event->pos(), false);
}

void DraftGrid::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Left: end_ = std::max(0, end_ - 1); break;
        case Qt::Key_Right: end_ = std::min(draft_.ends - 1, end_ + 1); break;
        case Qt::Key_Up: pick_ = std::min(draft_.picks - 1, pick_ + 1); break;
        case Qt::Key_Down: pick_ = std::max(0, pick_ - 1); break;
        case Qt::Key_Space: mark(square(end_, pick_).center(), true); break;
        default: QWidget::keyPressEvent(event); return;
    }
    update();
}
void DraftGrid::focusInEvent(QFocusEvent*) { update(); }
void DraftGrid::focusOutEvent(QFocusEvent*) { update(); }

DraftEdit::DraftEdit(const QString& accessible_name, QWidget* parent) : QWidget(parent), draft_(plain_draft()) {
    setAccessibleName(accessible_name);
    grid_ = new DraftGrid(this);
    auto number = [&](const QString& name) {
        auto* box = new QSpinBox(this);
        // As in all other number fields: keys and typing change it.
        box->setButtonSymbols(QAbstractSpinBox::NoButtons);
        box->setRange(1, most_shown);
        box->setAccessibleName(name), box->setToolTip(name);
        connect(box, &QSpinBox::valueChanged, this, &DraftEdit::resize_draft);
        return box;
    };
    ends_ = number(tr("Ends in the repeat")), picks_ = number(tr("Picks in the repeat"));
    auto* trade = new QToolButton(this);
    trade->setText(tr("Trade drafts"));
    trade->setPopupMode(QToolButton::InstantPopup);
    trade->setFocusPolicy(Qt::StrongFocus);
    auto* menu = new QMenu(trade);
    for (const NamedDraft& named : trade_drafts())
        connect(menu->addAction(qt(named.name)), &QAction::triggered, this, [this, draft = named.draft] { take(draft); });
    trade->setMenu(menu);
    auto* open = new QPushButton(tr("Open WIF ..."), this);
    auto* save = new QPushButton(tr("Save WIF ..."), this);
    connect(open, &QPushButton::clicked, this, [this] { choose_file(false); });
    connect(save, &QPushButton::clicked, this, [this] { choose_file(true); });

    auto* side = new QVBoxLayout;
    side->setSpacing(4);
    side->addWidget(trade);
    auto* counts = new QHBoxLayout;
    counts->addWidget(ends_), counts->addWidget(new QLabel(tr("by"), this)), counts->addWidget(picks_), counts->addStretch(1);
    side->addLayout(counts);
    auto* files = new QHBoxLayout;
    files->addWidget(open), files->addWidget(save);
    side->addLayout(files);
    side->addStretch(1);
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(grid_), line->addLayout(side, 1);
    connect(grid_, &DraftGrid::toggled, this, [this](int end, int pick, bool over, const QString& gesture) {
        Draft next = draft_;
        next.up[static_cast<std::size_t>(pick) * static_cast<std::size_t>(next.ends) + static_cast<std::size_t>(end)] = over;
        take(std::move(next), gesture);
    });
    set_draft(draft_);
}

void DraftEdit::set_draft(const Draft& draft) {
    draft_ = draft;
    grid_->set_draft(draft);
    for (auto [box, value] : {std::pair{ends_, draft.ends}, std::pair{picks_, draft.picks}}) {
        const QSignalBlocker quiet(box);
        box->setMaximum(std::max(most_shown, value));
        box->setValue(value);
    }
}

void DraftEdit::take(Draft draft, const QString& gesture) {
    set_draft(draft);
    emit changed(draft_, gesture);
}

void DraftEdit::resize_draft() {
    // What was there stays; what is new repeats it.
    Draft next{ends_->value(), picks_->value(), {}};
    for (int j = 0; j < next.picks; ++j)
        for (int i = 0; i < next.ends; ++i) next.up.push_back(draft_.over(i, j));
    take(std::move(next), "draft size");
}

void DraftEdit::choose_file(bool save) {
    auto* dialog = new QFileDialog(this, save ? tr("Save the draft") : tr("Open a draft"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(save ? QFileDialog::AcceptSave : QFileDialog::AcceptOpen);
    dialog->setFileMode(save ? QFileDialog::AnyFile : QFileDialog::ExistingFile);
    dialog->setNameFilter(tr("Weaving drafts (*.wif);;All files (*)"));
    dialog->setDefaultSuffix("wif");
    connect(dialog, &QFileDialog::fileSelected, this, save ? &DraftEdit::save_wif : &DraftEdit::open_wif);
    dialog->open();
}

void DraftEdit::open_wif(const QString& path) {
    const auto draft = read_wif_file(path.toStdString());
    if (!draft) return emit refused(QString::fromStdString(draft.error().message));
    take(*draft);
}

void DraftEdit::save_wif(const QString& path) {
    QSaveFile file(path);
    const QByteArray text = QByteArray::fromStdString(write_wif(draft_));
    if (!file.open(QIODevice::WriteOnly) || file.write(text) != text.size() || !file.commit())
        emit refused(tr("%1 cannot be written: %2").arg(path, file.errorString()));
}

}  // namespace loom
