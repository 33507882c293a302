// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strands, cards and joins of the real window, driven by mouse and keyboard.
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QSignalSpy>
#include <QSpinBox>
#include <QTest>
#include <QTimer>
#include <QToolButton>

#include "app/loom/cloth_view.h"
#include "app/loom/join_card.h"
#include "app/loom/loom_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/step_finder.h"
#include "app/loom/strand_column.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "app/widgets/number_edit.h"
#include "core/base/files.h"
#include "core/catalogue/description.h"
#include "core/files/picture.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("cards are dragged to another place and another strand", "[window][strands]") {
    Fixture f;
    auto drag = [&](StepCard* card, const QPoint& global) {
        const QPoint start(60, 30);
        QTest::mousePress(card, Qt::LeftButton, {}, start);
        for (int k = 1; k <= 4; ++k) QTest::mouseMove(card, start + (card->mapFromGlobal(global) - start) * k / 4);
        QTest::mouseRelease(card, Qt::LeftButton, {}, card->mapFromGlobal(global));
        QTest::qWait(30);
    };
    auto undo = [&] {
        f.trigger("undo");
        // The columns are built anew and laid out when the events are through.
        QTest::qWait(30);
    };
    drag(f.card("a", "s1"), f.card("a", "s3")->mapToGlobal(QPoint(60, 68)));
    CHECK(f.order("a") == "levels gradientmap clouds ");
    undo();
    CHECK(f.order("a") == "clouds levels gradientmap ");
    drag(f.card("a", "s2"), f.card("b", "s2")->mapToGlobal(QPoint(60, 4)));
    CHECK(f.order("a") == "clouds gradientmap ");
    CHECK(f.order("b") == "static levels directional ");
    undo();
    // Dropped outside of all strands nothing happens.
    drag(f.card("a", "s2"), f.window.mapToGlobal(QPoint(1200, 300)));
    CHECK(f.order("a") == "clouds levels gradientmap ");
    // Escape gives a drag up.
    QTest::mousePress(f.card("a", "s1"), Qt::LeftButton, {}, {60, 30});
    QTest::mouseMove(f.card("a", "s1"), {60, 120});
    QTest::keyClick(f.card("a", "s1"), Qt::Key_Escape);
    QTest::mouseRelease(f.card("a", "s1"), Qt::LeftButton, {}, {60, 200});
    CHECK(f.order("a") == "clouds levels gradientmap ");
}

TEST_CASE("steps are moved, bypassed, duplicated and removed from the keyboard", "[window][strands]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    QTest::keyClick(f.card("a", "s2"), Qt::Key_Down, Qt::AltModifier);
    CHECK(f.order("a") == "clouds gradientmap levels ");
    QTest::keyClick(f.card("a", "s2"), Qt::Key_Up, Qt::AltModifier);
    CHECK(f.order("a") == "clouds levels gradientmap ");
    QTest::keyClick(f.card("a", "s2"), Qt::Key_Right, Qt::AltModifier);
    CHECK(f.order("b") == "static levels directional ");
    QTest::keyClick(f.card(f.session().selection().strand.c_str(), f.session().selection().step.c_str()), Qt::Key_Left,
                    Qt::AltModifier);
    CHECK(f.order("a") == "clouds levels gradientmap ");
    f.session().select({"a", "s2"});
    QTest::keyClick(&f.window, Qt::Key_B, Qt::ControlModifier);
    CHECK_FALSE(f.session().selected_step()->on);
    QTest::keyClick(&f.window, Qt::Key_D, Qt::ControlModifier);
    CHECK(f.order("a") == "clouds levels levels gradientmap ");
    QTest::keyClick(&f.window, Qt::Key_Delete);
    CHECK(f.order("a") == "clouds levels gradientmap ");
    const int count = f.session().undo_stack().count();
    for (int k = 0; k < count; ++k) f.session().undo_stack().undo();
    CHECK(f.order("a") == "clouds levels gradientmap ");
    CHECK_FALSE(f.session().modified());
}

TEST_CASE("a step is added through the finder", "[window][finder]") {
    Fixture f;
    QTest::mouseClick(f.loom().strands()->add_button("b", ChainKind::steps), Qt::LeftButton);
    auto* finder = dialog<StepFinder>(f.loom());
    // It leaves the strand in sight, and is as high as what it shows.
    CHECK_FALSE(finder->geometry().intersects(f.loom().strands()->strand_place("b")));
    const int high = finder->height();
    QTest::keyClicks(finder->search(), "wander");
    CHECK(finder->height() < high);
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.order("b") == "static directional wander ");
    CHECK(f.session().selected_step()->kind == "wander");
    // A seed of its own, unlike those that are there.
    CHECK(f.session().selected_step()->seed == 3);
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().findChild<StepFinder*>(); }, patience));
    QTest::mouseClick(f.loom().strands()->add_button("b", ChainKind::mask), Qt::LeftButton);
    finder = dialog<StepFinder>(f.loom());
    QTest::keyClicks(finder->search(), "clouds");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.session().recipe().strand("b")->mask.size() == 1);
    REQUIRE(f.card("b", f.session().selection().step.c_str()));
    f.rendered();
}

TEST_CASE("joins: blend, amount and keep within are changed at the foot of a strand", "[window][strands]") {
    Fixture f;
    JoinCard* join = f.loom().strands()->join("b");
    REQUIRE(join);
    join->blend_box()->setFocus();
    QTest::keyClick(join->blend_box(), Qt::Key_Down);
    CHECK(f.session().recipe().strand("b")->join.blend == Blend::overlay);
    join->amount_slider()->setFocus();
    QTest::keyClick(join->amount_slider(), Qt::Key_Home);
    CHECK(f.session().recipe().strand("b")->join.amount == 0);
    QTest::mouseClick(join->within_box(), Qt::LeftButton, {}, QPoint(8, join->within_box()->height() / 2));
    CHECK(f.session().recipe().strand("b")->join.within);
    // The foot stays in sight however long the strand is.
    for (int k = 0; k < 8; ++k) f.trigger("duplicate");
    f.rendered();
    const QRect visible(f.loom().strands()->viewport()->mapToGlobal(QPoint(0, 0)), f.loom().strands()->viewport()->size());
    CHECK(visible.contains(QRect(f.loom().strands()->join("a")->mapToGlobal(QPoint(0, 0)), QSize(20, 70))));
}

TEST_CASE("strands are added, switched off, renamed and removed", "[window][strands]") {
    Fixture f;
    f.trigger("add-strand");
    auto* finder = dialog<StepFinder>(f.loom());
    QTest::keyClicks(finder->search(), "flat");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    REQUIRE(f.session().recipe().strands.size() == 3);
    CHECK(f.session().recipe().strands[2]->steps[0].kind == "flat");
    f.session().select({"b", ""});
    f.trigger("bypass");
    CHECK_FALSE(f.session().recipe().strand("b")->on);
    f.trigger("rename");
    auto* rename = dialog<QInputDialog>(f.window);
    rename->setTextValue("Long grain");
    rename->accept();
    CHECK(f.session().recipe().strand("b")->name == "Long grain");
    f.trigger("remove");
    CHECK(f.session().recipe().strands.size() == 2);
    f.session().undo_stack().undo();
    CHECK(f.session().recipe().strand("b")->name == "Long grain");
}

TEST_CASE("what is selected is scrolled into sight, also in columns that were built just now", "[window][strands]") {
    Fixture f;
    Recipe recipe = f.session().recipe();
    for (int k = 0; k < 6; ++k) recipe = strand_duplicated(recipe, "a");
    f.session().start_new(recipe);
    const std::string last = recipe.strands.back()->id;
    f.session().select({last, "s2"});
    QTest::qWait(50);
    const QRect visible(f.loom().strands()->viewport()->mapToGlobal(QPoint(0, 0)), f.loom().strands()->viewport()->size());
    const StepCard* card = f.loom().strands()->card(last, "s2");
    const QRect place(card->mapToGlobal(QPoint(0, 0)), card->size());
    INFO(visible.left() << "," << visible.top() << " " << visible.width() << "x" << visible.height() << " holds " << place.left()
                        << "," << place.top() << " " << place.width() << "x" << place.height());
    CHECK(visible.contains(place));
}

TEST_CASE("a step is exchanged with the whole cloth before one's eyes, as one undo step", "[window][finder]") {
    Fixture f;
    f.session().set_value({"b", "s1", "amount"}, Value(70.0));
    f.click(f.card("b", "s1"));
    const int before = f.session().undo_stack().count();
    QTest::mouseClick(f.loom().desk()->exchange_button(), Qt::LeftButton);
    auto* finder = f.loom().findChild<StepFinder*>();
    REQUIRE(finder);
    CHECK(finder->list()->currentItem()->text() == "Static");
    REQUIRE(QTest::qWaitFor([&] { return finder->complete(); }, patience));
    QTest::keyClicks(finder->search(), "cells");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.order("b") == "cells directional ");
    CHECK(f.session().recipe().strand("b")->steps[0].amount == 70);
    CHECK(f.session().selection().step == "s1");
    CHECK(f.session().undo_stack().count() == before + 1);
    f.session().undo_stack().undo();
    CHECK(f.order("b") == "static directional ");
}

TEST_CASE("a step goes in between two cards at the plus on the thread", "[window][finder]") {
    Fixture f;
    const auto columns = f.loom().strands()->findChildren<StrandColumn*>();
    REQUIRE(columns.size() == 2);
    QAbstractButton* plus = columns[0]->insert_button(ChainKind::steps, 2);
    // Between the cards, and not over them.
    CHECK(plus->y() >= f.card("a", "s2")->geometry().bottom());
    CHECK(plus->geometry().bottom() < f.card("a", "s3")->y());
    QTest::mouseClick(plus, Qt::LeftButton);
    auto* finder = f.loom().findChild<StepFinder*>();
    REQUIRE(finder);
    QTest::keyClicks(finder->search(), "invert");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.order("a") == "clouds levels invert gradientmap ");
}

TEST_CASE("a chain whose source was removed is offered sources first", "[window][finder]") {
    Fixture f;
    f.click(f.card("a", "s1"));
    f.trigger("remove");
    CHECK(f.order("a") == "levels gradientmap ");
    QTest::mouseClick(f.loom().strands()->add_button("a", ChainKind::steps), Qt::LeftButton);
    auto* finder = f.loom().findChild<StepFinder*>();
    REQUIRE(finder);
    const QString kind = finder->list()->item(0)->data(Qt::UserRole).toString();
    CHECK(find_step(kind.toStdString())->family == Family::make);
    QTest::keyClicks(finder->search(), "static");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.order("a") == "static levels gradientmap ");
}

TEST_CASE("steps and strands are copied, cut and pasted, also into another window, each as one undo step", "[window][clip]") {
    Fixture f;
    f.session().set_value({"a", "s2", "in-black"}, Value(0.25));
    f.click(f.card("a", "s2"));
    f.trigger("copy");
    const int before = f.session().undo_stack().count();
    f.click(f.card("b", "s1"));
    f.trigger("paste");
    CHECK(f.order("b") == "static levels directional ");
    CHECK(f.session().selected_step()->kind == "levels");
    CHECK(as<double>(f.session().selected_step()->set.at("in-black")) == 0.25);
    CHECK(f.session().undo_stack().count() == before + 1);
    f.click(f.card("a", "s1"));
    f.trigger("cut");
    CHECK(f.order("a") == "levels gradientmap ");
    {
        Fixture other;
        other.session().select({"b", ""});
        other.trigger("paste");
        CHECK(other.order("b") == "static directional clouds ");
    }
    // A strand goes right of the one that is selected.
    f.session().select({"a", ""});
    f.trigger("copy");
    f.trigger("paste");
    REQUIRE(f.session().recipe().strands.size() == 3);
    CHECK(f.session().selection().strand == f.session().recipe().strands[1]->id);
    CHECK(f.session().recipe().strands[1]->steps.size() == 2);
    // What lies on the clipboard from elsewhere changes nothing, and that is said.
    QApplication::clipboard()->setText("a shopping list");
    f.trigger("paste");
    CHECK(f.session().recipe().strands.size() == 3);
    CHECK(f.window.message().contains("Nothing to paste"));
}
