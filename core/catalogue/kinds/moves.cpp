// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Points that are dragged from one place to another. As text "20 30 to 25 40, 70 70 to 70 70".
#include "core/catalogue/kinds/moves.h"

#include "core/catalogue/kinds/kind.h"

namespace loom {

void hash_value(Key& key, const Moves& moves) {
    key.add(static_cast<std::uint64_t>(moves.size()));
    for (const Move& move : moves) key.add(move.x).add(move.y).add(move.to_x).add(move.to_y);
}

namespace {

using namespace kinds;

constexpr std::size_t most_moves = 64;

/// The numbers of a move, each with its address and how far it may go.
struct Member {
    std::string_view id, title;
    double Move::*number;
    double beyond;
};
constexpr Member members[] = {{"x", "From across", &Move::x, 0},
                              {"y", "From down", &Move::y, 0},
                              {"to-x", "To across", &Move::to_x, farthest_move},
                              {"to-y", "To down", &Move::to_y, farthest_move}};

class MovesKind : public KindOf<Moves, SharedValue<Moves>> {
public:
    std::string_view word() const override { return "moves"; }
    WrittenForm form() const override {
        return {"`[[20, 30, 25, 40]]`: from across and down, to across and down, in %", "`20 30 to 25 40, 70 70 to 70 70`"};
    }
    std::string must_be(const Parameter&) const override { return "must be a list of points, each four numbers: from and to"; }
    std::optional<std::string> refuses_content(const Parameter&, const Moves& moves) const override {
        if (moves.size() > most_moves) return at_most(most_moves, "points");
        for (const Move& move : moves)
            for (const Member& member : members)
                if (!in_range(move.*member.number, -member.beyond, 100 + member.beyond))
                    return "has a point outside the tile, or one dragged more than a tile beyond it";
        return std::nullopt;
    }

    Json write_content(const Moves& moves) const override {
        Json list = Json::array();
        for (const Move& move : moves) {
            Json node = Json::array();
            for (const Member& member : members) node.push_back(number_json(move.*member.number));
            list.push_back(std::move(node));
        }
        return list;
    }
    std::optional<Value> read(const Json& node, const std::string& pointer, json_reading::Reader& reader) const override {
        if (!node.is_array()) return std::nullopt;
        Moves moves;
        for (std::size_t k = 0; k < node.size(); ++k) {
            const Json& four = node[k];
            const auto is_number = [](const Json& each) { return each.is_number(); };
            if (!four.is_array() || four.size() != 4 || !std::all_of(four.begin(), four.end(), is_number)) {
                reader.fault(json_reading::at(pointer, k), "must be four numbers, from and to");
                continue;
            }
            Move move;
            for (std::size_t m = 0; m < 4; ++m) move.*members[m].number = four[m].get<double>();
            moves.push_back(move);
        }
        return Value(std::move(moves));
    }

    std::optional<Value> parse(std::string_view text) const override {
        Moves moves;
        for (std::string_view part : words_of(text, ",")) {
            auto words = words_of(part, " \t");
            if (words.size() != 5 || words[2] != "to") return std::nullopt;
            words.erase(words.begin() + 2);
            Move move;
            for (std::size_t m = 0; m < 4; ++m) {
                const auto number = parse_number(words[m]);
                if (!number) return std::nullopt;
                move.*members[m].number = *number;
            }
            moves.push_back(move);
        }
        return Value(std::move(moves));
    }
    std::string text_of(const Moves& moves) const override {
        std::string text;
        for (const Move& move : moves) {
            if (!text.empty()) text += ", ";
            for (std::size_t m = 0; m < 4; ++m) {
                if (m > 0) text += m == 2 ? " to " : " ";
                text += write_number(move.*members[m].number);
            }
        }
        return text;
    }
    std::string show_content(const Parameter&, const Moves& moves) const override {
        return moves.empty() ? "none" : moves.size() == 1 ? "1 point" : std::to_string(moves.size()) + " points";
    }

    std::vector<Part> parts(const Value& whole) const override {
        std::vector<Part> all;
        const Moves& moves = as<Moves>(whole);
        for (std::size_t k = 0; k < moves.size(); ++k)
            for (const Member& member : members) {
                const double present = moves[k].*member.number;
                all.push_back({indexed(k, member.id),
                               number_part(member.id, member.title, -member.beyond, 100 + member.beyond, Unit::percent, present),
                               Value(present)});
            }
        return all;
    }
    Value with_part(const Value& whole, const Part& part, const Value& value) const override {
        Moves moves = as<Moves>(whole);
        for (const Member& member : members)
            if (member.id == part.parameter.id) moves[index_of(part.path)].*member.number = as<double>(value);
        return Value(std::move(moves));
    }
};

}  // namespace

const ValueKind& moves_kind() {
    static const MovesKind kind;
    return kind;
}

}  // namespace loom
