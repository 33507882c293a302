// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/samples/samples_view.h"

#include <QCoreApplication>
#include <QDir>
#include <QFocusEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/document/render_service.h"
#include "app/document/scheduler.h"
#include "app/theme/theme.h"
#include "app/samples/colour_words.h"
#include "core/base/guard.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/render/render.h"

namespace loom {

namespace {

constexpr int swatch_gap = 16, picture_size = 512, heading_height = 34;
/// The page behind the swatches, in the colour that the theme has now.
class Ground : public QWidget {
public:
    using QWidget::QWidget;

protected:
    void paintEvent(QPaintEvent*) override { QPainter(this).fillRect(rect(), theme::colours().window); }
};

}  // namespace

SamplesView::SamplesView(const SampleBook& book, QWidget* parent)
    // A picture that cannot be made is shown as none.
    : Page(parent), book_(book), pictures_("samples", [](const QString&) {}) {
    auto* side = new QWidget(this);
    side->setFixedWidth(190);
    search_ = new QLineEdit(side);
    search_->setPlaceholderText(tr("Material, step or colour"));
    search_->setAccessibleName(tr("Find samples by material, step or colour"));
    search_->setClearButtonEnabled(true);
    const auto caption_of = [&](const QString& text) {
        auto* caption = new QLabel(text, side);
        caption->setFont(theme::small_font());
        caption->setForegroundRole(QPalette::PlaceholderText);
        return caption;
    };
    materials_ = new QVBoxLayout;
    materials_->setSpacing(0);
    auto* caption = caption_of(tr("Recent"));
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
    column->addWidget(caption_of(tr("Materials")));
    column->addLayout(materials_);
    column->addSpacing(6);
    column->addWidget(caption);
    column->addWidget(recent_box_);
    column->addStretch(1);
    column->addWidget(empty);

    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setFocusPolicy(Qt::NoFocus);
    page_ = new Ground(scroll_);
    scroll_->setWidget(page_);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(side);
    layout->addWidget(scroll_, 1);

    connect(search_, &QLineEdit::textChanged, this, &SamplesView::filter);
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        std::vector<Swatch*> fitting;
        std::copy_if(swatches_.begin(), swatches_.end(), std::back_inserter(fitting),
                     [](const Swatch* swatch) { return !swatch->isHidden(); });
        // A single one is meant; of several the keyboard goes on from the first.
        if (fitting.size() == 1)
            open(fitting.front());
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
        if (headings_.empty() || headings_.back().material != sample.material) add_heading(sample.material);
        auto* swatch = new Swatch(sample.recipe, sample.path, page_);
        swatches_.push_back(swatch);
        headings_.back().last = swatches_.size();
        connect(swatch, &Swatch::colourway_chosen, this, [this, swatch] {
            swatch->set_picture({});
            find_pictures();
        });
        connect(swatch, &Swatch::opened, this, [this, swatch] { open(swatch); });
        swatch->installEventFilter(this);
        swatch->show();
    }
    QWidget* before = search_;
    for (const Heading& heading : headings_) {
        setTabOrder(before, heading.jump);
        before = heading.jump;
    }
    filter(search_->text());
    if (isVisible()) find_pictures();
}

void SamplesView::open(const Swatch* swatch) {
    const int shown = swatch->colourway();
    emit sample_opened(
        swatch->path(),
        shown < 0 ? QString() : QString::fromStdString(swatch->recipe().colourways[static_cast<std::size_t>(shown)].name));
}

void SamplesView::add_heading(const QString& material) {
    auto* label = new QLabel(material, page_);
    label->setFont(theme::strong_font(15));
    label->show();
    auto* jump = new QToolButton(this);
    jump->setText(material);
    jump->setAccessibleName(tr("Go to %1").arg(material));
    jump->setFocusPolicy(Qt::StrongFocus);
    jump->setStyleSheet("QToolButton { padding: 3px 2px; }");
    connect(jump, &QToolButton::clicked, this, [this, label] { scroll_->verticalScrollBar()->setValue(label->y() - 8); });
    materials_->addWidget(jump, 0, Qt::AlignLeft);
    headings_.push_back({material, label, jump, swatches_.size()});
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
        if (!swatches_[k]->has_picture()) missing.emplace_back(k, swatches_[k]->shown());
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
        const Recipe recipe = swatches_[k]->shown();
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
    for (const Heading& heading : headings_)
        for (std::size_t k = heading.first; k < heading.last; ++k) {
            Swatch* swatch = swatches_[k];
            QString all = QString::fromStdString(swatch->recipe().name) + " " + heading.material;
            for (const StrandRef& strand : swatch->recipe().strands) {
                all += " " + QString::fromStdString(strand->name);
                for (ChainKind chain : all_chains)
                    for (const Step& step : strand->chain(chain))
                        all += " " + QString::fromStdString(step_title(step) + " " + step.kind);
            }
            for (const Colourway& colourway : swatch->recipe().colourways) {
                all += " " + QString::fromStdString(colourway.name);
                if (const QColor dot = dot_of(colourway); dot.isValid()) all += " " + colour_words(dot);
            }
            bool fits = true;
            for (const QString& word : words.split(' ', Qt::SkipEmptyParts))
                fits = fits && all.contains(word, Qt::CaseInsensitive);
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
    const auto left = [&](int column) { return swatch_gap + column * (each + between); };
    // A material begins beside the one before it where all of it has room there.
    int top = swatch_gap, column = 0, row_height = 0;
    for (const Heading& heading : headings_) {
        std::vector<Swatch*> shown;
        for (std::size_t k = heading.first; k < heading.last; ++k)
            if (!swatches_[k]->isHidden()) shown.push_back(swatches_[k]);
        const int count = static_cast<int>(shown.size());
        heading.label->setVisible(count > 0);
        heading.jump->setEnabled(count > 0);
        if (count == 0) continue;
        if (column > 0 && column + count > across) top += row_height, column = row_height = 0;
        for (int index = 0; index < count; ++index) {
            Swatch* swatch = shown[static_cast<std::size_t>(index)];
            swatch->fit(each);
            const int down = heading_height + (index / across) * (swatch->height() + between);
            swatch->move(left(column + index % across), top + down);
            row_height = std::max(row_height, down + swatch->height() + swatch_gap);
        }
        heading.label->setGeometry(left(column) + 12, top, each - 12, heading_height);
        column += count;
    }
    top += row_height;
    page_->setMinimumHeight(top);
}

bool SamplesView::eventFilter(QObject* watched, QEvent* event) {
    // The keyboard may come from beside the page, which then does not follow by itself.
    if (event->type() == QEvent::FocusIn && watched != page_ &&
        static_cast<QFocusEvent*>(event)->reason() != Qt::MouseFocusReason)
        scroll_->ensureWidgetVisible(static_cast<QWidget*>(watched), swatch_gap, swatch_gap);
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
