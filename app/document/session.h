// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The one document of the window: the present recipe, its undo stack, its file and what is selected.
// Widgets read from it and ask it for edits; it tells them what changed.
#pragma once

#include <QObject>
#include <QString>
#include <QUndoStack>
#include <set>

#include "app/document/edit_command.h"
#include "core/recipe/container.h"
#include "core/recipe/several.h"

namespace loom {

/// A strand, a step of it, or nothing (the cloth as a whole).
using Selection = StepPlace;

class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    const Recipe& recipe() const { return file_.recipe; }
    QUndoStack& undo_stack() { return undo_; }
    const Selection& selection() const { return selection_; }
    const Strand* selected_strand() const { return recipe().strand(selection_.strand); }
    const Step* selected_step() const;
    /// All steps that are selected together, in the recipe's order; selection() is one of them, on which the desk works.
    const StepPlaces& selected_steps() const { return several_; }
    /// Path of the file, or "" for one that was never saved.
    const QString& path() const { return path_; }
    /// Whether somebody gave the recipe its name; else its file's name, or the sample's that it was begun from, stands for one.
    bool named() const { return !not_given_.contains(recipe().name); }
    bool modified() const { return !undo_.isClean(); }
    /// Another number for every document that was opened or begun: what was asked for one of them is not for the next.
    std::uint64_t document() const { return document_; }
    /// What was done, in order, and the recipe after it; the first is how it was begun or opened.
    std::vector<std::pair<QString, Recipe>> states() const;
    /// What reading the file passed over, one sentence each.
    const std::vector<Finding>& findings() const { return file_.findings; }

    /// Makes `next` the recipe, as one undoable step named `text`, or as more of the step before where it is the same gesture.
    /// Recipes whose strands go round in a circle are refused with a message.
    bool apply(Recipe next, const QString& text, const Gesture& gesture = {});
    /// Checks the value against the description, then applies it. `gesture`: the name of one at this place.
    bool set_value(const Address& at, const Value& value, const QString& gesture = {});
    /// Several that change together; the first names the step.
    bool set_values(const std::vector<std::pair<Address, Value>>& values, const QString& gesture = {});

    void select(const Selection& selection);
    /// Nothing happens if none of the steps is there.
    void select_several(const StepPlaces& steps, const Selection& lead);

    void start_new(Recipe recipe, const QString& path = {});
    /// A recipe with changes that were not saved, of the file at `path` or of none.
    void start_unsaved(LoomFile content, const QString& path);
    /// What was read from the file at `path`.
    void start_opened(LoomFile content, const QString& path);
    /// What goes into the file at `path`, after which it is named unless somebody gave it a name.
    LoomFile content_for(const QString& path) const;
    /// As it is.
    const LoomFile& content() const { return file_; }
    /// The file at `path` holds `content`, which was the recipe's when it began to be written.
    void saved(const QString& path, const LoomFile& content);

signals:
    void recipe_changed();
    void selection_changed();
    void file_changed();
    void refused(const QString& message);

private:
    friend class EditCommand;
    void set_recipe(const Recipe& recipe);
    void set_selection(const Selection& selection, const StepPlaces& several);
    void keep_selection_valid();

    LoomFile file_;
    QUndoStack undo_;
    Selection selection_;
    StepPlaces several_;
    QString path_;
    std::set<std::string> not_given_;  ///< names that stood for one
    std::uint64_t document_ = 0;
};

/// A recipe with one strand that makes something, to start from.
Recipe fresh_recipe();

}  // namespace loom
