// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Nothing is lost: changes that a crash left behind, files that two windows have open, files that somebody else has written.
#include <QDateTime>
#include <QFileInfo>
#include <QLocale>
#include <QMessageBox>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/document/journal.h"
#include "app/document/open_file.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/main_window.h"
#include "app/widgets/notice_bar.h"

namespace loom {

void MainWindow::keep_safe(const QString& folder) {
    journal_ = new Journal(
        *session_, folder + "/unsaved", [this] { return loom_->cloth()->canvas()->image(); }, this);
    open_file_ = new OpenFile(folder + "/open", this);
    connect(journal_, &Journal::failed, this, &MainWindow::show_message);
    connect(journal_, &Journal::found, this, [this](const std::vector<LeftBehind>& left) {
        for (const LeftBehind& each : left) offer(each);
    });
    connect(open_file_, &OpenFile::others_changed, this, &MainWindow::tell_others);
    connect(open_file_, &OpenFile::changed_by_others, this, &MainWindow::tell_changed);
    connect(session_.get(), &Session::file_changed, this, [this] {
        // A new recipe has no file that others could have open.
        if (session_->path().isEmpty()) open_file_->know({});
    });
    journal_->look();
}

QList<NoticeBar*> MainWindow::notices() const {
    QList<NoticeBar*> shown;
    for (NoticeBar* bar : notices_->findChildren<NoticeBar*>())
        if (!bar->isHidden()) shown << bar;
    return shown;
}

void MainWindow::add_notice(NoticeBar* bar) {
    notices_->layout()->addWidget(bar);
    bar->show();
}

void MainWindow::offer(const LeftBehind& left) {
    QImage picture;
    picture.loadFromData(QByteArray::fromStdString(left.content.preview_png));
    const QString name = QString::fromStdString(left.content.recipe.name);
    const QString text = tr("'%1' was not saved when Keen Loom ended. Its last change was %2.")
                             .arg(name, age(left.when, QDateTime::currentDateTime()));
    add_notice(new NoticeBar(picture, text,
                             {{tr("Go on with it"),
                               [this, left] {
                                   after_unsaved(tr("going on with %1").arg(QString::fromStdString(left.content.recipe.name)),
                                                 [this, left] {
                                                     journal_->restore(left);
                                                     if (open_file_) open_file_->know(session_->path());
                                                     show_page(loom_);
                                                 });
                               }},
                              {tr("Delete it"), [left] { Journal::forget(left); }},
                              {tr("Later"), {}}},
                             notices_));
}

void MainWindow::tell_others(int others) {
    for (NoticeBar* bar : notices())
        if (bar->property("about") == "others") bar->deleteLater(), bar->hide();
    if (others == 0) return;
    auto* bar = new NoticeBar({},
                              tr("%1 is open in another window too. Whoever saves last replaces what the other saved.")
                                  .arg(QFileInfo(session_->path()).fileName()),
                              {{tr("Save as…"), [this] { ask_save_as(); }}, {tr("I know"), {}}}, notices_);
    bar->setProperty("about", "others");
    add_notice(bar);
}

void MainWindow::tell_changed() {
    for (NoticeBar* bar : notices())
        if (bar->property("about") == "changed") bar->deleteLater(), bar->hide();
    const QString path = session_->path();
    auto* bar = new NoticeBar({}, tr("%1 was written by someone else.").arg(QFileInfo(path).fileName()),
                              {{tr("Read it again"),
                                [this, path] {
                                    after_unsaved(tr("reading %1 again").arg(QFileInfo(path).fileName()),
                                                  [this, path] { load(path, false); });
                                }},
                               {tr("Keep what is here"), {}}},
                              notices_);
    bar->setProperty("about", "changed");
    add_notice(bar);
}

void MainWindow::save_over(const QString& path, std::function<void()> then) {
    const bool own = open_file_ && QFileInfo(path) == QFileInfo(open_file_->path());
    if (!own || !open_file_->changed()) {
        if (save_to(path) && then) then();
        return;
    }
    const QString when = QLocale().toString(QFileInfo(path).lastModified(), QLocale::ShortFormat);
    auto* box = new QMessageBox(QMessageBox::NoIcon, tr("The file has changed"),
                                tr("Someone else wrote %1 on %2, after it was opened here. Saving replaces what they wrote.")
                                    .arg(QFileInfo(path).fileName(), when),
                                QMessageBox::NoButton, this);
    box->setObjectName("changed");
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setTextFormat(Qt::PlainText);
    QPushButton* over = box->addButton(tr("&Replace theirs"), QMessageBox::DestructiveRole);
    QPushButton* aside = box->addButton(tr("Save &as another file…"), QMessageBox::AcceptRole);
    box->setEscapeButton(box->addButton(tr("S&tay here"), QMessageBox::RejectRole));
    box->setDefaultButton(aside);
    connect(over, &QPushButton::clicked, this, [this, path, then] {
        if (save_to(path) && then) then();
    });
    connect(aside, &QPushButton::clicked, this, [this, then] { ask_save_as(then); });
    box->open();
}

}  // namespace loom
