// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A first job from beginning to end, with what a newcomer would use: menus, the finder, typing, the desk.
#include <QListView>
#include <QPlainTextEdit>

#include "app/hand/strokes_edit.h"
#include "app/loom/step_finder.h"
#include "app/loom/tuning_desk.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

struct Walk : Fixture {
    /// What the finder offers under a word, taken with Return.
    void find(const char* word) {
        auto* finder = dialog<StepFinder>(loom());
        QTest::keyClicks(finder->search(), word);
        QTest::keyClick(finder->search(), Qt::Key_Return);
        REQUIRE(QTest::qWaitFor(
            [this] { return loom().findChild<StepFinder*>() == nullptr || !loom().findChild<StepFinder*>()->isVisible(); },
            patience));
        rendered();
    }
    QImage cloth() { return loom().cloth()->canvas()->image(); }
    std::string chosen() { return session().selected_step()->kind; }
};

/// Shares of pixels in a part of the cloth (in tiles) that a rule holds for.
template <class Rule>
double share(const QImage& image, const QRectF& part, Rule&& rule) {
    int hit = 0, all = 0;
    for (int y = static_cast<int>(part.top() * image.height()); y < part.bottom() * image.height(); ++y)
        for (int x = static_cast<int>(part.left() * image.width()); x < part.right() * image.width(); ++x, ++all)
            hit += rule(QColor(image.pixel(x, y)));
    return static_cast<double>(hit) / std::max(1, all);
}
double lightness(const QImage& image, const QRectF& part) {
    double sum = 0;
    return share(image, part, [&](const QColor& c) { return sum += c.lightnessF(), true; }) * sum * 255 /
           (part.width() * image.width() * part.height() * image.height());
}
bool golden(const QColor& c) { return c.red() > c.blue() + 60 && c.green() > c.blue() + 30; }

}  // namespace

TEST_CASE("a word is set in gold on leather with bevel and shadow, and the leather becomes suede", "[window][flows][walk]") {
    Walk f;
    // Leather to begin with: the lowest strand of the sign.
    const auto sign = read_loom(sample("gilded-sign"));
    REQUIRE(sign);
    Recipe leather = sign->recipe;
    leather.strands = {leather.strands.front()}, leather.dials.clear(), leather.colourways.clear();
    leather.tile.width = leather.tile.height = 512;
    f.session().start_new(leather);
    f.rendered();
    const QImage bare = f.cloth();
    const QRectF middle(0.1, 0.38, 0.8, 0.24);
    CHECK(share(bare, middle, golden) < 0.05);

    f.trigger("add-strand");
    f.find("lettering");
    REQUIRE(f.chosen() == "lettering");
    const std::string word = f.session().selection().strand, letters = f.session().selection().step;
    auto* text = dynamic_cast<QPlainTextEdit*>(f.loom().desk()->editor("text"));
    REQUIRE(text);
    // The finder was a window of its own.
    QApplication::setActiveWindow(&f.window);
    text->setFocus();
    text->selectAll();
    QTest::keyClicks(text, "OSTREL");
    QTest::qWait(400);
    f.session().set_value({word, letters, "size"}, Value(110.0));
    f.session().set_value({word, letters, "colour"}, Value(Colour{0.86f, 0.66f, 0.2f}));
    f.rendered();
    CHECK(as<std::string>(*value_at(f.session().recipe(), {word, letters, "text"})) == "OSTREL");
    const double gold = share(f.cloth(), middle, golden);
    CHECK(gold > 0.2);

    for (const char* step : {"bevel", "shadow"}) {
        const QImage before = f.cloth();
        f.loom().open_finder({word, ChainKind::edge, static_cast<int>(f.session().recipe().strand(word)->edge.size())});
        f.find(step);
        CHECK(f.chosen() == step);
        CHECK(before != f.cloth());
        // A shadow only darkens.
        if (std::string(step) == "shadow") CHECK(lightness(f.cloth(), middle) < lightness(before, middle));
    }
    CHECK(share(f.cloth(), middle, golden) > 0.6 * gold);

    // Suede instead: the sample as the source of the lowest strand, and nothing else has to be done.
    const Recipe before_suede = f.session().recipe();
    const std::string lowest = before_suede.strands.front()->id;
    f.session().select({lowest, before_suede.strands.front()->steps.front().id});
    f.loom().exchange_selected();
    f.find("recipe");
    REQUIRE(f.chosen() == "recipe");
    f.loom().desk()->keep_recipe({lowest, f.session().selection().step, "file"}, QString::fromStdString(sample("glove-suede")));
    REQUIRE(QTest::qWaitFor([&] { return !f.session().recipe().assets.empty(); }, patience));
    f.rendered();
    CHECK(share(f.cloth(), middle, golden) > 0.6 * gold);
    const QRectF above(0, 0, 1, 0.2);
    CHECK(std::abs(lightness(f.cloth(), above) - lightness(bare, above)) > 5);
    while (!(f.session().recipe() == before_suede)) f.trigger("undo");
}

TEST_CASE("wiped places of the reeded glass are taken back stroke by stroke", "[window][flows][walk]") {
    Walk f;
    open_sample(f.window, QString::fromStdString(sample("reeded-glass")));
    f.session().select({"glass", "wiped"});
    f.rendered();
    std::vector<QImage> seen{f.cloth()};
    while (!f.loom().brush().strokes().empty()) {
        const std::size_t before = f.loom().brush().strokes().size();
        // Where nothing is hidden there is nothing to soften, which may show by a rounding or not at all.
        const bool shows = f.loom().brush().strokes()[0].tool == "hide";
        auto* list = f.loom().desk()->findChild<StrokesEdit*>()->list();
        list->setFocus();
        list->setCurrentIndex(list->model()->index(0, 0));
        QTest::keyClick(list, Qt::Key_Delete);
        REQUIRE(f.loom().brush().strokes().size() + 1 == before);
        f.rendered();
        if (shows) CHECK(f.cloth() != seen.back());
        seen.push_back(f.cloth());
    }
    CHECK(seen.size() > 3);
    while (seen.size() > 1) {
        f.trigger("undo");
        f.rendered();
        seen.pop_back();
        CHECK(QTest::qWaitFor([&] { return f.cloth() == seen.back(); }, patience));
    }
}
