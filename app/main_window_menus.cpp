// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The table of commands: where each stands, its shortcut, what it does and when it can be had.
#include <QApplication>
#include <QDir>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QToolButton>

#include "app/export/export_dialog.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/strands_view.h"
#include "app/main_window.h"
#include "app/theme/theme.h"
#include "core/base/guard.h"
#include "core/catalogue/description.h"

namespace loom {

QAction* MainWindow::add(QMenu* menu, const QString& id, const QString& text, const QKeySequence& keys,
                         std::function<void()> work, std::function<bool()> enabled) {
    QAction* made = menu->addAction(text);
    made->setObjectName(id);
    if (!keys.isEmpty()) made->setShortcut(keys);
    connect(made, &QAction::triggered, this, [this, made, work = std::move(work)] {
        const auto done = guarded(activity_of(made).toStdString(), [&]() -> Result<Done> {
            work();
            return Done{};
        });
        if (!done) show_message(QString::fromStdString(done.error().message));
    });
    commands_.push_back({id, made, std::move(enabled)});
    return made;
}

void MainWindow::build_menus() {
    auto loom_shown = [this] { return view() == View::loom; };
    auto has_step = [this, loom_shown] { return loom_shown() && session_->selected_step(); };
    auto has_strand = [this, loom_shown] { return loom_shown() && session_->selected_strand(); };

    QMenu* file = menuBar()->addMenu(tr("&File"));
    add(file, "new", tr("&New"), QKeySequence::New, [this] {
        after_unsaved([this] {
            session_->start_new(fresh_recipe());
            show_view(View::loom);
        });
    });
    add(file, "open", tr("&Open…"), QKeySequence::Open, [this] { after_unsaved([this] { ask_open(); }); });
    recent_menu_ = file->addMenu(tr("Open &recent"));
    file->addSeparator();
    add(file, "save", tr("&Save"), QKeySequence::Save, [this] { save(); });
    add(file, "save-as", tr("Save &as…"), QKeySequence("Ctrl+Shift+S"), [this] { ask_save_as(); });
    file->addSeparator();
    add(file, "export", tr("&Export picture…"), QKeySequence("Ctrl+E"), [this] {
        const QString folder = session_->path().isEmpty() ? QDir::homePath() : QFileInfo(session_->path()).absolutePath();
        auto* dialog = new ExportDialog(session_->recipe(), folder, this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    });
    file->addSeparator();
    add(file, "quit", tr("&Quit"), QKeySequence::Quit, [this] { close(); });

    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = add(
        edit, "undo", tr("Undo"), QKeySequence::Undo, [this] { session_->undo_stack().undo(); },
        [this] { return session_->undo_stack().canUndo(); });
    QAction* redo = add(
        edit, "redo", tr("Redo"), QKeySequence::Redo, [this] { session_->undo_stack().redo(); },
        [this] { return session_->undo_stack().canRedo(); });
    connect(undo_, &QToolButton::clicked, undo, &QAction::trigger);
    connect(redo_, &QToolButton::clicked, redo, &QAction::trigger);
    edit->addSeparator();
    add(
        edit, "duplicate", tr("&Duplicate"), QKeySequence("Ctrl+D"), [this] { loom_->duplicate_selected(); }, has_strand);
    add(
        edit, "remove", tr("&Remove"), QKeySequence(Qt::Key_Delete), [this] { loom_->remove_selected(); }, has_strand);
    add(
        edit, "rename", tr("Re&name…"), QKeySequence(Qt::Key_F2), [this] { loom_->rename_selected(); }, loom_shown);
    edit->addSeparator();
    add(edit, "keep-colourway", tr("&Keep as colourway…"), QKeySequence("Ctrl+K"), [this] {
        auto* dialog = new QInputDialog(this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setWindowTitle(tr("Keep as colourway"));
        dialog->setLabelText(tr("Name"));
        connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString& name) {
            if (name.trimmed().isEmpty()) return;
            // Every colour and gradient of the recipe belongs to a colourway.
            std::vector<Address> colours;
            for (const StrandRef& strand : session_->recipe().strands)
                for (ChainKind chain : all_chains)
                    for (const Step& step : strand->chain(chain))
                        if (const StepDescription* description = find_step(step.kind))
                            for (const Parameter& p : description->parameters)
                                if (p.kind == Kind::colour || p.kind == Kind::stops)
                                    colours.push_back({strand->id, step.id, std::string(p.id)});
            session_->apply(colourway_kept(session_->recipe(), name.trimmed().toStdString(), colours),
                            tr("Keep colourway %1").arg(name.trimmed()));
        });
        dialog->open();
    });

    QMenu* strand = menuBar()->addMenu(tr("S&trand"));
    add(
        strand, "add-strand", tr("&Add strand"), QKeySequence("Ctrl+Shift+A"), [this] { loom_->add_strand(); }, loom_shown);
    add(
        strand, "select-strand", tr("Select the &strand"), QKeySequence("Ctrl+Up"),
        [this] {
            session_->select({session_->selection().strand, ""});
        },
        has_step);
    add(
        strand, "select-cloth", tr("Select the &recipe and its dials"), QKeySequence("Ctrl+R"), [this] { session_->select({}); },
        has_strand);

    step_menu_ = menuBar()->addMenu(tr("Ste&p"));
    add(
        step_menu_, "add-step", tr("&Add step…"), QKeySequence("+"), [this] { loom_->add_step(); }, loom_shown);
    add(
        step_menu_, "bypass", tr("&Bypass or switch"), QKeySequence("Ctrl+B"), [this] { loom_->bypass_selected(); }, has_strand);
    step_menu_->addSeparator();
    add(
        step_menu_, "move-up", tr("Move &up"), QKeySequence("Alt+Up"), [this] { loom_->move_selected(-1, 0); }, has_step);
    add(
        step_menu_, "move-down", tr("Move &down"), QKeySequence("Alt+Down"), [this] { loom_->move_selected(1, 0); }, has_step);
    add(
        step_menu_, "move-left", tr("Move &left"), QKeySequence("Alt+Left"), [this] { loom_->move_selected(0, -1); }, has_strand);
    add(
        step_menu_, "move-right", tr("Move &right"), QKeySequence("Alt+Right"), [this] { loom_->move_selected(0, 1); },
        has_strand);
    step_menu_->addSeparator();
    for (const char* id : {"rename", "duplicate", "remove"}) step_menu_->addAction(action(id));
    loom_->strands()->set_card_menu(step_menu_);

    QMenu* look = menuBar()->addMenu(tr("&View"));
    add(look, "view-samples", tr("&Samples"), QKeySequence("Ctrl+1"), [this] { show_view(View::samples); });
    add(look, "view-loom", tr("&Loom"), QKeySequence("Ctrl+2"), [this] { show_view(View::loom); });
    look->addSeparator();
    add(
        look, "repeat", tr("&Repeat or tile"), QKeySequence("Ctrl+T"),
        [this] { loom_->cloth()->set_repeat(loom_->cloth()->canvas()->repeat() == 1); }, loom_shown);
    add(
        look, "zoom-fit", tr("&Fit"), QKeySequence("Ctrl+0"), [this] { loom_->cloth()->canvas()->set_zoom(0); }, loom_shown);
    add(
        look, "zoom-one", tr("&One to one"), QKeySequence("Ctrl+9"), [this] { loom_->cloth()->canvas()->set_zoom(1); },
        loom_shown);
    look->addSeparator();
    QAction* dark = add(look, "dark", tr("&Dark window"), {}, [this] {
        theme::apply(*qApp, theme::scheme() == theme::Scheme::light ? theme::Scheme::dark : theme::Scheme::light);
        QSettings().setValue("dark", theme::scheme() == theme::Scheme::dark);
        // Everything painted by hand follows on the next paint; forms and columns are built anew.
        emit session_->recipe_changed();
        emit session_->selection_changed();
        update();
    });
    dark->setCheckable(true);
    dark->setChecked(theme::scheme() == theme::Scheme::dark);

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    add(help, "about", tr("&About Keen Loom"), {}, [this] {
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
