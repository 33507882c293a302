// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Keys: who has them, a field or the window, in every view.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QKeySequence>
#include <QMenu>
#include <QSignalSpy>

#include "app/help/help_sheet.h"
#include "app/loom/tuning_desk.h"
#include "app/widgets/number_edit.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Strikes a shortcut as a keyboard does, at whatever has it.
void strike(const QKeySequence& keys) {
    QWidget* at = QApplication::focusWidget() ? QApplication::focusWidget() : QApplication::activeWindow();
    REQUIRE(at);
    QTest::keySequence(at, keys);
}

}  // namespace

TEST_CASE("undo is the recipe's as soon as a field shows its value, and the field's while somebody types", "[window][keys]") {
    Fixture f;
    f.click(f.card("a", "s1"));
    auto* edit = qobject_cast<NumberEdit*>(f.loom().desk()->editor("octaves"));
    REQUIRE(edit);
    const double before = f.number("a", "s1", "octaves");
    edit->field()->setFocus();
    edit->field()->selectAll();
    QTest::keyClicks(edit->field(), "2");
    // Nothing has come of it yet: undo takes the digits back.
    strike(QKeySequence::Undo);
    CHECK(f.number("a", "s1", "octaves") == before);
    edit->field()->selectAll();
    QTest::keyClicks(edit->field(), "2");
    QTest::keyClick(edit->field(), Qt::Key_Return);
    REQUIRE(f.number("a", "s1", "octaves") == 2);
    REQUIRE(edit->field()->hasFocus());
    strike(QKeySequence::Undo);
    CHECK(f.number("a", "s1", "octaves") == before);
    CHECK(edit->field()->value() == before);
    strike(QKeySequence::Redo);
    CHECK(f.number("a", "s1", "octaves") == 2);
    strike(QKeySequence::Undo);
    // Nothing is left to undo: the text stays what the value is.
    strike(QKeySequence::Undo);
    CHECK(edit->field()->value() == before);
    CHECK(edit->field()->text() == edit->field()->textFromValue(before));
}

TEST_CASE("held keys reach the cloth from lists and boxes, and never change them", "[window][keys]") {
    Fixture f;
    f.session().apply(colourway_kept(f.session().recipe(), "Cedar", {}), "keep");
    f.session().apply(colourway_kept(f.session().recipe(), "Cherry", {}), "keep");
    f.click(f.card("a", "s2"));
    for (QComboBox* box : f.window.findChildren<QComboBox*>()) {
        if (!box->isVisible() || box->isEditable()) continue;
        INFO(box->accessibleName().toStdString());
        const int chosen = box->currentIndex();
        box->setFocus();
        QTest::keyPress(box, Qt::Key_C);
        CHECK(QTest::qWaitFor([&] { return f.loom().cloth()->canvas()->shows_before(); }, patience));
        QTest::keyRelease(box, Qt::Key_C);
        CHECK_FALSE(f.loom().cloth()->canvas()->shows_before());
        QTest::keyClick(box, Qt::Key_L);
        CHECK(box->currentIndex() == chosen);
        if (box->accessibleName() == "Colourway")
            for (int k = 0; k < box->count(); ++k) CHECK_FALSE(box->itemText(k).contains("Colourway"));
    }
    // In a text they are letters.
    auto* edit = qobject_cast<NumberEdit*>(f.loom().desk()->editor("in-black"));
    edit->field()->setFocus();
    QTest::keyPress(edit->field(), Qt::Key_C);
    CHECK_FALSE(f.loom().cloth()->canvas()->shows_before());
    QTest::keyRelease(edit->field(), Qt::Key_C);
}

TEST_CASE("every shortcut works in every view where its command can be had", "[window][keys]") {
    Fixture f;
    std::set<QString> struck;
    for (Page* page : f.window.pages()) {
        for (QAction* action : f.window.findChildren<QAction*>()) {
            if (action->shortcut().isEmpty() || action->objectName().isEmpty()) continue;
            f.window.show_page(page);
            if (page == &f.loom()) f.session().select({"b", "s2"});
            page->setFocus();
            if (!action->isEnabled()) continue;
            // The keys are looked at, not what comes of them.
            action->blockSignals(true);
            bool came = false;
            QObject watch;
            struct Filter : QObject {
                bool* came;
                explicit Filter(bool* c) : came(c) {}
                bool eventFilter(QObject*, QEvent* event) override {
                    if (event->type() != QEvent::Shortcut) return false;
                    return *came = !static_cast<QShortcutEvent*>(event)->isAmbiguous(), true;
                }
            } filter(&came);
            action->installEventFilter(&filter);
            strike(action->shortcut());
            action->removeEventFilter(&filter);
            action->blockSignals(false);
            INFO(page->id().toStdString() << ": " << action->objectName().toStdString() << " "
                                          << action->shortcut().toString().toStdString());
            CHECK(came);
            if (came) struck.insert(action->objectName());
        }
    }
    CHECK(struck.contains("keys"));
    CHECK(struck.size() > 30);
    // Help on keys is to be had from anywhere.
    for (Page* page : f.window.pages()) {
        f.window.show_page(page);
        page->setFocus();
        INFO(page->id().toStdString());
        strike(QKeySequence("Shift+F1"));
        CHECK(f.loom().shows_help());
        CHECK(f.window.page() == &f.loom());
        f.loom().close_help();
    }
}
