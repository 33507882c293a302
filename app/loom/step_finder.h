// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Finds a step by typing and by looking: every step as a live picture at sensible defaults, those that work on a picture
// already applied to the strand; chosen with arrow keys and Enter, or a click.
#pragma once

#include <QFrame>
#include <QImage>
#include <functional>
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
    /// What each step is tried as.
    using Trial = std::function<TryOrder(const StepDescription&)>;
    /// Steps that make something come first where a chain begins, else last.
    StepFinder(const Trial& trial, bool begins, QWidget* parent = nullptr);
    /// For a new step at `slot` of `recipe`: the strand up to it.
    static StepFinder* for_new(const Recipe& recipe, const Slot& slot, QWidget* parent);
    /// For another kind in the place of a step: the whole cloth with each.
    static StepFinder* for_exchange(const Recipe& recipe, const Slot& slot, QWidget* parent);
    /// Marks a step.
    void mark(const QString& kind);
    /// Shows it beside what it works on, right or left of it, so that it stays within `within` (global places).
    void open_beside(const QRect& work, const QRect& within);
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
    void fit();
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
