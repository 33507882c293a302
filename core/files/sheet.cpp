// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/sheet.h"

#include <cairo.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <cmath>
#include <memory>

namespace loom {

namespace {

constexpr int gap = 12, margin = 24, caption_height = 22, most = 32767;
constexpr double ground = 0.87, ink = 0.13, accent[] = {0.663, 0.184, 0.282};

template <auto Free>
struct Freed {
    template <class T>
    void operator()(T* thing) const {
        Free(thing);
    }
};
using Surface = std::unique_ptr<cairo_surface_t, Freed<cairo_surface_destroy>>;
using Context = std::unique_ptr<cairo_t, Freed<cairo_destroy>>;
using Layout = std::unique_ptr<PangoLayout, Freed<g_object_unref>>;
using Font = std::unique_ptr<PangoFontDescription, Freed<pango_font_description_free>>;

class Writer {
public:
    explicit Writer(cairo_t* to) : to_(to), layout_(pango_cairo_create_layout(to)) {
        pango_layout_set_ellipsize(layout_.get(), PANGO_ELLIPSIZE_END);
        pango_layout_set_single_paragraph_mode(layout_.get(), TRUE);
    }
    void font(const char* name) {
        const Font font(pango_font_description_from_string(name));
        pango_layout_set_font_description(layout_.get(), font.get());
    }
    int width(const std::string& text) {
        pango_layout_set_width(layout_.get(), -1);
        pango_layout_set_text(layout_.get(), text.data(), static_cast<int>(text.size()));
        int wide = 0;
        pango_layout_get_pixel_size(layout_.get(), &wide, nullptr);
        return wide;
    }
    /// Within a box, in the middle of its height.
    void write(const std::string& text, int x, int y, int wide, int high, PangoAlignment align) {
        pango_layout_set_width(layout_.get(), wide * PANGO_SCALE);
        pango_layout_set_alignment(layout_.get(), align);
        pango_layout_set_text(layout_.get(), text.data(), static_cast<int>(text.size()));
        int own = 0;
        pango_layout_get_pixel_size(layout_.get(), nullptr, &own);
        cairo_set_source_rgb(to_, ink, ink, ink);
        cairo_move_to(to_, x, y + (high - own) / 2.0);
        pango_cairo_show_layout(to_, layout_.get());
    }

private:
    cairo_t* to_;
    Layout layout_;
};

constexpr char caption_font[] = "Inter, sans-serif 13px", head_font[] = "Inter, sans-serif semi-bold 13px",
               title_font[] = "Inter, sans-serif semi-bold 16px";

void paste(const Bundle& picture, std::vector<Plane>& out, int left, int top) {
    const Size size = picture.size();
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const float cover = picture.coverage ? picture.coverage->at(x, y) : 1.0f;
                out[static_cast<std::size_t>(c)].row(top + y)[left + x] =
                    picture.channel(c).at(x, y) + (1 - cover) * static_cast<float>(ground);
            }
}

}  // namespace

Sheet sheet_of(const Recipe& recipe, const SheetAxes& axes) {
    Sheet sheet;
    sheet.title = recipe.name + ": " + axes.across.title;
    sheet.marked = axes.present(recipe);
    if (axes.down) {
        sheet.title += " across, ";
        sheet.title += axes.down->title;
        sheet.title += " down";
        sheet.columns = static_cast<int>(axes.across.variants.size());
        for (const Variant& each : axes.across.variants) sheet.heads.push_back(each.label);
        for (const Variant& each : axes.down->variants) sheet.sides.push_back(each.label);
    } else {
        sheet.columns = static_cast<int>(std::ceil(std::sqrt(static_cast<double>(axes.count()))));
        for (const Variant& each : axes.across.variants) sheet.captions.push_back(each.label);
    }
    return sheet;
}

Result<Bundle> sheet_picture(const Sheet& sheet) {
    Size cell{1, 1};
    for (const Bundle& picture : sheet.pictures)
        if (!picture.empty()) cell = picture.size();
    const int columns = std::max(1, sheet.columns), rows = (static_cast<int>(sheet.pictures.size()) + columns - 1) / columns;
    // Rooms for text are measured on a surface of no size.
    const Surface none(cairo_image_surface_create(CAIRO_FORMAT_A8, 1, 1));
    const Context measuring(cairo_create(none.get()));
    int side = 0;
    Writer measure(measuring.get());
    measure.font(head_font);
    for (const std::string& each : sheet.sides) side = std::max(side, std::min(measure.width(each), cell.width) + gap);
    const int below = sheet.captions.empty() ? 0 : caption_height;
    const int title = sheet.title.empty() ? 0 : 2 * caption_height, heads = sheet.heads.empty() ? 0 : caption_height;
    const Size size{2 * margin + side + columns * cell.width + (columns - 1) * gap,
                    2 * margin + title + heads + rows * (cell.height + below) + std::max(0, rows - 1) * gap};
    if (size.width > most || size.height > most)
        return Error{Fault::memory, "the sheet would be " + std::to_string(size.width) + " x " + std::to_string(size.height) +
                                        " pixels; at most 32767 on a side can be drawn: ask for fewer or smaller pictures"};

    const Surface surface(cairo_image_surface_create(CAIRO_FORMAT_RGB24, size.width, size.height));
    if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS)
        return Error{Fault::memory, "there is not enough memory for a sheet of " + std::to_string(size.width) + " x " +
                                        std::to_string(size.height) + " pixels: ask for fewer or smaller pictures"};
    const Context to(cairo_create(surface.get()));
    cairo_set_source_rgb(to.get(), ground, ground, ground);
    cairo_paint(to.get());
    Writer writer(to.get());
    const auto left = [&](int column) { return margin + side + column * (cell.width + gap); };
    const auto top = [&](int row) { return margin + title + heads + row * (cell.height + below + gap); };
    writer.font(title_font);
    writer.write(sheet.title, margin, margin / 2, size.width - 2 * margin, 2 * caption_height, PANGO_ALIGN_LEFT);
    writer.font(head_font);
    for (int k = 0; k < std::min<int>(columns, static_cast<int>(sheet.heads.size())); ++k)
        writer.write(sheet.heads[static_cast<std::size_t>(k)], left(k), margin + title, cell.width, heads, PANGO_ALIGN_CENTER);
    for (int k = 0; k < std::min<int>(rows, static_cast<int>(sheet.sides.size())); ++k)
        writer.write(sheet.sides[static_cast<std::size_t>(k)], margin, top(k), side - gap, cell.height, PANGO_ALIGN_RIGHT);
    for (int k = 0; k < static_cast<int>(sheet.pictures.size()); ++k) {
        const int x = left(k % columns), y = top(k / columns);
        writer.font(k == sheet.marked ? head_font : caption_font);
        if (below > 0)
            writer.write(sheet.captions[static_cast<std::size_t>(k)], x, y + cell.height, cell.width, below, PANGO_ALIGN_CENTER);
        if (k != sheet.marked) continue;
        cairo_set_source_rgb(to.get(), accent[0], accent[1], accent[2]);
        cairo_rectangle(to.get(), x - 3, y - 3, cell.width + 6, cell.height + 6);
        cairo_fill(to.get());
    }
    cairo_surface_flush(surface.get());

    std::vector<Plane> out;
    for (int c = 0; c < 3; ++c) out.emplace_back(size);
    const unsigned char* pixels = cairo_image_surface_get_data(surface.get());
    const int stride = cairo_image_surface_get_stride(surface.get());
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const auto word = *reinterpret_cast<const std::uint32_t*>(pixels + y * stride + 4 * x);
            for (int c = 0; c < 3; ++c)
                out[static_cast<std::size_t>(c)].row(y)[x] = static_cast<float>(word >> (16 - 8 * c) & 255) / 255;
        }
    for (int k = 0; k < static_cast<int>(sheet.pictures.size()); ++k)
        if (!sheet.pictures[static_cast<std::size_t>(k)].empty())
            paste(sheet.pictures[static_cast<std::size_t>(k)], out, left(k % columns), top(k / columns));
    return Bundle::of(std::move(out[0]), std::move(out[1]), std::move(out[2]));
}

}  // namespace loom
