// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/aside_picture.h"

#include <QPixmap>

#include "app/document/render_service.h"
#include "app/widgets/text.h"
#include "core/base/hash.h"

namespace loom {

AsidePicture::AsidePicture(const StepDescription& step, QWidget* parent)
    : QLabel(parent), description_(step), client_("aside", [this](const QString& why) { setToolTip(why); }) {
    setFixedSize(side, side);
    setAccessibleName(qt(step.aside.title));
    setToolTip(qt(step.aside.title));
}

void AsidePicture::show_for(const Recipe& recipe, const Step& step) {
    if (step.set == shown_.set && step.seed == shown_.seed && recipe.seed == seed_ && !pixmap(Qt::ReturnByValue).isNull()) return;
    shown_ = step, seed_ = recipe.seed;
    Work work;
    work.slot = "aside", work.urgency = Urgency::pictures;
    const double fine = devicePixelRatioF();
    work.run = [this, picture = description_.aside.picture, values = step.set, fine, tile = recipe.tile.size(),
                seed = mix64(mix64(recipe.seed), step.seed)](const WorkContext& context) -> Result<Done> {
        StepContext made;
        const int pixels = std::max(16, static_cast<int>(side * fine));
        made.size = {pixels, pixels}, made.tile = tile, made.seed = seed, made.job = &context.job;
        QImage image = to_image(picture(values, made));
        image.setDevicePixelRatio(fine);
        context.tell([this, image = std::move(image)] { setPixmap(QPixmap::fromImage(image)); });
        return Done{};
    };
    client_.submit(std::move(work));
}

}  // namespace loom
