// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the strands that a formula reads are made of, among its words, each with a live picture.
#pragma once

#include <QObject>
#include <string>
#include <vector>

#include "app/document/try_service.h"

namespace loom {

class FormulaEdit;

class FormulaParts : public QObject {
    Q_OBJECT
public:
    /// Belongs to `edit`.
    explicit FormulaParts(FormulaEdit* edit);
    /// `step` is a formula of the recipe.
    void show_for(const Recipe& recipe, const Step& step);
    bool complete() const { return missing_ == 0; }

private:
    /// Pictures are those of the moment, so they are made whenever the list is looked at.
    void look();

    struct Part {
        std::string strand, word;
    };
    FormulaEdit& edit_;
    Recipe recipe_;
    std::vector<Part> parts_;
    TryService service_;
    std::uint64_t ticket_ = 0;
    int missing_ = 0;
};

}  // namespace loom
