// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QString>
#include <functional>

class QWidget;

namespace loom {

/// Asks for a name beside the window; `work` gets what was typed, without blanks at its ends, if it is taken. It is not called
/// once `owner` is gone.
void ask_name(QWidget* owner, const QString& title, const QString& label, const QString& present,
              std::function<void(const QString&)> work);

}  // namespace loom
