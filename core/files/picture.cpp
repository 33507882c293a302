// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/picture.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <new>

#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/colour/colour.h"
#include "core/files/picture_codec.h"
#include "core/files/png.h"

namespace loom {

namespace {

struct FormatRow {
    std::string_view id, extension;
};
constexpr FormatRow rows[] = {{"png", "png"}, {"png16", "png"}, {"tiff", "tif"},
                              {"exr", "exr"}, {"jpg", "jpg"},   {"webp", "webp"}};

constexpr std::size_t greatest_file = std::size_t{4} << 30;

/// How pixels go into a file.
struct Laying {
    bool linear = false;         ///< linear light, alpha premultiplied
    bool over_white = false;     ///< without alpha
    bool always_colour = false;  ///< grey as three channels
};

int channels_of(const Bundle& picture, Laying how) {
    return (picture.grey() && !how.always_colour ? 1 : 3) + (picture.coverage && !how.over_white ? 1 : 0);
}

/// One row, interleaved; alpha last if there is coverage.
void lay_row(const Bundle& picture, Laying how, int y, float* out) {
    const int colours = picture.grey() && !how.always_colour ? 1 : 3;
    const float* cover = picture.coverage ? picture.coverage->row(y) : nullptr;
    const float* channel_rows[3] = {picture.channel(0).row(y), picture.channel(1).row(y), picture.channel(2).row(y)};
    for (int x = 0; x < picture.size().width; ++x) {
        const float covered = cover ? cover[x] : 1.0f;
        for (int c = 0; c < colours; ++c) {
            float value = channel_rows[c][x];
            if (cover && how.over_white)
                value += 1 - covered;
            else if (cover && covered <= 0)
                value = 0;
            else if (how.linear)
                value = to_linear(value / covered) * covered;
            else if (cover)
                value /= covered;
            *out++ = value;
        }
        if (cover && !how.over_white) *out++ = covered;
    }
}

}  // namespace

std::string_view picture_format_id(PictureFormat format) { return rows[static_cast<std::size_t>(format)].id; }
std::string_view extension_of(PictureFormat format) { return rows[static_cast<std::size_t>(format)].extension; }

std::optional<PictureFormat> find_picture_format(std::string_view id) {
    for (PictureFormat format : all_picture_formats)
        if (picture_format_id(format) == id) return format;
    return std::nullopt;
}

std::optional<PictureFormat> format_of_path(std::string_view path) {
    const auto dot = path.rfind('.');
    if (dot == std::string_view::npos) return std::nullopt;
    std::string extension(path.substr(dot + 1));
    std::transform(extension.begin(), extension.end(), extension.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (extension == "jpeg") extension = "jpg";
    if (extension == "tiff") extension = "tif";
    for (PictureFormat format : all_picture_formats)
        if (extension_of(format) == extension) return format;
    return std::nullopt;
}

namespace {

Bundle picture_from(const RawPicture& raw) {
    const auto channels = static_cast<std::size_t>(raw.channels);
    const int colours = raw.channels >= 3 ? 3 : 1;
    const int alpha = raw.channels == 2 ? 1 : raw.channels >= 4 ? 3 : -1;
    auto cover_at = [&](std::size_t i) {
        return alpha < 0 ? 1.0f : std::clamp(raw.pixels[i * channels + static_cast<std::size_t>(alpha)], 0.0f, 1.0f);
    };
    Bundle picture;
    for (int c = 0; c < colours; ++c) {
        Plane plane(raw.size);
        for (std::size_t i = 0; i < raw.size.pixels(); ++i) {
            float value = raw.pixels[i * channels + static_cast<std::size_t>(c)];
            if (!std::isfinite(value)) value = 0;
            if (raw.linear) value = cover_at(i) > 0 ? to_encoded(value / cover_at(i)) * cover_at(i) : 0.0f;
            plane.data()[i] = value;
        }
        picture.colour.push_back(share(std::move(plane)));
    }
    if (alpha >= 0) {
        Plane cover(raw.size);
        for (std::size_t i = 0; i < raw.size.pixels(); ++i) cover.data()[i] = cover_at(i);
        picture.coverage = share(std::move(cover));
    }
    return picture;
}

/// Reads a file of any kind: PNG here, all others through the library that is loaded for them; an error if that failed.
template <class Png, class Other>
std::optional<Error> decoded(std::string_view file, Png&& png, Other&& other) {
    CodecFailure failure;
    if (is_png(file)) {
        failure = png();
    } else {
        const auto codec = picture_codec();
        if (!codec) return codec.error();
        failure = other(**codec);
    }
    if (failure) return Error{Fault::file, failure.words};
    return std::nullopt;
}

}  // namespace

Result<Bundle> decode_picture(std::string_view file) {
    try {
        RawPicture raw;
        const auto error = decoded(
            file, [&] { return read_png(file, greatest_picture, raw); },
            [&](auto& codec) { return codec.read(file, greatest_picture, raw); });
        if (error) return *error;
        return picture_from(raw);
    } catch (const std::bad_alloc&) {
        return Error{Fault::memory, "it does not fit into memory; use a smaller picture"};
    }
}

Result<Size> decode_size(std::string_view file, int greatest) {
    Size size;
    const auto error = decoded(
        file, [&] { return png_size(file, greatest, size); }, [&](auto& codec) { return codec.size(file, greatest, size); });
    if (error) return *error;
    return size;
}

Result<Bundle> read_picture(const std::string& path) {
    const auto file = read_file(path, greatest_file);
    if (!file) return file.error();
    auto picture = decode_picture(*file);
    if (!picture) return Error{picture.error().fault, "cannot read '" + path + "': " + picture.error().message};
    return picture;
}

namespace {

/// A file in whatever order its bytes come.
class FileSink final : public ByteSink {
public:
    explicit FileSink(FileWriter& file) : file_(file) {}

    bool write_at(std::size_t offset, std::string_view bytes) override {
        if (error_) return false;
        const auto done = guarded("writing a picture", [&]() -> Result<Done> {
            if (file_.goes_back()) return file_.write_at(offset, bytes);
            if (gathered_.size() < offset + bytes.size()) gathered_.resize(offset + bytes.size());
            std::copy(bytes.begin(), bytes.end(), gathered_.begin() + static_cast<std::ptrdiff_t>(offset));
            return Done{};
        });
        if (!done) error_ = done.error();
        return !error_;
    }
    /// Once all has been encoded.
    Result<Done> finish() { return error_ ? Result<Done>(*error_) : file_.write(gathered_); }
    const std::optional<Error>& error() const { return error_; }

private:
    FileWriter& file_;
    std::string gathered_;
    std::optional<Error> error_;
};

}  // namespace

struct PictureWriter::State {
    std::string path;
    Size size;
    PictureFormat format = PictureFormat::png;
    Laying how;
    ColourMark mark = ColourMark::srgb;
    int channels = 0;  ///< 0 until the first band came
    std::vector<float> row;
    FileWriter file;
    FileSink sink{file};
    std::optional<PngWriter> png;
    std::unique_ptr<PictureEncoder> other;  ///< of what is no PNG

    explicit State(FileWriter writer) : file(std::move(writer)) {}
    bool is_png() const { return format == PictureFormat::png || format == PictureFormat::png16; }

    Result<Done> begin(const Bundle& band) {
        channels = channels_of(band, how);
        row.resize(static_cast<std::size_t>(size.width) * static_cast<std::size_t>(channels));
        if (is_png()) {
            png.emplace(PngLayout{size, channels, format == PictureFormat::png ? 8 : 16, mark},
                        [this](std::string_view bytes) { return file.write(bytes); });
            return Done{};
        }
        const auto codec = picture_codec();
        if (!codec) return codec.error();
        CodecFailure failure;
        other = (*codec)->encoder({size, channels, format, mark}, sink, failure);
        return told(failure);
    }
    /// Only our own writer knows every way in which a disk can fail, so that it is asked first.
    Result<Done> told(const CodecFailure& failure) const {
        if (sink.error()) return *sink.error();
        if (failure) return Error{Fault::file, "cannot write '" + path + "': " + failure.words};
        return Done{};
    }
};

PictureWriter::PictureWriter(std::unique_ptr<State> state) : state_(std::move(state)) {}
PictureWriter::PictureWriter(PictureWriter&&) noexcept = default;
PictureWriter& PictureWriter::operator=(PictureWriter&&) noexcept = default;
PictureWriter::~PictureWriter() = default;

Result<PictureWriter> PictureWriter::open(const std::string& path, Size size, PictureFormat format, bool data) {
    if (format != PictureFormat::png && format != PictureFormat::png16)
        if (const auto codec = picture_codec(); !codec) return codec.error();
    auto file = FileWriter::open(path);
    if (!file) return file.error();
    auto state = std::make_unique<State>(std::move(*file));
    state->path = path, state->size = size, state->format = format;
    state->how = {.linear = format == PictureFormat::exr && !data,
                  .over_white = format == PictureFormat::jpg,
                  .always_colour = format == PictureFormat::webp};  // WebP knows no grey
    state->mark = data ? ColourMark::data : state->how.linear ? ColourMark::linear : ColourMark::srgb;
    return PictureWriter(std::move(state));
}

Result<Done> PictureWriter::add(const Bundle& band) {
    State& s = *state_;
    if (s.channels == 0)
        if (auto begun = s.begin(band); !begun) return begun;
    for (int k = 0; k < band.rows().count; ++k) {
        lay_row(band, s.how, wrap(band.rows().first + k, band.size().height), s.row.data());
        if (auto done = s.png ? s.png->add(s.row.data()) : s.told(s.other->add(s.row.data())); !done) return done;
    }
    return Done{};
}

Result<Done> PictureWriter::finish() {
    State& s = *state_;
    if (s.png) {
        if (auto done = s.png->finish(); !done) return done;
    } else {
        if (auto done = s.told(s.other->finish()); !done) return done;
        if (auto done = s.sink.finish(); !done) return done;
    }
    return s.file.finish();
}

Result<Done> write_picture(const std::string& path, const Bundle& picture, PictureFormat format, bool data) {
    auto writer = PictureWriter::open(path, picture.size(), format, data);
    if (!writer) return writer.error();
    if (auto added = writer->add(picture); !added) return added;
    return writer->finish();
}

std::vector<unsigned char> to_bytes(const Bundle& picture, int channels) {
    const std::size_t count = picture.size().pixels();
    std::vector<unsigned char> bytes(count * static_cast<std::size_t>(channels));
    const float* cover = picture.coverage ? picture.coverage->data() : nullptr;
    for (int c = 0; c < channels; ++c) {
        const float* plane = c < 3 ? picture.channel(c).data() : cover;
        unsigned char* out = bytes.data() + c;
        for (std::size_t i = 0; i < count; ++i, out += channels) {
            float value = plane ? plane[i] : 1.0f;
            if (c < 3 && cover) value = cover[i] > 0 ? value / cover[i] : 0.0f;
            *out = static_cast<unsigned char>(std::clamp(value * 255.0f + 0.5f, 0.0f, 255.0f));
        }
    }
    return bytes;
}

Result<std::string> encode_preview(const Bundle& picture, int longest) {
    Bundle small = picture;
    const Size size = picture.size();
    if (std::max(size.width, size.height) > longest) {
        const double scale = static_cast<double>(longest) / std::max(size.width, size.height);
        small = resized(picture,
                        {std::max(1, static_cast<int>(size.width * scale)), std::max(1, static_cast<int>(size.height * scale))});
    }
    std::string file;
    const Laying how{.always_colour = true};
    PngWriter png({small.size(), channels_of(small, how), 8, ColourMark::srgb}, [&](std::string_view bytes) -> Result<Done> {
        file += bytes;
        return Done{};
    });
    std::vector<float> row(static_cast<std::size_t>(small.size().width) * static_cast<std::size_t>(channels_of(small, how)));
    for (int y = 0; y < small.size().height; ++y) {
        lay_row(small, how, y, row.data());
        if (auto done = png.add(row.data()); !done) return done.error();
    }
    if (auto done = png.finish(); !done) return done.error();
    return file;
}

std::string picture_name(std::string_view recipe_name, std::string_view map, PictureFormat format) {
    std::string name;
    for (char c : recipe_name) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte >= 128 || std::isalnum(byte))
            name += static_cast<char>(byte < 128 ? std::tolower(byte) : c);
        else if (!name.empty() && name.back() != '-' && c != '\'')
            name += '-';
    }
    while (!name.empty() && name.back() == '-') name.pop_back();
    if (name.empty()) name = "untitled";
    return name + "-" + std::string(map) + "." + std::string(extension_of(format));
}

}  // namespace loom
