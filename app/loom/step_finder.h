// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Finds a step by typing: a search line over the steps that fit, chosen with arrow keys and Enter.
#pragma once

#include <QFrame>

#include "core/catalogue/description.h"

class QLineEdit;
class QListWidget;

namespace loom {

class StepFinder : public QFrame {
    Q_OBJECT
public:
    /// `makes_first`: steps that make something are listed first, as the beginning of a chain wants them.
    explicit StepFinder(bool makes_first, QWidget* parent = nullptr);
    /// Shows it at a global place, moved so that it stays within `within` (global).
    void open_at(const QPoint& place, const QRect& within);
    QLineEdit* search() const { return search_; }
    QListWidget* list() const { return list_; }

signals:
    void chosen(const QString& kind);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void filter(const QString& words);
    void take();
    QLineEdit* search_;
    QListWidget* list_;
};

}  // namespace loom
