// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Holds part of the main window on a screen of its own. Closing it gives the part back.
#pragma once

#include <QWidget>

namespace loom {

class ApartWindow : public QWidget {
    Q_OBJECT
public:
    /// Takes `part` in; shortcuts of `actions` work here too.
    ApartWindow(QWidget* part, const QString& title, const QList<QAction*>& actions, QWidget* parent);

signals:
    void closed();

protected:
    void closeEvent(QCloseEvent* event) override;
};

}  // namespace loom
