// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Renders off the interface thread. The newest recipe wins: a full picture that is under way is given up when
// another recipe comes, a draft never is, so that something new shows on every move of a slider.
#pragma once

#include <QImage>
#include <QObject>
#include <QStringList>
#include <map>
#include <memory>
#include <optional>
#include <utility>

#include "app/document/background.h"
#include "core/measure/measure.h"
#include "core/render/draft_size.h"

namespace loom {

struct ClothPicture {
    QImage image;
    bool draft = true;
    bool before = false;  ///< with the selected step switched off, for comparing
    double milliseconds = 0;
    std::uint64_t ticket = 0;    ///< of the recipe it shows
    std::uint64_t document = 0;  ///< Session::document() it was asked for
    QStringList warnings;        ///< what was passed over, one sentence each
    std::vector<QImage> halves;  ///< see halves_of
};

struct CardPicture {
    QImage image;
    double seam = 0;  ///< the greater of across and down
    Histogram histogram;
};
/// By strand and step id.
using CardPictures = std::map<std::pair<std::string, std::string>, CardPicture>;

QImage to_image(const Bundle& picture);
/// A picture at a half, a quarter and so on, for showing it smaller than it is without averaging all of it at each paint.
std::vector<QImage> halves_of(const QImage& picture);
/// Straight 8-bit pixels back into planes.
Bundle from_image(const QImage& image);

class RenderService : public QObject {
    Q_OBJECT
public:
    explicit RenderService(QObject* parent = nullptr);
    ~RenderService() override = default;

    /// Renders draft, full picture, cards and measures of `recipe`, in this order. Returns its ticket.
    /// `coarse`: with a draft first.
    std::uint64_t submit(Recipe recipe, std::uint64_t document = 0, bool coarse = true);
    /// Renders `recipe` as the "before" picture, once the newest cloth is done.
    void submit_before(Recipe recipe, std::uint64_t document = 0);
    /// Renders a part of the cloth, in design px, while a hand draws there; it may go over the tile's edges. What is asked for
    /// while one is made waits, and is joined to one part.
    void submit_part(Recipe recipe, const QRectF& part, std::uint64_t document = 0);
    /// Makes what lies around a hand's step at the sizes that parts may have, while nobody waits for it, so that the first frame
    /// of a stroke is as fast as the others.
    void warm_parts(const Recipe& recipe, std::uint64_t document);
    /// Pixels on the longer side at which parts are made; 0 before the first.
    int part_size() const { return part_size_ ? part_size_->pixels() : 0; }
    /// Bytes that renderings may use; 0: the usual limit.
    void set_memory_limit(std::size_t bytes);
    bool busy() const;

    static constexpr int card_size = 256;
    int draft_size() const { return draft_.pixels(); }

signals:
    void cloth_ready(const loom::ClothPicture& picture);
    /// `place`: what the picture shows, and `part`: what of it is wanted, in shares of the tile.
    void part_ready(const QImage& picture, const QRectF& place, const QRectF& part, quint64 document);
    void cards_ready(const loom::CardPictures& cards, quint64 ticket);
    void measures_ready(const loom::Measures& measures, quint64 ticket);
    void failed(const QString& message);
    void busy_changed(bool busy);

private:
    struct Cloth {
        std::shared_ptr<const Recipe> recipe;
        bool before = false;
        std::uint64_t ticket = 0, document = 0;
    };
    static Work live(const Cloth& of, std::string slot);
    /// The full cloth is left in `cloth`, if it is there, for what is made from it; empty if it failed.
    void ask_cloth(const Cloth& of, std::string slot, std::shared_ptr<Bundle> whole, bool coarse = true);
    void show_cloth(const ClothPicture& picture);
    void ask_part();
    void ask_cards(const Cloth& of, std::shared_ptr<const Bundle> whole);
    void ask_measures(const Cloth& of, std::shared_ptr<const Bundle> whole);
    void told_busy();

    std::size_t memory_limit_ = 0;
    std::uint64_t tickets_ = 0;
    DraftSize draft_;
    std::optional<Recipe> part_recipe_;  // that waits for its part
    QRectF part_;
    std::uint64_t part_document_ = 0;
    std::optional<PartSize> part_size_;
    double cloth_ms_ = 0;
    bool shown_busy_ = false;
    Background client_, warming_;
    Task making_part_;
};

}  // namespace loom

Q_DECLARE_METATYPE(loom::ClothPicture)
Q_DECLARE_METATYPE(loom::CardPictures)
Q_DECLARE_METATYPE(loom::Measures)
