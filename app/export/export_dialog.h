// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Writes the cloth as a picture file: size and format before, progress and cancel during.
#pragma once

#include <QDialog>
#include <QStringList>

#include "core/base/result.h"
#include "core/recipe/recipe.h"
#include "core/render/scheduler.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QSpinBox;

namespace loom {

class ExportDialog : public QDialog {
    Q_OBJECT
public:
    ExportDialog(Recipe recipe, const QString& folder, QWidget* parent = nullptr);

    QLineEdit* path_field() const { return path_; }
    QSpinBox* size_field() const { return size_; }
    QComboBox* format_field() const { return format_; }
    QPushButton* export_button() const { return export_; }
    QLabel* message() const { return message_; }

signals:
    void written(const QString& path);

protected:
    void reject() override;

private:
    void begin();
    void finish(const QString& path, const Result<Done>& result, const QStringList& warnings);
    void browse();
    void follow_format();
    void estimate();
    void set_running(bool running);

    Recipe recipe_;
    QLineEdit* path_;
    QSpinBox* size_;
    QComboBox* format_;
    QLabel *estimate_, *message_;
    QProgressBar* progress_;
    QPushButton *export_, *browse_, *close_;
    Client client_;
};

}  // namespace loom
