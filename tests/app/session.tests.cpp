// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/document/session.h"

#include <QSignalSpy>

#include "app/document/recent_files.h"
#include "core/base/files.h"
#include "core/recipe/assets.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {
const Address octaves{"strand", "s1", "octaves"};
double present(Session& session, const Address& at) { return as<double>(*value_at(session.recipe(), at)); }
}  // namespace

TEST_CASE("edits are undone and redone, and one drag is one step", "[session]") {
    Session session;
    session.start_new(fresh_recipe());
    CHECK_FALSE(session.modified());
    CHECK(session.selected_step());
    REQUIRE(session.set_value(octaves, Value(3.0)));
    CHECK(session.modified());
    for (double value : {20.0, 40.0, 60.0}) session.set_value({"strand", "s1", "contrast"}, Value(value), "drag-1");
    session.set_value({"strand", "s1", "contrast"}, Value(80.0), "drag-2");
    CHECK(session.undo_stack().count() == 3);
    session.undo_stack().undo();
    CHECK(present(session, {"strand", "s1", "contrast"}) == 60);
    session.undo_stack().undo();
    CHECK(present(session, {"strand", "s1", "contrast"}) == 100);
    session.undo_stack().undo();
    CHECK(present(session, octaves) == 6);
    CHECK_FALSE(session.modified());
    session.undo_stack().redo();
    CHECK(present(session, octaves) == 3);
}

TEST_CASE("a drag that ends where it began leaves nothing to undo", "[session]") {
    Session session;
    session.start_new(fresh_recipe());
    session.set_value(octaves, Value(4.0), "drag");
    session.set_value(octaves, Value(6.0), "drag");
    CHECK(session.undo_stack().count() == 0);
    CHECK_FALSE(session.modified());
}

TEST_CASE("wrong values and circles are refused with a sentence and change nothing", "[session][faults]") {
    Session session;
    session.start_new(
        recipe_of({strand_of("a", {{"clouds", {}}}), strand_of("b", {{"borrow", {{"strand", std::string("a")}}}})}));
    const Recipe before = session.recipe();
    QSignalSpy refused(&session, &Session::refused);
    CHECK_FALSE(session.set_value({"a", "s1", "octaves"}, Value(99.0)));
    CHECK_FALSE(session.set_value({"a", "s1", "where"}, Value(std::string("b"))));
    REQUIRE(refused.count() == 2);
    CHECK(refused[0][0].toString().contains("octaves must be a whole number from 1 to 12"));
    CHECK(refused[1][0].toString().contains("circle"));
    CHECK(session.recipe() == before);
    CHECK(session.undo_stack().count() == 0);
}

TEST_CASE("the selection never points at what is gone", "[session]") {
    Session session;
    session.start_new(recipe_of({strand_of("a", {{"clouds", {}}, {"invert", {}}}), strand_of("b", {{"flat", {}}})}));
    session.select({"a", "s2"});
    session.apply(step_removed(session.recipe(), "a", "s2"), "x");
    CHECK(session.selection() == Selection{"a", ""});
    session.apply(strand_removed(session.recipe(), "a"), "x");
    CHECK(session.selection() == Selection{});
    session.select({"nowhere", "s1"});
    CHECK(session.selection() == Selection{});
}

TEST_CASE("a recipe is saved, marked clean and loaded again", "[session][files]") {
    const TemporaryFolder folder;
    const QString path = QString::fromStdString(folder.path("a.loom"));
    Session session;
    session.start_new(fresh_recipe());
    session.set_value(octaves, Value(2.0));
    REQUIRE(session.save(path, "preview"));
    CHECK_FALSE(session.modified());
    CHECK(session.path() == path);
    session.set_value(octaves, Value(5.0));
    CHECK(session.modified());
    session.undo_stack().undo();
    CHECK_FALSE(session.modified());
    Session other;
    REQUIRE(other.load(path));
    CHECK(other.recipe() == session.recipe());
}

TEST_CASE("a file that cannot be loaded or saved leaves the document as it was", "[session][faults]") {
    const TemporaryFolder folder;
    Session session;
    session.start_new(fresh_recipe());
    session.set_value(octaves, Value(2.0));
    const Recipe before = session.recipe();
    REQUIRE(write_file(folder.path("bad.loom"), "{\"format\": \"keen-loom/1\", \"strands\": 3}"));
    for (const char* name : {"none.loom", "bad.loom"}) {
        CHECK_FALSE(session.load(QString::fromStdString(folder.path(name))));
        CHECK(session.recipe() == before);
        CHECK(session.modified());
    }
    CHECK_FALSE(session.save(QString::fromStdString(folder.path("no/such/a.loom")), ""));
    CHECK(session.modified());
}

TEST_CASE("what a file holds besides the recipe is saved with it again", "[session][files]") {
    const TemporaryFolder folder;
    LoomFile file;
    file.recipe = fresh_recipe();
    file.recipe.assets["assets/0a.png"] = make_asset("assets/0a.png", "picture");
    file.recipe.unknown = R"({"later": "assets/0a.png"})";
    REQUIRE(write_loom(folder.path("a.loom"), file));
    Session session;
    REQUIRE(session.load(QString::fromStdString(folder.path("a.loom"))));
    REQUIRE(session.save(QString::fromStdString(folder.path("b.loom")), "new"));
    const auto back = read_loom(folder.path("b.loom"));
    REQUIRE(back->recipe.assets.contains("assets/0a.png"));
    CHECK(back->recipe.assets.at("assets/0a.png")->bytes == "picture");
    CHECK(back->preview_png == "new");
}

TEST_CASE("recent files: newest first, each once, gone ones left out", "[session][files]") {
    const TemporaryFolder folder;
    for (const char* name : {"a", "b", "c"}) {
        REQUIRE(write_file(folder.path(name), "x"));
        RecentFiles().add(QString::fromStdString(folder.path(name)));
    }
    RecentFiles().add(QString::fromStdString(folder.path("a")));
    std::filesystem::remove(folder.path("b"));
    const QStringList paths = RecentFiles().paths();
    REQUIRE(paths.size() >= 2);
    CHECK(paths[0].endsWith("/a"));
    CHECK(paths[1].endsWith("/c"));
    CHECK_FALSE(paths.contains(QString::fromStdString(folder.path("b"))));
}
