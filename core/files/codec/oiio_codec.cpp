// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The module that links OpenImageIO; see core/files/picture_codec.h.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <memory>

#include "core/files/picture_codec.h"

namespace loom {

namespace {

std::string one_line(std::string text) {
    std::replace(text.begin(), text.end(), '\n', ' ');
    while (!text.empty() && text.back() == ' ') text.pop_back();
    return text;
}

OIIO::TypeDesc depth_of(PictureFormat format) {
    switch (format) {
        case PictureFormat::png16:
        case PictureFormat::tiff: return OIIO::TypeDesc::UINT16;
        case PictureFormat::exr: return OIIO::TypeDesc::HALF;
        case PictureFormat::png:
        case PictureFormat::jpg:
        case PictureFormat::webp: break;
    }
    return OIIO::TypeDesc::UINT8;
}

/// Some format libraries print complaints of their own beside what they report; people get one line, ours.
class Silence {
public:
    Silence() : kept_(::dup(2)) {
        const int nowhere = ::open("/dev/null", O_WRONLY);
        if (nowhere >= 0) ::dup2(nowhere, 2), ::close(nowhere);
    }
    ~Silence() {
        if (kept_ >= 0) ::dup2(kept_, 2), ::close(kept_);
    }
    Silence(const Silence&) = delete;
    Silence& operator=(const Silence&) = delete;

private:
    int kept_;
};

std::unique_ptr<OIIO::ImageInput> opened(const std::string& path, int greatest, CodecFailure& failure) {
    auto input = OIIO::ImageInput::open(path);
    if (!input) {
        (void)OIIO::geterror();
        failure.words = "it is no picture of a kind that can be read (PNG, TIFF, EXR, JPEG, WebP)";
        return nullptr;
    }
    const OIIO::ImageSpec& spec = input->spec();
    if (spec.width < 1 || spec.height < 1 || spec.width > greatest || spec.height > greatest) {
        failure.words = "it has " + std::to_string(spec.width) + "x" + std::to_string(spec.height) + " pixels; at most " +
                        std::to_string(greatest) + " on a side can be read";
        return nullptr;
    }
    return input;
}

class OiioCodec final : public PictureCodec {
public:
    CodecFailure size(const std::string& path, int greatest, Size& out) const override {
        const Silence silence;
        CodecFailure failure;
        if (const auto input = opened(path, greatest, failure)) out = {input->spec().width, input->spec().height};
        return failure;
    }

    CodecFailure read(const std::string& path, int greatest, RawPicture& out) const override {
        const Silence silence;
        CodecFailure failure;
        const auto input = opened(path, greatest, failure);
        if (!input) return failure;
        const OIIO::ImageSpec& spec = input->spec();
        out.size = {spec.width, spec.height};
        out.channels = spec.nchannels;
        out.linear =
            spec.get_string_attribute("oiio:ColorSpace") == "Linear" || std::string_view(input->format_name()) == "openexr";
        out.pixels.resize(out.size.pixels() * static_cast<std::size_t>(out.channels));
        if (!input->read_image(0, 0, 0, out.channels, OIIO::TypeDesc::FLOAT, out.pixels.data()))
            return {0, "the picture is damaged: " + one_line(input->geterror())};
        return {};
    }

    CodecFailure write(const std::string& path, const RawPicture& picture, PictureFormat format, ColourMark mark) const override {
        const Silence silence;
        const auto output = OIIO::ImageOutput::create(path);
        if (!output) {
            (void)OIIO::geterror();
            return {0, "this machine cannot write that format"};
        }
        OIIO::ImageSpec spec(picture.size.width, picture.size.height, picture.channels, depth_of(format));
        spec.attribute("oiio:ColorSpace", mark == ColourMark::data ? "Raw" : mark == ColourMark::linear ? "Linear" : "sRGB");
        if (format != PictureFormat::exr) spec.attribute("oiio:UnassociatedAlpha", 1);
        if (picture.channels == 2) spec.channelnames = {"Y", "A"}, spec.alpha_channel = 1;
        // Noise hardly shrinks further at higher levels, which take several times as long.
        spec.attribute("png:compressionLevel", 2);
        if (format == PictureFormat::jpg) spec.attribute("Compression", "jpeg:95");
        if (format == PictureFormat::webp) spec.attribute("Compression", "webp:95");
        if (format == PictureFormat::tiff) spec.attribute("Compression", "zip");
        spec.attribute("Software", "Keen Loom");
        errno = 0;
        const bool written = output->open(path, spec) && output->write_image(OIIO::TypeDesc::FLOAT, picture.pixels.data());
        const bool closed = output->close();
        if (written && closed) return {};
        if (errno == ENOSPC || errno == EACCES || errno == EDQUOT) return {errno, ""};
        const std::string words = one_line(output->geterror());
        return {0, words.empty() ? "the disk may be full" : words};
    }

    CodecFailure png(Size size, int channels, const std::vector<unsigned char>& bytes, std::string& out) const override {
        std::vector<unsigned char> file;
        OIIO::Filesystem::IOVecOutput memory(file);
        const auto output = OIIO::ImageOutput::create("preview.png");
        OIIO::ImageSpec spec(size.width, size.height, channels, OIIO::TypeDesc::UINT8);
        spec.attribute("oiio:ColorSpace", "sRGB");
        spec.attribute("oiio:UnassociatedAlpha", 1);
        if (!output || !output->set_ioproxy(&memory) || !output->open("preview.png", spec) ||
            !output->write_image(OIIO::TypeDesc::UINT8, bytes.data()) || !output->close())
            return {0, output ? one_line(output->geterror()) : std::string("no PNG writer")};
        out.assign(file.begin(), file.end());
        return {};
    }
};

}  // namespace

}  // namespace loom

const loom::PictureCodec* keen_loom_picture_codec() {
    static const loom::OiioCodec codec;
    return &codec;
}
