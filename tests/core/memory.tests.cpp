// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The account of planes: counted, bounded, recycled; and what renderings announce is what they use.
#include <filesystem>
#include <limits>
#include <thread>

#include "core/base/files.h"
#include "core/base/memory.h"
#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("memory is counted, kept for the next plane of its size, and let go of where room is short", "[memory]") {
    Memory memory;
    constexpr std::size_t mib = std::size_t{1} << 20;
    memory.set_limit(10 * mib);
    const Memory::Piece a = memory.take(4 * mib);
    CHECK(memory.counts().used == a.bytes);
    memory.give_back(a);
    CHECK(memory.counts().used == 0);
    CHECK(memory.counts().kept == a.bytes);
    const std::size_t fresh = memory.counts().fresh;
    const Memory::Piece b = memory.take(4 * mib);
    CHECK(b.data == a.data);
    CHECK(memory.counts().fresh == fresh);
    memory.give_back(b);
    // Something larger takes the place of what is kept.
    const Memory::Piece c = memory.take(9 * mib);
    CHECK(memory.counts().kept == 0);
    // Caches are asked before it is refused.
    Memory::Piece cached = memory.take(2 * mib);
    std::size_t asked = 0;
    const int number = memory.add_cache([&](std::size_t bytes) {
        asked = bytes;
        memory.give_back(cached);
        cached = {};
    });
    const Memory::Piece d = memory.take(2 * mib);
    CHECK(asked >= mib);
    memory.remove_cache(number);
    CHECK_THROWS_AS(memory.take(4 * mib), std::bad_alloc);
    memory.give_back(c), memory.give_back(d);
    memory.release();
    CHECK(memory.counts().kept == 0);
    CHECK(memory.counts().most >= 11 * mib);
}

TEST_CASE("what a control group may have bounds the process, whichever of its parents says so", "[memory]") {
    const TemporaryFolder root;
    const auto put = [&](const std::string& name, const std::string& text) {
        std::filesystem::create_directories(std::filesystem::path(root.path(name)).parent_path());
        REQUIRE(write_file(root.path(name), text));
    };
    constexpr auto none = std::numeric_limits<std::size_t>::max();
    CHECK(Memory::group_limit(root.path()) == none);
    // The second version; the process lies in a group within a bounded one.
    put("proc/self/cgroup", "0::/user/desk/app\n");
    put("sys/fs/cgroup/user/desk/app/memory.max", "max\n");
    CHECK(Memory::group_limit(root.path()) == none);
    put("sys/fs/cgroup/user/desk/memory.max", "1000000000\n");
    CHECK(Memory::group_limit(root.path()) == 1000000000);
    put("sys/fs/cgroup/user/desk/app/memory.max", "300000000\n");
    CHECK(Memory::group_limit(root.path()) == 300000000);
    // Within a container only its root is seen.
    put("proc/self/cgroup", "0::/\n");
    CHECK(Memory::group_limit(root.path()) == none);
    put("sys/fs/cgroup/memory.max", "200000000\n");
    CHECK(Memory::group_limit(root.path()) == 200000000);
    // The first version, beside other controllers.
    put("proc/self/cgroup", "12:cpu,cpuacct:/a\n4:memory:/box/inner\n");
    put("sys/fs/cgroup/memory/box/memory.limit_in_bytes", "500000000\n");
    CHECK(Memory::group_limit(root.path()) == 500000000);
    CHECK(Memory::usual_limit() > 0);
}

TEST_CASE("planes of the same size follow each other in the same memory", "[memory]") {
    const Size size{512, 512};
    { const Plane warm(size); }
    const std::size_t fresh = Memory::process().counts().fresh;
    for (int k = 0; k < 20; ++k) {
        const Plane plane(size, static_cast<float>(k));
    }
    CHECK(Memory::process().counts().fresh == fresh);
}

TEST_CASE("a cache gives way when memory is short", "[memory][cache]") {
    Cache cache(std::size_t{64} << 20);
    Key key;
    cache.keep(key.add("a"), std::make_shared<const Bundle>(Bundle::of(Plane({1024, 1024}))));
    CHECK(cache.bytes() > 0);
    cache.yield(1 << 20);
    CHECK(cache.bytes() == 0);
}

TEST_CASE("the second edit of a recipe takes no fresh memory from the system", "[memory][samples]") {
    const auto oak = read_loom(sample("carriage-oak"));
    REQUIRE(oak);
    const Strand& strand = *oak->recipe.strands[2];
    const Address at{strand.id, strand.steps[2].id, "in-white"};
    std::size_t all = 0;
    {
        Cache cache(std::size_t{1} << 30);
        REQUIRE(render_cloth(oak->recipe, {1024, 1024}, {.cache = &cache}, job));
        all = cache.bytes();
    }
    // A cache that is full, as it is once a person has worked for a while: each new result takes the place of an old one.
    Cache cache(all);
    auto edited = [&](double value) {
        REQUIRE(render_cloth(with_value(oak->recipe, at, value), {1024, 1024}, {.threads = 1, .cache = &cache}, job));
    };
    edited(0.6);
    edited(0.605);
    const std::size_t fresh = Memory::process().counts().fresh;
    for (double value : {0.61, 0.62, 0.63}) edited(value);
    CHECK(Memory::process().counts().fresh == fresh);
}

namespace {

/// `off`: the share by which what is told may differ from what is used.
void check_announced(const std::vector<Wanted>& wanted, double off) {
    int count = 0;
    for (const std::string& path : tried(sample_paths())) {
        const auto file = read_loom(path);
        REQUIRE(file);
        // Several threads may only use less: a fifth of the samples tells that.
        const bool several = count++ % 5 == 0;
        for (const auto& [way, threads] :
             {std::pair{RenderWay::whole, 1}, {RenderWay::whole, 3}, {RenderWay::bands, 1}, {RenderWay::bands, 3}}) {
            if (threads > 1 && !several) continue;
            RenderOptions options;
            options.pictures = &picture_reader(), options.way = way, options.threads = threads;
            Memory& memory = Memory::process();
            memory.release();
            memory.count_anew();
            const std::size_t before = memory.counts().used;
            // Some of what steps hold is as large as the tile, not as the picture: that shows where they differ.
            const auto rendering = render(file->recipe, size_for(file->recipe.tile, 768), wanted, options, job);
            REQUIRE(rendering);
            const auto used = static_cast<double>(memory.counts().most - before),
                       told = static_cast<double>(rendering->peak_bytes);
            INFO(path << (way == RenderWay::bands ? " in bands" : " whole") << " on " << threads << ": " << told / 1048576
                      << " MiB told, " << used / 1048576 << " MiB used");
            CHECK(used < (1 + off) * told);
            // Nodes side by side may by luck never all be at their worst at once.
            if (threads == 1) CHECK(used > (1 - off) * told);
        }
    }
}

}  // namespace

TEST_CASE("what a rendering announces is what it uses, on every sample", "[memory][samples]") {
    std::vector<Wanted> wanted = all_maps_wanted();
    std::erase_if(wanted, [](const Wanted& each) { return each.map == Map::lit; });
    check_announced(wanted, 0.15);
}

TEST_CASE("what the lit map announces is what it uses, on every sample", "[memory][samples][lit]") {
    check_announced({{Wanted::What::map, "", "", Map::lit}}, 0.2);
}
