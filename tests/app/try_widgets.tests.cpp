// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The sheet of tries, the pictures beside it and the button of places, each by itself.
#include <QMenu>
#include <QSignalSpy>
#include <QTest>

#include "app/tries/compare_pane.h"
#include "app/tries/place_button.h"
#include "app/tries/try_sheet.h"
#include "core/recipe/variations.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

QStringList captions(int count) {
    QStringList all;
    for (int k = 0; k < count; ++k) all << QString("number %1").arg(k);
    return all;
}

void check_apart(const QRect& whole, const std::vector<QRect>& parts) {
    for (std::size_t k = 0; k < parts.size(); ++k) {
        CHECK(whole.contains(parts[k]));
        for (std::size_t j = 0; j < k; ++j) CHECK_FALSE(parts[k].intersects(parts[j]));
    }
}

}  // namespace

TEST_CASE("a sheet lays out any number of pictures within itself, none over another", "[widgets][try]") {
    TrySheet sheet;
    for (const QSize size : {QSize(700, 720), QSize(480, 640), QSize(1500, 900)})
        for (int count : {1, 2, 7, 12, 25, 32}) {
            sheet.resize(size);
            sheet.begin(captions(count), 0);
            INFO(size.width() << " x " << size.height() << ", " << count);
            std::vector<QRect> places;
            for (int k = 0; k < count; ++k) places.push_back(sheet.place(k));
            check_apart(sheet.rect(), places);
            CHECK(sheet.columns() * sheet.rows() >= count);
            CHECK(places.front().width() >= 48);
        }
    // Rows and columns as they are asked for, with room for their heads.
    sheet.resize(700, 720);
    sheet.begin(captions(12), 4, captions(4), captions(3));
    CHECK(sheet.columns() == 4);
    CHECK(sheet.rows() == 3);
    CHECK(sheet.place(0).left() > 60);
    CHECK(sheet.place(4).left() == sheet.place(0).left());
}

TEST_CASE("arrow keys stay on the sheet, Enter and K tell the chosen one, Space compares three at most", "[widgets][try]") {
    TrySheet sheet;
    sheet.resize(700, 720);
    sheet.begin(captions(7), 3);
    sheet.set_present(2);
    QSignalSpy taken(&sheet, &TrySheet::taken), kept(&sheet, &TrySheet::keep_wanted), chosen(&sheet, &TrySheet::chosen_changed);
    QTest::keyClick(&sheet, Qt::Key_Return);
    CHECK(taken.isEmpty());
    sheet.choose(0);
    for (Qt::Key key : {Qt::Key_Up, Qt::Key_Left}) QTest::keyClick(&sheet, key);
    CHECK(sheet.chosen() == 0);
    QTest::keyClick(&sheet, Qt::Key_End);
    CHECK(sheet.chosen() == 6);
    for (Qt::Key key : {Qt::Key_Down, Qt::Key_Right}) QTest::keyClick(&sheet, key);
    CHECK(sheet.chosen() == 6);
    QTest::keyClick(&sheet, Qt::Key_Up);
    CHECK(sheet.chosen() == 3);
    QTest::keyClick(&sheet, Qt::Key_Enter);
    QTest::keyClick(&sheet, Qt::Key_K);
    CHECK(taken.takeFirst().at(0).toInt() == 3);
    CHECK(kept.takeFirst().at(0).toInt() == 3);
    for (int k : {0, 1, 2, 4}) {
        sheet.choose(k);
        QTest::keyClick(&sheet, Qt::Key_Space);
    }
    CHECK(sheet.compared() == std::vector<int>{1, 2, 4});
    CHECK(sheet.accessibleDescription().contains("number 4"));
    // Another question begins with nothing chosen.
    sheet.begin(captions(3), 3);
    CHECK(sheet.chosen() == -1);
    CHECK(sheet.compared().empty());
    sheet.set_failed(1);
    CHECK_FALSE(sheet.grab().isNull());
}

TEST_CASE("pictures are compared beside each other, under each other and under a line, within the pane", "[widgets][try]") {
    ComparePane pane;
    pane.resize(360, 560);
    QImage picture(64, 64, QImage::Format_RGB32);
    for (int count : {1, 2, 3, 4})
        for (ComparePane::Way way : {ComparePane::Way::stacked, ComparePane::Way::beside}) {
            std::vector<ComparePane::Picture> pictures;
            for (int k = 0; k < count; ++k) pictures.push_back({QString::number(k), "seam 0.9", picture});
            pane.set_pictures(pictures);
            pane.set_way(way);
            INFO(count << (way == ComparePane::Way::beside ? " beside" : " stacked"));
            std::vector<QRect> places;
            for (int k = 0; k < count; ++k) places.push_back(pane.place(k));
            check_apart(pane.rect(), places);
        }
    // Under a line the first is left of it, the second right.
    QImage red(64, 64, QImage::Format_RGB32), blue(64, 64, QImage::Format_RGB32);
    red.fill(Qt::red), blue.fill(Qt::blue);
    pane.set_pictures({{"one", {}, red}, {"two", {}, blue}});
    pane.set_way(ComparePane::Way::wipe);
    pane.set_line(0.3);
    const auto at = [&](double share) {
        const QRect place = pane.place(0);
        return pane.grab().toImage().pixelColor(place.left() + static_cast<int>(share * place.width()), place.top() + 12);
    };
    CHECK(at(0.2) == QColor(Qt::red));
    CHECK(at(0.4) == QColor(Qt::blue));
    QTest::keyClick(&pane, Qt::Key_Right);
    QTest::keyClick(&pane, Qt::Key_Right);
    CHECK(pane.line() == Approx(0.4));
    pane.set_line(7);
    CHECK(pane.line() == 1);
}

TEST_CASE("the button of places leads to those that fit, by strand and step", "[widgets][try]") {
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 1}, {"levels", {}}}), strand_of("b", {{"flat", {}}})}, 64);
    PlaceButton button("Varies", [](const Recipe& r, const Address& at) { return is_number(r, at) && at.parameter != "seed"; });
    button.set_place(recipe, {"a", "s2", "in-black"});
    CHECK(button.toolTip() == QString::fromUtf8("Levels · Black from"));
    emit button.menu()->aboutToShow();
    QMenu* of_strand = nullptr;
    for (QAction* each : button.menu()->actions())
        if (each->menu() && each->text() == QString::fromStdString(recipe.strand("a")->name)) of_strand = each->menu();
    REQUIRE(of_strand);
    QMenu* of_step = nullptr;
    for (QAction* each : of_strand->actions())
        if (each->menu() && each->text() == "Levels") of_step = each->menu();
    REQUIRE(of_step);
    emit of_step->aboutToShow();
    QSignalSpy chosen(&button, &PlaceButton::chosen);
    bool marked = false;
    for (QAction* each : of_step->actions()) {
        CHECK(each->text() != "Channel");
        if (each->text() == "Black from") marked = each->isChecked();
        if (each->text() == "White from") each->trigger();
    }
    CHECK(marked);
    REQUIRE(chosen.count() == 1);
    CHECK(chosen[0][0].value<Address>() == Address{"a", "s2", "in-white"});
}
