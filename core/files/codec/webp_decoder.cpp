// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/codec/webp_decoder.h"

#include <webp/decode.h>
#include <webp/demux.h>

#include <algorithm>
#include <memory>
#include <string>
#include <vector>

#include "core/files/exif.h"

namespace loom {

namespace {

struct Delete {
    void operator()(WebPDemuxer* demuxer) const { WebPDemuxDelete(demuxer); }
    void operator()(WebPIDecoder* decoder) const { WebPIDelete(decoder); }
};
using Demuxer = std::unique_ptr<WebPDemuxer, Delete>;

std::string chunk(const Demuxer& demuxer, const char* name) {
    WebPChunkIterator found;
    std::string bytes;
    if (WebPDemuxGetChunk(demuxer.get(), name, 1, &found))
        bytes.assign(reinterpret_cast<const char*>(found.chunk.bytes), found.chunk.size);
    WebPDemuxReleaseChunkIterator(&found);
    return bytes;
}

/// The first picture of the file.
CodecFailure opened(std::string_view file, int greatest, Demuxer& demuxer, PictureHead& head) {
    const WebPData data{reinterpret_cast<const std::uint8_t*>(file.data()), file.size()};
    demuxer.reset(WebPDemux(&data));
    if (!demuxer) return {"the picture is damaged"};
    head = {};
    head.size = {static_cast<int>(WebPDemuxGetI(demuxer.get(), WEBP_FF_CANVAS_WIDTH)),
                 static_cast<int>(WebPDemuxGetI(demuxer.get(), WEBP_FF_CANVAS_HEIGHT))};
    if (head.size.width > greatest || head.size.height > greatest)
        return {"it has " + std::to_string(head.size.width) + "x" + std::to_string(head.size.height) + " pixels; at most " +
                std::to_string(greatest) + " on a side can be read"};
    head.channels = WebPDemuxGetI(demuxer.get(), WEBP_FF_FORMAT_FLAGS) & ALPHA_FLAG ? 4 : 3;
    head.profile = chunk(demuxer, "ICCP"), head.orientation = exif_orientation(chunk(demuxer, "EXIF"));
    return {};
}

}  // namespace

CodecFailure webp_head(std::string_view file, int greatest, PictureHead& out) {
    Demuxer demuxer;
    return opened(file, greatest, demuxer, out);
}

CodecFailure read_webp(std::string_view file, int greatest, PictureRows& out) {
    Demuxer demuxer;
    PictureHead head;
    if (auto failure = opened(file, greatest, demuxer, head)) return failure;
    WebPIterator frame;
    if (!WebPDemuxGetFrame(demuxer.get(), 1, &frame)) return {"the picture is damaged"};
    const std::unique_ptr<WebPIterator, void (*)(WebPIterator*)> held(&frame, WebPDemuxReleaseIterator);
    // Of moving pictures the first is read; it may cover a part only.
    head.size = {frame.width, frame.height}, head.channels = frame.has_alpha ? 4 : 3;
    if (head.size.width < 1 || head.size.height < 1) return {"the picture is damaged"};
    const std::size_t length = static_cast<std::size_t>(head.size.width) * static_cast<std::size_t>(head.channels),
                      height = static_cast<std::size_t>(head.size.height);
    head.beside = length * height;
    if (!out.begin(head)) return {};
    // The library needs what it has decoded.
    std::uint8_t* bytes = out.room(length * height);
    const std::unique_ptr<WebPIDecoder, Delete> decoder(
        WebPINewRGB(head.channels == 4 ? MODE_RGBA : MODE_RGB, bytes, length * height, static_cast<int>(length)));
    if (!decoder) return {"there is not enough memory"};
    std::vector<float> row(length);
    std::size_t done = 0;
    const auto hand_on = [&](std::size_t up_to) {
        for (; done < up_to; ++done) {
            std::transform(bytes + done * length, bytes + (done + 1) * length, row.begin(),
                           [](std::uint8_t value) { return static_cast<float>(value) / 255.0f; });
            out.add(1, row.data());
        }
    };
    constexpr std::size_t piece = std::size_t{64} << 10;
    for (std::size_t at = 0; at < frame.fragment.size; at += piece) {
        out.check();
        const auto status = WebPIAppend(decoder.get(), frame.fragment.bytes + at, std::min(piece, frame.fragment.size - at));
        if (status != VP8_STATUS_OK && status != VP8_STATUS_SUSPENDED) return {"the picture is damaged"};
        int last = 0;
        if (WebPIDecGetRGB(decoder.get(), &last, nullptr, nullptr, nullptr)) hand_on(static_cast<std::size_t>(last));
        if (status == VP8_STATUS_OK) hand_on(height);
    }
    return done == height ? CodecFailure{} : CodecFailure{"the picture is damaged: it ends too soon"};
}

}  // namespace loom
