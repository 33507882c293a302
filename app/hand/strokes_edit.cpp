// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/strokes_edit.h"

#include <QButtonGroup>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"
#include "app/widgets/text.h"

namespace loom {

namespace {

Parameter brush_number(std::string_view title, double min, double max, double slider_max, Unit unit,
                       Scale scale = Scale::linear) {
    Parameter p;
    p.id = p.title = title, p.unit = unit, p.scale = scale;
    p.min = min, p.max = max, p.slider_min = std::max(min, -slider_max), p.slider_max = slider_max;
    return p;
}

}  // namespace

void StrokeList::set_strokes(const Strokes& strokes, const Parameter& parameter) {
    tools_ = parameter.choices;
    if (strokes == strokes_) return;
    // Rows that stay keep being chosen where they can.
    const int before = static_cast<int>(strokes_.size()), after = static_cast<int>(strokes.size());
    if (after > before) beginInsertRows({}, before, after - 1);
    if (after < before) beginRemoveRows({}, after, before - 1);
    strokes_ = strokes;
    if (after > before) endInsertRows();
    if (after < before) endRemoveRows();
    if (after > 0) emit dataChanged(index(0), index(after - 1));
}

int StrokeList::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : static_cast<int>(strokes_.size()); }

QVariant StrokeList::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= static_cast<int>(strokes_.size())) return {};
    const Stroke& stroke = strokes_[static_cast<std::size_t>(index.row())];
    if (role == Qt::ForegroundRole && stroke.muted) return theme::colours().faint;
    if (role != Qt::DisplayRole) return {};
    QString name = QString::fromStdString(stroke.tool);
    for (const Choice& tool : tools_)
        if (tool.id == stroke.tool) name = qt(tool.title);
    const QString words =
        tr("%1  %2   %3 px, %4 %").arg(index.row() + 1).arg(name).arg(std::lround(stroke.size)).arg(std::lround(stroke.strength));
    return stroke.muted ? tr("%1, muted").arg(words) : words;
}

StrokesEdit::StrokesEdit(Session& session, Brush& brush, const Parameter& parameter, QWidget* parent)
    : QWidget(parent), session_(session), brush_(brush), parameter_(parameter) {
    auto* tools = new QGridLayout;
    tools->setSpacing(3);
    auto* group = new QButtonGroup(this);
    constexpr int columns = 3;
    for (std::size_t k = 0; k < parameter.choices.size(); ++k) {
        const Choice& tool = parameter.choices[k];
        auto* button = new QToolButton(this);
        button->setText(qt(tool.title));
        button->setObjectName(qt(tool.id));
        button->setAccessibleName(tr("Brush: %1").arg(qt(tool.title)));
        button->setCheckable(true);
        button->setFocusPolicy(Qt::StrongFocus);
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        group->addButton(button);
        tools->addWidget(button, static_cast<int>(k) / columns, static_cast<int>(k) % columns);
        connect(button, &QToolButton::clicked, this, [this, id = std::string(tool.id)] { brush_.set_tool(id); });
    }
    size_ = new NumberEdit(brush_number("Size", least_brush, greatest_brush, 400, Unit::px, Scale::root), tr("Brush size"), this);
    strength_ = new NumberEdit(brush_number("Strength", -100, 100, 100, Unit::percent), tr("Brush strength"), this);
    softness_ = new NumberEdit(brush_number("Softness", 0, 100, 100, Unit::percent), tr("Brush softness"), this);
    connect(size_, &NumberEdit::changed, this, [this](double value, const QString& gesture) {
        brush_.set_size(value);
        change([value](Stroke& s) { s.size = value; }, tr("Size of strokes"), gesture);
    });
    connect(strength_, &NumberEdit::changed, this, [this](double value, const QString& gesture) {
        brush_.set_strength(value);
        change([value](Stroke& s) { s.strength = value; }, tr("Strength of strokes"), gesture);
    });
    connect(softness_, &NumberEdit::changed, this, [this](double value, const QString& gesture) {
        brush_.set_softness(value);
        change([value](Stroke& s) { s.softness = value; }, tr("Softness of strokes"), gesture);
    });
    auto* numbers = new QGridLayout;
    numbers->setHorizontalSpacing(8);
    numbers->setVerticalSpacing(2);
    const auto line = [&](int row, const QString& name, QWidget* edit) {
        auto* label = new QLabel(name, this);
        numbers->addWidget(label, row, 0);
        numbers->addWidget(edit, row, 1);
        return label;
    };
    line(0, tr("Size"), size_);
    line(1, tr("Strength"), strength_);
    line(2, tr("Softness"), softness_);
    const bool colours =
        std::any_of(parameter.choices.begin(), parameter.choices.end(), [](const Choice& tool) { return tool.id == "colour"; });
    if (colours) {
        colour_ = new ColourButton(this);
        colour_->setAccessibleName(tr("Brush colour"));
        colour_label_ = line(3, tr("Colour"), colour_);
        connect(colour_, &ColourButton::changed, this, [this](const Colour& colour, const QString& gesture) {
            brush_.set_colour(colour);
            change([colour](Stroke& s) { s.colour = colour; }, tr("Colour of strokes"), gesture);
        });
    }
    numbers->setColumnStretch(1, 1);

    strokes_ = new StrokeList(this);
    list_ = new QListView(this);
    list_->setModel(strokes_);
    list_->setAccessibleName(tr("Strokes"));
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list_->setUniformItemSizes(true);
    list_->setMouseTracking(true);
    list_->setMinimumSize(96, 96);
    list_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Expanding);
    list_->viewport()->installEventFilter(this);
    list_->installEventFilter(this);
    connect(list_, &QListView::entered, this, [this](const QModelIndex& index) { brush_.show_stroke(index.row()); });
    connect(list_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
        const auto rows = chosen();
        brush_.show_stroke(rows.size() == 1 ? rows.front() : -1);
        refresh();
    });
    empty_ = new QLabel(
        tr("Draw on the cloth. Comma and full stop change the size, with Shift the strength; B, held, changes both by dragging."),
        this);
    empty_->setWordWrap(true);
    empty_->setFont(theme::small_font());
    const auto button = [this](const QString& text, const QString& help) {
        auto* made = new QToolButton(this);
        made->setText(text);
        made->setToolTip(help);
        made->setAccessibleName(help);
        made->setFocusPolicy(Qt::StrongFocus);
        return made;
    };
    remove_ = button(tr("Remove"), tr("Take the chosen strokes away"));
    mute_ = button(tr("Mute"), tr("Keep the chosen strokes, and pass them over"));
    mute_->setCheckable(true);
    up_ = button(tr("Up"), tr("The chosen strokes earlier"));
    down_ = button(tr("Down"), tr("The chosen strokes later"));
    connect(remove_, &QToolButton::clicked, this, [this] {
        Strokes strokes = brush_.strokes();
        const auto rows = chosen();
        for (auto row = rows.rbegin(); row != rows.rend(); ++row) strokes = strokes.without(static_cast<std::size_t>(*row));
        list_->clearSelection();
        if (!rows.empty()) apply(strokes, tr("Remove strokes"));
    });
    connect(mute_, &QToolButton::clicked, this,
            [this](bool on) { change([on](Stroke& s) { s.muted = on; }, tr("Mute strokes"), {}); });
    connect(up_, &QToolButton::clicked, this, [this] { move(-1); });
    connect(down_, &QToolButton::clicked, this, [this] { move(1); });
    auto* buttons = new QGridLayout;
    buttons->setSpacing(3);
    int place = 0;
    for (QToolButton* each : {remove_, mute_, up_, down_}) {
        each->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        buttons->addWidget(each, place / 2, place % 2);
        ++place;
    }

    auto* left = new QVBoxLayout;
    left->setSpacing(6);
    left->addLayout(tools);
    left->addLayout(numbers);
    left->addStretch(1);
    auto* right = new QVBoxLayout;
    right->setSpacing(4);
    right->addWidget(empty_);
    right->addWidget(list_, 1);
    right->addLayout(buttons);
    auto* both = new QHBoxLayout(this);
    both->setContentsMargins(0, 0, 0, 0);
    both->setSpacing(14);
    both->addLayout(left, 3);
    both->addLayout(right, 2);
    connect(&brush_, &Brush::changed, this, &StrokesEdit::refresh);
    refresh();
}

QToolButton* StrokesEdit::tool_button(const QString& tool) const { return findChild<QToolButton*>(tool); }

std::vector<int> StrokesEdit::chosen() const {
    std::vector<int> rows;
    for (const QModelIndex& index : list_->selectionModel()->selectedRows()) rows.push_back(index.row());
    std::sort(rows.begin(), rows.end());
    return rows;
}

void StrokesEdit::refresh() {
    if (refreshing_ || !brush_.parameter()) return;
    refreshing_ = true;
    const Strokes strokes = brush_.strokes();
    strokes_->set_strokes(strokes, parameter_);
    const auto rows = chosen();
    const Stroke shown = rows.empty() ? brush_.stroke() : strokes[static_cast<std::size_t>(rows.front())];
    size_->set_value(shown.size), strength_->set_value(shown.strength), softness_->set_value(shown.softness);
    if (QToolButton* tool = tool_button(QString::fromStdString(brush_.tool()))) tool->setChecked(true);
    if (colour_) {
        colour_->set_colour(shown.colour);
        const bool matters = shown.tool == "colour" || (rows.empty() && brush_.tool() == "colour");
        colour_->setEnabled(matters), colour_label_->setEnabled(matters);
    }
    empty_->setVisible(strokes.empty());
    list_->setVisible(!strokes.empty());
    for (QToolButton* each : {remove_, mute_, up_, down_}) each->setVisible(!strokes.empty()), each->setEnabled(!rows.empty());
    mute_->setChecked(!rows.empty() && shown.muted);
    refreshing_ = false;
}

void StrokesEdit::apply(const Strokes& strokes, const QString& text, const QString& gesture) {
    session_.apply(with_value(session_.recipe(), brush_.address(), Value(strokes)), text,
                   {gesture, QString::fromStdString(brush_.address().text())});
}

void StrokesEdit::change(const std::function<void(Stroke&)>& edit, const QString& text, const QString& gesture) {
    const auto rows = chosen();
    if (rows.empty() || refreshing_) return;
    Strokes strokes = brush_.strokes();
    for (int row : rows) {
        Stroke changed = strokes[static_cast<std::size_t>(row)];
        edit(changed);
        strokes = strokes.replaced(static_cast<std::size_t>(row), std::move(changed));
    }
    apply(strokes, text, gesture);
}

void StrokesEdit::move(int way) {
    std::vector<int> rows = chosen();
    Strokes strokes = brush_.strokes();
    const int count = static_cast<int>(strokes.size());
    if (rows.empty() || rows.front() + way < 0 || rows.back() + way >= count) return;
    if (way > 0) std::reverse(rows.begin(), rows.end());
    for (int row : rows) {
        const Stroke moved = strokes[static_cast<std::size_t>(row)], other = strokes[static_cast<std::size_t>(row + way)];
        strokes = strokes.replaced(static_cast<std::size_t>(row), other).replaced(static_cast<std::size_t>(row + way), moved);
    }
    apply(strokes, tr("Move strokes"));
    QItemSelection selection;
    for (int row : rows) selection.select(strokes_->index(row + way), strokes_->index(row + way));
    list_->selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
}

bool StrokesEdit::eventFilter(QObject* watched, QEvent* event) {
    if (watched == list_->viewport() && event->type() == QEvent::Leave) {
        const auto rows = chosen();
        brush_.show_stroke(rows.size() == 1 ? rows.front() : -1);
    }
    if (watched == list_ && (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride)) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Delete || key == Qt::Key_Backspace) {
            // The whole step would go otherwise.
            event->accept();
            if (event->type() == QEvent::KeyPress) remove_->click();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace loom
