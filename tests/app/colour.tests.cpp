// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The panel that chooses colours: by field, by numbers, by code, and with the dropper from the window.
#include <QDialogButtonBox>
#include <QPushButton>

#include "app/widgets/colour_button.h"
#include "app/widgets/colour_panel.h"
#include "app/widgets/number_field.h"
#include "core/colour/gamut.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

struct Panel {
    ColourPanel panel;
    Colour told;
    int changes = 0;
    explicit Panel(const Colour& colour) : panel(colour, nullptr) {
        panel.setAttribute(Qt::WA_DeleteOnClose, false);
        QObject::connect(&panel, &ColourPanel::changed, [this](const Colour& c, const QString&) { told = c, ++changes; });
        panel.show();
        REQUIRE(QTest::qWaitForWindowExposed(&panel));
    }
};

}  // namespace

TEST_CASE("a colour is set by numbers of sRGB and OKLCh and by its code", "[widgets][colour]") {
    Panel p({0.5f, 0.5f, 0.5f});
    p.panel.number(0)->setValue(255);
    CHECK(p.told.red == 1);
    CHECK(p.panel.code()->text() == "#ff8080");
    p.panel.code()->setFocus();
    p.panel.code()->selectAll();
    QTest::keyClicks(p.panel.code(), "#336699");
    QTest::keyClick(p.panel.code(), Qt::Key_Return);
    CHECK(write_colour(p.told) == "#336699");
    const Lch is = to_lch(to_oklab(*parse_colour("#336699")));
    CHECK(p.panel.number(3)->value() == Approx(100 * is.lightness).margin(0.1));
    CHECK(p.panel.number(4)->value() == Approx(is.chroma).margin(1e-3));
    p.panel.number(3)->setValue(80);
    const Lch lighter = to_lch(to_oklab(p.told));
    CHECK(lighter.lightness == Approx(0.8).margin(0.01));
    CHECK(lighter.hue == Approx(is.hue).margin(0.02));
    // Nonsense gives way to the colour that is there.
    const int before = p.changes;
    p.panel.code()->setFocus();
    p.panel.code()->selectAll();
    QTest::keyClicks(p.panel.code(), "reddish");
    QTest::keyClick(p.panel.code(), Qt::Key_Return);
    CHECK(p.changes == before);
    // Hue and chroma are not lost on the way through grey.
    p.panel.number(4)->setValue(0);
    p.panel.number(4)->setValue(0.1);
    CHECK(to_lch(to_oklab(p.told)).hue == Approx(is.hue).margin(0.05));
}

TEST_CASE("the field takes lightness and chroma, the strip the hue, by mouse and keys; as before brings the colour back",
          "[widgets][colour]") {
    Panel p({0.6f, 0.3f, 0.2f});
    ColourField* field = p.panel.field();
    QTest::mouseClick(field, Qt::LeftButton, {}, field->place_of(0.7, 0.05));
    CHECK(to_lch(to_oklab(p.told)).lightness == Approx(0.7).margin(0.01));
    CHECK(to_lch(to_oklab(p.told)).chroma == Approx(0.05).margin(0.005));
    const QRect hues = field->hues();
    QTest::mouseClick(field, Qt::LeftButton, {}, QPoint(hues.center().x(), hues.top() + hues.height() / 2));
    CHECK(std::abs(to_lch(to_oklab(p.told)).hue) == Approx(3.1416).margin(0.05));
    field->setFocus();
    const float light = field->colour().lightness;
    QTest::keyClick(field, Qt::Key_Up);
    CHECK(field->colour().lightness == Approx(light + 0.01f).margin(1e-4));
    p.panel.findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Cancel)->click();
    CHECK(write_colour(p.told) == write_colour({0.6f, 0.3f, 0.2f}));
    CHECK_FALSE(p.panel.isVisible());
}

TEST_CASE("the dropper takes a colour from the cloth while the window stays usable, all as one undo step", "[window][colour]") {
    Fixture f;
    Strand strand = *f.session().recipe().strand("a");
    strand.steps.change(0).kind = "flat", strand.steps.change(0).set = {{"colour", Value(Colour{0.2f, 0.4f, 0.8f})}};
    strand.steps.erase("s2"), strand.steps.erase("s3");
    Recipe recipe =
        recipe_of({strand, strand_of("b", {{"flat", {{"colour", Colour{1, 0, 0}}}}}, {Blend::normal, 0, false})}, 320);
    f.session().start_new(recipe);
    f.session().select({"b", "s1"});
    f.rendered();
    auto* button = f.loom().findChild<ColourButton*>();
    REQUIRE(button);
    QTest::mouseClick(button, Qt::LeftButton);
    ColourPanel* panel = button->panel();
    REQUIRE(panel);
    REQUIRE(QTest::qWaitForWindowExposed(panel));
    CHECK_FALSE(panel->isModal());
    QTest::mouseClick(panel->dropper(), Qt::LeftButton);
    ClothCanvas* canvas = f.loom().cloth()->canvas();
    QTest::mouseClick(canvas, Qt::LeftButton, {}, canvas->rect().center());
    const auto colour = as<Colour>(*value_at(f.session().recipe(), {"b", "s1", "colour"}));
    CHECK(colour.red == Approx(0.2).margin(0.01));
    CHECK(colour.blue == Approx(0.8).margin(0.01));
    CHECK_FALSE(panel->dropper()->isChecked());
    panel->number(1)->setValue(200);
    const int steps = f.session().undo_stack().count();
    CHECK(steps <= 2);
    panel->reject();
    CHECK(as<Colour>(*value_at(f.session().recipe(), {"b", "s1", "colour"})) == Colour{1, 0, 0});
}
