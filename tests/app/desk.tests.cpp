// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The desk of the real window: values that are seen rather than read, a row's menu, rows beside each other.
#include <QClipboard>
#include <QComboBox>
#include <QGuiApplication>
#include <QMenu>
#include <QTest>

#include "app/loom/tuning_desk.h"
#include "app/widgets/direction_dial.h"
#include "app/widgets/pair_edit.h"
#include "core/recipe/drives.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

QAction* item(QMenu& menu, const QString& begins) {
    for (QAction* action : menu.actions()) {
        if (action->text().startsWith(begins)) return action;
        if (action->menu())
            for (QAction* inner : action->menu()->actions())
                if (inner->text().startsWith(begins)) return inner;
    }
    return nullptr;
}

void choose(Fixture& f, const char* parameter, const QString& begins) {
    const auto menu = f.loom().desk()->row_menu(parameter);
    QAction* action = item(*menu, begins);
    REQUIRE(action);
    REQUIRE(action->isEnabled());
    action->trigger();
}

}  // namespace

TEST_CASE("a direction is turned by its hand, as one undo step", "[window][desk]") {
    Fixture f;
    f.click(f.card("b", "s2"));
    auto* edit = qobject_cast<NumberEdit*>(f.loom().desk()->editor("direction"));
    REQUIRE(edit);
    DirectionDial* dial = edit->dial();
    REQUIRE(dial);
    const QPoint middle = dial->rect().center();
    const int steps = f.session().undo_stack().count();
    QTest::mousePress(dial, Qt::LeftButton, {}, middle + QPoint(9, 0));
    QTest::mouseMove(dial, middle + QPoint(7, -7));
    QTest::mouseMove(dial, middle + QPoint(0, -9));
    QTest::mouseRelease(dial, Qt::LeftButton, {}, middle + QPoint(0, -9));
    CHECK(std::abs(f.number("b", "s2", "direction") - 90) < 8);
    CHECK(f.session().undo_stack().count() == steps + 1);
    dial->setFocus();
    f.session().set_value({"b", "s2", "direction"}, Value(90.0));
    QTest::keyClick(dial, Qt::Key_Left, Qt::ShiftModifier);
    CHECK(f.number("b", "s2", "direction") == 135);
    // Over the end it goes on at the other.
    f.session().set_value({"b", "s2", "direction"}, Value(358.0));
    QTest::keyClick(dial, Qt::Key_Left);
    CHECK(f.number("b", "s2", "direction") == 3);
    CHECK(edit->value() == 3);
    // A length has none.
    CHECK(!qobject_cast<NumberEdit*>(f.loom().desk()->editor("length"))->dial());
}

TEST_CASE("two lengths that belong together are dragged on one pad, as one undo step", "[window][desk]") {
    Fixture f;
    f.click(f.card("a", "s1"));
    auto* across = qobject_cast<NumberEdit*>(f.loom().desk()->editor("size-x"));
    auto* down = qobject_cast<NumberEdit*>(f.loom().desk()->editor("size-y"));
    REQUIRE(across);
    REQUIRE(down);
    auto* pair = qobject_cast<PairEdit*>(across->parentWidget());
    REQUIRE(pair);
    Pad* pad = pair->pad();
    const int steps = f.session().undo_stack().count();
    QTest::mousePress(pad, Qt::LeftButton, {}, {27, 27});
    QTest::mouseMove(pad, {40, 14});
    QTest::mouseRelease(pad, Qt::LeftButton, {}, {40, 14});
    CHECK(f.session().undo_stack().count() == steps + 1);
    const double x = f.number("a", "s1", "size-x"), y = f.number("a", "s1", "size-y");
    CHECK(x > 2 * y);
    CHECK(across->value() == x);
    CHECK(down->value() == y);
    // The dot follows what the fields say.
    f.session().set_value({"a", "s1", "size-x"}, Value(4.0));
    CHECK(pad->shares().x() < 0.02);
    pad->setFocus();
    QTest::keyClick(pad, Qt::Key_Right, Qt::ShiftModifier);
    CHECK(f.number("a", "s1", "size-x") > 4);
    CHECK(f.number("a", "s1", "size-y") == y);
}

TEST_CASE("a falloff shows its curve with each choice", "[window][desk]") {
    Fixture f;
    f.click(f.card("b", "s2"));
    auto* box = qobject_cast<QComboBox*>(f.loom().desk()->editor("falloff"));
    REQUIRE(box);
    REQUIRE(box->count() == 2);
    const QImage even = box->itemIcon(0).pixmap(36, 36).toImage(), bell = box->itemIcon(1).pixmap(36, 36).toImage();
    CHECK(!even.isNull());
    CHECK(even != bell);
}

TEST_CASE("a row's menu resets, copies, pastes and makes dials", "[window][desk]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    const Address black{"a", "s2", "in-black"};
    choose(f, "in-black", "Copy");
    choose(f, "in-black", "Back to 0");
    CHECK(f.number("a", "s2", "in-black") == 0);
    CHECK(!item(*f.loom().desk()->row_menu("in-black"), "Back to")->isEnabled());
    choose(f, "in-black", "Paste");
    CHECK(f.number("a", "s2", "in-black") == Approx(0.3));
    QGuiApplication::clipboard()->setText("no number");
    CHECK(!item(*f.loom().desk()->row_menu("in-black"), "Paste")->isEnabled());
    choose(f, "in-black", "Make a dial");
    CHECK(dials_of(f.session().recipe(), black).size() == 1);
    choose(f, "in-white", QString::fromStdString(f.session().recipe().dials[0].name));
    CHECK(f.session().recipe().dials[0].drives.size() == 2);
    choose(f, "in-black", "Free it");
    CHECK(dials_of(f.session().recipe(), black).empty());
    CHECK(item(*f.loom().desk()->row_menu("in-black"), "No colourways"));
    f.session().apply(colourway_kept(f.session().recipe(), "Smoked", {black}), "keep");
    f.session().set_value(black, Value(0.1));
    const auto menu = f.loom().desk()->row_menu("in-black");
    QAction* smoked = item(*menu, "Smoked");
    REQUIRE(smoked);
    CHECK(smoked->isChecked());
    smoked->trigger();
    CHECK(!f.session().recipe().colourways[0].set.contains(black));
    // What stands in no recipe has no menu.
    CHECK(f.loom().desk()->row_menu("none")->isEmpty());
}

TEST_CASE("a right click on a row opens its menu", "[window][desk]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    auto* edit = qobject_cast<NumberEdit*>(f.loom().desk()->editor("in-black"));
    QContextMenuEvent event(QContextMenuEvent::Mouse, {4, 4}, edit->slider()->mapToGlobal(QPoint(4, 4)));
    QApplication::sendEvent(edit->slider(), &event);
    auto* menu = dialog<QMenu>(*f.loom().desk());
    CHECK(item(*menu, "Copy"));
    menu->close();
}

TEST_CASE("rows stand beside each other where there is width", "[window][desk][layout]") {
    Fixture f;
    f.click(f.card("a", "s1"));
    TuningDesk* desk = f.loom().desk();
    CHECK(desk->columns() == 1);
    f.window.resize(3000, 1200);
    QTest::qWait(50);
    REQUIRE(desk->columns() == 2);
    const QWidget *octaves = desk->editor("octaves"), *weights = desk->editor("weights");
    const QPoint first = octaves->mapTo(desk, QPoint(0, 0)), second = weights->mapTo(desk, QPoint(0, 0));
    CHECK((first.y() == second.y() || std::abs(first.y() - second.y()) > 10));
    CHECK(first.x() != second.x());
    f.window.resize(1280, 800);
    QTest::qWait(50);
    CHECK(desk->columns() == 1);
}
