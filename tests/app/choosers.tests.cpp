// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The choosers by picture: groups and their chips, what was used last, on the strand or the cloth, and the blends of a join.
#include <QAbstractButton>
#include <QListWidget>
#include <QSettings>
#include <QTest>

#include "app/loom/blend_chooser.h"
#include "app/loom/join_card.h"
#include "core/catalogue/description.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

QStringList shown(const PictureChooser& chooser) {
    QStringList ids;
    for (int row = 0; row < chooser.list()->count(); ++row)
        if (!chooser.list()->item(row)->isHidden()) ids << chooser.list()->item(row)->data(Qt::UserRole).toString();
    return ids;
}

QAbstractButton* named(const QList<QAbstractButton*>& buttons, const QString& title) {
    for (QAbstractButton* button : buttons)
        if (button->text() == title) return button;
    return nullptr;
}

}  // namespace

TEST_CASE("the finder has a chip for each family, and one for what was used last", "[window][finder]") {
    QSettings().remove("used");
    Fixture f;
    f.session().select({"a", "s2"});
    f.loom().add_step();
    auto* finder = dialog<StepFinder>(f.loom());
    CHECK(finder->chips().size() == 8);
    REQUIRE(named(finder->chips(), "Bend"));
    named(finder->chips(), "Bend")->click();
    CHECK(!shown(*finder).isEmpty());
    for (const QString& id : shown(*finder)) CHECK(find_step(id.toStdString())->family == Family::bend);
    // The families stand together.
    named(finder->chips(), "All")->click();
    std::vector<Family> families;
    for (const QString& id : shown(*finder))
        if (const Family family = find_step(id.toStdString())->family; families.empty() || families.back() != family)
            families.push_back(family);
    CHECK(families.size() == 7);
    QTest::keyClicks(finder->search(), "swirl");
    QTest::keyClick(finder->search(), Qt::Key_Return);
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().findChild<StepFinder*>(); }, patience));
    f.loom().add_step();
    finder = dialog<StepFinder>(f.loom());
    REQUIRE(named(finder->chips(), "Lately used"));
    named(finder->chips(), "Lately used")->click();
    CHECK(shown(*finder) == QStringList{"swirl"});
    finder->close();
}

TEST_CASE("a candidate is shown on the strand or on the whole cloth", "[window][finder][rendering]") {
    QSettings().remove("scopes");
    Fixture f;
    f.session().select({"a", "s2"});
    f.loom().add_step();
    auto* finder = dialog<StepFinder>(f.loom());
    const auto picture = [&] { return finder->list()->item(0)->data(Qt::UserRole + 3).value<QImage>(); };
    REQUIRE(finder->scopes().size() == 2);
    REQUIRE(QTest::qWaitFor([&] { return finder->complete(); }, patience));
    const QImage strand = picture();
    finder->scopes()[1]->click();
    CHECK(!finder->complete());
    REQUIRE(QTest::qWaitFor([&] { return finder->complete(); }, patience));
    CHECK(picture() != strand);
    finder->close();
    // The choice is kept.
    REQUIRE(QTest::qWaitFor([&] { return !f.loom().findChild<StepFinder*>(); }, patience));
    f.loom().add_step();
    finder = dialog<StepFinder>(f.loom());
    CHECK(finder->scopes()[1]->isChecked());
    finder->close();
    QSettings().remove("scopes");
}

TEST_CASE("the foot of a strand opens every blend as a picture with its name", "[window][finder][rendering]") {
    Fixture f;
    JoinCard* join = f.loom().strands()->join("b");
    join->blend_box()->showPopup();
    auto* chooser = dialog<BlendChooser>(f.loom());
    CHECK(chooser->list()->count() == static_cast<int>(blend_names().size()));
    CHECK(chooser->list()->currentItem()->data(Qt::UserRole).toString() == "soft-light");
    REQUIRE(QTest::qWaitFor([&] { return chooser->complete(); }, patience));
    for (int row = 0; row < chooser->list()->count(); ++row)
        CHECK(!chooser->list()->item(row)->data(Qt::UserRole + 3).value<QImage>().isNull());
    QTest::keyClicks(chooser->search(), "diff");
    QTest::keyClick(chooser->search(), Qt::Key_Return);
    CHECK(f.session().recipe().strand("b")->join.blend == Blend::difference);
    CHECK(f.session().recipe().strand("b")->join.amount == 60);
    f.trigger("undo");
    CHECK(f.session().recipe().strand("b")->join.blend == Blend::soft_light);
    // The first strand lies on nothing.
    f.session().select({"a", ""});
    CHECK(!f.window.action("blend")->isEnabled());
    // Arrow keys still step through them one by one.
    join = f.loom().strands()->join("b");
    join->blend_box()->setFocus();
    QTest::keyClick(join->blend_box(), Qt::Key_Down);
    CHECK(f.session().recipe().strand("b")->join.blend != Blend::soft_light);
}
