// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QUndoCommand>

#include "core/recipe/recipe.h"

namespace loom {

class Session;

/// Edits that follow each other and have the same name and are about the same places become one step of the undo stack: a drag.
struct Gesture {
    QString name;   ///< "" stands alone
    QString about;  ///< an address, or whatever tells one place from another

    bool joins(const Gesture& next) const { return !name.isEmpty() && name == next.name && about == next.about; }
};

/// Holds the recipe before and after an edit, and nothing that points at a widget.
class EditCommand : public QUndoCommand {
public:
    EditCommand(Session& session, Recipe after, const QString& text, Gesture gesture);
    void undo() override;
    void redo() override;
    const Recipe& before() const { return before_; }
    const Recipe& after() const { return after_; }
    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* other) override;

private:
    Session& session_;
    Recipe before_, after_;
    Gesture gesture_;
};

}  // namespace loom
