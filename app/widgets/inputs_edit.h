// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Named numbers, each a slider: the inputs of a formula, whose range and note can be changed, or the dials of a recipe
// within the recipe.
#pragma once

#include <QWidget>
#include <vector>

#include "core/catalogue/value.h"

class QGridLayout;

namespace loom {

class NumberEdit;

class InputsEdit : public QWidget {
    Q_OBJECT
public:
    /// `fixed`: ranges and notes are not the person's.
    explicit InputsEdit(bool fixed, QWidget* parent = nullptr);

    void set_inputs(const Inputs& inputs);
    const Inputs& inputs() const { return inputs_; }
    NumberEdit* slider(int index) const { return sliders_[static_cast<std::size_t>(index)]; }
    /// Opens the small window for an input's range and note.
    void edit(int index);

signals:
    void changed(const loom::Inputs& inputs, const QString& gesture);

private:
    void rebuild();
    bool fixed_;
    Inputs inputs_;
    std::vector<NumberEdit*> sliders_;
    QWidget* rows_ = nullptr;
};

}  // namespace loom
