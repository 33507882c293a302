// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/picture_dialog.h"

#include <QCoreApplication>
#include <QFileDialog>

namespace loom {

QFileDialog* picture_dialog(QWidget* over, const QString& title) {
    auto* dialog = new QFileDialog(over, title);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    dialog->setNameFilter(QCoreApplication::translate("loom::PictureDialog",
                                                      "Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.exr *.webp);;All files (*)"));
    return dialog;
}

}  // namespace loom
