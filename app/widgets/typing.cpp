// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/typing.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>
#include <QTextEdit>

namespace loom {

namespace {

/// The line that is typed in, of fields that have one.
const QLineEdit* line_of(const QWidget* focus) {
    if (const auto* box = qobject_cast<const QComboBox*>(focus)) return box->lineEdit();
    return qobject_cast<const QLineEdit*>(focus);
}

}  // namespace

bool takes_letters(const QWidget* focus) {
    if (const auto* text = qobject_cast<const QTextEdit*>(focus)) return !text->isReadOnly();
    return line_of(focus) || qobject_cast<const QAbstractSpinBox*>(focus) || qobject_cast<const QPlainTextEdit*>(focus);
}

bool undoes_recipe(const QWidget* focus, const QKeyEvent& key) {
    if (!key.matches(QKeySequence::Undo) && !key.matches(QKeySequence::Redo)) return false;
    if (const auto* field = qobject_cast<const QDoubleSpinBox*>(focus))
        return field->text() == field->prefix() + field->textFromValue(field->value()) + field->suffix();
    if (const auto* field = qobject_cast<const QSpinBox*>(focus))
        return field->text() == field->prefix() + QString::number(field->value()) + field->suffix();
    const QLineEdit* line = line_of(focus);
    return line && !line->isModified();
}

}  // namespace loom
