// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What people do over a whole sitting: build a strand, keep colourways, go back to the start, export in every format.
#include <QComboBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QTest>
#include <QToolButton>

#include "app/loom/cloth_view.h"
#include "app/loom/join_card.h"
#include "app/loom/loom_view.h"
#include "app/loom/measures_bar.h"
#include "app/loom/step_card.h"
#include "app/loom/step_finder.h"
#include "app/loom/strands_view.h"
#include "app/loom/tuning_desk.h"
#include "app/main_window.h"
#include "app/samples/samples_view.h"
#include "app/widgets/number_edit.h"
#include "core/base/files.h"
#include "core/base/hash.h"
#include "core/files/picture.h"
#include "core/recipe/container.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

void take_from_finder(Fixture& f, const char* strand, ChainKind chain, const char* words) {
    QTest::mouseClick(f.loom().strands()->add_button(strand, chain), Qt::LeftButton);
    auto* finder = dialog<StepFinder>(f.loom());
    QTest::keyClicks(finder->search(), words);
    QTest::keyClick(finder->search(), Qt::Key_Return);
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().findChild<StepFinder*>(); }, patience));
}

/// One edit of many kinds, drawn by a number; some are refused, which has to change nothing.
void edit_by_lot(Session& session, std::uint64_t lots) {
    auto lot = [&](std::uint64_t which, std::uint64_t count) { return mix64(lots, which) % count; };
    const Recipe& recipe = session.recipe();
    if (recipe.strands.empty()) return;
    const Strand& strand = *recipe.strands[lot(1, recipe.strands.size())];
    const std::string step = strand.steps.empty() ? std::string() : strand.steps[lot(2, strand.steps.size())].id;
    switch (lot(0, 9)) {
        case 0: session.set_value({strand.id, step, "amount"}, Value(static_cast<double>(lot(3, 101)))); break;
        case 1: session.apply(step_duplicated(recipe, strand.id, step), "Duplicate"); break;
        case 2:
            session.apply(step_moved(recipe, strand.id, step, {recipe.strands.back()->id, ChainKind::steps, 1}), "Move");
            break;
        case 3:
            session.apply(
                with_join(recipe, strand.id, {static_cast<Blend>(lot(3, 17)), static_cast<double>(lot(4, 101)), lot(5, 2) == 0}),
                "Join");
            break;
        case 4: session.apply(strand_duplicated(recipe, strand.id), "Duplicate strand"); break;
        case 5: session.set_value({strand.id, step, "where"}, Value(recipe.strands[lot(3, recipe.strands.size())]->id)); break;
        case 6: session.set_value({strand.id, step, "gate.of"}, Value(std::string(lot(3, 2) ? "own" : "beneath"))); break;
        case 7:
            session.apply(with_route(recipe, strand.id, Map::height, Route{Blend::plus, static_cast<double>(lot(3, 101))}),
                          "Route");
            break;
        case 8:
            if (recipe.strands.size() > 2) session.apply(strand_removed(recipe, strand.id), "Remove");
            break;
    }
}

}  // namespace

TEST_CASE("a strand with mask and edge chain is built through the window and saved whole", "[window][flows]") {
    Fixture f;
    const TemporaryFolder folder;
    take_from_finder(f, "b", ChainKind::mask, "clouds");
    take_from_finder(f, "b", ChainKind::mask, "levels");
    take_from_finder(f, "b", ChainKind::edge, "relief");
    const Strand& b = *f.session().recipe().strand("b");
    REQUIRE(b.mask.size() == 2);
    REQUIRE(b.edge.size() == 1);
    CHECK(b.edge[0].kind == "relief");
    f.rendered();
    // Every step of every chain has a card with a picture, and the mask shows in the cloth.
    for (ChainKind chain : all_chains)
        for (const Step& step : b.chain(chain)) {
            StepCard* card = f.card("b", step.id.c_str());
            INFO(step.id);
            REQUIRE(card);
            CHECK(card->isVisible());
        }
    const QImage masked = f.loom().cloth()->canvas()->image().copy();
    f.session().select({"b", b.mask[0].id});
    f.trigger("bypass");
    f.rendered();
    CHECK(f.loom().cloth()->canvas()->image() != masked);
    f.trigger("undo");
    REQUIRE(saved(f.window, QString::fromStdString(folder.path("built.loom"))));
    CHECK(read_loom(folder.path("built.loom"))->recipe == f.session().recipe());
}

TEST_CASE("a colourway is kept under a name and laid over again from the header", "[window][flows]") {
    Fixture f;
    const Stops gold{{0, {0.2f, 0.1f, 0}, 0}, {1, {1, 0.8f, 0.3f}, 0}};
    f.session().set_value({"a", "s3", "stops"}, Value(gold));
    auto keep = [&](const char* name) {
        f.trigger("keep-colourway");
        auto* asks = dialog<QInputDialog>(f.window);
        asks->setTextValue(name);
        asks->accept();
        QTest::qWait(20);
    };
    keep("Gold");
    REQUIRE(f.session().recipe().colourway("Gold"));
    const Stops silver{{0, {0.1f, 0.1f, 0.1f}, 0}, {1, {0.9f, 0.9f, 0.95f}, 0}};
    f.session().set_value({"a", "s3", "stops"}, Value(silver));
    keep("Silver");
    auto* box = f.window.findChild<QComboBox*>(QString(), Qt::FindChildrenRecursively);
    for (QComboBox* each : f.window.findChildren<QComboBox*>())
        if (each->accessibleName() == "Colourway") box = each;
    REQUIRE(box->isVisible());
    CHECK(box->currentText().contains("Silver"));
    box->setCurrentIndex(box->findText("Gold"));
    emit box->activated(box->currentIndex());
    CHECK(value_at(f.session().recipe(), {"a", "s3", "stops"}) == Value(gold));
    CHECK(present_colourway(f.session().recipe()) == "Gold");
    f.trigger("undo");
    CHECK(present_colourway(f.session().recipe()) == "Silver");
    // Nothing is kept without a name.
    keep("   ");
    CHECK(f.session().recipe().colourways.size() == 2);
    f.rendered();
}

TEST_CASE("a sitting of a hundred edits is undone to the start and redone to the end", "[window][flows][long]") {
    for (std::uint64_t seed : {1u, 2u}) {
        Fixture f;
        const TemporaryFolder folder;
        const Recipe start = f.session().recipe();
        std::vector<Recipe> states{start};
        for (std::uint64_t k = 0; k < 100; ++k) {
            edit_by_lot(f.session(), mix64(seed, k));
            if (!(f.session().recipe() == states.back())) states.push_back(f.session().recipe());
            if (k % 20 == 0) QTest::qWait(5);
        }
        const Recipe end = f.session().recipe();
        INFO(seed << ": " << states.size() << " states");
        REQUIRE(states.size() > 40);
        REQUIRE(f.session().undo_stack().count() == static_cast<int>(states.size()) - 1);
        for (std::size_t k = states.size() - 1; k-- > 0;) {
            f.session().undo_stack().undo();
            REQUIRE(f.session().recipe() == states[k]);
        }
        CHECK_FALSE(f.session().modified());
        while (f.session().undo_stack().canRedo()) f.session().undo_stack().redo();
        CHECK(f.session().recipe() == end);
        f.rendered();
        // What came of it is sound: it is saved, and reads the same.
        REQUIRE(saved(f.window, QString::fromStdString(folder.path("end.loom"))));
        const auto back = read_loom(folder.path("end.loom"));
        INFO((back ? std::string() : back.error().message));
        REQUIRE(back);
        // It goes by its file's name from then on.
        CHECK(back->recipe == f.session().recipe());
        CHECK(back->recipe == renamed(end, "end"));
    }
}

TEST_CASE("the export writes each format, and is given up at once", "[window][flows][export]") {
    Fixture f;
    const TemporaryFolder folder;
    ExportView* shown = export_into(f, folder, 48);
    const auto written = [&] { return !shown->writing() && shown->message().contains("Written"); };
    for (const PictureFormatInfo& written_as : picture_format_table) {
        QComboBox* format = shown->card(Map::colour)->format_field();
        format->setCurrentIndex(format->findData(static_cast<int>(written_as.format)));
        INFO(written_as.id);
        QTest::mouseClick(shown->write_button(), Qt::LeftButton);
        REQUIRE(QTest::qWaitFor(written, patience));
        const auto picture = read_picture(folder.path("cloth." + std::string(written_as.extension)));
        REQUIRE(picture);
        CHECK(picture->size() == Size{48, 48});
    }
    const auto before = folder.files();
    // A picture that takes long is given up; nothing new lies there, and what was there stays.
    shown->names_field()->setText("large");
    shown->size_button(8192)->click();
    shown->size_field()->clear();
    QTest::mouseClick(shown->write_button(), Qt::LeftButton);
    REQUIRE(shown->writing());
    CHECK(shown->stop_button()->isVisible());
    QTest::qWait(150);
    QTest::mouseClick(shown->stop_button(), Qt::LeftButton);
    REQUIRE(QTest::qWaitFor([&] { return !shown->writing(); }, patience));
    CHECK(shown->message().contains("nothing was written"));
    CHECK(folder.files() == before);
}

TEST_CASE("parameters go back to their defaults one by one and all at once", "[window][flows]") {
    Fixture f;
    f.session().select({"a", "s1"});
    f.session().set_value({"a", "s1", "octaves"}, Value(2.0));
    f.session().set_value({"a", "s1", "roughness"}, Value(80.0));
    auto* desk = f.window.findChild<TuningDesk*>();
    QToolButton* octaves = nullptr;
    for (QToolButton* button : desk->findChildren<QToolButton*>())
        if (button->accessibleName() == "Default for octaves") octaves = button;
    REQUIRE(octaves);
    CHECK(octaves->isEnabled());
    octaves->click();
    CHECK(f.number("a", "s1", "octaves") == 6);
    CHECK(f.number("a", "s1", "roughness") == 80);
    for (QToolButton* button : desk->findChildren<QToolButton*>())
        if (button->text() == "Reset") button->click();
    CHECK(f.session().recipe().step({"a", "s1", ""})->set.empty());
    f.trigger("undo");
    CHECK(f.number("a", "s1", "roughness") == 80);
    f.rendered();
}

TEST_CASE("a recipe with what this version does not know is worked on, and keeps it", "[window][flows]") {
    Fixture f;
    const TemporaryFolder folder;
    REQUIRE(write_file(folder.path("later.loom"),
                       R"({"format": "keen-loom/1", "name": "Later", "tile": {"width": 96, "height": 96}, "mood": "calm",
        "strands": [{"id": "a", "shine": 3, "steps": [{"id": "s1", "step": "clouds", "set": {"octaves": 3, "sparkle": true}},
                                                      {"id": "s2", "step": "quilt", "set": {"patch": 4}}]}]})"));
    open_in(f.window, QString::fromStdString(folder.path("later.loom")));
    // Everything that is passed over is said; the line counts and its tip lists.
    CHECK(f.window.message().contains("more)"));
    f.rendered();
    f.session().set_value({"a", "s1", "octaves"}, Value(5.0));
    f.session().apply(step_moved(f.session().recipe(), "a", "s2", {"a", ChainKind::steps, 2}), "Move");
    REQUIRE(saved(f.window, QString::fromStdString(folder.path("later.loom"))));
    const auto text = write_recipe(read_loom(folder.path("later.loom"))->recipe);
    for (const char* word : {"\"mood\": \"calm\"", "\"shine\": 3", "\"sparkle\": true", "\"patch\": 4", "\"octaves\": 5"}) {
        INFO(word);
        CHECK(text.find(word) != std::string::npos);
    }
}
