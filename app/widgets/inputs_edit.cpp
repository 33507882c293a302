// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/inputs_edit.h"

#include <QDialog>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/number_edit.h"

namespace loom {

namespace {

bool same_rows(const Inputs& a, const Inputs& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Input& x, const Input& y) {
        return x.name == y.name && x.min == y.min && x.max == y.max && x.note == y.note;
    });
}

}  // namespace

InputsEdit::InputsEdit(bool fixed, QWidget* parent) : QWidget(parent), fixed_(fixed) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    rebuild();
}

void InputsEdit::set_inputs(const Inputs& inputs) {
    const bool same = same_rows(inputs, inputs_);
    inputs_ = inputs;
    if (!same) rebuild();
    for (std::size_t k = 0; k < inputs_.size(); ++k) sliders_[k]->set_value(inputs_[k].value);
}

void InputsEdit::rebuild() {
    sliders_.clear();
    if (rows_) {
        layout()->removeWidget(rows_);
        rows_->hide();
        rows_->deleteLater();
    }
    rows_ = new QWidget(this);
    auto* grid = new QGridLayout(rows_);
    grid->setContentsMargins(0, 0, 0, 0);
    // As the rows of the desk round it: name, slider and number, and a mark behind.
    grid->setVerticalSpacing(4);
    grid->setHorizontalSpacing(8);
    grid->setColumnMinimumWidth(0, 104);
    grid->setColumnStretch(1, 1);
    // An empty column has no space before it.
    grid->setColumnMinimumWidth(2, fixed_ ? 28 : 20);
    for (int k = 0; k < static_cast<int>(inputs_.size()); ++k) {
        const Input& input = inputs_[static_cast<std::size_t>(k)];
        const QString name = QString::fromStdString(input.name);
        Parameter p;
        p.min = p.slider_min = input.min, p.max = p.slider_max = input.max;
        auto* edit = new NumberEdit(p, name, rows_);
        auto* label = new QLabel(name, rows_);
        label->setBuddy(edit);
        for (QWidget* widget : std::initializer_list<QWidget*>{edit, label})
            widget->setToolTip(QString::fromStdString(input.note));
        grid->addWidget(label, k, 0, Qt::AlignVCenter);
        grid->addWidget(edit, k, 1);
        if (!fixed_) {
            auto* more = new QToolButton(rows_);
            more->setText(QString::fromUtf8("…"));
            more->setFixedSize(20, 20);
            more->setStyleSheet("QToolButton { padding: 0; }");
            more->setToolTip(tr("Range and note of %1").arg(name));
            more->setAccessibleName(more->toolTip());
            more->setFocusPolicy(Qt::StrongFocus);
            grid->addWidget(more, k, 2);
            connect(more, &QToolButton::clicked, this, [this, k] { this->edit(k); });
        }
        connect(edit, &NumberEdit::changed, this, [this, k](double value, const QString& gesture) {
            Inputs next = inputs_;
            next[static_cast<std::size_t>(k)].value = value;
            emit changed(next, gesture);
        });
        sliders_.push_back(edit);
    }
    layout()->addWidget(rows_);
    updateGeometry();
}

void InputsEdit::edit(int index) {
    const Input& input = inputs_[static_cast<std::size_t>(index)];
    auto* dialog = new QDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Input %1").arg(QString::fromStdString(input.name)));
    auto number = [&](double value) {
        auto* field = new QDoubleSpinBox(dialog);
        field->setButtonSymbols(QAbstractSpinBox::NoButtons);
        field->setRange(-1e6, 1e6);
        field->setDecimals(4);
        field->setValue(value);
        return field;
    };
    auto* least = number(input.min);
    auto* most = number(input.max);
    auto* note = new QLineEdit(QString::fromStdString(input.note), dialog);
    note->setMaxLength(120);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, dialog);
    auto* form = new QFormLayout(dialog);
    form->addRow(tr("From"), least);
    form->addRow(tr("To"), most);
    form->addRow(tr("Note"), note);
    form->addRow(buttons);
    auto check = [=] { buttons->button(QDialogButtonBox::Ok)->setEnabled(least->value() < most->value()); };
    connect(least, &QDoubleSpinBox::valueChanged, dialog, check);
    connect(most, &QDoubleSpinBox::valueChanged, dialog, check);
    connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, dialog, [=, this] {
        Inputs next = inputs_;
        if (index < static_cast<int>(next.size())) {
            Input& changed_input = next[static_cast<std::size_t>(index)];
            changed_input.min = least->value(), changed_input.max = most->value();
            changed_input.value = std::clamp(changed_input.value, changed_input.min, changed_input.max);
            changed_input.note = note->text().toStdString();
            emit changed(next, {});
        }
        dialog->accept();
    });
    dialog->open();
}

}  // namespace loom
