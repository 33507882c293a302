// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/apart_window.h"

#include <QCloseEvent>
#include <QVBoxLayout>

namespace loom {

ApartWindow::ApartWindow(QWidget* part, const QString& title, const QList<QAction*>& actions, QWidget* parent)
    : QWidget(parent, Qt::Window) {
    setWindowTitle(title);
    addActions(actions);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(part);
    resize(part->size().expandedTo(QSize(480, 480)));
}

void ApartWindow::closeEvent(QCloseEvent* event) {
    event->accept();
    emit closed();
}

}  // namespace loom
