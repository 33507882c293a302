// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QString>

class QFileDialog;
class QWidget;

namespace loom {

/// Asks for a picture file over `over`; it goes away by itself. Connect to its fileSelected(), then open() it.
QFileDialog* picture_dialog(QWidget* over, const QString& title);

}  // namespace loom
