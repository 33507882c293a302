// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Opening and saving, and the question about unsaved changes.
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QMenu>
#include <QMessageBox>
#include <QStatusBar>

#include "app/document/open_file.h"
#include "app/document/recent_files.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/strands_view.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "core/files/picture.h"

namespace loom {

void MainWindow::refresh_recent() {
    const QStringList paths = RecentFiles().paths();
    recent_menu_->clear();
    for (const QString& path : paths)
        connect(recent_menu_->addAction(QFileInfo(path).fileName()), &QAction::triggered, this, [this, path] { open(path); });
    recent_menu_->setEnabled(!paths.isEmpty());
    samples_->set_recent(paths);
}

void MainWindow::after_unsaved(const QString& purpose, std::function<void()> work) {
    if (!session_->modified()) return work();
    auto* box =
        new QMessageBox(QMessageBox::NoIcon, tr("Unsaved changes"),
                        tr("Save the changes to '%1' before %2?").arg(QString::fromStdString(session_->recipe().name), purpose),
                        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    box->setObjectName("unsaved");
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setTextFormat(Qt::PlainText);  // names may look like markup
    box->setDefaultButton(QMessageBox::Save);
    box->button(QMessageBox::Save)->setText(tr("&Save"));
    box->button(QMessageBox::Discard)->setText(tr("&Lose the changes"));
    box->button(QMessageBox::Cancel)->setText(tr("S&tay here"));
    connect(box, &QMessageBox::buttonClicked, this, [this, box, work](QAbstractButton* clicked) {
        const auto answer = box->standardButton(clicked);
        if (answer == QMessageBox::Discard)
            work();
        else if (answer == QMessageBox::Save)
            save(work);
    });
    box->open();
}

void MainWindow::load(const QString& path, bool as_sample) {
    const auto done = session_->load(path);
    if (!done) {
        show_message(QString::fromStdString(done.error().message));
        return;
    }
    statusBar()->hide();
    QStringList warnings;
    for (const Finding& finding : session_->findings()) warnings << path + ": " + QString::fromStdString(finding.text());
    if (!warnings.isEmpty()) show_warnings(warnings);
    if (as_sample) {
        session_->start_new(Recipe(session_->recipe()));
    } else {
        RecentFiles().add(path);
        refresh_recent();
    }
    if (open_file_) open_file_->know(session_->path());
    show_page(loom_);
    loom_->strands()->focus_selected();
}

void MainWindow::open(const QString& path) {
    after_unsaved(tr("opening %1").arg(QFileInfo(path).completeBaseName()), [this, path] { load(path, false); });
}

void MainWindow::open_sample(const QString& path) {
    after_unsaved(tr("opening %1").arg(samples_->name_of(path)), [this, path] { load(path, true); });
}

void MainWindow::ask_open() {
    auto* dialog = new QFileDialog(this, tr("Open recipe"), QFileInfo(session_->path()).absolutePath(),
                                   tr("Recipes (*.loom);;All files (*)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& path) { load(path, false); });
    dialog->open();
}

void MainWindow::ask_save_as(std::function<void()> then) {
    const QString folder = session_->path().isEmpty() ? QDir::homePath() : QFileInfo(session_->path()).absolutePath();
    auto* dialog = new QFileDialog(this, tr("Save recipe"), folder, tr("Recipes (*.loom)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix("loom");
    dialog->selectFile(QString::fromStdString(session_->recipe().name) + ".loom");
    connect(dialog, &QFileDialog::fileSelected, this,
            [this, then = std::move(then)](const QString& path) { save_over(path, then); });
    dialog->open();
}

void MainWindow::save(std::function<void()> then) {
    if (session_->path().isEmpty()) return ask_save_as(std::move(then));
    save_over(session_->path(), std::move(then));
}

bool MainWindow::save_to(const QString& path) {
    // The picture on show is the preview; a recipe is saved even when there is none.
    std::string preview;
    if (const QImage image = loom_->cloth()->canvas()->image(); !image.isNull())
        if (auto encoded = encode_preview(from_image(image), 256)) preview = std::move(*encoded);
    const auto done = session_->save(path, std::move(preview));
    if (!done) {
        show_message(QString::fromStdString(done.error().message));
        return false;
    }
    statusBar()->hide();
    if (open_file_) open_file_->know(path);
    RecentFiles().add(path);
    refresh_recent();
    return true;
}

}  // namespace loom
