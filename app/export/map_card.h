// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QFrame>
#include <QImage>

#include "core/recipe/export_preset.h"

class QCheckBox;
class QComboBox;
class QLabel;

namespace loom {

/// A format chooser with every kind of picture file.
QComboBox* format_box(const QString& name, QWidget* parent);
PictureFormat format_in(const QComboBox* box);
void set_format(QComboBox* box, PictureFormat format);

/// One map: its picture, whether it is written, as what, and under which name.
class MapCard : public QFrame {
    Q_OBJECT
public:
    MapCard(Map map, QWidget* parent);
    Map map() const { return map_; }
    void show_picture(const QImage& picture);
    /// How it is marked, how deep it is, or in what it is packed.
    void show_note(const QString& note);
    /// "carriage-oak-colour.png", and about how large it will be; empty while it is not written.
    void show_file(const QString& name, const QString& size);
    void set_picture(const std::optional<ExportPicture>& picture);
    /// Nothing if it is not written.
    std::optional<ExportPicture> picture() const;
    QCheckBox* box() const { return on_; }
    QComboBox* format_field() const { return format_; }

signals:
    void changed();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Map map_;
    QImage picture_;
    QCheckBox* on_;
    QLabel *note_, *file_, *size_;
    QComboBox* format_;
};

}  // namespace loom
