// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/png.h"

#include <spng.h>

#include <algorithm>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/files/exif.h"
#include "core/files/packing/deflate.h"
#include "core/files/packing/samples_kernel.h"

namespace loom {

namespace {

struct FreeContext {
    void operator()(spng_ctx* context) const { spng_ctx_free(context); }
};
using Context = std::unique_ptr<spng_ctx, FreeContext>;

enum ColourType : int { grey = 0, palette = 3, alpha_bit = 4, grey_alpha = 4, rgb = 2, rgb_alpha = 6 };

CodecFailure damaged(int code) { return {std::string("the picture is damaged: ") + spng_strerror(code)}; }

/// The head, read and checked.
CodecFailure open(Context& context, std::string_view file, int greatest, spng_ihdr& head) {
    context.reset(spng_ctx_new(0));
    if (!context) return {"there is not enough memory"};
    spng_set_crc_action(context.get(), SPNG_CRC_ERROR, SPNG_CRC_DISCARD);
    spng_set_chunk_limits(context.get(), std::size_t{16} << 20, std::size_t{64} << 20);
    spng_set_png_buffer(context.get(), file.data(), file.size());
    if (const int code = spng_get_ihdr(context.get(), &head)) return damaged(code);
    const auto most = static_cast<std::uint32_t>(greatest);
    if (head.width > most || head.height > most)
        return {"it has " + std::to_string(head.width) + "x" + std::to_string(head.height) + " pixels; at most " +
                std::to_string(greatest) + " on a side can be read"};
    return {};
}

/// Rows of four samples a pixel, as libspng hands them out.
template <class Sample>
void take_samples(const unsigned char* decoded, std::size_t pixels, bool is_grey, bool has_alpha, float* to) {
    const auto* in = reinterpret_cast<const Sample*>(decoded);
    constexpr float most = static_cast<float>(static_cast<Sample>(-1));
    const int colours = is_grey ? 1 : 3;
    for (std::size_t k = 0; k < pixels; ++k, in += 4) {
        for (int c = 0; c < colours; ++c) *to++ = static_cast<float>(in[c]) / most;
        if (has_alpha) *to++ = static_cast<float>(in[3]) / most;
    }
}

bool is_grey(const spng_ihdr& head) { return head.color_type == grey || head.color_type == grey_alpha; }

CodecFailure head_of(spng_ctx* context, const spng_ihdr& head, PictureHead& out) {
    // Reads on to the first of the picture's own chunks, and checks what stands before it.
    spng_trns transparent{};
    const int code = spng_get_trns(context, &transparent);
    if (code != 0 && code != SPNG_ECHUNKAVAIL) return damaged(code);
    const bool has_alpha = (head.color_type & alpha_bit) != 0 || code == 0;
    out = {};
    out.size = {static_cast<int>(head.width), static_cast<int>(head.height)};
    out.channels = (is_grey(head) ? 1 : 3) + (has_alpha ? 1 : 0);
    std::uint32_t gamma = 0;
    std::uint8_t intent = 0;
    spng_iccp profile{};
    const bool says_srgb = spng_get_srgb(context, &intent) == 0;
    // A gamma of 1 says linear light; everything else is taken as sRGB, unless there is a profile.
    out.linear = !says_srgb && spng_get_gama_int(context, &gamma) == 0 && gamma == 100000;
    if (!says_srgb && spng_get_iccp(context, &profile) == 0) out.profile.assign(profile.profile, profile.profile_len);
    if (head.interlace_method != 0) out.beside = out.size.pixels() * (head.bit_depth == 16 ? 8 : 4);
    spng_exif exif{};
    if (spng_get_exif(context, &exif) == 0) out.orientation = exif_orientation({exif.data, exif.length});
    return {};
}

}  // namespace

bool is_png(std::string_view start) { return start.starts_with("\x89PNG\r\n\x1a\n"); }

CodecFailure png_head(std::string_view file, int greatest, PictureHead& out) {
    Context context;
    spng_ihdr head{};
    if (auto failure = open(context, file, greatest, head)) return failure;
    return head_of(context.get(), head, out);
}

CodecFailure read_png(std::string_view file, int greatest, PictureRows& out) {
    Context context;
    spng_ihdr head{};
    if (auto failure = open(context, file, greatest, head)) return failure;
    PictureHead told;
    if (auto failure = head_of(context.get(), head, told)) return failure;
    if (!out.begin(told)) return {};
    const bool deep = head.bit_depth == 16, grey_only = is_grey(head), has_alpha = told.channels % 2 == 0;
    const std::size_t width = head.width, length = width * (deep ? 8 : 4);
    const int format = deep ? SPNG_FMT_RGBA16 : SPNG_FMT_RGBA8;
    if (const int code = spng_decode_image(context.get(), nullptr, 0, format, SPNG_DECODE_TRNS | SPNG_DECODE_PROGRESSIVE))
        return damaged(code);
    constexpr int together = 64;
    std::vector<float> values(together * width * static_cast<std::size_t>(told.channels));
    const auto hand_on = [&](const unsigned char* rows, int count) {
        if (deep)
            take_samples<std::uint16_t>(rows, static_cast<std::size_t>(count) * width, grey_only, has_alpha, values.data());
        else
            take_samples<std::uint8_t>(rows, static_cast<std::size_t>(count) * width, grey_only, has_alpha, values.data());
        out.add(count, values.data());
    };
    const auto height = static_cast<int>(head.height);
    const bool laced = head.interlace_method != 0;
    // Rows that come in passes are complete when the last has come: kept whole, in memory that is counted.
    unsigned char* whole = laced ? out.room(length * head.height) : nullptr;
    std::vector<unsigned char> strip(laced ? 0 : together * length);
    int ready = 0;
    for (int code = 0; code != SPNG_EOI;) {
        spng_row_info row{};
        // Of small pictures the last passes may be empty.
        if (const int told_row = spng_get_row_info(context.get(), &row); told_row != 0) {
            if (laced && told_row == SPNG_EOI) break;
            return damaged(told_row);
        }
        if (row.row_num % together == 0) out.check();
        unsigned char* to = laced ? whole + row.row_num * length : strip.data() + static_cast<std::size_t>(ready) * length;
        code = spng_decode_row(context.get(), to, length);
        if (code != 0 && code != SPNG_EOI) return damaged(code);
        if (laced || (++ready < together && code != SPNG_EOI)) continue;
        hand_on(strip.data(), ready);
        ready = 0;
    }
    for (int first = 0; laced && first < height; first += together)
        hand_on(whole + static_cast<std::size_t>(first) * length, std::min(together, height - first));
    return {};
}

namespace {

constexpr std::string_view signature = "\x89PNG\r\n\x1a\n";
/// What a strip holds at most: long enough that its tables weigh nothing, short enough for the processor's own memory.
constexpr std::size_t strip_bytes = std::size_t{384} << 10;

std::string number(std::uint32_t value) {
    std::string bytes(4, '\0');
    for (char& byte : bytes) byte = static_cast<char>(value >> 24), value <<= 8;
    return bytes;
}

}  // namespace

struct PngWriter::State {
    PngLayout layout;
    Sink sink;
    std::optional<Error> error;  ///< of the sink
    std::optional<RowStrips> strips;
    std::uint32_t check = 1;  ///< Adler-32 of what is deflated so far
    bool begun = false;

    std::size_t pixel_bytes() const { return static_cast<std::size_t>(layout.channels * layout.depth / 8); }
    std::size_t row_bytes() const { return static_cast<std::size_t>(layout.size.width) * pixel_bytes(); }

    bool put(std::string_view bytes) {
        if (auto done = sink(bytes); !done) error = done.error();
        return !error;
    }
    bool chunk(std::string_view type, std::string_view data) {
        return put(number(static_cast<std::uint32_t>(data.size())) + std::string(type)) && put(data) &&
               put(number(crc32_of(type, data)));
    }
    bool begin() {
        begun = true;
        constexpr int types[] = {0, grey, grey_alpha, rgb, rgb_alpha};
        std::string head = number(static_cast<std::uint32_t>(layout.size.width));
        head += number(static_cast<std::uint32_t>(layout.size.height));
        for (int byte : {layout.depth, types[layout.channels], 0, 0, 0}) head += static_cast<char>(byte);
        using namespace std::string_view_literals;
        return put(signature) && chunk("IHDR", head) && (layout.mark != ColourMark::srgb || chunk("sRGB", "\0"sv)) &&
               chunk("tEXt", "Software\0Keen Loom"sv);
    }
    void pack(const float* values, std::uint8_t* out) const {
        const std::size_t count = static_cast<std::size_t>(layout.size.width) * static_cast<std::size_t>(layout.channels);
        if (layout.depth == 16)
            samples_to_words_greater_first(values, count, reinterpret_cast<std::uint16_t*>(out));
        else
            samples_to_bytes(values, count, out);
    }
    /// The Adler-32 of the filtered strip, then the strip deflated.
    std::string encoded(const RowStrips::Strip& strip) const {
        const std::size_t length = row_bytes();
        std::string filtered(static_cast<std::size_t>(strip.rows) * (length + 1), '\0');
        std::vector<std::uint8_t> scratch(length), nothing(strip.before ? 0 : length);
        const std::uint8_t* before = strip.before ? strip.before : nothing.data();
        auto* out = reinterpret_cast<std::uint8_t*>(filtered.data());
        for (int k = 0; k < strip.rows; ++k, out += length + 1) {
            const std::uint8_t* row = strip.bytes + static_cast<std::size_t>(k) * length;
            png_filtered(row, before, length, pixel_bytes(), scratch.data(), out);
            before = row;
        }
        return number(adler32_of(filtered)) + deflated_piece(filtered, strip.last);
    }
    bool put_strip(const RowStrips::Strip& strip, const std::string& encoded) {
        std::uint32_t sum = 0;
        for (int k = 0; k < 4; ++k) sum = sum << 8 | static_cast<unsigned char>(encoded[static_cast<std::size_t>(k)]);
        check = adler32_joined(check, sum, static_cast<std::size_t>(strip.rows) * (row_bytes() + 1));
        std::string data = strip.first == 0 ? std::string(zlib_head) : std::string();
        data.append(encoded, 4);
        if (strip.last) data += number(check);
        return chunk("IDAT", data);
    }
};

PngWriter::PngWriter(const PngLayout& layout, Sink sink) : state_(std::make_unique<State>()) {
    state_->layout = layout, state_->sink = std::move(sink);
    State* state = state_.get();
    const std::size_t length = state->row_bytes();
    const RowStrips::Shape shape{layout.size.height, static_cast<int>(std::max<std::size_t>(1, strip_bytes / length)),
                                 static_cast<std::size_t>(layout.size.width) * static_cast<std::size_t>(layout.channels), length};
    state->strips.emplace(
        shape, [state](float* values, std::uint8_t* out) { state->pack(values, out); },
        [state](const RowStrips::Strip& strip) { return state->encoded(strip); },
        [state](const RowStrips::Strip& strip, const std::string& encoded) { return state->put_strip(strip, encoded); });
}
PngWriter::PngWriter(PngWriter&&) noexcept = default;
PngWriter::~PngWriter() = default;

Result<Done> PngWriter::add(int rows, const LayRow& lay) {
    State& state = *state_;
    if (!state.error && (state.begun || state.begin()) && state.strips->add(rows, lay)) return Done{};
    return *state.error;
}

Result<Done> PngWriter::finish() {
    State& state = *state_;
    if (state.error) return *state.error;
    if (!state.strips->whole()) return Error{Fault::file, "cannot write a PNG: rows are missing"};
    if (!state.chunk("IEND", {})) return *state.error;
    return Done{};
}

}  // namespace loom
