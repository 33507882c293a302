// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lines of the desk for what is drawn, dragged and written on the cloth.
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

#include "app/hand/strokes_edit.h"
#include "app/loom/tuning_desk.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/files/kept_picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

/// Words beside buttons, as one editor.
QWidget* in_line(const QList<QWidget*>& parts) {
    auto* whole = new QWidget;
    auto* line = new QHBoxLayout(whole);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(6);
    for (QWidget* part : parts) line->addWidget(part);
    line->addStretch(1);
    return whole;
}

/// Follows what is typed as a text is typed, and the recipe where nobody types.
class LinesEdit : public QPlainTextEdit {
public:
    QSize sizeHint() const override { return {200, 3 * fontMetrics().lineSpacing() + 14}; }
    QSize minimumSizeHint() const override { return sizeHint(); }
};

}  // namespace

void TuningDesk::add_strokes(const Address& at, const Parameter& p) {
    auto* edit = new StrokesEdit(session_, brush_, p);
    add_wide_row(at.parameter, qt(p.help), edit).refresh = [edit] { edit->refresh(); };
}

void TuningDesk::add_moves(const Address& at, const Parameter& p) {
    auto* count = new QLabel;
    auto* clear = new QPushButton(tr("Clear"));
    clear->setAccessibleName(tr("Take all points away"));
    connect(clear, &QPushButton::clicked, this, [this, at] { session_.set_value(at, Value(Moves())); });
    add_row(at.parameter, qt(p.title), qt(p.help), in_line({count, clear})).refresh = [this, at, count, clear] {
        const auto value = value_at(session_.recipe(), at);
        const std::size_t points = value ? as<Moves>(*value).size() : 0;
        count->setText(points == 0 ? tr("click on the cloth") : points == 1 ? tr("1 point") : tr("%1 points").arg(points));
        clear->setEnabled(points > 0);
    };
}

void TuningDesk::add_outline(const Address& at, const Parameter& p) {
    auto* count = new QLabel;
    auto* closed = new QCheckBox(tr("Closed"));
    auto* anew = new QPushButton(tr("Draw anew"));
    anew->setToolTip(tr("Begins with nothing: click on the cloth point by point, and on the first again to close"));
    const auto outline = [this, at] {
        const auto value = value_at(session_.recipe(), at);
        return value ? as<Outline>(*value) : Outline();
    };
    connect(anew, &QPushButton::clicked, this, [this, at] { session_.set_value(at, Value(SharedValue<Outline>(Outline()))); });
    connect(closed, &QCheckBox::clicked, this, [this, at, outline](bool on) {
        Outline changed = outline();
        for (Contour& contour : changed) contour.closed = on;
        session_.set_value(at, Value(SharedValue<Outline>(std::move(changed))));
    });
    add_row(at.parameter, qt(p.title), qt(p.help), in_line({count, closed, anew})).refresh = [outline, count, closed] {
        const Outline now = outline();
        count->setText(now.empty() ? tr("click on the cloth") : tr("%1 points").arg(node_count(now)));
        closed->setChecked(!now.empty() && now.front().closed);
        closed->setEnabled(!now.empty());
    };
}

void TuningDesk::add_lines(const Address& at, const Parameter& p) {
    auto* edit = new LinesEdit;
    edit->setAccessibleName(qt(p.title));
    edit->setTabChangesFocus(true);
    connect(edit, &QPlainTextEdit::textChanged, this, [this, at, edit] {
        if (edit->hasFocus()) session_.set_value(at, Value(edit->toPlainText().toStdString()), "typed at the desk");
    });
    add_wide_row(at.parameter, qt(p.help), edit).refresh = [this, at, edit] {
        const auto value = value_at(session_.recipe(), at);
        if (!value) return;
        const QString text = QString::fromStdString(as<std::string>(*value));
        if (text != edit->toPlainText()) edit->setPlainText(text);
    };
}

void TuningDesk::add_offers(const Address& at, const Parameter& p) {
    auto* box = new QComboBox;
    box->setEditable(true);
    box->setAccessibleName(qt(p.title));
    box->setInsertPolicy(QComboBox::NoInsert);
    box->lineEdit()->setAccessibleName(qt(p.title));
    for (const std::string& offer : p.offers()) box->addItem(QString::fromStdString(offer));
    const auto take = [this, at, box] {
        box->lineEdit()->setModified(false);
        session_.set_value(at, Value(box->currentText().toStdString()));
    };
    connect(box, &QComboBox::activated, this, take);
    connect(box->lineEdit(), &QLineEdit::editingFinished, this, take);
    add_row(at.parameter, qt(p.title), qt(p.help), box).refresh = [this, at, box] {
        if (const auto value = value_at(session_.recipe(), at); value && !box->lineEdit()->isModified())
            box->setEditText(QString::fromStdString(as<std::string>(*value)));
    };
}

void TuningDesk::add_drawing(const Address& at, const Parameter& p) {
    auto* button = new QPushButton;
    button->setAccessibleName(qt(p.title));
    connect(button, &QPushButton::clicked, this, [this, at] {
        auto* dialog = new QFileDialog(this, tr("Choose an SVG file"), {}, tr("SVG files (*.svg)"));
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setFileMode(QFileDialog::ExistingFile);
        connect(dialog, &QFileDialog::fileSelected, this, [this, at](const QString& path) { keep_drawing(at, path); });
        dialog->open();
    });
    add_row(at.parameter, qt(p.title), qt(p.help), button).refresh = [this, at, button] {
        const auto value = value_at(session_.recipe(), at);
        const bool kept = value && session_.recipe().assets.contains(as<std::string>(*value));
        button->setText(kept ? tr("Kept inside. Choose another ...") : tr("Choose an SVG file ..."));
    };
}

void TuningDesk::keep_drawing(const Address& at, const QString& path) {
    keep_file(at, path, [path]() -> Result<KeptFile> {
        auto bytes = read_kept_drawing(path.toStdString());
        if (!bytes) return bytes.error();
        const std::string name = asset_name(*bytes, "svg");
        return KeptFile{name, make_asset(name, std::move(*bytes)), tr("Drawing %1").arg(QFileInfo(path).fileName())};
    });
}

}  // namespace loom
