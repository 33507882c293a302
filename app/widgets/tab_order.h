// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QAbstractButton>
#include <QButtonGroup>
#include <QWidget>

namespace loom {

/// Lets Tab go on from `before` through everything within `widget` (and itself) that takes the focus, in the order in which it
/// was made. Returns the last of it. What is built late stands at the end of the whole window's order otherwise.
inline QWidget* tab_through(QWidget* before, QWidget* widget) {
    QList<QWidget*> all = widget->findChildren<QWidget*>();
    all.prepend(widget);
    for (QWidget* each : all) {
        // What lies within a number field, and what hands the focus on, comes along by itself.
        // Lists that open are windows of their own.
        if (each->window() != widget->window()) continue;
        const QWidget* parent = each->parentWidget();
        if (!(each->focusPolicy() & Qt::TabFocus) || each->focusProxy() || (parent && parent->inherits("QAbstractSpinBox")))
            continue;
        QWidget::setTabOrder(before, each);
        before = each;
    }
    return before;
}

/// Of buttons that exclude each other the keyboard comes to the one that is on, also when their page is shown.
inline void stop_at_checked(QButtonGroup& group) {
    const auto renew = [&group] {
        for (QAbstractButton* each : group.buttons()) each->setFocusPolicy(each->isChecked() ? Qt::StrongFocus : Qt::ClickFocus);
    };
    QObject::connect(&group, &QButtonGroup::idToggled, &group, renew);
    renew();
}

}  // namespace loom
