// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What somebody meets who uses the program for the first time, with mouse and keys alone: sizes, words, lists, menus.
#include <QComboBox>
#include <QListView>
#include <QMenu>
#include <QMenuBar>
#include <QScreen>
#include <QScrollBar>
#include <QSettings>
#include <QSplitter>
#include <QToolButton>
#include <QToolTip>

#include "app/document/preferences.h"
#include "app/help/preferences_dialog.h"
#include "app/loom/blend_chooser.h"
#include "app/loom/join_card.h"
#include "app/loom/measure_card.h"
#include "app/loom/strands_overview.h"
#include "app/loom/tuning_desk.h"
#include "app/samples/samples_view.h"
#include "app/theme/theme.h"
#include "app/tries/place_button.h"
#include "app/tries/seed_strip.h"
#include "app/tries/try_sheet.h"
#include "app/tries/try_view.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/grip_splitter.h"
#include "app/widgets/notice_bar.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/number_field.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

QStringList ids_in(const PictureChooser& chooser) {
    QStringList ids;
    for (int row = 0; row < chooser.list()->count(); ++row) ids << chooser.list()->item(row)->data(Qt::UserRole).toString();
    return ids;
}

/// So many strands, each of clouds.
Recipe of_strands(int count) {
    Recipe recipe = recipe_of({strand_of("s0", {{"clouds", {}, 1}})}, 96);
    for (int k = 1; k < count; ++k) {
        Strand strand = strand_of("s" + std::to_string(k), {{"clouds", {}, static_cast<std::uint32_t>(k + 1)}});
        strand.name = "Strand " + std::to_string(k);
        recipe = strand_added(std::move(recipe), std::move(strand), k);
    }
    return recipe;
}

}  // namespace

TEST_CASE("the window fits its screen, works at 900 by 600, and is found again as it was left", "[window][layout]") {
    {
        MainWindow first;
        CHECK(first.width() <= first.screen()->availableSize().width());
        CHECK(first.height() <= first.screen()->availableSize().height());
    }
    Fixture f;
    f.window.resize(900, 600);
    QTest::qWait(30);
    CHECK(f.window.size() == QSize(900, 600));
    for (Page* page : f.window.pages()) {
        f.window.show_page(page);
        QTest::qWait(20);
        INFO(page->id().toStdString());
        CHECK(f.window.size() == QSize(900, 600));
        CHECK(page->width() <= 900);
    }
    f.window.show_page(&f.loom());
    // The cloth keeps half, and every value of a step can be come to.
    CHECK(f.loom().cloth()->width() >= 440);
    for (const char* step : {"s1", "s2", "s3"}) {
        f.session().select({"a", step});
        QTest::qWait(20);
        const QRect desk(QPoint(0, 0), f.loom().desk()->size());
        for (QWidget* part : f.loom().desk()->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly))
            if (part->isVisible()) CHECK(desk.contains(part->geometry()));
    }
    // Kept from one start to the next, maximised too.
    QSettings().remove("window/place");
    {
        MainWindow left;
        left.remember_pages();
        left.showMaximized();
        REQUIRE(QTest::qWaitForWindowExposed(&left));
        left.close();
    }
    MainWindow again;
    again.remember_pages();
    CHECK(again.isMaximized());
    QSettings().remove("window/place");
}

TEST_CASE("the finder knows everyday words, whole ones before parts", "[window][finder]") {
    const auto found = [](const QString& words, ChainKind chain = ChainKind::steps) {
        auto* finder = StepFinder::for_new(fresh_recipe(), {"strand", chain, chain == ChainKind::steps ? 1 : 0}, nullptr);
        finder->search()->setText(words);
        const QStringList ids = ids_in(*finder);
        delete finder;
        return ids;
    };
    const std::map<QString, QStringList> wanted{{"tint", {"gradientmap", "huesat", "balance"}},
                                                {"warm", {"huesat", "balance"}},
                                                {"disc", {"shape"}},
                                                {"circle", {"shape"}},
                                                {"cone", {"gradient"}},
                                                {"text", {"lettering"}},
                                                {"stain", {"scatter", "handtone"}},
                                                {"dirt", {"hollows", "scatter", "grain"}},
                                                {"scratch", {"dashes"}},
                                                {"rust", {"hollows", "fray"}},
                                                {"crack", {"veins", "cells"}},
                                                {"hole", {"shape", "press"}},
                                                {"gold", {"gradientmap", "reflections"}},
                                                {"shine", {"reflections", "relief"}},
                                                {"soft", {"gaussian", "smooth"}},
                                                {"bigger", {"place", "swell"}},
                                                {"tile", {"closeseams"}}};
    for (const auto& [word, ids] : wanted) {
        const QStringList all = found(word);
        INFO(word.toStdString() << ": " << all.join(' ').toStdString());
        for (const QString& id : ids) {
            CHECK(all.contains(id));
            CHECK(all.indexOf(id) < 14);
        }
    }
    // "text" is a word of Lettering, and only a part of "texture".
    CHECK(found("text").first() == "lettering");
    CHECK(found("spin").first() == "spin");
    CHECK(found("no such thing").isEmpty());
    // An empty strand has use for what makes something alone; a mask is begun with a few.
    Recipe empty = fresh_recipe();
    Strand bare;
    bare.id = "strand";
    empty.strands = {std::make_shared<const Strand>(bare)};
    auto* finder = StepFinder::for_new(empty, {"strand", ChainKind::steps, 0}, nullptr);
    for (const QString& id : ids_in(*finder))
        CHECK_FALSE(needs_input(*find_step(id.toStdString()), find_step(id.toStdString())->alone));
    CHECK(finder->scopes()[0]->text() == "This strand alone");
    delete finder;
    CHECK(found({}, ChainKind::mask).mid(0, 5) == QStringList{"shape", "lettering", "paint", "gate", "pick"});
}

TEST_CASE("painting in an empty mask begins with all hidden", "[window][mask]") {
    Fixture f;
    auto* finder = f.loom().open_finder({"b", ChainKind::mask, 0});
    finder->search()->setText("paint");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    REQUIRE(f.session().selected_step());
    CHECK(f.session().selected_step()->kind == "paint");
    CHECK(as<std::string>(*value_at(f.session().recipe(), {"b", f.session().selected_step()->id, "begins"})) == "hidden");
    // After something else it begins with that.
    finder = f.loom().open_finder({"b", ChainKind::mask, 1});
    finder->search()->setText("paint");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    CHECK(as<std::string>(*value_at(f.session().recipe(), {"b", f.session().selected_step()->id, "begins"})) == "mask");
    // The card that is new has the keyboard, and no other its ring.
    CHECK(f.card("b", f.session().selected_step()->id.c_str())->hasFocus());
    f.session().undo_stack().setClean();
}

TEST_CASE("one more strand is always in sight, and so is how many lie beyond", "[window][strands]") {
    Fixture f;
    StrandsView* strands = f.loom().strands();
    CHECK_FALSE(strands->overview()->isVisible());
    CHECK_FALSE(strands->to_left()->isVisible());
    f.session().start_new(of_strands(9));
    f.window.show_page(&f.loom());
    f.rendered();
    QTest::qWait(30);
    strands->horizontalScrollBar()->setValue(0);
    const auto [before, after] = strands->beyond();
    CHECK(before == 0);
    CHECK(after > 2);
    CHECK(strands->to_right()->text().contains(QString::number(after)));
    CHECK(strands->add_strand_button()->isVisible());
    CHECK(strands->rect().contains(
        QRect(strands->add_strand_button()->mapTo(strands, QPoint(0, 0)), strands->add_strand_button()->size())));
    REQUIRE(strands->overview()->isVisible());
    REQUIRE(strands->overview()->cells().size() == 9);
    CHECK(strands->overview()->cells()[0].in_view);
    CHECK_FALSE(strands->overview()->cells()[8].in_view);
    QTest::mouseClick(strands->overview(), Qt::LeftButton, {}, strands->overview()->place(8).center());
    CHECK(f.session().selection().strand == "s8");
    CHECK(strands->overview()->cells()[8].in_view);
    CHECK(strands->beyond().second == 0);
    CHECK(strands->to_left()->isVisible());
    QTest::mouseClick(strands->to_left(), Qt::LeftButton);
    CHECK(strands->beyond().second == 1);
    for (QSplitter* each : f.loom().findChildren<QSplitter*>()) CHECK(each->handleWidth() == GripSplitter::handle_width);
}

TEST_CASE("other seeds fold, and stay folded", "[window][desk]") {
    Fixture f;
    f.click(f.card("a", "s1"));
    SeedStrip* seeds = f.loom().desk()->seeds();
    REQUIRE(seeds->isVisible());
    const int high = seeds->height();
    QTest::mouseClick(seeds->fold_button(), Qt::LeftButton);
    CHECK(seeds->height() < high / 2);
    CHECK(f.loom().state().value("seeds-folded").toBool());
    f.click(f.card("b", "s1"));
    CHECK(seeds->folded());
    QTest::mouseClick(seeds->fold_button(), Qt::LeftButton);
    CHECK(seeds->height() == high);
}

TEST_CASE("two values begin with the chosen step's, and the tile and its lamp come last", "[window][try]") {
    Fixture f;
    f.session().select({"b", "s2"});
    f.window.show_page(f.window.try_view());
    Question question;
    question.what = Question::What::two;
    question.across = {"", "", "tile.width"};
    f.window.try_view()->ask(question);
    for (QPushButton* button : f.window.try_view()->findChildren<QPushButton*>())
        if (button->text() == "Two values") QTest::mouseClick(button, Qt::LeftButton);
    CHECK(f.window.try_view()->question().across.step == "s2");
    CHECK(f.window.try_view()->question().down.step == "s2");
    auto* place = f.window.try_view()->findChild<PlaceButton*>();
    REQUIRE(place);
    emit place->menu()->aboutToShow();
    const QList<QAction*> entries = place->menu()->actions();
    CHECK(entries.front()->menu());
    CHECK_FALSE(entries.back()->menu());
    // A tile of a few pixels tells nothing.
    const Span width = usual_span(f.session().recipe(), {"", "", "tile.width"});
    CHECK(width.from == 160);
    CHECK(width.to == 640);
    const Span lamp = usual_span(f.session().recipe(), {"", "", "lamp.elevation"});
    CHECK(lamp.from >= 15);
    // A sheet of many columns is wider than its place, which scrolls.
    question.across = {"b", "s2", "length"}, question.columns = 12, question.down = {"b", "s2", "direction"};
    f.window.resize(1000, 640);
    f.window.try_view()->ask(question);
    QTest::qWait(120);
    auto* sheet = f.window.try_view()->findChild<TrySheet*>();
    CHECK(sheet->place(0).width() >= 64);
    CHECK(sheet->width() >= sheet->place(11).right());
}

TEST_CASE("Enter opens the one sample that is found", "[window][samples]") {
    Fixture f;
    f.window.show_page(f.window.samples_view());
    REQUIRE(QTest::qWaitFor([&] { return !f.window.book().reading(); }, patience));
    QTest::keyClicks(f.window.samples_view()->search(), "glove suede");
    QTest::keyClick(f.window.samples_view()->search(), Qt::Key_Return);
    REQUIRE(QTest::qWaitFor([&] { return f.session().recipe().name == "Glove suede"; }, patience));
}

TEST_CASE("each command stands once in the menus, and nothing comes after the end", "[window][menus]") {
    Fixture f;
    std::set<const QAction*> seen;
    const QList<QAction*> menus = f.window.menuBar()->actions();
    for (const QAction* of : menus)
        for (const QAction* entry : of->menu()->actions()) {
            if (entry->isSeparator() || entry->menu()) continue;
            INFO(of->text().toStdString() << ": " << entry->text().toStdString());
            CHECK(seen.insert(entry).second);
        }
    CHECK(menus.front()->menu()->actions().back()->objectName() == "quit");
}

TEST_CASE("the last entry of every list can be read", "[window][desk]") {
    Fixture f;
    Recipe recipe = recipe_of({strand_of("a", {{"shape", {}}, {"gradientmap", {}}})}, 96);
    recipe = colourway_kept(recipe, "Cedar", {});
    recipe = colourway_kept(recipe, "Cherry", {});
    f.session().start_new(recipe);
    f.session().select({"a", "s1"});
    for (QComboBox* box : f.window.findChildren<QComboBox*>()) {
        if (!box->isVisible() || box->count() < 2 || box->count() > box->maxVisibleItems() || qobject_cast<BlendBox*>(box))
            continue;
        box->showPopup();
        QTest::qWait(10);
        INFO(box->accessibleName().toStdString());
        const QRect last = box->view()->visualRect(box->model()->index(box->count() - 1, 0));
        CHECK(last.height() > 0);
        CHECK(last.bottom() <= box->view()->viewport()->height());
        box->hidePopup();
    }
}

TEST_CASE("numbers beyond their ends say so, and a strand that is missed can come back", "[window][desk]") {
    Fixture f;
    f.session().select({});
    auto* edit = qobject_cast<NumberEdit*>(f.loom().desk()->editor("tile.width"));
    REQUIRE(edit);
    edit->field()->setFocus();
    edit->field()->selectAll();
    QTest::keyClicks(edit->field(), "999999");
    QTest::keyClick(edit->field(), Qt::Key_Return);
    CHECK(edit->value() == 16384);
    CHECK(QToolTip::text().contains("16384"));
    QToolTip::hideText();
    f.session().undo_stack().undo();
    const Recipe reading = step_added(f.session().recipe(), {"a", ChainKind::steps, 3},
                                      Step{.id = "d", .kind = "displace", .set = {{"strand", std::string("b")}}});
    f.session().apply(reading, "read");
    f.session().select({"b", ""});
    f.trigger("remove");
    REQUIRE(f.window.notices().size() == 1);
    CHECK(f.window.notices().front()->text().contains("Displace"));
    QTest::mouseClick(f.window.notices().front()->buttons()[0], Qt::LeftButton);
    CHECK(f.session().recipe() == reading);
    f.session().undo_stack().setClean();
}

TEST_CASE("measures explain themselves one at a time, three of them at first", "[window][measures]") {
    QSettings().remove("measures/all");
    Fixture f;
    MeasuresBar* bar = f.loom().measures();
    CHECK(bar->place_of(MeasureKind::evenness).isValid());
    CHECK_FALSE(bar->place_of(MeasureKind::kinship).isValid());
    QTest::mouseClick(bar->more_button(), Qt::LeftButton);
    CHECK(bar->place_of(MeasureKind::kinship).isValid());
    for (MeasureKind kind : {MeasureKind::standout, MeasureKind::kinship}) {
        const QPoint at = bar->place_of(kind).center();
        QHelpEvent asks(QEvent::ToolTip, at, bar->mapToGlobal(at));
        QApplication::sendEvent(bar, &asks);
        REQUIRE(bar->card());
        CHECK(bar->card()->isVisible());
        CHECK(bar->card()->kind() == kind);
        CHECK(bar->card()->text().size() > 40);
        CHECK(QTest::qWaitFor([&] { return bar->card()->complete(); }, patience));
    }
    // The pointer goes on to the next.
    QTest::mouseMove(bar, bar->place_of(MeasureKind::evenness).center());
    CHECK(QTest::qWaitFor([&] { return bar->card()->kind() == MeasureKind::evenness; }, patience));
    QTest::mouseClick(bar->more_button(), Qt::LeftButton);
    CHECK_FALSE(bar->place_of(MeasureKind::play).isValid());
}

TEST_CASE("blends stand by what one wants, from faint to strong on this cloth", "[window][blends]") {
    Fixture f;
    BlendChooser* chooser = f.loom().choose_blend("b");
    REQUIRE(chooser);
    QStringList groups;
    for (QAbstractButton* chip : chooser->chips()) groups << chip->text();
    for (const char* want : {"Cover", "Shade", "Light up", "Texture", "Take apart", "Tint", "Heights"})
        CHECK(groups.contains(want));
    REQUIRE(QTest::qWaitFor([&] { return chooser->complete(); }, patience));
    const QStringList ids = ids_in(*chooser);
    CHECK(ids.size() == static_cast<int>(blend_names().size()));
    // On middle tones screen lightens more than lighten where both are near; what counts is that groups stay together.
    std::vector<BlendWant> wants;
    for (const QString& id : ids) {
        const BlendWant want = blend_name(*find_blend(id.toStdString())).want;
        if (wants.empty() || wants.back() != want) wants.push_back(want);
    }
    CHECK(wants.size() == 7);
    CHECK(ids.indexOf("soft-light") < ids.indexOf("hard-mix"));
    // The one in use is marked wherever it has come to stand.
    CHECK(chooser->list()->currentItem()->data(Qt::UserRole).toString() == "soft-light");
    chooser->close();
}

TEST_CASE("preferences hold at once and are kept", "[window][preferences]") {
    Fixture f;
    const Preferences before = preferences();
    f.trigger("preferences");
    auto* shown = dialog<PreferencesDialog>(f.window);
    shown->cache_field()->setValue(256);
    CHECK(scheduler().cache().budget() == std::size_t{256} << 20);
    shown->recent_field()->setValue(3);
    shown->journal_field()->setValue(5);
    const TemporaryFolder folder;
    shown->folder_field()->setText(QString::fromStdString(folder.path()));
    emit shown->folder_field()->editingFinished();
    shown->threads_field()->setValue(1);
    shown->pressure_area()->add_at(128.0 / 255);
    shown->pressure_area()->move_chosen({128.0 / 255, 0.8}, {});
    CHECK(PresentPreferences::instance().pressed(128.0 / 255) == Approx(0.8));
    shown->theme_box()->setCurrentIndex(1);
    emit shown->theme_box()->activated(1);
    CHECK(theme::scheme() == theme::Scheme::dark);
    CHECK(f.window.action("dark")->isChecked());
    const Preferences kept = Preferences::read();
    CHECK(kept == preferences());
    CHECK(kept.cache_mb == 256);
    CHECK(kept.recent_files == 3);
    CHECK(kept.export_folder == QString::fromStdString(folder.path()));
    CHECK(kept.journal_seconds == 5);
    CHECK(kept.threads == 1);
    // What is strange in the settings is as it is at first.
    QSettings().setValue("preferences/cache-mb", "much");
    QSettings().setValue("preferences/pressure", 7);
    CHECK(Preferences::read().cache_mb == Preferences{}.cache_mb);
    CHECK(Preferences::read().pressure == straight_curve());
    shown->close();
    PresentPreferences::instance().set(before);
    CHECK(theme::scheme() == theme::Scheme::light);
}
