// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Points of a curve. As text "0 0, 0.5 0.6, 1 1": in and out of each.
#include "core/catalogue/kinds/curve.h"

#include "core/catalogue/kinds/kind.h"

namespace loom {

void hash_value(Key& key, const CurvePoints& points) {
    key.add(static_cast<std::uint64_t>(points.size()));
    for (const auto& [in, out] : points) key.add(in).add(out);
}

namespace {

using namespace kinds;

constexpr std::size_t most_points = 64;

class CurveKind : public KindOf<CurvePoints, SharedValue<CurvePoints>> {
public:
    std::string_view word() const override { return "curve"; }
    WrittenForm form() const override {
        return {"`[[0, 0], [0.5, 0.6], [1, 1]]`: in and out, 0 to 1, in rising", "`0 0, 0.5 0.6, 1 1`: in and out"};
    }
    std::string must_be(const Parameter&) const override { return "must be a list of points with in and out, 0 to 1"; }
    std::optional<std::string> refuses_content(const Parameter&, const CurvePoints& points) const override {
        if (points.size() < 2) return "needs at least two points";
        if (points.size() > most_points) return at_most(most_points, "points");
        for (std::size_t k = 0; k < points.size(); ++k) {
            if (!in_range(points[k].in, 0, 1) || !in_range(points[k].out, 0, 1)) return "has a point outside 0 to 1";
            if (k > 0 && points[k].in < points[k - 1].in + least_curve_step * 0.999)
                return "has points out of order: in must rise by " + write_number(least_curve_step) + " at least";
        }
        return std::nullopt;
    }

    Json write_content(const CurvePoints& points) const override {
        Json list = Json::array();
        for (const CurvePoint& point : points) list.push_back(Json::array({number_json(point.in), number_json(point.out)}));
        return list;
    }
    std::optional<Value> read(const Json& node, const std::string& pointer, json_reading::Reader& reader) const override {
        if (!node.is_array()) return std::nullopt;
        CurvePoints points;
        for (std::size_t k = 0; k < node.size(); ++k) {
            const Json& pair = node[k];
            if (!pair.is_array() || pair.size() != 2 || !pair[0].is_number() || !pair[1].is_number())
                reader.fault(json_reading::at(pointer, k), "must be two numbers, in and out");
            else
                points.push_back({pair[0].get<double>(), pair[1].get<double>()});
        }
        return Value(std::move(points));
    }

    std::optional<Value> parse(std::string_view text) const override {
        CurvePoints points;
        for (std::string_view part : words_of(text, ",")) {
            const auto words = words_of(part, " \t");
            if (words.size() != 2) return std::nullopt;
            const auto in = parse_number(words[0]), out = parse_number(words[1]);
            if (!in || !out) return std::nullopt;
            points.push_back({*in, *out});
        }
        return Value(std::move(points));
    }
    std::string text_of(const CurvePoints& points) const override {
        std::string text;
        for (const CurvePoint& point : points) {
            if (!text.empty()) text += ", ";
            text += write_number(point.in);
            text += ' ';
            text += write_number(point.out);
        }
        return text;
    }
    std::string show_content(const Parameter&, const CurvePoints& points) const override {
        return points == straight_curve() ? "straight" : std::to_string(points.size()) + " points";
    }

    std::vector<Part> parts(const Value& whole) const override {
        std::vector<Part> all;
        const CurvePoints& points = as<CurvePoints>(whole);
        for (std::size_t k = 0; k < points.size(); ++k) {
            const double low = k == 0 ? 0 : points[k - 1].in + least_curve_step,
                         high = k + 1 == points.size() ? 1 : points[k + 1].in - least_curve_step;
            all.push_back({indexed(k, "in"), number_part("in", "In", low, high, Unit::tone, points[k].in), Value(points[k].in)});
            all.push_back({indexed(k, "out"), number_part("out", "Out", 0, 1, Unit::tone, points[k].out), Value(points[k].out)});
        }
        return all;
    }
    Value with_part(const Value& whole, const Part& part, const Value& value) const override {
        CurvePoints points = as<CurvePoints>(whole);
        CurvePoint& point = points[index_of(part.path)];
        (part.parameter.id == "in" ? point.in : point.out) = as<double>(value);
        return Value(std::move(points));
    }
};

}  // namespace

const ValueKind& curve_kind() {
    static const CurveKind kind;
    return kind;
}

}  // namespace loom
