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
#include "app/document/recipe_files.h"
#include "app/document/sample_book.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/strands_view.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "core/recipe/edits.h"

namespace loom {

void MainWindow::refresh_recent() {
    // Some may lie on a disk that takes its time to answer.
    files_->look_for(RecentFiles().paths(), [this](const std::vector<RecentFile>& files) {
        recent_menu_->clear();
        for (const RecentFile& file : files)
            connect(recent_menu_->addAction(QIcon(QPixmap::fromImage(file.picture)), QFileInfo(file.path).completeBaseName()),
                    &QAction::triggered, this, [this, path = file.path] { open(path); });
        recent_menu_->setEnabled(!files.empty());
        samples_->set_recent(files);
    });
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

void MainWindow::load(const QString& path, bool as_sample, const QString& colourway) {
    const Recipe before = session_->recipe();
    files_->open(path, [this, path, as_sample, colourway, before, document = session_->document()](LoomFile& file) {
        if (!colourway.isEmpty()) file.recipe = with_colourway(std::move(file.recipe), colourway.toStdString());
        auto take = [this, path, as_sample, content = std::move(file)]() mutable {
            show_opened(std::move(content), path, as_sample);
        };
        // What was changed while the file was being read is not lost either.
        if (session_->document() == document && session_->recipe() == before) return take();
        after_unsaved(tr("opening %1").arg(QFileInfo(path).completeBaseName()), std::move(take));
    });
}

void MainWindow::show_opened(LoomFile content, const QString& path, bool as_sample) {
    statusBar()->hide();
    QStringList warnings;
    for (const Finding& finding : content.findings) warnings << path + ": " + QString::fromStdString(finding.text());
    if (!warnings.isEmpty()) show_warnings(warnings);
    if (as_sample) {
        session_->start_new(std::move(content.recipe));
    } else {
        session_->start_opened(std::move(content), path);
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

void MainWindow::open_sample(const QString& path, const QString& colourway) {
    after_unsaved(tr("opening %1").arg(book_->name_of(path)), [this, path, colourway] { load(path, true, colourway); });
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

void MainWindow::save_to(const QString& path, std::function<void()> then) {
    files_->save(path, loom_->cloth()->canvas()->image(), [this, path, then = std::move(then)] {
        statusBar()->hide();
        if (open_file_) open_file_->know(path);
        RecentFiles().add(path);
        refresh_recent();
        if (then) then();
    });
}

}  // namespace loom
