// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The commands that belong to no page.
#include <QApplication>
#include <QDir>
#include <QFileInfo>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QToolButton>

#include "app/document/preferences.h"
#include "app/export/export_view.h"
#include "app/help/preferences_dialog.h"
#include "app/loom/loom_view.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "app/theme/theme.h"

namespace loom {

void MainWindow::build_menus() {
    using Menu = Commands::Menu;
    auto add = [this](Menu menu, const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> work,
                      std::function<bool()> enabled = {}) {
        return commands_->add(menu, id, text, keys, std::move(work), std::move(enabled));
    };
    add(Menu::file, "new", tr("&New"), QKeySequence::New, [this] {
        after_unsaved(tr("beginning a new one"), [this] {
            session_->start_new(fresh_recipe());
            show_page(loom_);
        });
    });
    add(Menu::file, "open", tr("&Open…"), QKeySequence::Open,
        [this] { after_unsaved(tr("opening another"), [this] { ask_open(); }); });
    recent_menu_ = commands_->menu(Menu::file)->addMenu(tr("Open &recent"));
    commands_->add_separator(Menu::file);
    add(Menu::file, "save", tr("&Save"), QKeySequence::Save, [this] { save(); });
    add(Menu::file, "save-as", tr("Save &as…"), QKeySequence("Ctrl+Shift+S"), [this] { ask_save_as(); });
    commands_->add_separator(Menu::file);
    add(Menu::file, "export", tr("&Export…"), QKeySequence("Ctrl+E"), [this] { show_page(export_); });

    QAction* undo = add(
        Menu::edit, "undo", tr("Undo"), QKeySequence::Undo, [this] { session_->undo_stack().undo(); },
        [this] { return session_->undo_stack().canUndo(); });
    QAction* redo = add(
        Menu::edit, "redo", tr("Redo"), QKeySequence::Redo, [this] { session_->undo_stack().redo(); },
        [this] { return session_->undo_stack().canRedo(); });
    connect(undo_, &QToolButton::clicked, undo, &QAction::trigger);
    connect(redo_, &QToolButton::clicked, redo, &QAction::trigger);
    commands_->add_separator(Menu::edit);
    add(Menu::edit, "preferences", tr("Pre&ferences…"), QKeySequence("Ctrl+,"), [this] {
        auto* dialog = new PreferencesDialog(this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    });
    commands_->add_separator(Menu::edit);
    for (std::size_t k = 0; k < pages_.size(); ++k) {
        Page* page = pages_[k];
        add(Menu::view, "view-" + page->id(), page->title(), QKeySequence(QString("Ctrl+%1").arg(k + 1)),
            [this, page] { show_page(page); });
    }
    commands_->add_separator(Menu::view);
    for (Page* each : pages_) each->add_commands(*commands_, [this, each] { return page() == each; });
    commands_->add_separator(Menu::file);
    add(Menu::file, "quit", tr("&Quit"), QKeySequence::Quit, [this] { close(); });

    add(Menu::view, "full-screen", tr("F&ull screen"), QKeySequence(Qt::Key_F11),
        [this] { setWindowState(windowState() ^ Qt::WindowFullScreen); });
    QAction* dark = add(Menu::view, "dark", tr("&Dark window"), {}, [this] {
        Preferences next = preferences();
        next.theme = theme::scheme() == theme::Scheme::light ? Preferences::Theme::dark : Preferences::Theme::light;
        PresentPreferences::instance().set(next);
    });
    dark->setCheckable(true);
    dark->setChecked(theme::scheme() == theme::Scheme::dark);
    connect(&PresentPreferences::instance(), &PresentPreferences::changed, this, [this, dark, shown = theme::scheme()]() mutable {
        dark->setChecked(theme::scheme() == theme::Scheme::dark);
        refresh_recent();
        if (shown == theme::scheme()) return;
        shown = theme::scheme();
        // Everything painted by hand follows on the next paint; forms and columns are built anew.
        emit session_->recipe_changed();
        emit session_->selection_changed();
        update();
    });

    add(Menu::help, "keys", tr("All &keys"), QKeySequence("Shift+F1"), [this] {
        show_page(loom_);
        loom_->show_keys();
    });
    add(Menu::help, "first-cloth", tr("&First cloth"), {}, [this] {
        show_page(samples_);
        show_first_cloth();
    });
    add(Menu::help, "about", tr("&About Keen Loom"), {}, [this] {
        auto* box = new QMessageBox(
            QMessageBox::NoIcon, tr("About Keen Loom"),
            tr("<b>Keen Loom %1</b><p>Seamless textures from noise, editable to the end.</p><p>Apache License 2.0</p>")
                .arg(KEEN_LOOM_VERSION),
            QMessageBox::Close, this);
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->open();
    });
}

}  // namespace loom
