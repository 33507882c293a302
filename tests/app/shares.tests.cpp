// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What strands share and how their masks count, at the desk; steps that begin a strand by another's height; words of formulas.
#include <QAbstractItemView>
#include <QComboBox>
#include <QCompleter>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>

#include "app/loom/aside_picture.h"
#include "app/loom/tuning_desk.h"
#include "app/tries/formula_parts.h"
#include "app/tries/plane_choice.h"
#include "app/widgets/formula_edit.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

Value strand_value(Fixture& f, const char* strand, const char* id) { return *value_at(f.session().recipe(), {strand, "", id}); }

}  // namespace

TEST_CASE("an empty strand can begin with the light on another's height", "[window][finder]") {
    Fixture f;
    f.session().apply(strand_added(f.session().recipe(), strand_of("c", {}), 2), "Add");
    QTest::qWait(30);
    QTest::mouseClick(f.loom().strands()->add_button("c", ChainKind::steps), Qt::LeftButton);
    auto* finder = f.loom().findChild<StepFinder*>();
    REQUIRE(finder);
    QTest::keyClicks(finder->search(), "relief light");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(f.order("c") == "relief ");
    const Step& step = f.session().recipe().strand("c")->steps[0];
    CHECK(as<std::string>(step.set.at("height")) == "strand");
    f.session().set_value({"c", step.id, "strand"}, Value(std::string("a")));
    f.rendered();
    CHECK(f.session().recipe().strand("c")->steps.size() == 1);
}

TEST_CASE("a strand's desk switches its mask, and lets its chains go on from another's", "[window][desk]") {
    Fixture f;
    f.session().select({"a", ""});
    TuningDesk& desk = *f.loom().desk();
    // Without a mask there is nothing to switch.
    CHECK_FALSE(desk.editor("mask.on"));
    Step gate;
    gate.kind = "gate";
    f.session().apply(step_added(f.session().recipe(), {"a", ChainKind::mask, 0}, gate), "Add");
    f.session().select({"a", ""});
    auto* inverted = qobject_cast<QCheckBox*>(desk.editor("mask.inverted"));
    REQUIRE(inverted);
    inverted->click();
    CHECK(as<bool>(strand_value(f, "a", "mask.inverted")));
    auto* on = qobject_cast<QCheckBox*>(desk.editor("mask.on"));
    REQUIRE(on);
    on->click();
    CHECK_FALSE(as<bool>(strand_value(f, "a", "mask.on")));
    // What no longer matters is not shown.
    CHECK_FALSE(desk.editor("mask.inverted"));
    auto* edge = qobject_cast<QComboBox*>(desk.editor("edge-from"));
    REQUIRE(edge);
    edge->setCurrentIndex(edge->findData("b"));
    emit edge->activated(edge->currentIndex());
    CHECK(as<std::string>(strand_value(f, "a", "edge-from")) == "b");
    // Round in a circle it is refused, and the list goes back.
    f.session().select({"b", ""});
    edge = qobject_cast<QComboBox*>(desk.editor("edge-from"));
    REQUIRE(edge);
    edge->setCurrentIndex(edge->findData("a"));
    emit edge->activated(edge->currentIndex());
    CHECK(as<std::string>(strand_value(f, "b", "edge-from")).empty());
    CHECK(edge->currentData().toString().isEmpty());
    f.trigger("undo");
    CHECK(as<std::string>(strand_value(f, "a", "edge-from")).empty());
}

TEST_CASE("the room that is mirrored stands beside its control, and another seed has another", "[window][desk]") {
    Fixture f;
    Step step;
    step.kind = "reflections", step.set["surroundings"] = std::string("studio");
    f.session().apply(step_added(f.session().recipe(), {"a", ChainKind::steps, 3}, step), "Add");
    const std::string id = f.session().recipe().strand("a")->steps[3].id;
    f.session().select({"a", id});
    auto* picture = f.loom().desk()->findChild<AsidePicture*>();
    REQUIRE(picture);
    const auto shown = [&] { return picture->pixmap(Qt::ReturnByValue).toImage(); };
    REQUIRE(QTest::qWaitFor([&] { return !shown().isNull(); }, patience));
    const QImage first = shown();
    CHECK(first.size() == QSize(AsidePicture::side, AsidePicture::side));
    f.session().set_value({"a", id, "seed"}, Value(5.0));
    CHECK(QTest::qWaitFor([&] { return shown() != first; }, patience));
}

TEST_CASE("the desk says of a step that it has no effect", "[window][desk]") {
    Fixture f;
    Step step;
    step.kind = "static";
    f.session().apply(step_added(f.session().recipe(), {"a", ChainKind::steps, 3}, step), "Add");
    f.session().select({"a", "s1"});
    const auto says = [&] {
        for (const QLabel* label : f.loom().desk()->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains("has no effect")) return true;
        return false;
    };
    CHECK(says());
    f.session().select({"a", f.session().recipe().strand("a")->steps[3].id});
    CHECK_FALSE(says());
}

TEST_CASE("words of a formula are offered while they are typed", "[widgets][formula]") {
    FormulaEdit edit("Formula");
    edit.resize(320, 120);
    edit.show();
    REQUIRE(QTest::qWaitForWindowExposed(&edit));
    edit.field()->setFocus();
    auto* completer = edit.findChild<QCompleter*>();
    REQUIRE(completer);
    QTest::keyClicks(edit.field(), "0.5 + b.he");
    CHECK(completer->popup()->isVisible());
    CHECK(completer->popup()->currentIndex().data().toString() == "b.height");
    QTest::keyClick(completer->popup(), Qt::Key_Return);
    INFO(edit.field()->toPlainText().toStdString());
    CHECK(edit.field()->toPlainText() == "0.5 + b.height");
    CHECK_FALSE(completer->popup()->isVisible());
    // A whole word and a single letter are left alone.
    edit.field()->clear();
    QTest::keyClicks(edit.field(), "u");
    CHECK_FALSE(completer->popup()->isVisible());
    edit.set_expression("clo");
    CHECK_FALSE(completer->popup()->isVisible());
}

TEST_CASE("what can be taken of a strand is offered by what it is made of, each with its picture", "[window][desk][planes]") {
    Fixture f;
    Recipe recipe = recipe_of({strand_of("timber", {{"rings", {}, 3}}), strand_of("own", {{"borrow", {}}})}, 256);
    f.session().start_new(recipe);
    f.session().set_value({"own", "s1", "strand"}, Value(std::string("timber")));
    f.session().select({"own", "s1"});
    TuningDesk& desk = *f.loom().desk();
    auto* output = qobject_cast<PlaneChoice*>(desk.editor("output"));
    REQUIRE(output);
    CHECK(output->findData("pores") >= 0);
    CHECK(output->findData("crown") < 0);
    output->showPopup();
    REQUIRE(QTest::qWaitFor([&] { return output->complete(); }, 20000));
    // A picture of the pores is none of the late wood.
    const auto picture = [&](const char* word) { return output->itemIcon(output->findData(word)).pixmap(36, 36).toImage(); };
    CHECK(picture("pores") != picture("late-wood"));
    output->hidePopup();
    output->setCurrentIndex(output->findData("pores"));
    emit output->activated(output->currentIndex());
    CHECK(as<std::string>(*value_at(f.session().recipe(), {"own", "s1", "output"})) == "pores");
    // Another strand has other parts; what was chosen stays in the list.
    f.session().apply(step_exchanged(f.session().recipe(), "timber", "s1", *find_step("weave")), "Exchange");
    QTest::qWait(30);
    output = qobject_cast<PlaneChoice*>(desk.editor("output"));
    REQUIRE(output);
    CHECK(output->findData("crown") >= 0);
    CHECK(output->findData("pores") >= 0);
    CHECK(output->findData("late-wood") < 0);
    // A route says what of its strand it feeds, where there is a choice.
    f.session().select({"timber", ""});
    CHECK_FALSE(desk.editor("routes.roughness.plane"));
    f.session().apply(with_route(f.session().recipe(), "timber", Map::roughness, Route{}), "Route");
    QTest::qWait(30);
    auto* fed = qobject_cast<PlaneChoice*>(desk.editor("routes.roughness.plane"));
    REQUIRE(fed);
    fed->setCurrentIndex(fed->findData("crown"));
    emit fed->activated(fed->currentIndex());
    CHECK(f.session().recipe().strand("timber")->routes.at(Map::roughness).plane == "crown");
    // The foot of the strand says that it feeds a map.
    const auto widgets = f.loom().findChildren<QWidget*>();
    CHECK(std::any_of(widgets.begin(), widgets.end(), [](const QWidget* each) {
        return each->toolTip().contains("Feeds the maps") && each->accessibleDescription().contains("Roughness");
    }));
    if (const QByteArray folder = qgetenv("KEEN_LOOM_LOOK"); !folder.isEmpty()) {
        f.loom().window()->grab().save(QString::fromUtf8(folder) + "/route.png");
        f.session().select({"own", "s1"});
        f.rendered();
        f.loom().window()->grab().save(QString::fromUtf8(folder) + "/taken.png");
    }
}

TEST_CASE("a formula's words list what its strands are made of, each with its picture", "[window][desk][planes]") {
    Fixture f;
    f.session().start_new(recipe_of(
        {strand_of("timber", {{"rings", {}, 3}}), strand_of("cloth", {{"weave", {}, 4}}), strand_of("own", {{"formula", {}}})},
        256));
    f.session().set_value({"own", "s1", "strand-b"}, Value(std::string("timber")));
    f.session().select({"own", "s1"});
    auto* edit = dynamic_cast<FormulaEdit*>(f.loom().desk()->editor("expression"));
    REQUIRE(edit);
    const auto action = [&](const QString& word) -> QAction* {
        for (QAction* each : edit->part_list()->actions())
            if (each->text().startsWith(word + "\t")) return each;
        return nullptr;
    };
    REQUIRE(action("b.pores"));
    CHECK_FALSE(action("a.pores"));
    CHECK_FALSE(action("b.crown"));
    edit->part_list()->popup(QPoint(10, 10));
    auto* parts = edit->findChild<FormulaParts*>();
    REQUIRE(parts);
    REQUIRE(QTest::qWaitFor([&] { return parts->complete(); }, 20000));
    const auto picture = [&](const char* word) { return action(word)->icon().pixmap(36, 36).toImage(); };
    CHECK(picture("b.pores") != picture("b.late_wood"));
    if (const QByteArray folder = qgetenv("KEEN_LOOM_LOOK"); !folder.isEmpty())
        edit->part_list()->grab().save(QString::fromUtf8(folder) + "/parts.png");
    edit->part_list()->hide();
    edit->field()->clear();
    action("b.pores")->trigger();
    CHECK(edit->field()->toPlainText() == "b.pores");
    // Another strand has other parts.
    f.session().set_value({"own", "s1", "strand-b"}, Value(std::string("cloth")));
    CHECK(QTest::qWaitFor([&] { return action("b.crown") && !action("b.pores"); }, 2000));
}
