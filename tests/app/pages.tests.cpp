// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The views as pages of the window: their commands, what they remember; and the desk's sections and choices.
#include <QComboBox>
#include <QLabel>
#include <QMenuBar>
#include <QSettings>
#include <QSignalSpy>

#include "app/loom/tuning_desk.h"
#include "app/samples/samples_view.h"
#include "app/tries/choice_pictures.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Whether a choice's picture has come: its icon is not empty any more.
bool has_picture(const QComboBox* box, int index) {
    const QImage icon = box->itemIcon(index).pixmap(ChoicePictures::side).toImage();
    return !icon.isNull() && qAlpha(icon.pixel(icon.width() / 2, icon.height() / 2)) == 255;
}

}  // namespace

TEST_CASE("a page's commands can be had while it is on show, and no longer", "[window][pages]") {
    Fixture f;
    CHECK(f.window.page()->id() == "loom");
    CHECK(f.window.action("add-step")->isEnabled());
    f.session().select({"a", "s2"});
    CHECK(f.window.action("move-up")->isEnabled());
    f.trigger("view-samples");
    CHECK(f.window.page() == f.window.samples_view());
    for (const char* id : {"add-step", "move-up", "duplicate", "repeat", "keep-colourway"}) {
        INFO(id);
        CHECK_FALSE(f.window.action(id)->isEnabled());
    }
    CHECK(f.window.action("open")->isEnabled());
    // A key of the loom is not taken while another page is on show.
    const QKeyEvent key(QEvent::KeyPress, Qt::Key_C, Qt::NoModifier, "c");
    CHECK_FALSE(f.window.page()->take_key(key, true));
    f.trigger("view-loom");
    CHECK(f.window.action("move-up")->isEnabled());
    // Each page has a tab, a shortcut and words above it.
    CHECK(f.window.action("view-samples")->shortcut() == QKeySequence("Ctrl+1"));
    CHECK(f.window.action("view-loom")->shortcut() == QKeySequence("Ctrl+2"));
    CHECK_FALSE(f.window.samples_view()->heading().first.isEmpty());
}

TEST_CASE("views look as they did when the program was closed, whatever the settings hold", "[window][pages]") {
    QSettings().remove("pages");
    {
        // Not asked to remember, as for pictures of the window.
        Fixture f;
        f.loom().cloth()->set_repeat(true);
        f.session().undo_stack().setClean();
        f.window.close();
        CHECK_FALSE(QSettings().contains("pages/loom"));
    }
    {
        Fixture f;
        f.window.remember_pages();
        CHECK(f.loom().cloth()->canvas()->repeat() == 1);
        f.loom().cloth()->set_repeat(true);
        f.session().undo_stack().setClean();
        f.window.close();
    }
    {
        Fixture f;
        f.window.remember_pages();
        CHECK(f.loom().cloth()->canvas()->repeat() > 1);
    }
    QSettings().setValue("pages/loom", QVariantMap{{"repeat", QVariantList{1, 2}}, {"columns", "nonsense"}, {"more", 3}});
    {
        Fixture f;
        f.window.remember_pages();
        CHECK(f.loom().isVisible());
        CHECK(f.loom().cloth()->canvas()->width() > 100);
    }
    QSettings().remove("pages");
}

TEST_CASE("what a command throws is told, and the window goes on", "[window][pages]") {
    Fixture f;
    QMenuBar bar;
    Commands commands(&bar);
    QSignalSpy failed(&commands, &Commands::failed);
    bool on = false;
    commands.add(
        Commands::Menu::edit, "burst", "Burst", {}, [] { throw std::runtime_error("no thread left"); }, [&] { return on; });
    commands.refresh();
    CHECK_FALSE(commands.action("burst")->isEnabled());
    on = true;
    commands.refresh();
    commands.action("burst")->trigger();
    REQUIRE(failed.count() == 1);
    CHECK(failed[0][0].toString().contains("Burst"));
    CHECK(commands.action("nothing") == nullptr);
}

TEST_CASE("long lists stand in sections, and what does not apply is not shown", "[window][desk]") {
    Fixture f;
    f.session().start_new(recipe_of({strand_of("a", {{"rings", {}, 1}})}, 256));
    f.session().select({"a", "s1"});
    f.rendered();
    TuningDesk* desk = f.loom().desk();
    for (const char* section : {"Rings", "Knots", "Pores and rays"}) CHECK(desk->heading(section));
    REQUIRE(desk->editor("knots"));
    f.session().set_value({"a", "s1", "knots"}, Value(0.0));
    CHECK(desk->editor("knot-size") == nullptr);
    f.session().set_value({"a", "s1", "knots"}, Value(3.0));
    CHECK(desk->editor("knot-size") != nullptr);
    f.session().undo_stack().undo();
    CHECK(desk->editor("knot-size") == nullptr);
}

TEST_CASE("sections fold to their values, from the keyboard too, and stay so for steps of their kind", "[window][desk]") {
    QSettings().remove("pages");
    {
        Fixture f;
        f.window.remember_pages();
        f.session().start_new(recipe_of({strand_of("a", {{"rings", {{"knots", 3.0}}, 1}, {"rings", {}, 2}})}, 256));
        f.session().select({"a", "s1"});
        TuningDesk* desk = f.loom().desk();
        QAbstractButton* heading = desk->heading("Knots");
        REQUIRE(heading);
        QWidget* row = desk->editor("knots");
        CHECK(row->isVisible());
        QTest::mouseClick(heading, Qt::LeftButton);
        CHECK_FALSE(row->isVisible());
        CHECK(desk->editor("bands")->isVisible());
        CHECK_FALSE(heading->isChecked());
        QTest::keyClick(heading, Qt::Key_Space);
        CHECK(row->isVisible());
        QTest::keyClick(heading, Qt::Key_Space);
        // Changed while it is folded, and on another step of the kind.
        f.session().set_value({"a", "s1", "knots"}, Value(5.0));
        CHECK_FALSE(desk->editor("knots")->isVisible());
        f.session().select({"a", "s2"});
        CHECK_FALSE(desk->editor("knots")->isVisible());
        f.session().undo_stack().setClean();
        f.window.close();
    }
    Fixture f;
    f.window.remember_pages();
    f.session().start_new(recipe_of({strand_of("a", {{"rings", {}, 1}})}, 256));
    f.session().select({"a", "s1"});
    CHECK_FALSE(f.loom().desk()->editor("knots")->isVisible());
    QSettings().remove("pages");
}

TEST_CASE("choices that are told apart by looking get pictures, and choosing works as ever", "[window][desk]") {
    Fixture f;
    f.session().start_new(recipe_of({strand_of("a", {{"cells", {}, 1}})}, 256));
    f.session().select({"a", "s1"});
    auto* box = qobject_cast<QComboBox*>(f.loom().desk()->editor("show"));
    REQUIRE(box);
    REQUIRE(QTest::qWaitFor(
        [&] {
            for (int k = 0; k < box->count(); ++k)
                if (!has_picture(box, k)) return false;
            return true;
        },
        patience));
    CHECK(box->itemIcon(0).pixmap(36).toImage() != box->itemIcon(2).pixmap(36).toImage());
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Down);
    CHECK(value_at(f.session().recipe(), {"a", "s1", "show"}) == Value(box->currentData().toString().toStdString()));
    // A box goes away while its pictures are still made.
    f.session().select({});
    f.session().select({"a", "s1"});
    f.session().select({});
    f.rendered();
}
