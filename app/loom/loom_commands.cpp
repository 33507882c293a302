// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The commands of the loom.
#include <QAction>
#include <QClipboard>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QMenu>
#include <QSplitter>

#include "app/document/reference.h"
#include "app/loom/cloth_view.h"
#include "app/loom/lit_view.h"
#include "app/loom/history_sheet.h"
#include "app/loom/loom_view.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/tries/seed_strip.h"
#include "core/recipe/groups.h"
#include "core/recipe/light_out.h"

namespace loom {

void LoomView::add_commands(Commands& commands, std::function<bool()> shown) {
    using Menu = Commands::Menu;
    auto has_step = [this, shown] { return shown() && session_.selected_step(); };
    auto has_strand = [this, shown] { return shown() && session_.selected_strand(); };
    auto add = [&](Menu menu, const char* id, const QString& text, const QKeySequence& keys, std::function<void()> work,
                   std::function<bool()> enabled) { commands.add(menu, id, text, keys, std::move(work), std::move(enabled)); };

    add(
        Menu::edit, "cut", tr("Cu&t"), QKeySequence::Cut, [this] { cut_selected(); }, has_strand);
    add(
        Menu::edit, "copy", tr("&Copy"), QKeySequence::Copy, [this] { copy_selected(); }, has_strand);
    add(
        Menu::edit, "copy-picture", tr("Copy what the cloth &shows"), QKeySequence("Ctrl+Alt+C"),
        [this] { QGuiApplication::clipboard()->setImage(cloth_->seen()); },
        [this, shown] { return shown() && !cloth_->seen().isNull(); });
    add(
        Menu::edit, "paste", tr("&Paste"), QKeySequence::Paste, [this] { paste(); }, shown);
    add(
        Menu::edit, "duplicate", tr("&Duplicate"), QKeySequence("Ctrl+D"), [this] { duplicate_selected(); }, has_strand);
    add(
        Menu::edit, "remove", tr("&Remove"), QKeySequence(Qt::Key_Delete), [this] { remove_selected(); }, has_strand);
    add(
        Menu::edit, "rename", tr("Re&name…"), QKeySequence(Qt::Key_F2), [this] { rename_selected(); }, shown);
    commands.add_separator(Menu::edit);
    add(
        Menu::edit, "keep-colourway", tr("&Keep as colourway…"), QKeySequence("Ctrl+K"), [this] { keep_colourway(); }, shown);

    add(
        Menu::strand, "add-strand", tr("&Add strand"), QKeySequence("Ctrl+Shift+A"), [this] { add_strand(); }, shown);
    auto is_grouped = [this, has_strand] { return has_strand() && !session_.selected_strand()->group.name.empty(); };
    add(
        Menu::strand, "blend", tr("Choose the &blend…"), QKeySequence("Ctrl+J"),
        [this] { choose_blend(session_.selection().strand); },
        [this, has_strand] { return has_strand() && session_.recipe().index_of(session_.selection().strand) > 0; });
    add(
        Menu::strand, "try-blends", tr("Try e&very blend"), QKeySequence("Ctrl+Alt+J"),
        [this] {
            emit try_wanted({session_.selection().strand, "", "blend"});
        },
        [this, has_strand] { return has_strand() && session_.recipe().index_of(session_.selection().strand) > 0; });
    add(
        Menu::strand, "try-without", tr("Try it &without each step"), QKeySequence("Ctrl+Alt+W"),
        [this] {
            emit try_wanted({session_.selection().strand, session_.selected_strand()->steps.front().id, "on"});
        },
        [this, has_strand] { return has_strand() && !session_.selected_strand()->steps.empty(); });
    add(
        Menu::strand, "fold", tr("&Fold or unfold"), QKeySequence("Ctrl+Shift+F"), [this] { fold_selected(); }, has_strand);
    commands.add_separator(Menu::strand);
    add(
        Menu::strand, "group", tr("&Group with the strand to the right"), QKeySequence("Ctrl+G"), [this] { group_with_next(); },
        [this, has_strand] {
            const auto run = has_strand() ? run_of(session_.recipe(), session_.selection().strand) : std::nullopt;
            return run && run->last + 1 < static_cast<int>(session_.recipe().strands.size());
        });
    add(
        Menu::strand, "fold-group", tr("F&old or unfold the group"), QKeySequence("Ctrl+Alt+F"), [this] { fold_group(); },
        is_grouped);
    add(
        Menu::strand, "rename-group", tr("Re&name the group…"), QKeySequence("Shift+F2"),
        [this] { strands_->rename_group(session_.selection().strand); }, is_grouped);
    add(
        Menu::strand, "dissolve-group", tr("&Dissolve the group"), QKeySequence("Ctrl+Shift+G"), [this] { dissolve_group(); },
        is_grouped);
    commands.add_separator(Menu::strand);
    add(
        Menu::strand, "select-strand", tr("Select the &strand"), QKeySequence("Ctrl+Up"),
        [this] {
            session_.select({session_.selection().strand, ""});
        },
        has_step);
    add(
        Menu::step, "select-chain", tr("Se&lect all steps of the chain"), QKeySequence("Ctrl+Shift+Up"),
        [this] { select_chain(); }, has_step);
    add(
        Menu::strand, "select-cloth", tr("Select the &recipe and its dials"), QKeySequence("Ctrl+R"),
        [this] { session_.select({}); }, has_strand);

    add(
        Menu::step, "add-step", tr("&Add step…"), QKeySequence("+"), [this] { add_step(); }, shown);
    add(
        Menu::step, "exchange", tr("&Exchange…"), QKeySequence("Ctrl+Shift+E"), [this] { exchange_selected(); }, has_step);
    add(
        Menu::step, "bypass", tr("&Bypass or switch"), QKeySequence("Ctrl+B"), [this] { bypass_selected(); }, has_strand);
    add(
        Menu::step, "try-seeds", tr("Try other &seeds"), QKeySequence("Ctrl+Alt+R"),
        [this] {
            emit try_wanted({session_.selection().strand, session_.selection().step, "seed"});
        },
        has_step);
    add(
        Menu::step, "light-out", tr("&Take the light out"), QKeySequence(),
        [this] { session_.apply(light_taken_out(session_.recipe()), tr("Take the light out")); },
        [this, shown] { return shown() && has_light_in(session_.recipe()); });
    add(
        Menu::step, "light-back", tr("&Put the light back in"), QKeySequence(),
        [this] { session_.apply(light_put_back(session_.recipe()), tr("Put the light back in")); },
        [this, shown] { return shown() && has_light_out(session_.recipe()); });
    commands.add_separator(Menu::step);
    add(
        Menu::step, "move-up", tr("Move &up"), QKeySequence("Alt+Up"), [this] { move_selected(-1, 0); }, has_step);
    add(
        Menu::step, "move-down", tr("Move &down"), QKeySequence("Alt+Down"), [this] { move_selected(1, 0); }, has_step);
    add(
        Menu::step, "move-left", tr("Move &left"), QKeySequence("Alt+Left"), [this] { move_selected(0, -1); }, has_strand);
    add(
        Menu::step, "move-right", tr("Move &right"), QKeySequence("Alt+Right"), [this] { move_selected(0, 1); }, has_strand);
    // On a card or a header everything that can be done to it, wherever it stands in the bar.
    const auto context = [&](Menu of, std::initializer_list<const char*> also) {
        auto* menu = new QMenu(this);
        menu->addActions(commands.menu(of)->actions());
        menu->addSeparator();
        for (const char* id : also) menu->addAction(commands.action(id));
        return menu;
    };
    strands_->set_menus(
        context(Menu::step, {"cut", "copy", "paste", "rename", "duplicate", "remove"}),
        context(Menu::strand, {"cut", "copy", "paste", "rename", "bypass", "duplicate", "remove", "move-left", "move-right"}));

    add(
        Menu::view, "repeat", tr("&Repeat or tile"), QKeySequence("Ctrl+T"),
        [this] { cloth_->set_repeat(cloth_->canvas()->repeat() == 1); }, shown);
    add(
        Menu::view, "cloth-alone", tr("Cloth &alone"), QKeySequence("Ctrl+L"), [this] { set_alone(!alone()); }, shown);
    add(
        Menu::view, "pin", tr("&Pin this state"), QKeySequence("Ctrl+P"), [this] { pin_present(); }, shown);
    add(
        Menu::view, "unpin", tr("Let &go of the pinned state"), QKeySequence("Ctrl+Shift+P"), [this] { unpin(); },
        [this, shown] { return shown() && pinned(); });
    add(
        Menu::edit, "return-to-pinned", tr("Re&turn to the pinned state"), QKeySequence("Ctrl+Alt+P"),
        [this] { return_to_pinned(); }, [this, shown] { return shown() && pinned(); });
    add(
        Menu::view, "reference", tr("&Reference picture…"), QKeySequence("Ctrl+Alt+O"), [this] { choose_reference(); }, shown);
    const auto has_reference = [this, shown] { return shown() && reference_->is_there(); };
    add(
        Menu::view, "reference-shown", tr("Re&ference beside the cloth"), QKeySequence("Ctrl+Alt+B"),
        [this] { show_reference(!shows_reference()); }, has_reference);
    commands.action("reference-shown")->setCheckable(true);
    add(
        Menu::view, "forget-reference", tr("For&get the reference"), QKeySequence(), [this] { reference_->forget(); },
        has_reference);
    add(
        Menu::step, "match-reference", tr("&Match the reference"), QKeySequence("Ctrl+Alt+M"), [this] { match_reference(); },
        has_reference);
    add(
        Menu::view, "history", tr("&History"), QKeySequence("Ctrl+H"), [this] { show_history(!history_->isVisible()); }, shown);
    add(
        Menu::view, "front-panel", tr("Front pa&nel"), QKeySequence("Ctrl+Shift+D"), [this] { show_front(!shows_front()); },
        shown);
    commands.action("front-panel")->setCheckable(true);
    commands_ = &commands;
    add(
        Menu::view, "cloth-apart", tr("Cloth in a &window of its own"), QKeySequence("Ctrl+Shift+L"),
        [this] { set_apart(!apart()); }, shown);
    commands.action("cloth-apart")->setCheckable(true);
    add(
        Menu::view, "zoom-fit", tr("&Fit"), QKeySequence("Ctrl+0"), [this] { cloth_->canvas()->set_zoom(0); }, shown);
    add(
        Menu::view, "zoom-one", tr("&One to one"), QKeySequence("Ctrl+9"), [this] { cloth_->canvas()->set_zoom(1); }, shown);
    commands.add_separator(Menu::view);
    add(
        Menu::help, "step-help", tr("About the selected &step"), QKeySequence(Qt::Key_F1), [this] { show_step_help(); }, shown);
}

bool LoomView::take_key(const QKeyEvent& event, bool pressed) {
    // Letters that are typed on the cloth are no commands.
    if (letter_hand_.types() && cloth_->canvas()->hasFocus()) return false;
    if (event.modifiers() != Qt::NoModifier || (event.key() != Qt::Key_C && event.key() != Qt::Key_L && event.key() != Qt::Key_W))
        return false;
    if (event.isAutoRepeat()) return true;
    if (event.key() == Qt::Key_C)
        set_before(pressed);
    else if (event.key() == Qt::Key_W)
        set_range(pressed);
    else
        cloth_->canvas()->set_loupe(pressed);
    return true;
}

QVariantMap LoomView::state() const {
    // A cloth that is apart or alone comes back to the place it had.
    return {{"repeat", cloth_->canvas()->repeat() > 1},
            {"columns", across_->saveState()},
            {"rows", left_->saveState()},
            {"folded", desk_->folded_sections()},
            {"seeds-folded", desk_->seeds()->folded()},
            {"front", shows_front()},
            {"brush", brush_.state()},
            {"lit", cloth_->shows_lit()},
            {"lamp", cloth_->lit()->state()}};
}

void LoomView::set_state(const QVariantMap& state) {
    cloth_->set_repeat(state.value("repeat").toBool());
    cloth_->lit()->set_state(state.value("lamp").toMap());
    if (state.value("lit").toBool()) cloth_->set_lit(true);
    across_->restoreState(state.value("columns").toByteArray());
    desk_->set_folded_sections(state.value("folded").toStringList());
    desk_->seeds()->set_folded(state.value("seeds-folded").toBool());
    left_->restoreState(state.value("rows").toByteArray());
    show_front(state.value("front").toBool());
    brush_.set_state(state.value("brush").toMap());
}

}  // namespace loom
