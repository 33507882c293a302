// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The form of the desk: how rows stand beside and under each other, sections that fold, and a row's menu.
#include <QClipboard>
#include <QContextMenuEvent>
#include <QGridLayout>
#include <QGuiApplication>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <algorithm>

#include "app/loom/tuning_desk.h"
#include "app/theme/theme.h"
#include "app/widgets/elided_label.h"
#include "app/widgets/pair_edit.h"
#include "app/widgets/text.h"
#include "core/recipe/question.h"
#include "core/catalogue/description.h"
#include "core/catalogue/value_kind.h"
#include "app/loom/dial_dialog.h"
#include "app/widgets/name_dialog.h"
#include "core/recipe/drives.h"

namespace loom {

namespace {

/// A label that opens its row's menu.
class RowLabel : public QLabel {
public:
    RowLabel(const QString& text, std::function<void(const QPoint&)> open) : QLabel(text), open_(std::move(open)) {
        setCursor(Qt::PointingHandCursor);
    }

protected:
    void mousePressEvent(QMouseEvent*) override { open_(mapToGlobal(QPoint(0, height()))); }
    void enterEvent(QEnterEvent*) override { underline(true); }
    void leaveEvent(QEvent*) override { underline(false); }

private:
    void underline(bool on) {
        QFont changed = font();
        changed.setUnderline(on);
        setFont(changed);
    }
    std::function<void(const QPoint&)> open_;
};

/// Least width of one column of rows: label, slider, field and reset.
constexpr int column_width = 330, label_width = 104, cells = 4;

}  // namespace

QLabel* TuningDesk::row_label(const std::string& id, const QString& text, const QString& help) {
    auto* label = new RowLabel(text, [this, id](const QPoint& place) { open_row_menu(id, place); });
    label->setToolTip(help.isEmpty() ? tr("Click for more") : tr("%1\nClick the name for more.").arg(help));
    return label;
}

TuningDesk::Row& TuningDesk::add_row(const std::string& id, const QString& label, const QString& help, QWidget* editor,
                                     QWidget* after) {
    // A tall editor takes the whole width and speaks for itself.
    if (editor->sizeHint().height() > 60) {
        Row& row = add_wide_row(id, help, editor);
        row.after = after;
        return row;
    }
    editor->setToolTip(help);
    QLabel* text = row_label(id, label, help);
    // Readers of the screen know a list by its label.
    text->setBuddy(editor);
    rows_.push_back({id, Row::Form::line, text, editor, after, section_});
    return rows_.back();
}

TuningDesk::Row& TuningDesk::add_wide_row(const std::string& id, const QString& help, QWidget* editor) {
    editor->setToolTip(help);
    rows_.push_back({id, Row::Form::wide, nullptr, editor, nullptr, section_});
    return rows_.back();
}

void TuningDesk::add_heading(const QString& text, const std::string& kind) {
    section_ = kind + "/" + text.toStdString();
    auto* heading = new QPushButton;
    heading->setObjectName("section");
    heading->setCheckable(true);
    heading->setAccessibleName(tr("Section %1").arg(text));
    heading->setToolTip(tr("Click to fold or unfold"));
    heading->setStyleSheet(QString("QPushButton { border: 1px solid transparent; background: transparent; text-align: left; "
                                   "padding: 3px 0; font-weight: 600; } QPushButton:focus { border-color: %1; }")
                               .arg(theme::colours().accent.name()));
    auto* values = new ElidedLabel;
    values->setFont(theme::small_font());
    values->setForegroundRole(QPalette::PlaceholderText);
    connect(heading, &QPushButton::clicked, this, [this, section = section_](bool open) { fold(section, !open); });
    rows_.push_back({{}, Row::Form::heading, heading, heading, values, {}});
    rows_.back().refresh = [this, heading, values, text, section = section_] {
        const bool closed = folded(section);
        heading->setChecked(!closed);
        heading->setText(QString::fromUtf8(closed ? "▸ " : "▾ ") + text);
        values->setText(closed ? values_of(section) : QString());
    };
}

int TuningDesk::columns_in_view() const { return scroll_->viewport()->width() >= 2 * column_width ? 2 : 1; }

void TuningDesk::arrange() {
    auto* grid = static_cast<QGridLayout*>(form_->layout());
    columns_ = columns_in_view();
    while (QLayoutItem* item = grid->takeAt(0)) delete item;
    grid->setRowStretch(last_line_, 0);
    for (int column = 0; column < 2; ++column) {
        const bool used = column < columns_;
        grid->setColumnMinimumWidth(column * cells, used ? label_width : 0);
        grid->setColumnStretch(column * cells + 1, used ? 1 : 0);
        // Air between the two.
        grid->setColumnMinimumWidth(column * cells + 3, used && column + 1 < columns_ ? 16 : 0);
    }
    int line = 0, column = 0;
    const int width = columns_ * cells - 2;
    for (const Row& row : rows_) {
        if (row.form != Row::Form::line && column > 0) ++line, column = 0;
        const int first = column * cells;
        switch (row.form) {
            case Row::Form::heading:
                grid->addWidget(row.label, line, 0);
                grid->addWidget(row.after, line, 1, 1, width);
                break;
            case Row::Form::wide:
                grid->addWidget(row.editor, line, 0, 1, row.after ? width : width + 1);
                if (row.after) grid->addWidget(row.after, line, width, Qt::AlignTop);
                break;
            case Row::Form::line:
                grid->addWidget(row.label, line, first, Qt::AlignVCenter);
                grid->addWidget(row.editor, line, first + 1);
                if (row.after) grid->addWidget(row.after, line, first + 2, Qt::AlignVCenter);
                break;
        }
        if (row.form == Row::Form::line && ++column < columns_) continue;
        ++line, column = 0;
    }
    last_line_ = line + 1;
    grid->setRowStretch(last_line_, 1);
}

bool TuningDesk::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Resize && form_ && columns_in_view() != columns_) arrange();
    if (event->type() == QEvent::ContextMenu)
        for (const Row& row : rows_)
            for (const std::string& id : {row.id, row.second})
                if (!id.empty() && editor(id) == watched) {
                    open_row_menu(id, static_cast<QContextMenuEvent*>(event)->globalPos());
                    return true;
                }
    return QWidget::eventFilter(watched, event);
}

QString TuningDesk::values_of(const std::string& section) const {
    const Step* step = session_.selected_step();
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    QStringList values;
    for (const Row& row : rows_) {
        if (row.section != section || !description) continue;
        for (const std::string& id : {row.id, row.second})
            if (const Parameter* p = description->parameter(id);
                p && (p->kind == Kind::number || p->kind == Kind::count || p->kind == Kind::choice))
                values << QString::fromStdString(show_value(*p, value_or_default(*p, step->set)));
    }
    return values.join(QString::fromUtf8(" · "));
}

void TuningDesk::fold(const std::string& section, bool folded) {
    if (folded)
        folded_.insert(section);
    else
        folded_.erase(section);
    show_section(section);
    for (const Row& row : rows_)
        if (row.form == Row::Form::heading) row.refresh();
}

void TuningDesk::show_section(const std::string& section) {
    for (const Row& row : rows_)
        if (row.section == section)
            for (QWidget* widget : {row.label, row.editor, row.after})
                if (widget) widget->setVisible(!folded(section));
}

QAbstractButton* TuningDesk::heading(const QString& section) const {
    for (const Row& row : rows_)
        if (auto* button = qobject_cast<QAbstractButton*>(row.editor);
            button && row.form == Row::Form::heading && button->text().endsWith(section))
            return button;
    return nullptr;
}

QStringList TuningDesk::folded_sections() const {
    QStringList all;
    for (const std::string& section : folded_) all << QString::fromStdString(section);
    return all;
}

void TuningDesk::set_folded_sections(const QStringList& sections) {
    folded_.clear();
    for (const QString& section : sections) folded_.insert(section.toStdString());
    shape_.clear();
    refresh();
}

void TuningDesk::open_row_menu(const std::string& id, const QPoint& place) {
    if (auto menu = row_menu(id); menu && !menu->isEmpty()) {
        QMenu* shown = menu.release();
        shown->setAttribute(Qt::WA_DeleteOnClose);
        shown->popup(place);
    }
}

std::unique_ptr<QMenu> TuningDesk::row_menu(std::string_view parameter) {
    const Selection& at = session_.selection();
    const Address address{at.strand, at.step, std::string(parameter)};
    auto menu = std::make_unique<QMenu>(this);
    if (place_at(session_.recipe(), address))
        fill_row_menu(menu.get(), address);
    else if (at.strand.empty())
        fill_dial_menu(menu.get(), std::string(parameter));
    return menu;
}

void TuningDesk::fill_dial_menu(QMenu* menu, const std::string& dial) {
    const auto& dials = session_.recipe().dials;
    if (std::none_of(dials.begin(), dials.end(), [&](const Dial& each) { return each.name == dial; })) return;
    const QString name = QString::fromStdString(dial);
    connect(menu->addAction(tr("What it drives, and how far …")), &QAction::triggered, this,
            [this, dial] { (new DialDialog(session_, dial, this))->show(); });
    connect(menu->addAction(tr("Rename …")), &QAction::triggered, this, [this, dial, name] {
        ask_name(this, tr("Rename dial"), tr("Name"), name, [this, dial](const QString& text) {
            session_.apply(dial_renamed(session_.recipe(), dial, text.toStdString()), tr("Rename dial"));
        });
    });
    connect(menu->addAction(tr("Remove")), &QAction::triggered, this,
            [this, dial, name] { session_.apply(dial_removed(session_.recipe(), dial), tr("Remove dial %1").arg(name)); });
}

void TuningDesk::fill_row_menu(QMenu* menu, const Address& at) {
    const Recipe& recipe = session_.recipe();
    const Place place = *place_at(recipe, at);
    const Parameter p = place.parameter;
    const QString title = qt(p.title);
    const auto add = [&](QMenu* to, const QString& text, std::function<void()> work) {
        QAction* action = to->addAction(QString(text).replace("&", "&&"));
        connect(action, &QAction::triggered, this, std::move(work));
        return action;
    };
    if (question_about(recipe, at)) {
        add(menu, tr("Try this"), [this, at] { emit try_wanted(at); });
        menu->addSeparator();
    }
    add(menu, tr("Back to %1").arg(QString::fromStdString(show_value(p, p.fallback)).left(40)), [this, at, value = p.fallback] {
        session_.set_value(at, value);
    })->setEnabled(place.value != p.fallback);
    const QString text = QString::fromStdString(kind_of(p.kind).text(place.value));
    add(menu, tr("Copy the value"), [text] { QGuiApplication::clipboard()->setText(text); });
    const auto pasted = parse_value(p, QGuiApplication::clipboard()->text().trimmed().toStdString());
    const bool fits = pasted && !refuses(recipe, at, *pasted);
    add(menu, fits ? tr("Paste %1").arg(QString::fromStdString(show_value(p, *pasted)).left(40)) : tr("Paste a value"),
        [this, at, pasted] { session_.set_value(at, *pasted); })
        ->setEnabled(fits);
    if (can_be_driven(recipe, at)) {
        menu->addSeparator();
        add(menu, tr("Make a dial of it"), [this, at, title] {
            session_.apply(dial_made(session_.recipe(), at, title.toStdString()), tr("Make dial %1").arg(title));
        });
        const auto driving = dials_of(recipe, at);
        if (recipe.dials.size() > driving.size()) {
            QMenu* more = menu->addMenu(tr("Let a dial drive it"));
            for (const Dial& dial : recipe.dials)
                if (std::find(driving.begin(), driving.end(), dial.name) == driving.end())
                    add(more, QString::fromStdString(dial.name), [this, at, title, name = dial.name] {
                        session_.apply(driven_by(session_.recipe(), at, name),
                                       tr("Let %1 drive %2").arg(QString::fromStdString(name), title));
                    });
        }
        if (!driving.empty()) {
            QStringList names;
            for (const std::string& name : driving) names << QString::fromStdString(name);
            add(menu, tr("Free it from %1").arg(names.join(", ")),
                [this, at, title] { session_.apply(undriven(session_.recipe(), at), tr("Free %1 from its dials").arg(title)); });
        }
    }
    menu->addSeparator();
    if (recipe.colourways.empty()) {
        menu->addAction(tr("No colourways to change it"))->setEnabled(false);
        return;
    }
    QMenu* colourways = menu->addMenu(tr("Changed by colourways"));
    for (const Colourway& each : recipe.colourways) {
        const auto set = each.set.find(at);
        QString line = QString::fromStdString(each.name);
        if (set != each.set.end()) line += ": " + QString::fromStdString(show_value(p, set->second)).left(40);
        QAction* action = add(colourways, line, [this, at, title, name = each.name, on = set == each.set.end()] {
            session_.apply(set_by_colourway(session_.recipe(), name, at, on),
                           on ? tr("Let %1 set %2").arg(QString::fromStdString(name), title)
                              : tr("Take %2 out of %1").arg(QString::fromStdString(name), title));
        });
        action->setCheckable(true);
        action->setChecked(set != each.set.end());
    }
}

}  // namespace loom
