// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The services that render beside the interface, by themselves: order, tickets, failures, and closing in the middle of work.
#include <QSignalSpy>
#include <QTest>
#include <future>

#include "app/document/render_service.h"
#include "app/document/scheduler.h"
#include "app/document/try_service.h"
#include "core/recipe/assets.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

constexpr int patience_ms = 180000;

Recipe flat(float tone, int tile = 300) {
    return recipe_of({strand_of("a", {{"flat", {{"colour", Value(Colour{tone, tone, tone})}}}})}, tile);
}

Recipe heavy(int seed) {
    return recipe_of({strand_of("a", {{"clouds", {{"octaves", 8.0}}, static_cast<std::uint32_t>(seed)},
                                      {"daub", {{"size", 12.0}}},
                                      {"median", {{"radius", 12.0}}}})},
                     900);
}

}  // namespace

TEST_CASE("a request is answered by a draft, the full cloth, cards and measures, in this order and with its ticket",
          "[services]") {
    RenderService service;
    QStringList order;
    std::uint64_t tickets = 0;
    QObject::connect(&service, &RenderService::cloth_ready, &service, [&](const ClothPicture& picture) {
        order << (picture.draft ? "draft" : "full");
        tickets += picture.ticket;
        CHECK(picture.document == 77);
        CHECK(picture.image.width() == (picture.draft ? 256 : 300));
        CHECK(std::abs(qGray(picture.image.pixel(5, 5)) - 102) <= 1);
        CHECK(picture.warnings.isEmpty());
    });
    QObject::connect(&service, &RenderService::cards_ready, &service, [&](const CardPictures& cards, quint64) {
        order << "cards";
        CHECK(cards.size() == 1);
    });
    QObject::connect(&service, &RenderService::measures_ready, &service, [&](const Measures&, quint64) { order << "measures"; });
    const std::uint64_t ticket = service.submit(flat(0.4f), 77);
    REQUIRE(QTest::qWaitFor([&] { return order.size() == 4; }, patience_ms));
    CHECK(order == QStringList{"draft", "full", "cards", "measures"});
    CHECK(tickets == 2 * ticket);
    REQUIRE(QTest::qWaitFor([&] { return !service.busy(); }, patience_ms));
}

TEST_CASE("of many requests the newest is answered whole, and what it replaces is given up", "[services]") {
    RenderService service;
    std::map<quint64, int> full;
    QObject::connect(&service, &RenderService::cloth_ready, &service,
                     [&](const ClothPicture& picture) { full[picture.ticket] += !picture.draft; });
    QSignalSpy failed(&service, &RenderService::failed);
    std::uint64_t last = 0;
    for (int k = 0; k < 12; ++k) {
        last = service.submit(heavy(k));
        QTest::qWait(15);
    }
    REQUIRE(QTest::qWaitFor([&] { return full[last] == 1; }, patience_ms));
    int whole = 0;
    for (const auto& [ticket, count] : full) whole += count;
    CHECK(whole <= 3);
    // Giving up is no failure.
    CHECK(failed.count() == 0);
}

TEST_CASE("a rendering that cannot be fails with a sentence, and the service goes on", "[services]") {
    RenderService service;
    QSignalSpy failed(&service, &RenderService::failed), cloth(&service, &RenderService::cloth_ready);
    service.set_memory_limit(5000);
    service.submit(flat(0.4f));
    REQUIRE(QTest::qWaitFor([&] { return failed.count() == 1; }, patience_ms));
    CHECK(failed[0][0].toString().contains("are allowed; choose a smaller size"));
    CHECK(cloth.count() == 0);
    service.set_memory_limit(0);
    Recipe damaged = recipe_of({strand_of("a", {{"image", {{"file", std::string("assets/x.png")}}}})}, 64);
    damaged.assets["assets/x.png"] = make_asset("assets/x.png", "nothing like a picture");
    service.submit(damaged);
    REQUIRE(QTest::qWaitFor([&] { return cloth.count() >= 1; }, patience_ms));
    CHECK(cloth[0][0].value<ClothPicture>().warnings.join(' ').contains("left out"));
}

TEST_CASE("services are closed in the middle of work without waiting for it", "[services]") {
    const auto begin = [](RenderService& service, TryService& tries, int k) {
        service.submit(heavy(k));
        std::vector<TryOrder> orders;
        for (int n = 0; n < 20; ++n) orders.push_back({heavy(100 + n), Wanted{}});
        tries.submit(orders);
    };
    for (int k = 0; k < 3; ++k) {
        RenderService service;
        TryService tries(96);
        begin(service, tries, k);
        QTest::qWait(20 + 60 * k);
    }
    // Work that cannot go on before they are gone: waiting for it would never end.
    std::promise<void> gone;
    std::shared_future<void> all_gone = gone.get_future().share();
    Client other(scheduler(), "other");
    for (Urgency urgency : {Urgency::live, Urgency::pictures}) {
        Work request;
        request.urgency = urgency;
        request.run = [all_gone](const WorkContext&) -> Result<Done> {
            all_gone.wait();
            return Done{};
        };
        other.submit(std::move(request));
    }
    {
        RenderService service;
        TryService tries(96);
        begin(service, tries, 7);
        QTest::qWait(20);
        CHECK(service.busy());
    }
    CHECK(other.busy());
    gone.set_value();
    REQUIRE(QTest::qWaitFor([&] { return !other.busy(); }, patience_ms));
}

TEST_CASE("tries come in order, those that cannot be drawn come empty, and new ones replace the old", "[services]") {
    TryService tries(48);
    std::map<quint64, std::vector<std::pair<int, bool>>> came;
    QObject::connect(&tries, &TryService::ready, &tries,
                     [&](quint64 ticket, int index, const QImage& image) { came[ticket].emplace_back(index, image.isNull()); });
    std::vector<TryOrder> orders;
    for (float tone : {0.1f, 0.5f, 0.9f}) orders.push_back({flat(tone), Wanted{}});
    // A step that is not there is nothing, drawn as nothing; a tile too large for memory comes empty.
    orders.push_back({flat(0.2f), {Wanted::What::step, "a", "none", Map::height}});
    const auto first = tries.submit(orders);
    REQUIRE(QTest::qWaitFor([&] { return came[first].size() == 4; }, patience_ms));
    for (int k = 0; k < 4; ++k) CHECK(came[first][static_cast<std::size_t>(k)].first == k);
    CHECK_FALSE(came[first][0].second);
    std::vector<TryOrder> slow;
    for (int n = 0; n < 40; ++n) slow.push_back({heavy(n), Wanted{}});
    const auto second = tries.submit(slow);
    QTest::qWait(40);
    const auto third = tries.submit(orders);
    REQUIRE(QTest::qWaitFor([&] { return came[third].size() == 4; }, patience_ms));
    CHECK(came[second].size() < 40);
    tries.stop();
}
