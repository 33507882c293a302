// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cloths of values that no picture should hold: whatever looks at them comes to an end, and counts no further than it may.
#include "core/colour/likeness.h"
#include "core/colour/palette.h"
#include "core/files/picture.h"
#include "core/image/surface.h"
#include "core/maps/lit.h"
#include "core/measure/measure.h"
#include "core/measure/repeat.h"
#include "core/measure/toward.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size frame{64, 48};

Bundle wild_cloth(std::uint64_t seed) {
    Bundle cloth;
    for (std::uint64_t c = 0; c < (seed % 2 ? 3u : 1u); ++c) cloth.colour.push_back(share(wild_plane(frame, 10 * seed + c)));
    if (seed % 3 == 0) cloth.coverage = share(wild_plane(frame, 10 * seed + 5));
    return cloth;
}

}  // namespace

TEST_CASE("a cloth of any values is measured, counted and matched", "[wild][measure]") {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
        INFO(seed);
        const Bundle cloth = wild_cloth(seed);
        const Measures measures = measure(cloth, job);
        double share = 0;
        for (double part : measures.histogram.share) share += part;
        CHECK(share == Approx(1));
        CHECK((measures.across.rank >= 0 && measures.across.rank <= 1));
        CHECK_FALSE(repeat_marks(cloth, job).across.empty());
        for (const auto& colours : {palette_of(cloth, 5, job), tones_of(cloth, 5, job)}) CHECK(colours.size() <= 5);
        const Goal goal = goal_of(cloth, 48, job);
        CHECK_FALSE(unlikeness(cloth, goal, job) < 0);
        const SpreadMap map(spread_of(cloth, job), spread_of(cloth, job));
        CHECK_FALSE(map.moved({0.5f, 0.1f, 0.1f}, 0, 0).lightness < 0);
    }
}

TEST_CASE("a cloth of any values is shown and lit", "[wild][lit]") {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
        INFO(seed);
        const Bundle cloth = wild_cloth(seed);
        CHECK(to_bytes(cloth, 4).size() == 4 * frame.pixels());
        CHECK(encode_preview(cloth, 32));
        LitMaps maps;
        maps.colour = cloth;
        maps.height = share(wild_plane(frame, seed + 100)), maps.roughness = share(wild_plane(frame, seed + 101));
        maps.metalness = share(wild_plane(frame, seed + 102)), maps.occlusion = share(wild_plane(frame, seed + 103));
        maps.normal = normal_map(*maps.height, 32, maps.height->rows(), job);
        maps.brushing = Bundle::of(wild_plane(frame, seed + 104), wild_plane(frame, seed + 105), wild_plane(frame, seed + 106));
        const LitMaterial material(maps, job);
        for (const LitShapeInfo& info : lit_shape_table)
            CHECK(lit_picture(material, lit_geometry(info.shape, {40, 30}, 2, 1), {}, 0.2f, job).size() == 40 * 30);
    }
}

TEST_CASE("a cloth of any values is written, and read again as a picture", "[wild][files]") {
    const TemporaryFolder folder;
    for (const PictureFormatInfo& written_as : picture_format_table)
        for (std::uint64_t seed = 0; seed < 4; ++seed)
            for (const Meaning meaning : {Meaning::colour, Meaning::packed, Meaning::data}) {
                const std::string path = folder.path("p." + std::string(written_as.extension));
                INFO(written_as.id << " " << seed);
                REQUIRE(write_picture(path, wild_cloth(seed), written_as.format, meaning));
                const auto back = read_picture(path);
                REQUIRE(back);
                CHECK(back->size() == frame);
                for (const PlaneRef& plane : back->colour)
                    for (std::size_t i = 0; i < plane->count(); ++i) REQUIRE(std::isfinite(plane->data()[i]));
            }
}
