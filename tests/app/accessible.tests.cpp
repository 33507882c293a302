// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The whole window as readers of the screen and people without a mouse meet it.
#include <QAbstractItemView>
#include <QAccessible>
#include <QAction>
#include <QButtonGroup>
#include <QComboBox>
#include <QPointer>
#include <QPushButton>
#include <QSet>
#include <QTest>
#include <QToolButton>

#include "app/help/first_cloth.h"
#include "app/repeat/repeat_view.h"
#include "app/loom/blend_chooser.h"
#include "app/loom/tuning_desk.h"
#include "app/samples/samples_view.h"
#include "app/widgets/direction_dial.h"
#include "app/loom/front_panel.h"
#include "app/tries/try_view.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/colour_panel.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

QString path_of(QAccessibleInterface* interface) {
    QStringList names;
    for (; interface && interface->object(); interface = interface->parent())
        names.prepend(
            QString("%1 '%2'").arg(interface->object()->metaObject()->className(), interface->text(QAccessible::Name).left(30)));
    return names.join(" > ");
}

/// Everything on show that can take the keyboard.
void collect(QAccessibleInterface* interface, QList<QAccessibleInterface*>& all) {
    if (!interface || interface->state().invisible) return;
    if (interface->state().focusable && !interface->state().disabled) all << interface;
    for (int k = 0; k < interface->childCount(); ++k) collect(interface->child(k), all);
}

/// Which widgets Tab comes to, from the desk on where it is on show: cards that are passed are selected, which builds the desk
/// anew.
QList<QPointer<QWidget>> tabbed(QWidget& window, QWidget* first) {
    QList<QPointer<QWidget>> reached;
    if (first) first->setFocus(Qt::OtherFocusReason);
    for (int turns = 0; turns < 300; ++turns) {
        QWidget* focus = window.focusWidget();
        if (!focus || (turns > 0 && focus == first)) break;
        reached << focus;
        QTest::keyClick(focus, Qt::Key_Tab);
    }
    return reached;
}

/// What is told of a control before the walk; afterwards it may be gone.
struct Told {
    QWidget* widget;
    QString path, name;
    QAccessible::Role role;
    bool beside;
};

void check_all(QWidget& window, QWidget* first, const char* what) {
    INFO(what);
    QList<QAccessibleInterface*> all;
    collect(QAccessible::queryAccessibleInterface(&window), all);
    QList<Told> told;
    for (QAccessibleInterface* each : all) {
        auto* widget = qobject_cast<QWidget*>(each->object());
        if (!widget || widget->isWindow()) continue;
        // What lies within a control, such as the line of a number field, and what passes the focus on is the control's.
        if (widget->focusProxy() || qobject_cast<QAbstractSpinBox*>(widget->parentWidget()) ||
            qobject_cast<QAbstractItemView*>(widget) || widget->focusPolicy() == Qt::NoFocus)
            continue;
        QString name = each->text(QAccessible::Name);
        // The name of a list is what it shows, so that what it is for is told by its label or its description.
        if (qobject_cast<QComboBox*>(widget) && each->text(QAccessible::Description).isEmpty() &&
            each->relations(QAccessible::Label).isEmpty())
            name.clear();
        // Of buttons that exclude each other Tab comes to the one that is on, and arrow keys to the others.
        auto* button = qobject_cast<QAbstractButton*>(widget);
        const bool beside = button && button->isCheckable() && !button->isChecked() &&
                            (button->autoExclusive() || (button->group() && button->group()->exclusive()));
        told << Told{widget, path_of(each), name, each->role(), beside};
    }
    CHECK(told.size() > 5);
    QSet<QWidget*> reached;
    for (const auto& each : tabbed(window, first)) reached << each.data();
    for (const Told& each : told) {
        INFO(each.path.toStdString());
        CHECK_FALSE(each.name.isEmpty());
        CHECK(each.role != QAccessible::NoRole);
        CHECK(each.role != QAccessible::Client);
        CHECK((reached.contains(each.widget) || each.beside));
    }
}

/// Whether each control that Tab comes to looks different with the focus.
void check_focus(QWidget& window, QWidget* first, const char* what, int least) {
    INFO(what);
    // Only what is active shows its focus.
    QApplication::setActiveWindow(&window);
    REQUIRE(QTest::qWaitForWindowActive(&window));
    first->setFocus(Qt::OtherFocusReason);
    int seen = 0;
    for (int turns = 0; turns < 300; ++turns) {
        QPointer<QWidget> widget = window.focusWidget();
        REQUIRE(widget);
        if (turns > 0 && widget == first) break;
        QTest::qWait(20);
        // A little beyond it, as the frame may lie around it.
        const QRect around = QRect(widget->mapTo(&window, QPoint(0, 0)), widget->size()).adjusted(-3, -3, 3, 3);
        const QImage with = window.grab(around).toImage();
        widget->clearFocus();
        const QImage without = window.grab(around).toImage();
        INFO(widget->metaObject()->className() << " " << widget->accessibleName().toStdString() << ", number " << turns);
        CHECK(with != without);
        ++seen;
        widget->setFocus(Qt::OtherFocusReason);
        QTest::keyClick(widget.data(), Qt::Key_Tab);
    }
    CHECK(seen > least);
}

}  // namespace

TEST_CASE("every control of every view has a name and a role and is reached with Tab", "[window][accessibility]") {
    Fixture f;
    QWidget* exchange = f.loom().desk()->exchange_button();
    f.session().select({"b", "s2"});
    check_all(f.window, exchange, "the loom, a step of a strand");
    f.session().select({"a", "s3"});
    check_all(f.window, exchange, "the loom, a gradient");
    f.session().select({"b", ""});
    check_all(f.window, f.loom().desk()->editor("gate.of"), "the loom, a strand");
    f.session().select({});
    check_all(f.window, f.loom().desk()->editor("tile.width"), "the loom, the recipe");
    f.session().select({"a", ""});
    f.trigger("group");
    f.trigger("fold-group");
    QTest::qWait(30);
    check_all(f.window, f.loom().desk()->editor("gate.of"), "a folded group");
    f.window.show_page(f.window.samples_view());
    QTest::qWait(30);
    check_all(f.window, f.window.samples_view()->search(), "the samples");
}

TEST_CASE("every control of what opens beside the views has a name and a role and is reached with Tab",
          "[window][accessibility]") {
    Fixture f;
    f.session().select({"b", "s2"});
    f.trigger("step-help");
    check_all(f.window, f.loom().desk()->exchange_button(), "help beside the cloth");
    f.loom().add_step();
    auto* finder = dialog<StepFinder>(f.loom());
    check_all(*finder, finder->search(), "the finder");
    finder->close();
    f.loom().close_help();
    f.trigger("history");
    check_all(f.window, f.loom().desk()->exchange_button(), "the history");
    f.trigger("history");
    f.trigger("front-panel");
    QTest::qWait(30);
    check_all(f.window, f.loom().front()->seed_button(), "the front panel");
    f.trigger("front-panel");
    f.trigger("export");
    ExportView* shown = f.window.export_view();
    QTest::mouseClick(shown->add_pack_button(), Qt::LeftButton);
    check_all(f.window, shown->folder_field(), "the export");
    f.window.show_page(f.window.repeat_view());
    QTest::qWait(30);
    check_all(f.window, f.window.repeat_view()->half_button(), "the repeat");
}

TEST_CASE("every control of the tries and of the colour panel has a name and a role and is reached with Tab",
          "[window][accessibility]") {
    Fixture f;
    f.session().select({"a", "s2"});
    TryView* tries = f.window.try_view();
    f.window.show_page(tries);
    using What = Question::What;
    for (const auto& [what, name] : {std::pair{What::seed, "tries of seeds"}, std::pair{What::two, "tries of two values"},
                                     std::pair{What::toward, "tries toward a picture"}}) {
        QTest::mouseClick(tries->kind(what), Qt::LeftButton);
        REQUIRE(QTest::qWaitFor([&] { return tries->complete(); }, patience));
        check_all(f.window, tries->kind(what), name);
    }
    QTest::mouseClick(tries->kind(What::two), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return tries->complete(); }, patience));
    check_focus(f.window, tries->kind(What::two), "the tries", 12);
    f.window.show_page(&f.loom());
    f.session().select({"a", "s3"});
    auto* button = f.loom().desk()->findChild<ColourButton*>();
    REQUIRE(button);
    button->click();
    ColourPanel* panel = button->panel();
    REQUIRE(QTest::qWaitForWindowExposed(panel));
    check_all(*panel, panel->field(), "the colour panel");
    check_focus(*panel, panel->field(), "the colour panel", 9);
    panel->close();
}

TEST_CASE("every step's desk has a name for each control", "[window][accessibility]") {
    Fixture f;
    for (const StepDescription& step : all_steps()) {
        INFO(step.id);
        Recipe recipe = recipe_of({strand_of("a", {{std::string(step.id), {}, 1}})}, 64);
        f.session().start_new(recipe);
        QList<QAccessibleInterface*> all;
        collect(QAccessible::queryAccessibleInterface(f.loom().desk()), all);
        for (QAccessibleInterface* each : all) {
            auto* widget = qobject_cast<QWidget*>(each->object());
            if (!widget || qobject_cast<QAbstractSpinBox*>(widget->parentWidget())) continue;
            INFO(path_of(each).toStdString());
            CHECK_FALSE(each->text(QAccessible::Name).isEmpty());
        }
    }
}

TEST_CASE("cards and dials are read and worked by a reader of the screen", "[window][accessibility]") {
    Fixture f;
    QAccessibleInterface* card = QAccessible::queryAccessibleInterface(f.card("b", "s2"));
    REQUIRE(card);
    CHECK(card->role() == QAccessible::ListItem);
    CHECK(card->text(QAccessible::Name).contains("Directional blur"));
    CHECK(!card->state().selected);
    card->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
    CHECK(f.session().selection() == Selection{"b", "s2"});
    CHECK(card->state().selected);
    auto* edit = qobject_cast<NumberEdit*>(f.loom().desk()->editor("direction"));
    QAccessibleInterface* dial = QAccessible::queryAccessibleInterface(edit->dial());
    REQUIRE(dial->valueInterface());
    dial->valueInterface()->setCurrentValue(30);
    CHECK(f.number("b", "s2", "direction") == 30);
    CHECK(dial->valueInterface()->currentValue().toDouble() == 30);
}

TEST_CASE("focus is seen on every control", "[window][accessibility]") {
    Fixture f;
    f.session().select({"b", "s2"});
    check_focus(f.window, f.loom().desk()->exchange_button(), "the loom, a step", 30);
    f.session().select({"a", "s3"});
    check_focus(f.window, f.loom().desk()->exchange_button(), "the loom, a gradient", 30);
    f.session().select({});
    auto* width = qobject_cast<NumberEdit*>(f.loom().desk()->editor("tile.width"));
    REQUIRE(width);
    check_focus(f.window, width->slider(), "the loom, the recipe", 30);
    f.window.show_page(f.window.samples_view());
    check_focus(f.window, f.window.samples_view()->search(), "the samples", 4);
}

TEST_CASE("the remarks for a first cloth go away when they are followed or passed over", "[window][help]") {
    Fixture f;
    f.trigger("first-cloth");
    FirstCloth* remarks = f.window.first_cloth();
    REQUIRE(remarks);
    CHECK(remarks->count() == 6);
    REQUIRE(QTest::qWaitFor([&] { return remarks->isVisible(); }, patience));
    // It lies within the window, beside a real control.
    CHECK(f.window.rect().contains(remarks->geometry()));
    f.window.show_page(&f.loom());
    REQUIRE(QTest::qWaitFor([&] { return remarks->present() == 1; }, patience));
    f.session().select({"b", "s2"});
    REQUIRE(QTest::qWaitFor([&] { return remarks->present() == 2; }, patience));
    f.session().set_value({"b", "s2", "length"}, Value(33.0));
    REQUIRE(QTest::qWaitFor([&] { return remarks->present() == 3; }, patience));
    remarks->pass_button()->click();
    CHECK(remarks->present() == 4);
    CHECK(remarks->text().contains("foot"));
    f.window.show_page(f.window.samples_view());
    // What it speaks of is elsewhere: it stays in sight and says where.
    CHECK(QTest::qWaitFor([&] { return remarks->text().contains("at the loom"); }, patience));
    CHECK(remarks->isVisible());
    f.window.show_page(&f.loom());
    CHECK(QTest::qWaitFor([&] { return !remarks->text().contains("at the loom"); }, patience));
    remarks->end_button()->click();
    CHECK(!remarks->isVisible());
    // Passed over before its time, the first leads to the second, which waits for what it speaks of and covers none of it.
    f.trigger("first-cloth");
    remarks = f.window.first_cloth();
    remarks->pass_button()->click();
    CHECK(remarks->present() == 1);
    CHECK(remarks->isVisible());
    f.session().undo_stack().setClean();
    open_sample(f.window, QString::fromStdString(sample("carriage-oak")));
    REQUIRE(f.window.page() == &f.loom());
    QTest::qWait(400);
    CHECK(remarks->present() == 1);
    for (const QSize& size : {QSize(1280, 800), QSize(1000, 640), QSize(1600, 1000)}) {
        f.window.resize(size);
        QTest::qWait(400);
        const StepCard* card = f.loom().strands()->findChild<StepCard*>();
        const QRect spoken(card->mapTo(&f.window, QPoint(0, 0)), card->size());
        CHECK_FALSE(remarks->geometry().intersects(spoken));
        CHECK(f.window.rect().contains(remarks->geometry()));
    }
    remarks->end_button()->click();
    // Whoever has had enough is not greeted again.
    f.window.greet();
    CHECK(f.window.first_cloth()->present() < 0);
}
