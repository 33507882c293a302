// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QComboBox>
#include <QStyleOptionComboBox>
#include <QStylePainter>

namespace loom {

/// A box of choices that says what it is about before the one that is chosen; the choices themselves do not repeat it.
class TitledBox : public QComboBox {
public:
    TitledBox(const QString& title, QWidget* parent) : QComboBox(parent), title_(title) { setAccessibleName(title); }

protected:
    void paintEvent(QPaintEvent*) override {
        QStylePainter painter(this);
        QStyleOptionComboBox option;
        initStyleOption(&option);
        painter.drawComplexControl(QStyle::CC_ComboBox, option);
        const QString all = QString("%1: %2").arg(title_, currentText());
        const int room = style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this).width() - 4;
        // Where there is no room for both, what is chosen comes first.
        option.currentText =
            fontMetrics().horizontalAdvance(all) <= room ? all : fontMetrics().elidedText(currentText(), Qt::ElideRight, room);
        painter.drawControl(QStyle::CE_ComboBoxLabel, option);
    }

private:
    QString title_;
};

}  // namespace loom
