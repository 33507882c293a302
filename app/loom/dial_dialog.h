// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a dial drives, and how far: every value with where it stands at either end.
#pragma once

#include <QDialog>

#include "app/document/session.h"

class QDoubleSpinBox;
class QGridLayout;

namespace loom {

class DialDialog : public QDialog {
    Q_OBJECT
public:
    DialDialog(Session& session, std::string dial, QWidget* parent);

    /// Of the drive at this place in the list, for tests.
    QDoubleSpinBox* end(int drive, bool to) const;

private:
    void rebuild();

    Session& session_;
    std::string dial_;
    QGridLayout* rows_;
    std::vector<std::pair<QDoubleSpinBox*, QDoubleSpinBox*>> ends_;
};

}  // namespace loom
