// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures of the sample book that are kept from one start to the next.
#include "app/samples/kept_pictures.h"

#include <QDir>
#include <QTest>

#include "app/samples/samples_view.h"
#include "core/base/files.h"
#include "core/recipe/edits.h"
#include "tests/app/fixture.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("a kept picture is found again for the same recipe only", "[samples]") {
    TemporaryFolder temporary;
    const KeptPictures kept(QString::fromStdString(temporary.path("kept")));
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 1}})});
    CHECK(kept.find(recipe).isNull());
    QImage image(40, 30, QImage::Format_RGB888);
    image.fill(QColor(10, 200, 30));
    kept.keep(recipe, image);
    CHECK(kept.find(recipe).convertToFormat(QImage::Format_RGB888) == image);
    CHECK(kept.find(with_value(recipe, {"a", "s1", "octaves"}, Value(2.0))).isNull());
    // A damaged file is none.
    const QString file = QDir(QString::fromStdString(temporary.path("kept"))).entryInfoList(QDir::Files).front().filePath();
    REQUIRE(write_file(file.toStdString(), "no picture"));
    CHECK(kept.find(recipe).isNull());
    // Where nothing can be kept nothing happens.
    KeptPictures("/proc/nowhere").keep(recipe, image);
}

TEST_CASE("the sample book opens with the pictures of last time at once", "[window][samples][rendering]") {
    const QString folder = samples_folder();
    {
        SampleBook book(folder);
        SamplesView view(book);
        view.show();
        REQUIRE(QTest::qWaitFor([&] { return view.complete(); }, patience));
    }
    SampleBook book(folder);
    SamplesView again(book);
    // Nothing is rendered: pictures come without a worker for what they show.
    REQUIRE(QTest::qWaitFor([&] { return !book.reading(); }, patience));
    const KeptPictures kept(KeptPictures::usual_folder());
    for (const Sample& sample : book.samples()) CHECK_FALSE(kept.find(sample.recipe).isNull());
    again.show();
    CHECK(QTest::qWaitFor([&] { return again.complete(); }, patience));
}
