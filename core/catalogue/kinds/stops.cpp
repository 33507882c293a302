// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Stops of a gradient. As text "0 #rrggbb 10, 1 #rrggbb": place, colour, grain.
#include "core/catalogue/kinds/kind.h"

namespace loom {

void hash_value(Key& key, const Stops& stops) {
    key.add(static_cast<std::uint64_t>(stops.size()));
    for (const auto& [place, colour, grain] : stops) {
        key.add(place).add(grain);
        hash_value(key, colour);
    }
}

namespace {

using namespace kinds;

constexpr std::size_t most_stops = 256;

class StopsKind : public KindOf<Stops, SharedValue<Stops>> {
public:
    std::string_view word() const override { return "stops"; }
    WrittenForm form() const override {
        return {"`[{\"place\": 0, \"colour\": \"#000000\", \"grain\": 5}, ...]`; grain may be left out",
                "`0 #000000 5, 1 #ffffff`: place, colour, grain"};
    }
    std::string must_be(const Parameter&) const override { return "must be a list of stops with place, colour and grain"; }
    std::optional<std::string> refuses_content(const Parameter&, const Stops& stops) const override {
        if (stops.empty()) return "needs at least one stop";
        if (stops.size() > most_stops) return at_most(most_stops, "stops");
        for (const Stop& stop : stops)
            if (!in_range(stop.place, 0, 1) || !in_range(stop.grain, 0, 100))
                return "has a stop outside its range (place 0 to 1, grain 0 to 100)";
        return std::nullopt;
    }

    Json write_content(const Stops& stops) const override {
        Json list = Json::array();
        for (const Stop& stop : stops) {
            Json entry = {{"place", number_json(stop.place)}, {"colour", write_colour(stop.colour)}};
            if (stop.grain != 0) entry["grain"] = number_json(stop.grain);
            list.push_back(std::move(entry));
        }
        return list;
    }
    std::optional<Value> read(const Json& node, const std::string& pointer, json_reading::Reader& reader) const override {
        if (!node.is_array()) return std::nullopt;
        Stops stops;
        for (std::size_t k = 0; k < node.size(); ++k) {
            const std::string here = json_reading::at(pointer, k);
            if (!reader.object(node[k], here)) continue;
            Stop stop;
            stop.place = reader.number(node[k], "place", here, 0, 0, 1);
            stop.grain = reader.number(node[k], "grain", here, 0, 0, 100);
            if (const auto colour = parse_colour(reader.text(node[k], "colour", here, "")))
                stop.colour = *colour;
            else
                reader.fault(json_reading::at(here, "colour"), colour_kind().must_be({}));
            stops.push_back(stop);
        }
        return Value(std::move(stops));
    }

    std::optional<Value> parse(std::string_view text) const override {
        Stops stops;
        for (std::string_view part : words_of(text, ",")) {
            const auto words = words_of(part, " \t");
            if (words.size() < 2 || words.size() > 3) return std::nullopt;
            const auto place = parse_number(words[0]);
            const auto colour = parse_colour(words[1]);
            const auto grain = words.size() == 3 ? parse_number(words[2]) : std::optional<double>(0);
            if (!place || !colour || !grain) return std::nullopt;
            stops.push_back({*place, *colour, *grain});
        }
        return Value(std::move(stops));
    }
    std::string text_of(const Stops& stops) const override {
        std::string text;
        for (const Stop& stop : stops) {
            if (!text.empty()) text += ", ";
            text += write_number(stop.place);
            text += ' ';
            text += write_colour(stop.colour);
            if (stop.grain == 0) continue;
            text += ' ';
            text += write_number(stop.grain);
        }
        return text;
    }
    std::string show_content(const Parameter&, const Stops& stops) const override {
        return std::to_string(stops.size()) + (stops.size() == 1 ? " stop" : " stops");
    }

    std::vector<Part> parts(const Value& whole) const override {
        std::vector<Part> all;
        const Stops& stops = as<Stops>(whole);
        for (std::size_t k = 0; k < stops.size(); ++k) {
            Parameter colour;
            colour.kind = Kind::colour, colour.id = "colour", colour.title = "Colour", colour.fallback = stops[k].colour;
            all.push_back({indexed(k, "colour"), std::move(colour), Value(stops[k].colour)});
            all.push_back(
                {indexed(k, "place"), number_part("place", "Place", 0, 1, Unit::none, stops[k].place), Value(stops[k].place)});
            all.push_back({indexed(k, "grain"), number_part("grain", "Grain", 0, 100, Unit::percent, stops[k].grain),
                           Value(stops[k].grain)});
        }
        return all;
    }
    Value with_part(const Value& whole, const Part& part, const Value& value) const override {
        Stops stops = as<Stops>(whole);
        Stop& stop = stops[index_of(part.path)];
        if (part.parameter.id == "colour") stop.colour = as<Colour>(value);
        if (part.parameter.id == "place") stop.place = as<double>(value);
        if (part.parameter.id == "grain") stop.grain = as<double>(value);
        return Value(std::move(stops));
    }
};

}  // namespace

const ValueKind& stops_kind() {
    static const StopsKind kind;
    return kind;
}

}  // namespace loom
