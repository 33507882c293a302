// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// keen-loom-batch as scripts meet it: a process with arguments, exit codes, streams and files.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <numeric>
#include <thread>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/measure/measure.h"
#include "core/recipe/container.h"
#include "core/recipe/json.h"
#include "tests/batch/batch.h"

using namespace loom;
using namespace loom::test;
using Catch::Contains;

TEST_CASE("render writes the pictures it is asked for, and nothing else", "[batch][render]") {
    const TemporaryFolder folder;
    const Ran ran = batch("render " + oak + " -o " + folder.path("out") +
                          " --size 96 --maps colour,height,normal,roughness,metalness,occlusion --json");
    INFO(ran.err);
    REQUIRE(ran.code == 0);
    CHECK(ran.err.empty());
    const auto document = nlohmann::json::parse(ran.out);
    CHECK(document["name"] == "Carriage oak");
    CHECK(document["width"] == 96);
    CHECK(document["files"].size() == 6);
    CHECK(folder.files().size() == 6);
    const auto colour = read_picture(folder.path("out/carriage-oak-colour.png"));
    REQUIRE(colour);
    CHECK(colour->size() == Size{96, 96});
    CHECK(read_picture(folder.path("out/carriage-oak-height.png"))->grey());
    // Planed wood: most of it is one level, and the pores lie under it.
    const Histogram height = histogram_of(*read_picture(folder.path("out/carriage-oak-height.png")));
    const auto from = height.share.begin(), face = from + static_cast<std::ptrdiff_t>(256 * height.mean);
    CHECK(std::accumulate(from, face - 20, 0.0) > 0.005);
    CHECK(std::accumulate(face - 20, height.share.end(), 0.0) > 0.8);
}

TEST_CASE("render knows sizes, formats, seeds, values, dials, colourways and threads", "[batch][render]") {
    const TemporaryFolder folder;
    auto picture = [&](const std::string& options, const std::string& extension = "png") {
        const Ran ran = batch("render " + oak + " -o " + folder.path() + " --size 64 " + options);
        INFO(options << ": " << ran.err);
        REQUIRE(ran.code == 0);
        return *read_picture(folder.path("carriage-oak-colour." + extension));
    };
    const Bundle plain = picture("");
    CHECK(same_bytes(plain, picture("--threads 1")));
    CHECK(same_bytes(plain, picture("--seed 7")));
    CHECK_FALSE(same_bytes(plain, picture("--seed 8")));
    CHECK_FALSE(same_bytes(plain, picture("--set long-grain/tight.in-white=0.3")));
    CHECK_FALSE(same_bytes(plain, picture("--set pores/dark.on=false --set long-grain/draw.amount=10")));
    CHECK_FALSE(same_bytes(plain, picture("--dial 'Contrast=90'")));
    const Bundle smoked = picture("--colourway Smoked");
    CHECK(histogram_of(smoked).mean < histogram_of(plain).mean - 0.1);
    CHECK(picture("--format png16").size() == Size{64, 64});
    for (const auto& [format, extension] :
         {std::pair{"tiff", "tif"}, std::pair{"exr", "exr"}, std::pair{"jpg", "jpg"}, std::pair{"webp", "webp"}})
        CHECK(picture(std::string("--format ") + format, extension).size() == Size{64, 64});
    const Ran wide = batch("render " + oak + " -o " + folder.path() + " --size 80x40 --timing");
    CHECK(wide.code == 0);
    // What each thing took, booked where it belongs: the parts make up the whole.
    auto milliseconds = [&](const std::string& words) {
        const auto end = wide.out.find(" ms  " + words + "\n");
        REQUIRE(end != std::string::npos);
        return std::stod(wide.out.substr(wide.out.rfind('\n', end) + 1));
    };
    CHECK(milliseconds("reading the recipe") + milliseconds("rendering") + milliseconds("files") ==
          Approx(milliseconds("in all")).epsilon(0.01).margin(0.5));
    CHECK(read_picture(folder.path("carriage-oak-colour.png"))->size() == Size{80, 40});
}

TEST_CASE("wrong calls of render get one clear line and exit code 2", "[batch][render][faults]") {
    const TemporaryFolder folder;
    const std::string start = "render " + oak + " -o " + folder.path("out") + " ";
    check_refused(batch(start + "--size 100000"), 2, "must be from 1 to 16384 pixels");
    check_refused(batch(start + "--size 0"), 2, "--size '0'");
    check_refused(batch(start + "--size big"), 2, "must be a number of pixels");
    check_refused(batch(start + "--size 10x"), 2, "--size");
    check_refused(batch(start + "--format gif"), 2, "must be one of png, png16");
    check_refused(batch(start + "--maps colour,bump"), 2, "'bump'");
    check_refused(batch(start + "--colourway Lilac"), 2, "has no colourway 'Lilac'; it has Honey, Smoked");
    check_refused(batch(start + "--set long-grain/tight.in-white=2"), 2, "in-white must be a number from 0 to 1");
    check_refused(batch(start + "--set long-grain/tight.in-white=much"), 2, "in-white must be a number from 0 to 1");
    check_refused(batch(start + "--set long-grain/tight.nothing=1"), 2, "no parameter 'nothing'");
    check_refused(batch(start + "--set nowhere/tight.middle=1"), 2, "there is no strand 'nowhere'");
    check_refused(batch(start + "--set middle=1"), 2, "STRAND/STEP.PARAM=VALUE");
    check_refused(batch(start + "--set ground/board.strand=ground"), 2, "circle: ground needs ground");
    check_refused(batch(start + "--dial Nothing=4"), 2, "has no dial 'Nothing'");
    check_refused(batch(start + "--dial 'Pores=400'"), 2, "from 0 to 100");
    check_refused(batch(start + "--memory lots"), 2, "--memory");
    check_refused(batch(start + "--seed -3"), 2, "seed");
    check_refused(batch(start + "--nonsense"), 2, "nonsense");
    check_refused(batch("render"), 2, "RECIPE");
    check_refused(batch("weave " + oak), 2, "--help");
    check_refused(batch(""), 2, "--help");
    CHECK(folder.files().empty());
}

TEST_CASE("work that fails gets one clear line and exit code 1", "[batch][render][faults]") {
    const TemporaryFolder folder;
    check_refused(batch("render " + folder.path("none.loom") + " -o " + folder.path("out")), 1, "there is no such file");
    check_refused(batch("render " + oak + " -o " + folder.path("out") + " --size 4096 --memory 10M"), 1,
                  "10 MiB are allowed; choose a smaller size");
    REQUIRE(write_file(folder.path("file"), "x"));
    check_refused(batch("render " + oak + " -o " + folder.path("file/out") + " --size 32"), 1, "cannot write into");
    REQUIRE(write_loom(folder.path("good.loom"), {read_loom(oak)->recipe, {}, ""}));
    const std::string whole = *read_file(folder.path("good.loom"), 1 << 20);
    REQUIRE(write_file(folder.path("cut.loom"), whole.substr(0, whole.size() / 2)));
    check_refused(batch("render " + folder.path("cut.loom") + " -o " + folder.path("out")), 1, "no complete .loom file");
    if (::geteuid() != 0) {
        std::filesystem::create_directories(folder.path("locked"));
        std::filesystem::permissions(folder.path("locked"),
                                     std::filesystem::perms::owner_read | std::filesystem::perms::owner_exec);
        check_refused(batch("render " + oak + " -o " + folder.path("locked") + " --size 32"), 1, "no permission");
    }
}

TEST_CASE("a disk that is full leaves nothing behind and says so", "[batch][render][faults]") {
    const TemporaryFolder folder;
    // A limit on file sizes is the disk that fills up while a picture is written.
    const Ran ran =
        batch("render " + oak + " -o " + folder.path("out") + " --size 512 --format tiff", "trap '' XFSZ; ulimit -f 100;");
    INFO(ran.err);
    CHECK(ran.code == 1);
    CHECK(lines_in(ran.err) == 1);
    CHECK_THAT(ran.err, Contains("cannot write"));
    CHECK(folder.files().empty());
}

TEST_CASE("recipes with faults get exit code 2, file and place", "[batch][faults]") {
    const TemporaryFolder folder;
    auto with = [&](const std::string& from, const std::string& to) {
        std::string text = *read_file(oak + "/recipe.json", 1 << 20);
        const auto at = text.find(from);
        REQUIRE(at != std::string::npos);
        text.replace(at, from.size(), to);
        REQUIRE(write_file(folder.path("wrong.json"), text));
        return batch("render " + folder.path("wrong.json") + " -o " + folder.path("out") + " --size 32");
    };
    check_refused(with("\"octaves\": 3", "\"octaves\": 99"), 2,
                  "/strands/2/steps/5/set/octaves: octaves must be a whole number from 1 to 8");
    check_refused(with("\"strand\": \"timber\"", "\"strand\": \"ground\""), 2, "circle: ground needs ground");
    check_refused(with("\"keen-loom/1\"", "\"keen-loom/2\""), 2, "/format");
    check_refused(with("\"width\": 1024", "\"width\": 100000"), 2, "/tile/width");
    // An unknown step is passed over with a warning.
    const Ran unknown = with("\"step\": \"static\"", "\"step\": \"quilt\"");
    CHECK(unknown.code == 0);
    CHECK_THAT(unknown.err, Contains("warning") && Contains("unknown step 'quilt'"));
}

TEST_CASE("check names every fault with its pointer", "[batch][check]") {
    const TemporaryFolder folder;
    const Ran good = batch("check " + oak + " " + sample("rail-steel") + " " + sample("glove-suede"));
    CHECK(good.code == 0);
    CHECK(good.err.empty());
    REQUIRE(write_file(
        folder.path("a.json"),
        R"({"format": "keen-loom/1", "seed": -4, "strands": [{"id": "a", "steps": [{"id": "s1", "step": "quilt"}], "join": {"amount": 300}}]})"));
    const Ran bad = batch("check " + folder.path("a.json") + " " + folder.path("none.loom"));
    CHECK(bad.code == 2);
    for (const char* words : {"/seed: must be a whole number", "warning: /strands/0/steps/0/step: unknown step 'quilt'",
                              "/strands/0/join/amount", "none.loom"})
        CHECK_THAT(bad.err, Contains(words));
    CHECK(lines_in(bad.err) == 4);
    const auto document = nlohmann::json::parse(batch("check --json " + folder.path("a.json")).out);
    CHECK(document["findings"].size() == 3);
    CHECK(document["findings"][0]["pointer"] == "/seed");
}

TEST_CASE("check notes steps without effect and fonts that are not there, which are no faults", "[batch][check]") {
    const TemporaryFolder folder;
    REQUIRE(write_file(folder.path("a.json"), R"({"format": "keen-loom/1", "defaults": 1, "strands": [{"id": "a", "steps": [
        {"id": "s1", "step": "clouds"}, {"id": "s2", "step": "lettering", "set": {"font": "Inter Blubber"}}]}]})"));
    const Ran ran = batch("check " + folder.path("a.json"));
    CHECK(ran.code == 0);
    CHECK_THAT(ran.err,
               Contains("note: /strands/0/steps/0: It has no effect: Lettering puts something of its own in its place."));
    CHECK_THAT(ran.err, Contains("note: /strands/0/steps/1: This machine does not have the font Inter Blubber"));
    CHECK(lines_in(ran.err) == 2);
    CHECK(nlohmann::json::parse(batch("check --json " + folder.path("a.json")).out)["findings"][0]["kind"] == "note");
    // Rendering says it too, and goes on.
    const Ran made = batch("render " + folder.path("a.json") + " -o " + folder.path("out") + " --size 32");
    CHECK(made.code == 0);
    CHECK_THAT(made.err, Contains("does not have the font Inter Blubber"));
    // Mistyped parameters are warned about in a file, and refused in a call.
    CHECK(batch("render " + folder.path("a.json") + " -o " + folder.path("out") + " --set a/s1.sise-x=3").code == 2);
    REQUIRE(write_file(folder.path("b.json"), R"({"format": "keen-loom/1", "strands": [{"id": "a", "steps": [
        {"id": "s1", "step": "clouds", "set": {"sise-x": 3}}]}]})"));
    const Ran warned = batch("render " + folder.path("b.json") + " -o " + folder.path("out") + " --size 32");
    CHECK(warned.code == 0);
    CHECK_THAT(warned.err, Contains("has no parameter 'sise-x'"));
}

TEST_CASE("fonts are listed as their parameter names them, and found however they are written", "[batch][fonts]") {
    const Ran fonts = batch("fonts");
    CHECK(fonts.code == 0);
    CHECK_THAT(fonts.out, Contains("Inter\n"));
    const auto list = nlohmann::json::parse(batch("fonts --json").out)["fonts"];
    CHECK(lines_in(fonts.out) == static_cast<int>(list.size()));
    // Every face by its name; with other blanks and dashes it is the same one.
    const TemporaryFolder folder;
    const auto drawn = [&](const std::string& font) {
        const std::string path = folder.path("font.png");
        const Ran ran = batch("apply lettering --size 64 --set text=A --set size=60 --set 'font=" + font + "' -o " + path);
        CHECK(ran.code == 0);
        CHECK(ran.err.empty());
        return *read_file(path, 1 << 20);
    };
    std::string bold;
    for (const auto& face : list)
        if (face.get<std::string>() == "Inter ExtraBold" || face.get<std::string>() == "Inter Extra Bold") bold = face;
    REQUIRE_FALSE(bold.empty());
    CHECK(drawn(bold) == drawn("inter extra-bold"));
    CHECK(drawn(bold) == drawn("Inter ExtraBold"));
    CHECK(drawn(bold) != drawn("Inter"));
}

TEST_CASE("apply runs one step on one picture", "[batch][apply]") {
    const TemporaryFolder folder;
    const Bundle in = random_bundle({40, 30}, 3);
    REQUIRE(write_picture(folder.path("in.png"), in, PictureFormat::png));
    const Ran ran = batch("apply invert --in " + folder.path("in.png") + " -o " + folder.path("out.png"));
    INFO(ran.err);
    REQUIRE(ran.code == 0);
    const auto out = read_picture(folder.path("out.png")), back = read_picture(folder.path("in.png"));
    for (int k = 0; k < 30; ++k) CHECK(out->channel(1).at(k, k) == Approx(1 - back->channel(1).at(k, k)).margin(1e-4));
    CHECK(batch("apply clouds --size 50 --set size-x=20 --seed 4 -o " + folder.path("made.png")).code == 0);
    CHECK(read_picture(folder.path("made.png"))->size() == Size{50, 50});
    CHECK(batch("apply relief --in " + folder.path("in.png") + " --aux " + folder.path("made.png") +
                " --set height=strand --set depth=4 -o " + folder.path("lit.png"))
              .code == 0);
    CHECK(batch("apply gradientmap --in " + folder.path("in.png") + " --set 'stops=0 #000000, 1 #ff0000' -o " +
                folder.path("red.png"))
              .code == 0);
    CHECK(histogram_of(*read_picture(folder.path("red.png"))).mean < 0.31);
    check_refused(batch("apply quilt --in " + folder.path("in.png") + " -o " + folder.path("x.png")), 2,
                  "there is no step 'quilt'");
    check_refused(batch("apply invert -o " + folder.path("x.png")), 2, "needs a picture");
    check_refused(batch("apply invert --in " + folder.path("in.png") + " --set no=1 -o " + folder.path("x.png")), 2,
                  "no parameter 'no'");
    check_refused(batch("apply levels --in " + folder.path("in.png") + " --set middle=0 -o " + folder.path("x.png")), 2,
                  "middle must be a number");
    check_refused(batch("apply invert --in " + folder.path("none.png") + " -o " + folder.path("x.png")), 1,
                  "there is no such file");
    check_refused(batch("apply invert --in " + folder.path("in.png") + " -o " + folder.path("x.gif")), 2, "must end in");
}

TEST_CASE("blend lays one picture over another", "[batch][blend]") {
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("a.png"), random_bundle({20, 20}, 1), PictureFormat::png16));
    REQUIRE(write_picture(folder.path("b.png"), random_bundle({20, 20}, 2), PictureFormat::png16));
    REQUIRE(write_picture(folder.path("c.png"), random_bundle({20, 10}, 2), PictureFormat::png16));
    const std::string pair =
        " --under " + folder.path("a.png") + " --over " + folder.path("b.png") + " -o " + folder.path("o.png");
    REQUIRE(batch("blend multiply" + pair).code == 0);
    const auto a = read_picture(folder.path("a.png")), b = read_picture(folder.path("b.png")),
               out = read_picture(folder.path("o.png"));
    CHECK(out->channel(0).at(3, 4) == Approx(a->channel(0).at(3, 4) * b->channel(0).at(3, 4)).margin(1.0 / 255));
    REQUIRE(batch("blend multiply --amount 0" + pair).code == 0);
    CHECK(greatest_difference(*read_picture(folder.path("o.png")), *a) < 1.0 / 255);
    check_refused(batch("blend mush" + pair), 2, "there is no blend 'mush'; there are normal, multiply");
    check_refused(
        batch("blend screen --under " + folder.path("a.png") + " --over " + folder.path("c.png") + " -o " + folder.path("x.png")),
        2, "same size");
    check_refused(batch("blend screen --amount 300" + pair), 2, "amount");
}

TEST_CASE("measure reads recipes and pictures", "[batch][measure]") {
    const TemporaryFolder folder;
    const Ran ran = batch("measure " + oak + " --size 256 --json");
    REQUIRE(ran.code == 0);
    const auto document = nlohmann::json::parse(ran.out);
    CHECK(document["seam-across"]["ratio"] < 1.3);
    CHECK(document["evenness"] > 0.9);
    // A picture that does not repeat.
    Plane ramp({64, 64});
    for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 64; ++x) ramp.row(y)[x] = static_cast<float>(x) / 64;
    REQUIRE(write_picture(folder.path("ramp.png"), Bundle::of(std::move(ramp)), PictureFormat::png16));
    CHECK(nlohmann::json::parse(batch("measure --json " + folder.path("ramp.png")).out)["seam-across"]["ratio"] > 10);
    CHECK_THAT(batch("measure " + folder.path("ramp.png")).out, Contains("seam across"));
    check_refused(batch("measure " + folder.path("none.png")), 1, "there is no such file");
}

TEST_CASE("steps lists the catalogue as text, JSON and pages", "[batch][steps]") {
    const auto document = nlohmann::json::parse(batch("steps --json").out);
    CHECK(document["steps"].size() == all_steps().size());
    for (const auto& step : document["steps"]) {
        for (const char* key : {"id", "title", "family", "summary", "tiles", "parameters"}) CHECK(step.contains(key));
        for (const auto& p : step["parameters"])
            for (const char* key : {"id", "title", "kind", "unit", "min", "max", "default", "choices", "help"})
                CHECK(p.contains(key));
    }
    CHECK(lines_in(batch("steps").out) == static_cast<int>(all_steps().size()));
    const std::string page = batch("steps --markdown").out;
    for (const StepDescription& step : all_steps()) CHECK_THAT(page, Catch::Contains(std::string(step.id)));
    check_refused(batch("steps --json --markdown"), 2, "--markdown");
}

TEST_CASE("the reference in docs/ is what the descriptions say today", "[batch][steps][sheets]") {
    const TemporaryFolder folder;
    REQUIRE(batch("steps --pages " + folder.path("pages")).code == 0);
    const std::string kept = std::string(KEEN_LOOM_ROOT) + "/docs/steps/";
    int pages = 0;
    for (const auto& entry : std::filesystem::directory_iterator(folder.path("pages"))) {
        const std::string name = entry.path().filename().string();
        INFO(name);
        if (name.ends_with(".md")) {
            CHECK(*read_file(entry.path().string(), 1 << 20) == *read_file(kept + name, 1 << 20));
            ++pages;
        } else {
            // Pictures may differ by a rounding from machine to machine, not by more.
            const auto now = read_picture(entry.path().string()), then = read_picture(kept + name);
            REQUIRE(now);
            REQUIRE(then);
            REQUIRE(now->size() == then->size());
            CHECK(greatest_difference(*now, *then) < 3.0 / 255);
        }
    }
    CHECK(pages >= 7);
    check_refused(batch("steps --pages /proc/none"), 1, "/proc/none");
}

TEST_CASE("pack and unpack lead back to the same recipe", "[batch][pack]") {
    const TemporaryFolder folder;
    REQUIRE(batch("pack " + oak + " " + folder.path("oak.loom")).code == 0);
    REQUIRE(batch("unpack " + folder.path("oak.loom") + " " + folder.path("oak")).code == 0);
    CHECK(read_loom(folder.path("oak"))->recipe == read_loom(oak)->recipe);
    CHECK(read_loom(folder.path("oak.loom"))->recipe == read_loom(oak)->recipe);
    REQUIRE(batch("unpack " + oak + " -o " + folder.path("other")).code == 0);
    REQUIRE(batch("pack " + folder.path("other") + " -o " + folder.path("other.loom")).code == 0);
    CHECK(read_loom(folder.path("other.loom"))->recipe == read_loom(oak)->recipe);
    check_refused(batch("pack " + folder.path("none") + " " + folder.path("x.loom")), 1, "there is no such file");
}

TEST_CASE("an interrupt ends the work and leaves no file behind", "[batch][cancel]") {
    const TemporaryFolder folder;
    const std::string program = std::string(KEEN_LOOM_BIN) + "/keen-loom-batch", out = folder.path("out");
    const pid_t child = ::fork();
    if (child == 0) {
        std::freopen("/dev/null", "w", stderr);
        ::execl(program.c_str(), program.c_str(), "render", oak.c_str(), "-o", out.c_str(), "--size", "6000", nullptr);
        ::_exit(127);
    }
    REQUIRE(child > 0);
    std::this_thread::sleep_for(std::chrono::milliseconds(900));
    ::kill(child, SIGINT);
    int status = 0;
    REQUIRE(::waitpid(child, &status, 0) == child);
    REQUIRE(WIFEXITED(status));
    CHECK(WEXITSTATUS(status) == 1);
    CHECK(folder.files().empty());
}

TEST_CASE("help and version are answers, not failures", "[batch]") {
    for (const char* arguments : {"--help", "--version", "render --help", "steps --help"}) {
        const Ran ran = batch(arguments);
        CHECK(ran.code == 0);
        CHECK_FALSE(ran.out.empty());
    }
}
