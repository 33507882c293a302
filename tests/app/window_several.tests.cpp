// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Several cards in hand at once, strands folded to their name, and groups of strands, driven by mouse and keyboard.
#include <QApplication>
#include <QClipboard>
#include <QInputDialog>
#include <QTest>
#include <QToolButton>

#include "app/loom/strand_column.h"
#include "app/loom/strand_groups.h"
#include "core/recipe/groups.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

std::size_t selected(Fixture& f) { return f.session().selected_steps().size(); }

QPoint middle(QWidget* widget) { return widget->rect().center(); }

}  // namespace

TEST_CASE("cards are selected together with Shift, Ctrl and a band", "[window][strands][several]") {
    Fixture f;
    f.click(f.card("a", "s1"));
    QTest::mouseClick(f.card("a", "s3"), Qt::LeftButton, Qt::ShiftModifier, {20, 12});
    CHECK(selected(f) == 3);
    CHECK(f.card("a", "s2")->selected());
    CHECK(f.session().selection() == Selection{"a", "s3"});
    QTest::mouseClick(f.card("b", "s1"), Qt::LeftButton, Qt::ControlModifier, {20, 12});
    QTest::mouseClick(f.card("a", "s2"), Qt::LeftButton, Qt::ControlModifier, {20, 12});
    CHECK(selected(f) == 3);
    CHECK(!f.card("a", "s2")->selected());
    // One of them, clicked, is selected by itself; its dragging would have taken all.
    f.click(f.card("b", "s1"));
    CHECK(selected(f) == 1);
    // Shift with the arrows takes the next along, and lets it go on the way back.
    QTest::keyClick(f.card("b", "s1"), Qt::Key_Down, Qt::ShiftModifier);
    CHECK(selected(f) == 2);
    CHECK(f.session().selection() == Selection{"b", "s2"});
    QTest::keyClick(f.card("b", "s2"), Qt::Key_Up, Qt::ShiftModifier);
    CHECK(selected(f) == 1);
    // A band from beside the cards over two of them.
    StepCard *first = f.card("a", "s1"), *second = f.card("a", "s2");
    QWidget* ground = first->parentWidget()->parentWidget();
    const QPoint from = first->mapTo(ground, QPoint(-3, 4)), to = second->mapTo(ground, middle(second));
    QTest::mousePress(ground, Qt::LeftButton, {}, from);
    QTest::mouseMove(ground, (from + to) / 2);
    QTest::mouseMove(ground, to);
    QTest::mouseRelease(ground, Qt::LeftButton, {}, to);
    CHECK(f.session().selected_steps() == StepPlaces{{"a", "s1"}, {"a", "s2"}});
    f.trigger("select-chain");
    CHECK(selected(f) == 3);
}

TEST_CASE("what is selected together is bypassed, moved, copied and removed together, each as one undo step",
          "[window][strands][several]") {
    Fixture f;
    f.click(f.card("a", "s2"));
    QTest::mouseClick(f.card("a", "s3"), Qt::LeftButton, Qt::ShiftModifier, {20, 12});
    const Recipe before = f.session().recipe();
    const auto undone = [&] {
        f.trigger("undo");
        QTest::qWait(30);
        return f.session().recipe() == before;
    };
    f.trigger("bypass");
    CHECK(!f.session().recipe().step({"a", "s2", ""})->on);
    CHECK(!f.session().recipe().step({"a", "s3", ""})->on);
    CHECK(undone());
    f.trigger("move-up");
    CHECK(f.order("a") == "levels gradientmap clouds ");
    CHECK(selected(f) == 2);
    CHECK(undone());
    f.trigger("move-right");
    CHECK(f.order("a") == "clouds ");
    CHECK(f.order("b") == "static levels gradientmap directional ");
    CHECK(selected(f) == 2);
    CHECK(undone());
    f.session().select_several({{"a", "s2"}, {"a", "s3"}}, {"a", "s3"});
    f.trigger("duplicate");
    CHECK(f.order("a") == "clouds levels gradientmap levels gradientmap ");
    CHECK(undone());
    f.session().select_several({{"a", "s2"}, {"a", "s3"}}, {"a", "s3"});
    f.trigger("cut");
    CHECK(f.order("a") == "clouds ");
    f.session().select({"b", "s1"});
    f.trigger("paste");
    CHECK(f.order("b") == "static levels gradientmap directional ");
    CHECK(selected(f) == 2);
    f.trigger("undo");
    CHECK(undone());
    // Dragged together, whichever is held.
    QTest::qWait(30);
    f.session().select_several({{"a", "s2"}, {"a", "s3"}}, {"a", "s2"});
    StepCard *held = f.card("a", "s3"), *onto = f.card("b", "s2");
    const QPoint to = held->mapFromGlobal(onto->mapToGlobal(QPoint(60, 2)));
    QTest::mousePress(held, Qt::LeftButton, {}, {30, 20});
    for (int k = 1; k <= 4; ++k) QTest::mouseMove(held, QPoint(30, 20) + (to - QPoint(30, 20)) * k / 4);
    QTest::mouseRelease(held, Qt::LeftButton, {}, to);
    CHECK(f.order("b") == "static levels gradientmap directional ");
    CHECK(undone());
}

TEST_CASE("a strand is folded to its name and unfolded", "[window][strands][groups]") {
    Fixture f;
    const int wide = f.loom().strands()->strand_place("b").left();
    f.session().select({"a", ""});
    f.trigger("fold");
    QTest::qWait(30);
    FoldedStrands* folded = f.loom().strands()->folded("a");
    REQUIRE(folded);
    CHECK(!f.card("a", "s1"));
    CHECK(f.loom().strands()->strand_place("b").left() < wide - 50);
    CHECK(folded->accessibleName().contains("folded"));
    // It makes what it made before.
    f.rendered();
    folded->setFocus();
    QTest::keyClick(folded, Qt::Key_Return);
    QTest::qWait(30);
    CHECK(f.card("a", "s1"));
    f.trigger("undo");
    QTest::qWait(30);
    REQUIRE(f.loom().strands()->folded("a"));
    f.loom().strands()->folded("a")->unfold_button()->click();
    CHECK(!f.session().recipe().strand("a")->folded);
}

TEST_CASE("neighbouring strands are grouped under a name that folds", "[window][strands][groups]") {
    Fixture f;
    f.session().select({"a", ""});
    f.trigger("group");
    QTest::qWait(30);
    CHECK(runs(f.session().recipe()).size() == 1);
    GroupBand* band = f.loom().strands()->group_band("b");
    REQUIRE(band);
    // It lies over both of its strands, as soon as these have their places.
    const auto lies_over_both = [&] {
        const int left = band->mapToGlobal(QPoint(0, 0)).x();
        return left <= f.loom().strands()->strand_place("a").left() + 4 &&
               left + band->width() >= f.loom().strands()->strand_place("b").right() - 4;
    };
    CHECK(QTest::qWaitFor(lies_over_both, patience));
    CHECK(band->isVisible());
    f.trigger("rename-group");
    auto* input = dialog<QInputDialog>(f.window);
    input->setTextValue("Ground");
    input->accept();
    QTest::qWait(30);
    CHECK(f.session().recipe().strand("b")->group.name == "Ground");
    f.loom().strands()->group_band("a")->fold_button()->click();
    QTest::qWait(30);
    FoldedStrands* folded = f.loom().strands()->folded("b");
    REQUIRE(folded);
    CHECK(folded == f.loom().strands()->folded("a"));
    CHECK(!f.card("b", "s1"));
    // It is on while anything of it is.
    for (const char* off : {"a", "b"}) {
        CHECK(f.loom().strands()->folded("a")->on());
        f.session().apply(strand_switched(f.session().recipe(), off, false), "off");
        QTest::qWait(30);
    }
    CHECK(!f.loom().strands()->folded("a")->on());
    f.session().select({"b", ""});
    f.trigger("fold-group");
    QTest::qWait(30);
    CHECK(f.card("b", "s1"));
    f.trigger("dissolve-group");
    QTest::qWait(30);
    CHECK(!f.loom().strands()->group_band("a"));
    CHECK(f.session().recipe().strand("b")->group.name.empty());
}
