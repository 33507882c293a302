// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The view of tries, driven by mouse and keyboard.
#include <QFileDialog>
#include <QMenu>
#include <QPushButton>

#include <QCheckBox>

#include "app/document/reference.h"
#include "app/loom/tuning_desk.h"
#include "app/tries/toward_panel.h"
#include "app/tries/try_sheet.h"
#include "app/tries/try_view.h"
#include "core/files/picture.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

using What = Question::What;

struct Tries : Fixture {
    TryView& tries;
    TrySheet& sheet;
    Tries() : tries(*window.try_view()), sheet(*tries.sheet()) {}
    void ask(What what) {
        window.show_page(&tries);
        QTest::mouseClick(tries.kind(what), Qt::LeftButton);
        complete();
    }
    void complete() {
        REQUIRE(QTest::qWaitFor([this] { return tries.complete(); }, patience));
    }
    void key(int key) { QTest::keyClick(&sheet, static_cast<Qt::Key>(key)); }
    void press(int index, Qt::KeyboardModifiers with = {}) {
        QTest::mouseClick(&sheet, Qt::LeftButton, with, sheet.place(index).center());
    }
};

}  // namespace

TEST_CASE("seeds are tried on one sheet, and Enter takes one as one undo step", "[window][try]") {
    Tries f;
    f.session().select({"a", "s1"});
    f.ask(What::seed);
    REQUIRE(f.sheet.count() == 25);
    CHECK(f.tries.question().across == Address{"a", "s1", "seed"});
    CHECK(f.sheet.present() == 0);
    CHECK(f.sheet.chosen() == 0);
    CHECK_FALSE(f.tries.take_button()->isEnabled());
    for (int k = 0; k < 25; ++k) CHECK_FALSE(f.sheet.picture(k).isNull());
    CHECK(f.sheet.picture(0) != f.sheet.picture(7));
    // Pictures lie within the sheet, none over another.
    for (int k = 0; k < 25; ++k) {
        CHECK(f.sheet.rect().contains(f.sheet.place(k)));
        if (k > 0) CHECK_FALSE(f.sheet.place(k).intersects(f.sheet.place(k - 1)));
    }
    f.sheet.setFocus();
    const int steps = f.session().undo_stack().count();
    f.key(Qt::Key_Right), f.key(Qt::Key_Down);
    CHECK(f.sheet.chosen() == f.sheet.columns() + 1);
    f.key(Qt::Key_Left), f.key(Qt::Key_Left), f.key(Qt::Key_Left);
    CHECK(f.sheet.chosen() == f.sheet.columns());
    f.key(Qt::Key_Return);
    CHECK(f.session().undo_stack().count() == steps + 1);
    CHECK(f.number("a", "s1", "seed") == 1 + f.sheet.columns());
    f.trigger("undo");
    CHECK(f.number("a", "s1", "seed") == 1);
}

TEST_CASE("one value and two values are varied between ends that are typed, narrowed and swapped", "[window][try]") {
    Tries f;
    f.session().select({"a", "s2"});
    f.ask(What::two);
    const Question first = f.tries.question();
    CHECK(first.across.step == "s2");
    REQUIRE(f.sheet.count() == 25);
    CHECK(f.sheet.present() >= 0);
    f.tries.ask([] {
        Question q;
        q.what = What::two, q.across = {"a", "s2", "in-black"}, q.down = {"a", "s1", "octaves"};
        q.columns = 3, q.rows = 2, q.down_span = Span{2, 5};
        return q;
    }());
    f.complete();
    REQUIRE(f.sheet.count() == 6);
    CHECK(f.sheet.columns() == 3);
    // Tones are typed as they are read, to 255.
    QDoubleSpinBox* to = f.tries.end(false, true);
    CHECK(to->value() == Approx(255));
    to->setFocus();
    to->selectAll();
    QTest::keyClicks(to, "102");
    QTest::keyClick(to, Qt::Key_Return);
    f.complete();
    CHECK(f.tries.question().across_span->to == Approx(0.4));
    // Closer round the chosen one.
    f.press(2);
    QPushButton* closer = nullptr;
    QPushButton* swap = nullptr;
    for (QPushButton* each : f.tries.findChildren<QPushButton*>()) {
        if (each->text().startsWith("Closer")) closer = each;
        if (each->text().startsWith("Swap")) swap = each;
    }
    REQUIRE(closer);
    QTest::mouseClick(closer, Qt::LeftButton);
    f.complete();
    CHECK(f.tries.question().across_span->to - f.tries.question().across_span->from < 0.3);
    REQUIRE(swap);
    QTest::mouseClick(swap, Qt::LeftButton);
    f.complete();
    CHECK(f.tries.question().across.parameter == "octaves");
    CHECK(f.sheet.columns() == f.tries.question().columns);
}

TEST_CASE("all blends of a strand are on one sheet; several are compared large, stacked, beside and under a wipe",
          "[window][try]") {
    Tries f;
    f.session().select({"b", ""});
    f.trigger("try-blends");
    CHECK(f.window.page() == &f.tries);
    f.complete();
    REQUIRE(f.sheet.count() == static_cast<int>(blend_names().size()));
    const auto at = [](Blend blend) {
        const auto all = blends_by_want();
        return static_cast<int>(std::find(all.begin(), all.end(), blend) - all.begin());
    };
    CHECK(f.sheet.present() == at(Blend::soft_light));
    f.press(at(Blend::multiply));
    CHECK(f.tries.compare()->pictures().size() == 2);
    f.press(at(Blend::screen), Qt::ControlModifier);
    f.press(at(Blend::difference), Qt::ControlModifier);
    CHECK(f.sheet.compared().size() == 2);
    CHECK(f.tries.compare()->pictures().size() == 3);
    f.sheet.setFocus();
    f.key(Qt::Key_Space);
    CHECK(f.sheet.compared().size() == 1);
    // Large pictures and their measures come.
    REQUIRE(QTest::qWaitFor([&] { return f.tries.compare()->pictures()[0].note.contains("seam"); }, patience));
    CHECK(f.tries.compare()->pictures()[0].image.width() > 192);
    for (QPushButton* each : f.tries.findChildren<QPushButton*>())
        if (each->text() == "Wipe") QTest::mouseClick(each, Qt::LeftButton);
    CHECK(f.tries.compare()->way() == ComparePane::Way::wipe);
    const QRect place = f.tries.compare()->place(0);
    QTest::mousePress(f.tries.compare(), Qt::LeftButton, {}, place.center());
    QTest::mouseMove(f.tries.compare(), QPoint(place.left() + place.width() / 4, place.center().y()));
    QTest::mouseRelease(f.tries.compare(), Qt::LeftButton, {}, QPoint(place.left() + place.width() / 4, place.center().y()));
    CHECK(f.tries.compare()->line() == Approx(0.25).margin(0.03));
    // Taken by a double click.
    QTest::mouseDClick(&f.sheet, Qt::LeftButton, {}, f.sheet.place(at(Blend::screen)).center());
    CHECK(f.session().recipe().strand("b")->join.blend == Blend::screen);
}

TEST_CASE("a try is kept as a colourway, which is found among the colourways then", "[window][try][colourways]") {
    Tries f;
    f.session().select({"a", "s3"});
    f.ask(What::colours);
    REQUIRE(f.sheet.count() > 10);
    f.press(3);
    const Recipe before = f.session().recipe();
    f.sheet.setFocus();
    f.key(Qt::Key_K);
    auto* line = dialog<QDialog>(f.window)->findChild<QLineEdit*>();
    REQUIRE(line);
    line->setText("Found");
    QTest::keyClick(line, Qt::Key_Return);
    REQUIRE(QTest::qWaitFor([&] { return f.session().recipe().colourways.size() == 1; }, patience));
    CHECK(f.session().recipe().strands == before.strands);
    f.complete();
    f.ask(What::colourways);
    REQUIRE(f.sheet.count() == 2);
    CHECK(f.sheet.present() == 0);
    CHECK(f.sheet.caption(1) == "Found");
    f.sheet.setFocus();
    f.key(Qt::Key_End), f.key(Qt::Key_Return);
    CHECK_FALSE(f.session().recipe().strands == before.strands);
}

TEST_CASE("a parameter's menu and the menus open the view already set; other questions give up what was under way",
          "[window][try]") {
    Tries f;
    f.session().select({"a", "s1"});
    const auto menu = f.loom().desk()->row_menu("octaves");
    QAction* action = nullptr;
    for (QAction* each : menu->actions())
        if (each->text() == "Try this") action = each;
    REQUIRE(action);
    action->trigger();
    CHECK(f.window.page() == &f.tries);
    CHECK(f.tries.question().what == What::one);
    CHECK(f.tries.question().across == Address{"a", "s1", "octaves"});
    f.complete();
    CHECK(f.sheet.count() == 9);
    // Nothing of a question that was given up arrives in the next.
    f.window.show_page(&f.tries);
    for (What what : {What::seed, What::blend, What::two, What::presence}) {
        QTest::mouseClick(f.tries.kind(what), Qt::LeftButton);
        QTest::qWait(70);
    }
    f.complete();
    CHECK(f.tries.question().what == What::presence);
    CHECK(f.sheet.count() == 1 + static_cast<int>(f.session().recipe().strand(f.tries.question().across.strand)->steps.size()));
    CHECK(f.sheet.caption(1).startsWith("Without"));
    f.window.show_page(f.window.loom_view());
    f.session().select({"a", "s1"});
    f.trigger("try-seeds");
    CHECK(f.tries.question().what == What::seed);
    f.complete();
    // Another recipe has no such step: the question fits itself to it.
    f.session().start_new(fresh_recipe());
    f.complete();
    CHECK(value_at(f.session().recipe(), f.tries.question().across));
}

TEST_CASE("a sheet is saved as a picture with its captions", "[window][try]") {
    const TemporaryFolder folder;
    Tries f;
    f.session().select({"a", "s2"});
    f.ask(What::presence);
    f.tries.save_sheet(QString::fromStdString(folder.path("s.png")));
    REQUIRE(QTest::qWaitFor(
        [&] { return folder.files().size() == 1 && QImage(QString::fromStdString(folder.path("s.png"))).width() > 400; },
        patience));
    f.tries.save_sheet(QString::fromStdString(folder.path("s.tga")));
    REQUIRE(QTest::qWaitFor([&] { return f.window.message().contains("s.tga"); }, patience));
    CHECK(folder.files().size() == 1);
}

TEST_CASE("a search toward a picture shows the best as they come, is stopped at once and takes nothing unasked",
          "[window][try][toward][rendering]") {
    const TemporaryFolder folder;
    Tries f;
    Recipe recipe = f.session().recipe();
    recipe.dials.push_back({"Depth", 0, {{{"a", "s2", "in-black"}, 0, 0.9}}});
    f.session().start_new(recipe);
    // The picture is this cloth with the dial elsewhere.
    const Bundle goal = cloth(with_dial(recipe, "Depth", 70), {256, 256});
    REQUIRE(write_picture(folder.path("goal.png"), goal, PictureFormat::png));
    f.window.show_page(&f.tries);
    QTest::mouseClick(f.tries.kind(What::toward), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !f.tries.toward()->boxes().empty(); }, patience));
    CHECK_FALSE(f.tries.toward()->search_button()->isEnabled());
    f.loom().reference().load(QString::fromStdString(folder.path("goal.png")));
    REQUIRE(QTest::qWaitFor([&] { return f.tries.toward()->search_button()->isEnabled(); }, patience));
    CHECK(f.tries.toward()->boxes().front()->isChecked());
    const Recipe before = f.session().recipe();
    QTest::mouseClick(f.tries.toward()->search_button(), Qt::LeftButton);
    CHECK(f.tries.toward()->search_button()->text() == "Stop");
    REQUIRE(QTest::qWaitFor([&] { return f.sheet.count() > 0; }, patience));
    REQUIRE(QTest::qWaitFor([&] { return !f.tries.toward()->searching(); }, 4 * patience));
    f.complete();
    CHECK(f.sheet.count() > 3);
    CHECK(f.sheet.count() <= 12);
    CHECK(f.session().recipe() == before);
    // Best first; taken, it is near where the picture was made.
    f.sheet.choose(0);
    f.sheet.setFocus();
    f.key(Qt::Key_Return);
    CHECK(f.number("a", "s2", "in-black") == Approx(0.63).margin(0.08));
    QTest::mouseClick(f.tries.toward()->search_button(), Qt::LeftButton);
    QTest::mouseClick(f.tries.toward()->search_button(), Qt::LeftButton);
    CHECK(QTest::qWaitFor([&] { return !f.tries.toward()->searching(); }, patience));
}
