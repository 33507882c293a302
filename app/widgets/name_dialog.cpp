// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/widgets/name_dialog.h"

#include <QInputDialog>

namespace loom {

void ask_name(QWidget* owner, const QString& title, const QString& label, const QString& present,
              std::function<void(const QString&)> work) {
    auto* dialog = new QInputDialog(owner);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(title);
    dialog->setLabelText(label);
    dialog->setTextValue(present);
    // Wide enough for its title.
    dialog->resize(360, dialog->sizeHint().height());
    QObject::connect(dialog, &QInputDialog::textValueSelected, owner,
                     [work = std::move(work)](const QString& name) { work(name.trimmed()); });
    dialog->open();
}

}  // namespace loom
