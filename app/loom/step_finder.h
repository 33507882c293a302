// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Finds a step by typing and by looking: every step as a live picture at sensible defaults, those that work on a picture
// already applied to the strand; chosen with arrow keys and Enter, or a click.
#pragma once

#include <QFrame>
#include <QImage>
#include <memory>

#include "app/document/try_service.h"
#include "core/catalogue/description.h"
#include "core/recipe/edits.h"

class QLabel;
class QLineEdit;
class QListWidget;

namespace loom {

class StepFinder : public QFrame {
    Q_OBJECT
public:
    /// For a new step at `slot` of `recipe`. Steps that make something come first where a chain begins, else last.
    StepFinder(const Recipe& recipe, const Slot& slot, QWidget* parent = nullptr);
    /// Shows it at a global place, moved so that it stays within `within` (global).
    void open_at(const QPoint& place, const QRect& within);
    QLineEdit* search() const { return search_; }
    QListWidget* list() const { return list_; }
    /// Whether every picture has come.
    bool complete() const { return missing_ == 0; }

signals:
    void chosen(const QString& kind);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void filter(const QString& words);
    void take();
    void move_by(int way);
    int columns() const;
    void show_summary();

    TryService service_{512};
    int missing_ = 0;
    QLineEdit* search_;
    QListWidget* list_;
    QLabel* summary_;
};

/// The recipe with a new step of this kind at its defaults; `id` receives the step's id.
Recipe with_new_step(const Recipe& recipe, const Slot& slot, const StepDescription& description, std::string& id);

}  // namespace loom
