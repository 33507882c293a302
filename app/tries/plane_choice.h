// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The list of what can be taken of a strand: only what it has, each with a live picture of it.
#pragma once

#include <QComboBox>

#include "app/document/try_service.h"
#include "core/catalogue/description.h"

namespace loom {

class PlaneChoice : public QComboBox {
    Q_OBJECT
public:
    /// `parameter` is a choice with planes_of.
    explicit PlaneChoice(const Parameter& parameter, QWidget* parent = nullptr);
    /// Offers what the strand has, and `value` in any case.
    void show_for(const Recipe& recipe, const std::string& strand, const std::string& value);
    /// Whether every picture that was asked for has come.
    bool complete() const { return missing_ == 0; }

    void showPopup() override;

private:
    /// Asks for pictures of these rows.
    void look_at(std::vector<int> rows);

    const Parameter& parameter_;
    Recipe recipe_;
    std::string strand_;
    std::vector<std::string> offered_;
    TryService service_;
    std::uint64_t ticket_ = 0;
    std::vector<int> rows_;  ///< of the pictures that were asked for last
    int missing_ = 0, pictured_ = -1;
};

}  // namespace loom
