// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/letters.h"

#include <pango/pangocairo.h>

#include <algorithm>
#include <map>
#include <memory>
#include <optional>

#include "core/image/picture_reader.h"
#include "core/structures/forms.h"

namespace loom {

namespace {

struct Unref {
    void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    void operator()(cairo_t* cairo) const { cairo_destroy(cairo); }
    void operator()(PangoLayout* layout) const { g_object_unref(layout); }
    void operator()(PangoFontDescription* font) const { pango_font_description_free(font); }
    void operator()(PangoAttrList* list) const { pango_attr_list_unref(list); }
    void operator()(cairo_path_t* path) const { cairo_path_destroy(path); }
    void operator()(cairo_font_options_t* options) const { cairo_font_options_destroy(options); }
};
template <class T>
using Own = std::unique_ptr<T, Unref>;

/// What is no UTF-8 or would not be seen is left out, so that Pango has nothing to complain about.
std::string cleaned(const std::string& text) {
    std::string clean;
    for (char c : text)
        if (static_cast<unsigned char>(c) >= 32 || c == '\n') clean += c;
    char* valid = g_utf8_make_valid(clean.data(), static_cast<gssize>(clean.size()));
    clean = valid;
    g_free(valid);
    return clean;
}

Outline outline_of(const cairo_path_t& path) {
    Outline outline;
    const auto point = [](const cairo_path_data_t& data) { return OutlinePoint{data.point.x, data.point.y}; };
    for (int k = 0; k < path.num_data; k += path.data[k].header.length) {
        const cairo_path_data_t* data = path.data + k;
        switch (data->header.type) {
            case CAIRO_PATH_MOVE_TO: outline.push_back({{{point(data[1]), point(data[1]), point(data[1])}}, true}); break;
            case CAIRO_PATH_LINE_TO: outline.back().nodes.push_back({point(data[1]), point(data[1]), point(data[1])}); break;
            case CAIRO_PATH_CURVE_TO:
                outline.back().nodes.back().out = point(data[1]);
                outline.back().nodes.push_back({point(data[3]), point(data[2]), point(data[3])});
                break;
            case CAIRO_PATH_CLOSE_PATH: {
                auto& nodes = outline.back().nodes;
                if (nodes.size() > 1 && nodes.back().at == nodes.front().at) {
                    nodes.front().in = nodes.back().in;
                    nodes.pop_back();
                }
                break;
            }
        }
    }
    // What Cairo leaves behind a closed path: a place to go on from.
    std::erase_if(outline, [](const Contour& contour) { return contour.nodes.size() < 2; });
    return outline;
}

}  // namespace

namespace {

struct Face {
    std::string name, description;  ///< family and style as the system names them, and as Pango reads them
};

/// Without what people write in different ways: blanks, dashes, case.
std::string plain(std::string_view name) {
    std::string result;
    for (char c : name)
        if (c != ' ' && c != '-' && c != '_') result += static_cast<char>(g_ascii_tolower(c));
    return result;
}

std::string text_of(const PangoFontDescription* description) {
    char* text = pango_font_description_to_string(description);
    std::string result = text;
    g_free(text);
    return result;
}

/// By their plain names; a family by itself is its regular style. Listing all takes a while with many fonts; none comes while the
/// program runs.
const std::map<std::string, Face>& faces() {
    static const std::map<std::string, Face> known = [] {
        std::map<std::string, Face> all;
        PangoFontFamily** list = nullptr;
        int count = 0;
        pango_font_map_list_families(pango_cairo_font_map_get_default(), &list, &count);
        for (int k = 0; k < count; ++k) {
            const std::string family = pango_font_family_get_name(list[k]);
            all.emplace(plain(family), Face{family, family});
            PangoFontFace** styles = nullptr;
            int styles_count = 0;
            pango_font_family_list_faces(list[k], &styles, &styles_count);
            for (int n = 0; n < styles_count; ++n) {
                const std::string name = family + " " + pango_font_face_get_face_name(styles[n]);
                const Own<PangoFontDescription> described(pango_font_face_describe(styles[n]));
                all.emplace(plain(name), Face{name, text_of(described.get())});
            }
            g_free(styles);
        }
        g_free(list);
        return all;
    }();
    return known;
}

/// As Pango reads it: the face of that name, or a family of this machine with what Pango makes of the rest; nothing if it is not
/// there.
std::optional<std::string> described(const std::string& font) {
    if (const auto found = faces().find(plain(font)); found != faces().end()) return found->second.description;
    const Own<PangoFontDescription> description(pango_font_description_from_string(font.c_str()));
    const char* family = pango_font_description_get_family(description.get());
    if (family && faces().contains(plain(family))) return font;
    return std::nullopt;
}

}  // namespace

Outline set_letters(const LetterSetting& setting) {
    constexpr double em = 1000;
    const std::string text = cleaned(setting.text);
    if (text.find_first_not_of(" \n") == std::string::npos) return {};
    const Own<cairo_surface_t> surface(cairo_recording_surface_create(CAIRO_CONTENT_ALPHA, nullptr));
    const Own<cairo_t> cairo(cairo_create(surface.get()));
    // Outlines are wanted as the font's maker drew them, whatever the screen.
    const Own<cairo_font_options_t> options(cairo_font_options_create());
    cairo_font_options_set_hint_style(options.get(), CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(options.get(), CAIRO_HINT_METRICS_OFF);
    const Own<PangoLayout> layout(pango_cairo_create_layout(cairo.get()));
    PangoContext* context = pango_layout_get_context(layout.get());
    pango_cairo_context_set_font_options(context, options.get());
    pango_cairo_context_set_resolution(context, 72);
    pango_context_set_round_glyph_positions(context, FALSE);
    const Own<PangoFontDescription> font(
        pango_font_description_from_string(described(setting.font).value_or(setting.font).c_str()));
    pango_font_description_set_absolute_size(font.get(), em * PANGO_SCALE);
    pango_layout_set_font_description(layout.get(), font.get());
    pango_layout_set_text(layout.get(), text.data(), static_cast<int>(text.size()));
    const Own<PangoAttrList> attributes(pango_attr_list_new());
    pango_attr_list_insert(attributes.get(),
                           pango_attr_letter_spacing_new(static_cast<int>(setting.spacing / 100 * em * PANGO_SCALE)));
    pango_layout_set_attributes(layout.get(), attributes.get());
    // Lines are set by hand: none is broken where nobody asked for it, and one with letters of another font is no higher.
    int width = 0, height = 0;
    pango_layout_get_size(layout.get(), &width, &height);
    const int lines = pango_layout_get_line_count(layout.get());
    const double leading = setting.leading / 100 * em;
    PangoLayoutIter* iter = pango_layout_get_iter(layout.get());
    int line = 0;
    do {
        PangoRectangle logical;
        pango_layout_iter_get_line_extents(iter, nullptr, &logical);
        const double room = width - logical.width, before = setting.align == Align::left     ? 0
                                                            : setting.align == Align::centre ? room / 2
                                                                                             : room;
        cairo_move_to(cairo.get(), (before - width / 2.0) / PANGO_SCALE, (line - (lines - 1) / 2.0) * leading + 0.36 * em);
        pango_cairo_layout_line_path(cairo.get(), pango_layout_iter_get_line_readonly(iter));
        ++line;
    } while (pango_layout_iter_next_line(iter));
    pango_layout_iter_free(iter);
    cairo_set_tolerance(cairo.get(), 0.1);
    const Own<cairo_path_t> path(cairo_copy_path(cairo.get()));
    return path->status == CAIRO_STATUS_SUCCESS ? outline_of(*path) : Outline{};
}

bool has_font(const std::string& font) { return described(font).has_value(); }

std::vector<std::string> font_faces() {
    std::vector<std::string> names;
    for (const auto& [plain_name, face] : faces()) names.push_back(face.name);
    std::sort(names.begin(), names.end());
    return names;
}

}  // namespace loom
