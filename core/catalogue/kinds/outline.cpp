// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/kinds/outline.h"

#include <charconv>
#include <cmath>

#include "core/catalogue/kinds/kind.h"

namespace loom {

void hash_value(Key& key, const Outline& outline) {
    key.add(static_cast<std::uint64_t>(outline.size()));
    for (const Contour& contour : outline) {
        key.add(static_cast<std::uint64_t>(contour.closed)).add(static_cast<std::uint64_t>(contour.nodes.size()));
        for (const OutlineNode& node : contour.nodes)
            for (const OutlinePoint& p : {node.at, node.in, node.out}) key.add(p.x).add(p.y);
    }
}

std::size_t node_count(const Outline& outline) {
    std::size_t count = 0;
    for (const Contour& contour : outline) count += contour.nodes.size();
    return count;
}

std::string write_outline(const Outline& outline) {
    std::string text;
    const auto put = [&](const OutlinePoint& p) {
        for (double number : {p.x, p.y}) {
            if (!text.empty() && text.back() != ' ' && (text.back() < 'A' || number < 0)) text += ' ';
            if (!text.empty() && text.back() >= 'A') text += ' ';
            text += write_number(std::round(number * 100) / 100);
        }
    };
    const auto line_to = [&](const OutlineNode& from, const OutlineNode& to) {
        const bool straight = from.out == from.at && to.in == to.at;
        text += straight ? " L" : " C";
        if (!straight) put(from.out), put(to.in);
        put(to.at);
    };
    for (const Contour& contour : outline) {
        if (contour.nodes.empty()) continue;
        if (!text.empty()) text += ' ';
        text += 'M';
        put(contour.nodes.front().at);
        for (std::size_t k = 1; k < contour.nodes.size(); ++k) line_to(contour.nodes[k - 1], contour.nodes[k]);
        if (contour.closed) {
            const OutlineNode &last = contour.nodes.back(), &first = contour.nodes.front();
            if (last.out != last.at || first.in != first.at) line_to(last, first);
            text += " Z";
        }
    }
    return text;
}

std::optional<Outline> read_outline(std::string_view text) {
    Outline outline;
    const char *here = text.data(), *const end = text.data() + text.size();
    const auto skip = [&] {
        while (here != end && (*here == ' ' || *here == ',' || *here == '\n' || *here == '\t' || *here == '\r')) ++here;
    };
    const auto number = [&](double& out) {
        skip();
        const auto read = std::from_chars(here, end, out);
        if (read.ec != std::errc() || !std::isfinite(out)) return false;
        here = read.ptr;
        return true;
    };
    const auto point = [&](OutlinePoint& p) { return number(p.x) && number(p.y); };
    std::size_t nodes = 0;
    bool open = false;
    char letter = 0;
    for (skip(); here != end; skip()) {
        const bool names = (*here >= 'A' && *here <= 'Z') || (*here >= 'a' && *here <= 'z');
        if (names) letter = *here++;
        if (letter != 'M' && !open) return std::nullopt;
        OutlinePoint at, out, in;
        switch (letter) {
            case 'M':
                if (!point(at)) return std::nullopt;
                outline.push_back({{{at, at, at}}, false});
                open = true;
                letter = 'L';
                break;
            case 'L':
                if (!point(at)) return std::nullopt;
                outline.back().nodes.push_back({at, at, at});
                break;
            case 'C':
                if (!point(out) || !point(in) || !point(at)) return std::nullopt;
                outline.back().nodes.back().out = out;
                outline.back().nodes.push_back({at, in, at});
                break;
            case 'Z': {
                if (!names) return std::nullopt;
                Contour& contour = outline.back();
                contour.closed = true;
                // A curve back to the beginning is the first node's own.
                if (contour.nodes.size() > 1 && contour.nodes.back().at == contour.nodes.front().at) {
                    contour.nodes.front().in = contour.nodes.back().in;
                    contour.nodes.pop_back();
                }
                open = false;
                break;
            }
            default: return std::nullopt;
        }
        if (++nodes > 2 * most_outline_nodes) return std::nullopt;
    }
    return outline;
}

namespace {

using namespace kinds;

class OutlineKind : public UndividedKind<Outline, SharedValue<Outline>> {
public:
    std::string_view word() const override { return "outline"; }
    WrittenForm form() const override {
        return {"`\"M 0 0 L 90 0 C 90 40 60 90 0 90 Z\"`: path data of SVG, absolute, with M, L, C and Z, in px", "the same"};
    }
    std::string must_be(const Parameter&) const override {
        return "must be path data with M, L, C and Z, such as M 0 0 L 9 0 L 9 9 Z";
    }
    std::optional<std::string> refuses_content(const Parameter&, const Outline& outline) const override {
        if (node_count(outline) > most_outline_nodes) return at_most(most_outline_nodes, "points");
        for (const Contour& contour : outline)
            for (const OutlineNode& node : contour.nodes)
                for (const OutlinePoint& p : {node.at, node.in, node.out})
                    if (!(std::abs(p.x) <= farthest_node && std::abs(p.y) <= farthest_node)) return "has a point too far away";
        return std::nullopt;
    }
    Json write_content(const Outline& outline) const override { return write_outline(outline); }
    std::optional<Value> read(const Json& node, const std::string&, json_reading::Reader&) const override {
        if (!node.is_string()) return std::nullopt;
        return parse(node.get_ref<const std::string&>());
    }
    std::optional<Value> parse(std::string_view text) const override {
        auto outline = read_outline(text);
        if (!outline) return std::nullopt;
        return Value(SharedValue<Outline>(std::move(*outline)));
    }
    std::string text_of(const Outline& outline) const override { return write_outline(outline); }
    std::string show_content(const Parameter&, const Outline& outline) const override {
        return outline.empty() ? "none" : std::to_string(node_count(outline)) + " points";
    }
};

}  // namespace

const ValueKind& outline_kind() {
    static const OutlineKind kind;
    return kind;
}

}  // namespace loom
