// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/samples/samples_view.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/document/render_service.h"
#include "app/document/scheduler.h"
#include "app/theme/theme.h"
#include "app/widgets/colour_button.h"
#include "core/base/guard.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/render/render.h"

namespace loom {

namespace {

constexpr int swatch_gap = 16, picture_size = 512;
constexpr int rim = 10, above = 8, words_height = 56;  ///< around a swatch's picture
constexpr double proportions = 168.0 / 256;            ///< of the picture

/// A rectangle whose edges are cut in teeth, as shears cut a sample.
QPainterPath pinked(const QRectF& area) {
    constexpr double tooth = 7, depth = 3.5;
    const int across = static_cast<int>(area.width() / tooth), down = static_cast<int>(area.height() / tooth);
    const double w = area.width() / across, h = area.height() / down;
    QPainterPath path(area.topLeft());
    for (int k = 0; k < across; ++k) {
        path.lineTo(area.left() + (k + 0.5) * w, area.top() + depth);
        path.lineTo(area.left() + (k + 1) * w, area.top());
    }
    for (int k = 0; k < down; ++k) {
        path.lineTo(area.right() - depth, area.top() + (k + 0.5) * h);
        path.lineTo(area.right(), area.top() + (k + 1) * h);
    }
    for (int k = 0; k < across; ++k) {
        path.lineTo(area.right() - (k + 0.5) * w, area.bottom() - depth);
        path.lineTo(area.right() - (k + 1) * w, area.bottom());
    }
    for (int k = 0; k < down; ++k) {
        path.lineTo(area.left() + depth, area.bottom() - (k + 0.5) * h);
        path.lineTo(area.left(), area.bottom() - (k + 1) * h);
    }
    path.closeSubpath();
    return path;
}

/// The page behind the swatches, in the colour that the theme has now.
class Ground : public QWidget {
public:
    using QWidget::QWidget;

protected:
    void paintEvent(QPaintEvent*) override { QPainter(this).fillRect(rect(), theme::colours().window); }
};

/// The colour that stands for a colourway: the middle of the first gradient it sets, or of its first colour.
QColor dot_of(const Colourway& colourway) {
    for (const auto& [at, value] : colourway.set) {
        if (const auto* stops = as_if<Stops>(value); stops && !stops->empty())
            return to_qcolor((*stops)[stops->size() / 2].colour);
        if (const auto* colour = as_if<Colour>(value)) return to_qcolor(*colour);
    }
    return {};
}

}  // namespace

Swatch::Swatch(Recipe recipe, QString path, QWidget* parent)
    : QWidget(parent), recipe_(std::move(recipe)), path_(std::move(path)) {
    fit(least_width);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(tr("Sample %1").arg(QString::fromStdString(recipe_.name)));
}

void Swatch::fit(int width) { setFixedSize(width, above + static_cast<int>((width - 2 * rim) * proportions) + words_height); }

void Swatch::set_picture(const QImage& image) {
    picture_ = image;
    update();
}

void Swatch::paintEvent(QPaintEvent*) {
    const theme::Colours& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF area(rim, above, width() - 2 * rim, height() - above - words_height);
    const int line = height() - words_height + 6;
    if (hasFocus() || hovered_) {
        painter.setPen(QPen(hasFocus() ? c.accent : c.thread, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(area.adjusted(-6, -6, 6, 6));
    }
    painter.setPen(Qt::NoPen);
    painter.setClipPath(pinked(area));
    if (picture_.isNull()) {
        painter.fillRect(area, c.panel);
    } else {
        // The middle strip of the tile, in the swatch's proportions.
        const QRectF source(0, (picture_.height() - picture_.width() * area.height() / area.width()) / 2, picture_.width(),
                            picture_.width() * area.height() / area.width());
        painter.drawImage(area, picture_, source);
    }
    painter.setClipping(false);
    painter.setPen(c.text);
    painter.setFont(theme::strong_font(13));
    painter.drawText(QRect(rim + 2, line, width() - 2 * rim - 76, 20), Qt::AlignLeft | Qt::AlignVCenter,
                     QString::fromStdString(recipe_.name));
    if (recipe_.tile.wide_cm) {
        painter.setPen(c.faint);
        painter.setFont(theme::small_font());
        painter.drawText(QRect(width() - rim - 86, line, 86, 20), Qt::AlignRight | Qt::AlignVCenter,
                         tr("%1 cm").arg(*recipe_.tile.wide_cm, 0, 'g', 4));
    }
    int x = 20;
    for (const Colourway& colourway : recipe_.colourways) {
        const QColor colour = dot_of(colourway);
        if (!colour.isValid()) continue;
        painter.setPen(QPen(QColor(0, 0, 0, 110), 1));
        painter.setBrush(colour);
        painter.drawEllipse(QPointF(x, line + 32), 7, 7);
        x += 20;
    }
}

void Swatch::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && rect().contains(event->pos())) emit opened();
}

void Swatch::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Space: return emit opened();
        case Qt::Key_Right:
        case Qt::Key_Down: focusNextChild(); return;
        case Qt::Key_Left:
        case Qt::Key_Up: focusPreviousChild(); return;
        default: QWidget::keyPressEvent(event);
    }
}

void Swatch::enterEvent(QEnterEvent*) { hovered_ = true, update(); }
void Swatch::leaveEvent(QEvent*) { hovered_ = false, update(); }
void Swatch::focusInEvent(QFocusEvent* event) { QWidget::focusInEvent(event), update(); }
void Swatch::focusOutEvent(QFocusEvent* event) { QWidget::focusOutEvent(event), update(); }

SamplesView::SamplesView(const SampleBook& book, QWidget* parent)
    // A picture that cannot be made is shown as none.
    : Page(parent), book_(book), pictures_("samples", [](const QString&) {}) {
    auto* side = new QWidget(this);
    side->setFixedWidth(190);
    search_ = new QLineEdit(side);
    search_->setPlaceholderText(tr("Find a sample or step"));
    search_->setAccessibleName(tr("Find a sample or step"));
    search_->setClearButtonEnabled(true);
    auto* caption = new QLabel(tr("Recent"), side);
    caption->setFont(theme::small_font());
    caption->setForegroundRole(QPalette::PlaceholderText);
    recent_box_ = new QWidget(side);
    recent_ = new QVBoxLayout(recent_box_);
    recent_->setContentsMargins(0, 0, 0, 0);
    recent_->setSpacing(0);
    auto* empty = new QPushButton(tr("Start empty"), side);
    empty->setFont(theme::strong_font(12));
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(16, 16, 16, 20);
    column->setSpacing(10);
    column->addWidget(search_);
    column->addSpacing(6);
    column->addWidget(caption);
    column->addWidget(recent_box_);
    column->addStretch(1);
    column->addWidget(empty);

    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    page_ = new Ground(scroll);
    scroll->setWidget(page_);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(side);
    layout->addWidget(scroll, 1);

    connect(search_, &QLineEdit::textChanged, this, &SamplesView::filter);
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        std::vector<Swatch*> fitting;
        std::copy_if(swatches_.begin(), swatches_.end(), std::back_inserter(fitting),
                     [](const Swatch* swatch) { return !swatch->isHidden(); });
        // A single one is meant; of several the keyboard goes on from the first.
        if (fitting.size() == 1)
            emit sample_opened(fitting.front()->path());
        else if (!fitting.empty())
            fitting.front()->setFocus(Qt::TabFocusReason);
    });
    connect(empty, &QPushButton::clicked, this, &SamplesView::empty_wanted);
    set_recent({});
    page_->installEventFilter(this);
    connect(&book_, &SampleBook::was_read, this, &SamplesView::show_samples);
    show_samples();
}

void SamplesView::show_samples() {
    for (const Sample& sample : book_.samples()) {
        auto* swatch = new Swatch(sample.recipe, sample.path, page_);
        swatches_.push_back(swatch);
        connect(swatch, &Swatch::opened, this, [this, swatch] { emit sample_opened(swatch->path()); });
        swatch->show();
    }
    filter(search_->text());
    if (isVisible()) find_pictures();
}

std::pair<QString, QString> SamplesView::heading() const {
    const auto count = swatches_.size();
    return {tr("Ostrel Halt"), count == 1 ? tr("1 sample") : tr("%1 samples").arg(count)};
}

void SamplesView::stop_pictures() { pictures_.cancel_all(); }

void SamplesView::find_pictures() {
    stop_pictures();
    std::vector<std::pair<std::size_t, Recipe>> missing;
    for (std::size_t k = 0; k < swatches_.size(); ++k)
        if (!swatches_[k]->has_picture()) missing.emplace_back(k, swatches_[k]->recipe());
    if (missing.empty()) return;
    Work work;
    work.doing = "looking for pictures of the samples";
    work.urgency = Urgency::pictures;
    work.run = [this, kept = kept_, missing = std::move(missing)](const WorkContext& context) -> Result<Done> {
        for (const auto& [k, recipe] : missing) {
            context.job.check();
            if (const QImage image = kept.find(recipe); !image.isNull())
                context.tell([this, k = k, image] { swatches_[k]->set_picture(image); });
        }
        return Done{};
    };
    work.ended = [this](const Ended& how) {
        if (how.outcome == Outcome::done) make_pictures();
    };
    pictures_.submit(std::move(work));
}

void SamplesView::make_pictures() {
    for (std::size_t k = 0; k < swatches_.size(); ++k) {
        if (swatches_[k]->has_picture()) continue;
        const Recipe& recipe = swatches_[k]->recipe();
        PictureRequest request;
        request.recipe = recipe, request.longest = picture_size, request.wanted = {own_picture};
        Work of;
        of.urgency = Urgency::pictures;
        of.ended = [this, k](const Ended& how) {
            if (how.failed()) swatches_[k]->set_picture(QImage(1, 1, QImage::Format_RGB888));
        };
        pictures_.submit(std::move(request), std::move(of),
                         [this, k, recipe, kept = kept_](const PictureResponse& made, const WorkContext& context) {
                             const QImage image = to_image(made.pictures.begin()->second);
                             kept.keep(recipe, image);
                             context.tell([this, k, image] { swatches_[k]->set_picture(image); });
                         });
    }
}

bool SamplesView::complete() const {
    return !book_.reading() &&
           std::all_of(swatches_.begin(), swatches_.end(), [](const Swatch* swatch) { return swatch->has_picture(); });
}

void SamplesView::set_recent(const std::vector<RecentFile>& files) {
    while (QLayoutItem* item = recent_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (const RecentFile& file : files) {
        auto* button = new QToolButton(recent_box_);
        const QString& path = file.path;
        button->setText(recent_box_->fontMetrics().elidedText(QFileInfo(path).completeBaseName(), Qt::ElideRight, 112));
        button->setIcon(QPixmap::fromImage(file.picture.copy(0, 0, recent_picture, recent_picture)));
        button->setIconSize({recent_picture / 2, recent_picture / 2});
        button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        button->setAccessibleName(QFileInfo(path).completeBaseName());
        button->setToolTip(path);
        button->setFocusPolicy(Qt::StrongFocus);
        button->setStyleSheet("QToolButton { padding: 4px 2px; }");
        connect(button, &QToolButton::clicked, this, [this, path] { emit recent_opened(path); });
        recent_->addWidget(button, 0, Qt::AlignLeft);
    }
    if (!files.empty()) return;
    auto* none = new QLabel(tr("Nothing saved yet"), recent_box_);
    none->setForegroundRole(QPalette::PlaceholderText);
    recent_->addWidget(none);
}

void SamplesView::filter(const QString& words) {
    for (Swatch* swatch : swatches_) {
        QString all = QString::fromStdString(swatch->recipe().name);
        for (const StrandRef& strand : swatch->recipe().strands) {
            all += " " + QString::fromStdString(strand->name);
            for (ChainKind chain : all_chains)
                for (const Step& step : strand->chain(chain))
                    all += " " + QString::fromStdString(step_title(step) + " " + step.kind);
        }
        for (const Colourway& colourway : swatch->recipe().colourways) all += " " + QString::fromStdString(colourway.name);
        bool fits = true;
        for (const QString& word : words.split(' ', Qt::SkipEmptyParts)) fits = fits && all.contains(word, Qt::CaseInsensitive);
        swatch->setVisible(fits);
    }
    arrange();
}

void SamplesView::arrange() {
    const int width = page_->width();
    constexpr int between = swatch_gap / 2;
    const int across = std::max(1, (width - 2 * swatch_gap + between) / (Swatch::least_width + between));
    // Together they are as wide as the page.
    const int each = std::max(Swatch::least_width, (width - 2 * swatch_gap + between) / across - between);
    int index = 0, bottom = 0;
    for (Swatch* swatch : swatches_) {
        if (swatch->isHidden()) continue;
        swatch->fit(each);
        swatch->move(swatch_gap + (index % across) * (each + between),
                     swatch_gap + (index / across) * (swatch->height() + between));
        bottom = swatch->geometry().bottom();
        ++index;
    }
    page_->setMinimumHeight(bottom + swatch_gap);
}

bool SamplesView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == page_ && event->type() == QEvent::Resize) arrange();
    return QWidget::eventFilter(watched, event);
}

void SamplesView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    find_pictures();
}

void SamplesView::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    // The cores belong to the cloth that is being worked on.
    stop_pictures();
}

}  // namespace loom
