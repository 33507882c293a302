// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <optional>

#include "core/base/files.h"
#include "core/base/guard.h"
#include "core/colour/colour.h"
#include "core/files/picture.h"
#include "core/files/colour_profile.h"
#include "core/files/picture_codec.h"
#include "core/files/png.h"

namespace loom {

namespace {

/// How pixels go into a file.
struct Laying {
    bool linear = false;         ///< linear light, alpha premultiplied
    bool over_white = false;     ///< without alpha
    bool always_colour = false;  ///< grey as three channels
    bool straight = false;       ///< the last plane is a channel like the others
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
            if (cover && how.over_white && !how.straight)
                value += 1 - covered;
            else if (cover && !how.straight)
                value = covered > 0 ? value / covered : 0.0f;
            *out++ = value;
        }
        if (cover && !how.over_white) *out++ = covered;
    }
}

/// Colours to linear light, premultiplied if they were; alpha stays.
void lay_linear(const Bundle& picture, Laying how, int channels, float* row) {
    const auto width = static_cast<std::size_t>(picture.size().width), step = static_cast<std::size_t>(channels);
    if (!picture.coverage) return make_linear(row, width * step);
    for (float* pixel = row; pixel < row + width * step; pixel += step) {
        make_linear(pixel, step - 1);
        if (!how.straight)
            for (std::size_t c = 0; c + 1 < step; ++c) pixel[c] *= pixel[step - 1];
    }
}

/// A file, or what would be one, in whatever order its bytes come.
class FileSink final : public ByteSink {
public:
    explicit FileSink(std::optional<FileWriter>& file) : file_(file) {}

    bool write_at(std::size_t offset, std::string_view bytes) override {
        if (error_) return false;
        const auto done = guarded("writing a picture", [&]() -> Result<Done> {
            if (file_ && file_->goes_back()) return file_->write_at(offset, bytes);
            if (gathered_.size() < offset + bytes.size()) gathered_.resize(offset + bytes.size());
            std::copy(bytes.begin(), bytes.end(), gathered_.begin() + static_cast<std::ptrdiff_t>(offset));
            return Done{};
        });
        if (!done) error_ = done.error();
        return !error_;
    }
    /// What follows what was written last.
    Result<Done> write(std::string_view bytes) {
        if (file_) return file_->write(bytes);
        gathered_ += bytes;
        return Done{};
    }
    /// Once all has been encoded.
    Result<Done> finish() {
        if (error_) return *error_;
        return file_ ? file_->write(gathered_) : Result<Done>(Done{});
    }
    const std::optional<Error>& error() const { return error_; }
    std::string taken() { return std::move(gathered_); }

private:
    std::optional<FileWriter>& file_;
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
    int channels = 0;                ///< 0 until the first band came
    std::optional<FileWriter> file;  ///< none: into memory
    FileSink sink{file};
    std::optional<PngWriter> png;
    std::unique_ptr<PictureEncoder> other;  ///< of what is no PNG

    explicit State(std::optional<FileWriter> writer) : file(std::move(writer)) {}
    bool is_png() const { return format == PictureFormat::png || format == PictureFormat::png16; }

    Result<Done> begin(const Bundle& band) {
        channels = channels_of(band, how);
        if (is_png()) {
            png.emplace(PngLayout{size, channels, format == PictureFormat::png ? 8 : 16, mark},
                        [this](std::string_view bytes) { return sink.write(bytes); });
            return Done{};
        }
        const auto codec = picture_codec();
        if (!codec) return codec.error();
        CodecFailure failure;
        // A profile is for three colours; what is grey means the same without one.
        const std::string& profile = mark == ColourMark::srgb && channels >= 3 ? srgb_profile() : std::string();
        other = (*codec)->encoder({size, channels, format, mark, profile}, sink, failure);
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

Result<PictureWriter> PictureWriter::opened(std::unique_ptr<State> state, Size size, PictureFormat format, Meaning meaning) {
    state->size = size, state->format = format;
    state->how = {.linear = picture_format_info(format).linear && meaning != Meaning::data,
                  .over_white = format == PictureFormat::jpg,
                  .always_colour = format == PictureFormat::webp,  // WebP knows no grey
                  .straight = meaning != Meaning::colour};
    state->mark = meaning == Meaning::data ? ColourMark::data : state->how.linear ? ColourMark::linear : ColourMark::srgb;
    return PictureWriter(std::move(state));
}

Result<PictureWriter> PictureWriter::open(const std::string& path, Size size, PictureFormat format, Meaning meaning) {
    if (format != PictureFormat::png && format != PictureFormat::png16)
        if (const auto codec = picture_codec(); !codec) return codec.error();
    auto file = FileWriter::open(path);
    if (!file) return file.error();
    auto state = std::make_unique<State>(std::move(*file));
    state->path = path;
    return opened(std::move(state), size, format, meaning);
}

Result<PictureWriter> PictureWriter::open(Size size, PictureFormat format, Meaning meaning) {
    return opened(std::make_unique<State>(std::nullopt), size, format, meaning);
}

Result<Done> PictureWriter::add(const Bundle& band) {
    State& s = *state_;
    if (s.channels == 0)
        if (auto begun = s.begin(band); !begun) return begun;
    const auto lay = [&](int k, float* out) {
        lay_row(band, s.how, wrap(band.rows().first + k, band.size().height), out);
        if (s.how.linear) lay_linear(band, s.how, s.channels, out);
    };
    return s.png ? s.png->add(band.rows().count, lay) : s.told(s.other->add(band.rows().count, lay));
}

Result<std::optional<FileWriter>> PictureWriter::end() {
    State& s = *state_;
    if (s.png) {
        if (auto done = s.png->finish(); !done) return done.error();
    } else {
        if (auto done = s.told(s.other->finish()); !done) return done.error();
        if (auto done = s.sink.finish(); !done) return done.error();
    }
    return std::exchange(s.file, std::nullopt);
}

Result<Done> PictureWriter::finish() {
    auto file = end();
    if (!file) return file.error();
    return *file ? (*file)->finish() : Result<Done>(Done{});
}

int PictureWriter::channels() const { return state_->channels; }

std::string PictureWriter::taken() { return state_->sink.taken(); }

Result<Done> write_picture(const std::string& path, const Bundle& picture, PictureFormat format, Meaning meaning) {
    auto writer = PictureWriter::open(path, picture.size(), format, meaning);
    if (!writer) return writer.error();
    if (auto added = writer->add(picture); !added) return added;
    return writer->finish();
}

}  // namespace loom
