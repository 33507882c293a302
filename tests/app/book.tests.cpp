// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The sample book as a book: by material, in colourways, found by what things are called.
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QScrollBar>
#include <QSignalSpy>
#include <QToolButton>
#include <set>

#include "app/samples/colour_words.h"
#include "app/samples/samples_view.h"
#include "core/recipe/places.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

struct Book {
    SampleBook book{samples_folder()};
    SamplesView view{book};
    Book() {
        view.resize(1280, 760);
        view.show();
        REQUIRE(QTest::qWaitFor([&] { return view.complete(); }, 5 * patience));
    }
    Swatch* swatch(const std::string& name) {
        for (Swatch* each : view.swatches())
            if (each->recipe().name == name) return each;
        return nullptr;
    }
    std::set<std::string> found(const QString& words) {
        view.search()->setText(words);
        std::set<std::string> names;
        for (Swatch* each : view.swatches())
            if (!each->isHidden()) names.insert(each->recipe().name);
        return names;
    }
};

}  // namespace

TEST_CASE("every sample stands under its material, and a material can be jumped to", "[window][samples][book]") {
    Book b;
    for (const Sample& sample : b.book.samples()) {
        INFO(sample.path.toStdString());
        CHECK_FALSE(sample.material.isEmpty());
        CHECK(sample.material != SampleBook::tr("Others"));
    }
    QToolButton* effects = nullptr;
    for (QToolButton* each : b.view.findChildren<QToolButton*>())
        if (each->text() == "Effects") effects = each;
    REQUIRE(effects);
    auto* scroll = b.view.findChild<QScrollArea*>();
    effects->click();
    CHECK(scroll->verticalScrollBar()->value() > 0);
    const auto at = b.swatch("Reeded glass")->mapTo(scroll->viewport(), QPoint(10, 10));
    CHECK(scroll->viewport()->rect().contains(at));
}

TEST_CASE("a dot shows its colourway, by mouse and by key", "[window][samples][book]") {
    Book b;
    Swatch* oak = b.swatch("Carriage oak");
    REQUIRE(oak);
    const auto look = [&] { return oak->grab().toImage(); };
    const QImage before = look();
    int opened = 0;
    QObject::connect(oak, &Swatch::opened, [&] { ++opened; });
    QTest::mouseClick(oak, Qt::LeftButton, {}, oak->dot(1).center().toPoint());
    CHECK(oak->colourway() == 1);
    CHECK(opened == 0);
    REQUIRE(QTest::qWaitFor([&] { return oak->has_picture(); }, 5 * patience));
    CHECK(look() != before);
    CHECK(oak->shown() != oak->recipe());
    QTest::keyClick(oak, Qt::Key_3);
    CHECK(oak->colourway() == 2);
    // What is opened is what is seen.
    QSignalSpy open(&b.view, &SamplesView::sample_opened);
    QTest::keyClick(oak, Qt::Key_Return);
    REQUIRE(open.size() == 1);
    CHECK(open[0][1].toString().toStdString() == oak->recipe().colourways[2].name);
    // There is no ninth.
    QTest::keyClick(oak, Qt::Key_9);
    CHECK(oak->colourway() == 2);
}

TEST_CASE("samples are found by material, step and colour together", "[window][samples][book]") {
    Book b;
    const auto leather = b.found("leather");
    CHECK(leather.count("Glove suede") + leather.count("Luggage tag") == 2);
    CHECK(leather.count("Rail steel") == 0);
    const auto brown = b.found("brown wood");
    CHECK(brown.count("Counter walnut") == 1);
    CHECK(brown.count("Rail steel") + brown.count("Glove suede") == 0);
    CHECK(b.found("metal rings").count("Carriage oak") == 0);
    CHECK(b.found("no such thing").empty());
    CHECK(b.found("").size() == b.view.swatches().size());
    // A gradient stands for a colourway before any single colour.
    Colourway floor{"Floor",
                    {{{"a", "s1", "colour"}, Value(Colour{0, 0, 1})},
                     {{"b", "s1", "stops"}, Value(Stops{{0, {1, 0, 0}, 0}, {1, {0, 1, 0}, 0}})}}};
    CHECK(dot_of(floor) == QColor(0, 255, 0));
    floor.set.erase(Address{"b", "s1", "stops"});
    CHECK(dot_of(floor) == QColor(0, 0, 255));
    const std::pair<const char*, const char*> words[] = {{"#000000", "black"},      {"#ffffff", "white"}, {"#808080", "grey"},
                                                         {"#1f4d2b", "dark green"}, {"#6b4a2e", "brown"}, {"#c9302c", "red"},
                                                         {"#2f6fd0", "blue"},       {"#e8c33a", "yellow"}};
    for (const auto& [colour, word] : words) {
        INFO(colour);
        CHECK(colour_words(QColor(colour)).contains(word));
    }
}
