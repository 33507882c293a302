// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QWidget>

#include "core/recipe/export_preset.h"

class QComboBox;
class QLineEdit;
class QToolButton;

namespace loom {

/// A picture whose channels are chosen one by one.
class PackRow : public QWidget {
    Q_OBJECT
public:
    explicit PackRow(QWidget* parent);
    void set_picture(const ExportPicture& picture);
    ExportPicture picture() const;
    QLineEdit* name_field() const { return name_; }
    QComboBox* channel(int index) const { return channels_[index]; }

signals:
    void changed();
    void removed();

private:
    QLineEdit* name_;
    QComboBox* channels_[4];
    QComboBox* format_;
};

}  // namespace loom
