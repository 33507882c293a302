// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strokes of the hand. Their points are a text of small differences, so that thousands of strokes stay small in a file.
#include "core/catalogue/kinds/strokes.h"

#include <charconv>

#include "core/catalogue/kinds/kind.h"

namespace loom {

void hash_value(Key& key, const Stroke& stroke) {
    key.add(std::string_view(stroke.tool)).add(stroke.size).add(stroke.strength).add(stroke.softness);
    key.add(double(stroke.colour.red)).add(double(stroke.colour.green)).add(double(stroke.colour.blue));
    key.add(static_cast<std::uint64_t>(stroke.muted)).add(static_cast<std::uint64_t>(stroke.points.size()));
    for (const StrokePoint& p : stroke.points) {
        key.add(static_cast<std::uint64_t>(static_cast<std::uint32_t>(p.x)) << 32 | static_cast<std::uint32_t>(p.y));
        key.add(static_cast<std::uint64_t>(static_cast<std::uint32_t>(p.tilt_x)) << 32 |
                static_cast<std::uint64_t>(static_cast<std::uint32_t>(p.tilt_y & 0xffff)) << 16 |
                static_cast<std::uint32_t>(p.pressure));
    }
}

std::string write_points(const std::vector<StrokePoint>& points) {
    std::string text;
    StrokePoint before{0, 0, 255, 0, 0};
    const auto put = [&](int number) {
        char digits[16];
        text.append(digits, std::to_chars(digits, digits + sizeof digits, number).ptr);
    };
    for (const StrokePoint& p : points) {
        if (!text.empty()) text += ',';
        put(p.x - before.x), text += ' ', put(p.y - before.y);
        const bool tilts = p.tilt_x != before.tilt_x || p.tilt_y != before.tilt_y;
        if (tilts || p.pressure != before.pressure) text += ' ', put(p.pressure - before.pressure);
        if (tilts) text += ' ', put(p.tilt_x - before.tilt_x), text += ' ', put(p.tilt_y - before.tilt_y);
        before = p;
    }
    return text;
}

namespace {

using namespace kinds;

constexpr int farthest = 1 << 20;  // eighths of px: eight of the largest tiles

bool within(const StrokePoint& p) {
    return std::abs(p.x) <= farthest && std::abs(p.y) <= farthest && p.pressure >= 0 && p.pressure <= 255 &&
           std::abs(p.tilt_x) <= 90 && std::abs(p.tilt_y) <= 90;
}

/// Nothing if the text is no list of points; none of them is checked.
std::optional<std::vector<StrokePoint>> read_points(std::string_view text) {
    std::vector<StrokePoint> points;
    StrokePoint at{0, 0, 255, 0, 0};
    const char *here = text.data(), *end = text.data() + text.size();
    const auto skip = [&] {
        while (here != end && *here == ' ') ++here;
    };
    skip();
    while (here != end) {
        int number[5] = {}, count = 0;
        for (; count < 5 && here != end && *here != ','; ++count) {
            const auto read = std::from_chars(here, end, number[count]);
            if (read.ec != std::errc() || std::abs(number[count]) > 2 * farthest) return std::nullopt;
            here = read.ptr;
            skip();
        }
        if (count < 2 || count == 4 || (here != end && *here != ',')) return std::nullopt;
        at.x += number[0], at.y += number[1], at.pressure += number[2], at.tilt_x += number[3], at.tilt_y += number[4];
        // Differences may not run away.
        if (std::abs(at.x) > farthest || std::abs(at.y) > farthest) return std::nullopt;
        points.push_back(at);
        if (here != end) ++here;
        skip();
    }
    return points;
}

class StrokesKind : public UndividedKind<Strokes> {
public:
    std::string_view word() const override { return "strokes"; }
    WrittenForm form() const override {
        return {
            "`[{\"tool\": \"push\", \"size\": 80, \"points\": \"4096 2048 200,8 0 -3\"}]`: first place and ways in eighths of "
            "px, pressure (of 255) and tilts where they change",
            "the same, as JSON"};
    }
    std::string must_be(const Parameter&) const override { return "must be a list of strokes with tool and points"; }
    std::optional<std::string> refuses_content(const Parameter& p, const Strokes& strokes) const override {
        if (strokes.size() > most_strokes) return at_most(most_strokes, "strokes");
        for (std::size_t k = 0; k < strokes.size(); ++k)
            if (auto why = refuses_stroke(p, strokes[k])) return "has a stroke (" + std::to_string(k) + ") " + *why;
        return std::nullopt;
    }

    Json write_content(const Strokes& strokes) const override {
        const Stroke plain;
        Json list = Json::array();
        for (std::size_t k = 0; k < strokes.size(); ++k) {
            const Stroke& stroke = strokes[k];
            Json node = {{"tool", stroke.tool}};
            if (stroke.size != plain.size) node["size"] = number_json(stroke.size);
            if (stroke.strength != plain.strength) node["strength"] = number_json(stroke.strength);
            if (stroke.softness != plain.softness) node["softness"] = number_json(stroke.softness);
            if (stroke.colour != plain.colour) node["colour"] = colour_kind().write(Value(stroke.colour));
            if (stroke.muted) node["muted"] = true;
            node["points"] = write_points(stroke.points);
            list.push_back(std::move(node));
        }
        return list;
    }
    std::optional<Value> read(const Json& node, const std::string& pointer, json_reading::Reader& reader) const override {
        if (!node.is_array()) return std::nullopt;
        const Stroke plain;
        Strokes strokes;
        for (std::size_t k = 0; k < node.size() && k <= most_strokes; ++k) {
            const std::string at = json_reading::at(pointer, k);
            if (!reader.object(node[k], at)) continue;
            Stroke stroke;
            stroke.tool = reader.text(node[k], "tool", at, "");
            stroke.size = reader.number(node[k], "size", at, plain.size, least_brush, greatest_brush);
            stroke.strength = reader.number(node[k], "strength", at, plain.strength, -100, 100);
            stroke.softness = reader.number(node[k], "softness", at, plain.softness, 0, 100);
            stroke.muted = reader.flag(node[k], "muted", at, false);
            if (const auto found = node[k].find("colour"); found != node[k].end()) {
                if (const auto colour = colour_kind().read(*found, json_reading::at(at, "colour"), reader))
                    stroke.colour = as<Colour>(*colour);
                else
                    reader.fault(json_reading::at(at, "colour"), "must be a colour, #rrggbb");
            }
            auto points = read_points(reader.text(node[k], "points", at, ""));
            if (!points)
                reader.fault(json_reading::at(at, "points"), "must be places between commas, such as 4096 2048 200,8 0");
            else
                stroke.points = std::move(*points);
            reader.unknown(node[k], at, {"tool", "size", "strength", "softness", "colour", "muted", "points"});
            strokes = strokes.appended(std::move(stroke));
        }
        return Value(std::move(strokes));
    }

    std::optional<Value> parse(std::string_view text) const override {
        const Json node = Json::parse(text, nullptr, false);
        std::vector<Finding> findings;
        json_reading::Reader reader(findings);
        auto value = node.is_discarded() ? std::nullopt : read(node, "", reader);
        return findings.empty() ? value : std::nullopt;
    }
    std::string text_of(const Strokes& strokes) const override { return write_content(strokes).dump(); }
    std::string show_content(const Parameter&, const Strokes& strokes) const override {
        return strokes.empty() ? "none" : strokes.size() == 1 ? "1 stroke" : std::to_string(strokes.size()) + " strokes";
    }

private:
    static std::optional<std::string> refuses_stroke(const Parameter& p, const Stroke& stroke) {
        const bool known =
            std::any_of(p.choices.begin(), p.choices.end(), [&](const Choice& tool) { return tool.id == stroke.tool; });
        if (!known) return "whose tool " + choice_kind().must_be(p);
        if (stroke.points.empty() || stroke.points.size() > most_stroke_points)
            return "that needs 1 to " + std::to_string(most_stroke_points) + " points";
        if (!std::all_of(stroke.points.begin(), stroke.points.end(), within))
            return "with points too far away, or pressure outside 0 to 255";
        if (!in_range(stroke.size, least_brush, greatest_brush) || !in_range(stroke.strength, -100, 100) ||
            !in_range(stroke.softness, 0, 100))
            return "with a size, strength or softness out of range";
        return std::nullopt;
    }
};

}  // namespace

const ValueKind& strokes_kind() {
    static const StrokesKind kind;
    return kind;
}

}  // namespace loom
