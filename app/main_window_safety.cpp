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
#include "app/document/recipe_files.h"
#include "app/document/reference.h"
#include "app/export/export_view.h"
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

void MainWindow::drop_notices(const char* about) {
    for (NoticeBar* bar : notices())
        if (bar->property("about") == about) bar->deleteLater(), bar->hide();
}

void MainWindow::offer_picture(const QString& path) {
    drop_notices("picture");
    const QString name = QFileInfo(path).fileName();
    auto* bar = new NoticeBar({},
                              tr("%1 is a picture, not a recipe. It can be a strand of this recipe, or the reference that its "
                                 "cloth is held against.")
                                  .arg(name),
                              {{tr("Put it in a strand"),
                                [this, path] {
                                    show_page(loom_);
                                    loom_->add_picture(path);
                                }},
                               {tr("Use it as the reference"),
                                [this, path] {
                                    show_page(loom_);
                                    loom_->reference().load(path);
                                }},
                               {tr("Leave it"), {}}},
                              notices_);
    bar->setProperty("about", "picture");
    add_notice(bar);
}

void MainWindow::tell_missed(const QString& strand, const QStringList& readers) {
    drop_notices("missed");
    constexpr int most = 3;
    QString who = QStringList(readers.mid(0, most)).join(", ");
    if (readers.size() > most) who += tr(" and %1 more").arg(readers.size() - most);
    auto* bar = new NoticeBar({}, tr("%1 is gone. %2 read from it and go on without it.").arg(strand, who),
                              {{tr("Undo"),
                                [this, after = session_->undo_stack().index()] {
                                    // What was done since is undone too, as it was done to the recipe without the strand.
                                    session_->undo_stack().setIndex(std::min(session_->undo_stack().index(), after - 1));
                                }},
                               {tr("I know"), {}}},
                              notices_);
    bar->setProperty("about", "missed");
    // It speaks of what was just done.
    connect(session_.get(), &Session::file_changed, bar, [this, bar, document = session_->document()] {
        if (session_->document() != document) bar->hide(), bar->deleteLater();
    });
    add_notice(bar);
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
                              {tr("Delete it"), [this, left] { journal_->forget(left); }},
                              {tr("Later"), {}}},
                             notices_));
}

void MainWindow::tell_others(int others) {
    drop_notices("others");
    if (others == 0) return;
    auto* bar = new NoticeBar({},
                              tr("%1 is open in another window too. Whoever saves last replaces what the other saved.")
                                  .arg(QFileInfo(session_->path()).fileName()),
                              {{tr("Save as…"), [this] { ask_save_as(); }}, {tr("I know"), {}}}, notices_);
    bar->setProperty("about", "others");
    add_notice(bar);
}

void MainWindow::tell_changed() {
    drop_notices("changed");
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
    if (!own || !open_file_->changed()) return save_to(path, std::move(then));
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
    connect(over, &QPushButton::clicked, this, [this, path, then] { save_to(path, then); });
    connect(aside, &QPushButton::clicked, this, [this, then] { ask_save_as(then); });
    box->open();
}

void MainWindow::ask_about_export() {
    if (findChild<QMessageBox*>("exporting")) return;
    auto* box = new QMessageBox(
        QMessageBox::NoIcon, tr("An export is being written"),
        tr("An export is still being written. Leave when it is done, or stop it? What is stopped leaves no files."),
        QMessageBox::NoButton, this);
    box->setObjectName("exporting");
    box->setAttribute(Qt::WA_DeleteOnClose);
    QPushButton* finish = box->addButton(tr("&Finish it, then leave"), QMessageBox::AcceptRole);
    QPushButton* stop = box->addButton(tr("Sto&p it and leave"), QMessageBox::DestructiveRole);
    box->setEscapeButton(box->addButton(tr("S&tay here"), QMessageBox::RejectRole));
    box->setDefaultButton(finish);
    const auto leave = [this](bool stopping) {
        leaving_ = true;
        if (stopping) export_->stop();
        // It may have ended while the question stood there.
        if (!export_->writing()) close();
    };
    connect(finish, &QPushButton::clicked, this, [leave] { leave(false); });
    connect(stop, &QPushButton::clicked, this, [leave] { leave(true); });
    box->open();
}

bool MainWindow::ready_to_leave() {
    if (export_->writing()) {
        if (!leaving_) ask_about_export();
        return false;
    }
    // A file that is being written just now is not left half way.
    if (files_->saving()) {
        leaving_ = true;
        return false;
    }
    if (!lose_changes_ && session_->modified()) {
        after_unsaved(tr("leaving"), [this] {
            lose_changes_ = true;
            close();
            // If something else keeps it open, what is changed from now on is asked about again.
            lose_changes_ = false;
        });
        return false;
    }
    return true;
}

}  // namespace loom
