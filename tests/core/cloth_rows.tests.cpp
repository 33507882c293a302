// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Rows of cloth and of timber against a plain way of saying the same.
#include <cmath>

#include "core/base/hash.h"
#include "core/structures/timber_kernel.h"
#include "core/structures/weave_kernel.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

constexpr int count = 150;

/// Buffers of a row whose places run evenly across.
struct Row {
    std::vector<float> across, down, along_warp, along_weft, yarn, z, d, yarn_behind, z_behind, d_behind;
    WovenRow row{};
    Row(float pitches, float v) {
        for (auto* of : {&across, &down, &along_warp, &along_weft, &yarn, &z, &d, &yarn_behind, &z_behind, &d_behind})
            of->assign(count, 0.0f);
        for (int x = 0; x < count; ++x)
            across[static_cast<std::size_t>(x)] = pitches * (static_cast<float>(x) + 0.5f) / count,
            down[static_cast<std::size_t>(x)] = v + 0.3f * std::sin(0.05f * static_cast<float>(x));
        row = {count,    across.data(), down.data(),        along_warp.data(), along_weft.data(), yarn.data(),
               z.data(), d.data(),      yarn_behind.data(), z_behind.data(),   d_behind.data()};
        begin_row(row, 8, pitches, along_warp.data(), along_weft.data());
    }
};

struct Seen {
    float yarn = -1, z = -1e9f, d = 0;
};

float arc(float d) {
    return (std::sqrt(std::max(0.0f, 1.08f - d * d)) - std::sqrt(0.08f)) / (std::sqrt(1.08f) - std::sqrt(0.08f));
}

}  // namespace

TEST_CASE("the highest yarn is seen at each pixel, and the next behind it", "[structures][weave]") {
    const YarnBody body{0.62f, 0.5f, -0.02f, 0.05f};
    const float pitches = 6;
    Row buffers(pitches, 2.4f);
    std::vector<std::vector<Seen>> all(count);
    auto place_of = [](int k) {
        auto lot = [&](std::uint64_t which) { return unit_float(mix64(static_cast<std::uint64_t>(k) + 5, which)); };
        return YarnPlace{2 * lot(1) - 1, 0.2f * (lot(2) - 0.5f), 0.8f + 0.5f * lot(3)};
    };
    for (int k = -1; k <= 6; ++k) {
        const YarnPlace place = place_of(k);
        show_upright(buffers.row, 0, count - 1, static_cast<float>(k + 1), static_cast<float>(k) + 0.5f, place, body);
        for (int x = 0; x < count; ++x) {
            const float d = (buffers.across[static_cast<std::size_t>(x)] - static_cast<float>(k) - 0.5f - place.shift) /
                            (body.half * place.swell * (1 + 0.13f * place.rise));
            if (std::abs(d) < 1.05f)
                all[static_cast<std::size_t>(x)].push_back(
                    {static_cast<float>(k + 1), 0.36f * place.rise + body.lift + body.thick * place.swell * arc(d), d});
        }
    }
    int two = 0;
    for (std::size_t x = 0; x < count; ++x) {
        auto& seen = all[x];
        std::sort(seen.begin(), seen.end(), [](const Seen& a, const Seen& b) { return a.z > b.z; });
        seen.resize(std::max<std::size_t>(seen.size(), 2));
        CHECK(buffers.z[x] == Approx(seen[0].z).margin(1e-4));
        CHECK(buffers.z_behind[x] == Approx(seen[1].z).margin(1e-4));
        if (seen[0].z - seen[1].z < 1e-3f) continue;
        CHECK(buffers.yarn[x] == seen[0].yarn);
        CHECK(buffers.d[x] == Approx(seen[0].d).margin(1e-4));
        if (seen[1].yarn < 0) continue;
        CHECK(buffers.yarn_behind[x] == seen[1].yarn);
        ++two;
    }
    CHECK(two > 20);
}

TEST_CASE("a weft is followed through its row, bending as its table says", "[structures][weave]") {
    const Draft draft = twill_draft(2, 2, true);
    YarnSettings settings;
    settings.seed = 9;
    const Yarns wefts(draft, false, 8, 8, settings);
    const YarnBody body{0.5f, 0.4f, 0, 0.02f};
    Row buffers(8, 3.5f);
    show_lying(buffers.row, 0, count - 1, 11, 3.5f, wefts, 3, body);
    int shown = 0;
    for (std::size_t x = 0; x < count; ++x) {
        const YarnPlace place = wefts.at(3, buffers.along_weft[x]);
        const float d = (buffers.down[x] - 3.5f - place.shift) / (body.half * place.swell * (1 + 0.13f * place.rise));
        if (std::abs(d) > 1.0199f) continue;
        ++shown;
        CHECK(buffers.yarn[x] == 11);
        CHECK(buffers.d[x] == Approx(d).margin(1e-4));
        CHECK(buffers.z[x] == Approx(0.36f * place.rise + body.thick * place.swell * arc(d)).margin(1e-4));
    }
    CHECK(shown > count / 2);
    CHECK(wefts.reach(body.half) > body.half * 0.9f);
    CHECK(reach_down(buffers.row, 10, 90).high == *std::max_element(buffers.down.begin() + 10, buffers.down.begin() + 91));
    // What lies along a yarn begins again after the last crossing.
    for (float along : buffers.along_weft) CHECK((along >= 0 && along < 8));
}

TEST_CASE("cloth without twist shows its dyes, darker in the gaps", "[structures][weave]") {
    Row buffers(6, 2.4f);
    const YarnBody body{0.4f, 0.5f, 0, 0.05f};
    for (int k = 0; k < 6; ++k)
        show_upright(buffers.row, 0, count - 1, static_cast<float>(k), static_cast<float>(k) + 0.5f, {1, 0, 1}, body);
    const std::vector<float> lots(12, 0.5f), none(count, 0.0f);
    WovenLook look{};
    look.warps = 3, look.warp_pixels = look.weft_pixels = 10, look.low = 0.42f, look.span = 1.4f, look.lots_dye = lots.data();
    for (int c = 0; c < 3; ++c)
        look.warp_colour[c] = 0.2f + 0.1f * static_cast<float>(c), look.weft_colour[c] = 0.8f, look.gap_colour[c] = 0.05f,
        look.warp_worn[c] = look.weft_worn[c] = 0.86f;
    std::vector<float> red(count), green(count), blue(count), height(count);
    float* const colour[3] = {red.data(), green.data(), blue.data()};
    shade_row(buffers.row, look, none.data(), none.data(), colour, height.data());
    for (std::size_t x = 0; x < count; ++x) {
        if (buffers.yarn[x] < 0) {
            CHECK(red[x] == Approx(0.05f));
            CHECK(height[x] == 0);
        } else if (std::abs(buffers.d[x]) < 0.3f) {
            // Their own colour, as long as neither rim nor depth takes light away.
            const bool warp = buffers.yarn[x] < 3;
            CHECK(green[x] == Approx(warp ? 0.3f : 0.8f).epsilon(0.05));
            CHECK(height[x] > 0.5f);
        }
        CHECK((red[x] >= 0 && red[x] <= 1 && height[x] >= 0 && height[x] <= 1));
    }
    // Beside its rim, where it only softens the edge, a yarn has places to read its twist at, and no darker rim than at it.
    const YarnBody soft{0.4f, 0.5f, 0, 0.6f};
    Row wide(6, 2.4f);
    for (int k = 0; k < 6; ++k)
        show_upright(wide.row, 0, count - 1, static_cast<float>(k), static_cast<float>(k) + 0.5f, {1, 0, 1}, soft);
    std::vector<float> u(count), v(count);
    twist_row(wide.row, {6, 0.125f, 0.125f, 1.2f, 1.2f, lots.data(), lots.data()}, u.data(), v.data());
    int beside = 0;
    for (std::size_t x = 0; x < count; ++x) {
        CHECK((std::isfinite(u[x]) && std::isfinite(v[x])));
        beside += std::abs(wide.d[x]) > 1;
    }
    CHECK(beside > 5);
    shade_row(wide.row, look, none.data(), none.data(), colour, height.data());
    for (std::size_t x = 0; x < count; ++x) CHECK(red[x] > 0.04f);
    shade_row(buffers.row, look, none.data(), none.data(), colour, height.data());
    // Fade makes what stands out paler, uneven dye some yarns darker.
    look.fade = 1;
    std::vector<float> faded(count);
    float* const paler[3] = {faded.data(), green.data(), blue.data()};
    shade_row(buffers.row, look, none.data(), none.data(), paler, nullptr);
    for (std::size_t x = 0; x < count; ++x)
        if (buffers.yarn[x] >= 0 && buffers.yarn[x] < 3 && std::abs(buffers.d[x]) < 0.3f) CHECK(faded[x] > red[x] + 0.05f);
}

TEST_CASE("a ring begins abruptly and ends slowly, and every ring is another", "[structures][rings]") {
    CHECK(growth(0.001f, 0).early > 0.99f);
    CHECK(growth(0.5f, 0).early == Approx(std::exp(-2.5)).margin(1e-4));
    CHECK(growth(0.2f, 0).late == Approx(0).margin(1e-4));
    CHECK(growth(0.999f, 0).late > 0.9f);
    // Where many rings pass in a pixel nothing jumps.
    for (float f = 0; f < 0.99f; f += 0.01f) {
        const Growth here = growth(f, 0.5f), next = growth(f + 0.01f, 0.5f);
        CHECK(std::abs(here.late - next.late) < 0.06f);
    }
    const std::vector<float> strength{1, 0.5f, 1, 1}, own{0, 0, 0.2f, 0};
    std::vector<float> phase, grain(count, 0.0f), tone(count), height(count);
    for (int x = 0; x <= count; ++x) phase.push_back(-2.99f + 0.06f * static_cast<float>(x));
    ring_row({0, 1, 1, 1}, {3, strength.data(), own.data()}, phase.data(), phase.data(), grain.data(), count, tone.data(),
             height.data());
    // Rings of a period apart are alike, neighbours are not.
    double alike = 0, unlike = 0;
    for (std::size_t x = 0; x + 50 < count; ++x) {
        alike = std::max(alike, std::abs(static_cast<double>(tone[x + 50] - tone[x])));
        unlike = std::max(unlike, std::abs(static_cast<double>(tone[x + 17] - tone[x])));
    }
    CHECK(alike < 0.02);
    CHECK(unlike > 0.1);
    // A flat-sawn board: distances from the pith, the same on both sides but for the side that grew faster.
    std::vector<float> fibre{0.5f, 0.4f, 0.6f, 1.5f}, rings(4, 0.0f);
    flat_sawn_row(fibre.data(), 4, {0.5f, 0.1f, 0.02f}, 3, rings.data());
    CHECK(rings[0] == Approx(3 + (std::sqrt(0.01 + 0.006 * 0.006) - 0.1) / 0.02).margin(0.05));
    CHECK(rings[3] == Approx(rings[0]).margin(1e-3));
    CHECK(rings[2] > rings[1]);
    std::vector<float> straight(4, 1.0f), end(4, 0.0f);
    quarter_sawn_row(fibre.data(), 4, 20, straight.data());
    CHECK(straight[1] == Approx(9));
    end_grain_row(fibre.data(), 4, 0.5f, 2, 1, end.data());
    CHECK(end[0] == Approx(1).margin(1e-5));
    CHECK(end[2] == Approx(1 + 4 * std::pow(std::sin(3.14159265 * 0.1), 2)).margin(1e-4));
}
