// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/hand/outline_hand.h"

#include <QLineF>
#include <QPainterPath>
#include <QTransform>
#include <algorithm>
#include <cmath>

namespace loom {

namespace {

constexpr double outline_reach = 10;

QPointF qpoint(const OutlinePoint& p) { return {p.x, p.y}; }
OutlinePoint outline_place(const QPointF& p) { return {std::round(p.x() * 100) / 100, std::round(p.y() * 100) / 100}; }

QPointF on_outline(const OutlineNode& a, const OutlineNode& b, double t) {
    const double s = 1 - t;
    return s * s * s * qpoint(a.at) + 3 * s * s * t * qpoint(a.out) + 3 * s * t * t * qpoint(b.in) + t * t * t * qpoint(b.at);
}

/// The line from a to b in two, at a share of it (de Casteljau).
OutlineNode split_line(OutlineNode& a, OutlineNode& b, double t) {
    const auto mix = [t](const OutlinePoint& p, const OutlinePoint& q) {
        return OutlinePoint{p.x + t * (q.x - p.x), p.y + t * (q.y - p.y)};
    };
    const bool straight = a.out == a.at && b.in == b.at;
    const OutlinePoint p = mix(a.at, a.out), q = mix(a.out, b.in), r = mix(b.in, b.at), in = mix(p, q), out = mix(q, r),
                       at = mix(in, out);
    if (straight) return {mix(a.at, b.at), mix(a.at, b.at), mix(a.at, b.at)};
    a.out = p, b.in = r;
    return {at, in, out};
}

}  // namespace

const Parameter* OutlineHand::parameter() const {
    const Step* step = session_.selected_step();
    const StepDescription* description = step && step->on ? find_step(step->kind) : nullptr;
    const Parameter* p = description ? description->parameter_of(Kind::outline) : nullptr;
    return p && !p->own && relevant(*description, *p, step->set) ? p : nullptr;
}

Outline OutlineHand::outline() const {
    const Parameter* p = parameter();
    return p ? as<Outline>(value_or_default(*p, session_.selected_step()->set)) : Outline();
}

void OutlineHand::set(const Outline& outline, const QString& text, const QString& gesture) {
    const Selection& at = session_.selection();
    const Address address{at.strand, at.step, std::string(parameter()->id)};
    session_.apply(with_value(session_.recipe(), address, Value(SharedValue<Outline>(outline))), text,
                   {gesture, QString::fromStdString(address.text())});
}

QTransform OutlineHand::to_screen(const QRectF& tile) const {
    const Step* step = session_.selected_step();
    const StepDescription* description = find_step(step->kind);
    const auto number = [&](std::string_view id) {
        const Parameter* p = description->parameter(id);
        return p ? as<double>(value_or_default(*p, step->set)) : 0.0;
    };
    const Tile& design = session_.recipe().tile;
    QTransform transform;
    transform.translate(tile.left() + number("x") / 100 * tile.width(), tile.top() + number("y") / 100 * tile.height());
    transform.scale(tile.width() / design.width, tile.height() / design.height);
    transform.rotate(-number("turn"));
    return transform;
}

OutlineHand::Found OutlineHand::under(const QPointF& at, const QRectF& tile) const {
    const Outline all = outline();
    const QTransform transform = to_screen(tile);
    Found found;
    double least = outline_reach;
    const auto look = [&](Part part, std::size_t c, std::size_t n, const OutlinePoint& p) {
        if (const double away = QLineF(at, transform.map(qpoint(p))).length(); away < least) least = away, found = {part, c, n};
    };
    for (std::size_t c = 0; c < all.size(); ++c)
        for (std::size_t n = 0; n < all[c].nodes.size(); ++n) {
            const OutlineNode& node = all[c].nodes[n];
            // Ends of curves are there for the chosen point only, or they would hide each other.
            if (chosen_ && c == contour_ && n == node_) {
                if (node.in != node.at) look(Part::in, c, n, node.in);
                if (node.out != node.at) look(Part::out, c, n, node.out);
            }
            look(Part::node, c, n, node.at);
        }
    return found;
}

OutlineHand::OnLine OutlineHand::line_at(const QPointF& at, const QRectF& tile) const {
    const Outline all = outline();
    const QTransform transform = to_screen(tile);
    OnLine best;
    for (std::size_t c = 0; c < all.size(); ++c) {
        const auto& nodes = all[c].nodes;
        const std::size_t lines = nodes.size() < 2 ? 0 : nodes.size() - (all[c].closed ? 0 : 1);
        for (std::size_t n = 0; n < lines; ++n)
            for (int k = 1; k < 32; ++k) {
                const double t = k / 32.0;
                const QPointF place = transform.map(on_outline(nodes[n], nodes[(n + 1) % nodes.size()], t));
                if (const double away = QLineF(at, place).length(); away < best.away) best = {c, n, t, away};
            }
    }
    return best;
}

bool OutlineHand::takes(const QPointF& at, const QRectF& tile) const {
    return parameter() &&
           (under(at, tile).part != Part::nothing || line_at(at, tile).away < outline_reach || outline().empty() || drawing());
}

bool OutlineHand::press(const Touch& touch, const QRectF& tile) {
    if (!parameter()) return false;
    Outline all = outline();
    const Found found = under(touch.at, tile);
    ++drags_;
    if (found.part != Part::nothing) {
        Contour& contour = all[found.contour];
        OutlineNode& node = contour.nodes[found.node];
        // The first point of a line that is being drawn closes it.
        const bool closes = found.part == Part::node && !contour.closed && found.node == 0 && contour.nodes.size() > 2 &&
                            chosen_ && contour_ == found.contour && node_ + 1 == contour.nodes.size();
        contour_ = found.contour, node_ = found.node, chosen_ = true, part_ = found.part;
        if (closes) {
            contour.closed = true;
            set(all, QObject::tr("Close the outline"));
        } else if (touch.twice && found.part == Part::node) {
            if (node.in != node.at || node.out != node.at) {
                node.in = node.out = node.at;
            } else {
                const auto& nodes = contour.nodes;
                const QPointF before = qpoint(nodes[(node_ + nodes.size() - 1) % nodes.size()].at),
                              next = qpoint(nodes[(node_ + 1) % nodes.size()].at);
                const QPointF way = (next - before) / 6;
                node.in = outline_place(qpoint(node.at) - way), node.out = outline_place(qpoint(node.at) + way);
            }
            set(all, QObject::tr("Corner or round"));
        }
        return true;
    }
    if (const OnLine line = line_at(touch.at, tile); line.away < outline_reach) {
        auto& nodes = all[line.contour].nodes;
        OutlineNode made = split_line(nodes[line.node], nodes[(line.node + 1) % nodes.size()], line.share);
        for (OutlinePoint* p : {&made.at, &made.in, &made.out}) *p = outline_place(qpoint(*p));
        nodes.insert(nodes.begin() + static_cast<std::ptrdiff_t>(line.node) + 1, made);
        contour_ = line.contour, node_ = line.node + 1, chosen_ = true, part_ = Part::node;
        set(all, QObject::tr("Add a point"), QString("outline %1").arg(drags_));
        return true;
    }
    if (!all.empty() && !drawing()) {
        chosen_ = false;
        return false;
    }
    // Beside everything it goes on with a line that is not closed yet, or begins one where there is none.
    const OutlinePoint place = outline_place(to_screen(tile).inverted().map(touch.at));
    if (all.empty()) all.push_back({{}, false}), contour_ = 0;
    all[contour_].nodes.push_back({place, place, place});
    node_ = all[contour_].nodes.size() - 1, chosen_ = true, part_ = Part::node;
    set(all, QObject::tr("Draw the outline"), QString("outline %1").arg(drags_));
    return true;
}

bool OutlineHand::drawing() const {
    const Outline all = outline();
    return chosen_ && contour_ < all.size() && !all[contour_].closed && node_ + 1 == all[contour_].nodes.size();
}

void OutlineHand::drag(const Touch& touch, const QRectF& tile) {
    Outline all = outline();
    if (contour_ >= all.size() || node_ >= all[contour_].nodes.size()) return;
    OutlineNode& node = all[contour_].nodes[node_];
    const OutlinePoint place = outline_place(to_screen(tile).inverted().map(touch.at));
    if (part_ == Part::node) {
        const double dx = place.x - node.at.x, dy = place.y - node.at.y;
        for (OutlinePoint* p : {&node.at, &node.in, &node.out}) p->x += dx, p->y += dy;
    } else {
        OutlinePoint& own = part_ == Part::in ? node.in : node.out;
        OutlinePoint& other = part_ == Part::in ? node.out : node.in;
        own = place;
        // Both ends stay in line, unless Ctrl is held.
        if (!(touch.keys & Qt::ControlModifier) && other != node.at) {
            const double length = std::hypot(other.x - node.at.x, other.y - node.at.y),
                         way = std::hypot(own.x - node.at.x, own.y - node.at.y);
            if (way > 0)
                other = outline_place(
                    {node.at.x - (own.x - node.at.x) / way * length, node.at.y - (own.y - node.at.y) / way * length});
        }
    }
    set(all, QObject::tr("Drag the outline"), QString("outline %1").arg(drags_));
}

bool OutlineHand::key(const QKeyEvent& event, bool pressed) {
    if (event.key() != Qt::Key_Delete && event.key() != Qt::Key_Backspace) return false;
    Outline all = outline();
    if (!parameter() || !chosen_ || contour_ >= all.size() || node_ >= all[contour_].nodes.size()) return false;
    if (!pressed) return true;
    auto& nodes = all[contour_].nodes;
    nodes.erase(nodes.begin() + static_cast<std::ptrdiff_t>(node_));
    if (nodes.empty()) all.erase(all.begin() + static_cast<std::ptrdiff_t>(contour_));
    node_ = nodes.empty() || node_ == 0 ? 0 : node_ - 1;
    chosen_ = contour_ < all.size();
    set(all, QObject::tr("Take a point away"));
    return true;
}

void OutlineHand::paint(QPainter& painter, const QRectF& tile) const {
    if (!parameter()) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const Outline all = outline();
    const QTransform transform = to_screen(tile);
    QPainterPath path;
    for (const Contour& contour : all) {
        if (contour.nodes.empty()) continue;
        path.moveTo(transform.map(qpoint(contour.nodes.front().at)));
        const std::size_t count = contour.nodes.size(), lines = contour.closed ? count : count - 1;
        for (std::size_t n = 0; n < lines; ++n) {
            const OutlineNode &a = contour.nodes[n], &b = contour.nodes[(n + 1) % count];
            path.cubicTo(transform.map(qpoint(a.out)), transform.map(qpoint(b.in)), transform.map(qpoint(b.at)));
        }
    }
    draw_line(painter, [&] { painter.drawPath(path); });
    for (std::size_t c = 0; c < all.size(); ++c)
        for (std::size_t n = 0; n < all[c].nodes.size(); ++n) {
            const OutlineNode& node = all[c].nodes[n];
            const bool chosen = chosen_ && c == contour_ && n == node_;
            const QPointF at = transform.map(qpoint(node.at));
            if (chosen)
                for (const OutlinePoint& end : {node.in, node.out}) {
                    if (end == node.at) continue;
                    const QPointF handle = transform.map(qpoint(end));
                    draw_line(painter, [&] { painter.drawLine(at, handle); });
                    draw_grip(painter, handle, false);
                }
            draw_grip(painter, at, chosen, true);
        }
}

}  // namespace loom
