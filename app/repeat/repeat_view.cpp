// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/repeat/repeat_view.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QMetaObject>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/loom/cloth_view.h"
#include "app/repeat/measure_list.h"
#include "app/theme/theme.h"
#include "app/widgets/tab_order.h"
#include "app/widgets/text.h"

namespace loom {

namespace {
constexpr int least_count = 2, greatest_count = 6, usual_count = 3, least_list_width = 270, list_width = 368;
}

RepeatView::RepeatView(Session& session, RenderService& service, QWidget* parent)
    : Page(parent), session_(session), client_("repeat", [this](const QString& why) { show_message(why); }) {
    canvas_ = new ClothCanvas(this);
    canvas_->set_hands({&overlay_});
    canvas_->setToolTip(tr("Turn the wheel to zoom, drag to move."));
    auto* bar = new QWidget(this);
    bar->setFixedHeight(34);
    bar->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    auto* line = new QHBoxLayout(bar);
    line->setContentsMargins(10, 0, 14, 0);
    line->setSpacing(4);
    counts_ = new QButtonGroup(this);
    const auto button = [&](const QString& text, const QString& help) {
        auto* made = new QToolButton(bar);
        made->setText(text), made->setToolTip(help), made->setAccessibleName(help);
        made->setCheckable(true);
        made->setFocusPolicy(Qt::StrongFocus);
        line->addWidget(made);
        return made;
    };
    for (int count = least_count; count <= greatest_count; ++count)
        counts_->addButton(button(QString::fromUtf8("%1×%1").arg(count), tr("%1 by %1 repeats").arg(count)), count);
    stop_at_checked(*counts_);
    line->addSpacing(14);
    half_ = button(tr("Half a tile over"), tr("Moves the cloth by half a tile, so that the seams cross in the middle"));
    seams_ = button(tr("Seam lines"), tr("Draws the difference along the seams: the wider the line swings, the more it shows"));
    standout_ = button(tr("Standout"), tr("Circles the place that differs most from the rest"));
    light_ = button(tr("Light and dark"), tr("Shows where the cloth is lighter and darker than its mean"));
    lit_ = button(tr("Lit"), tr("Shows the cloth in its light: what repeats in its bumps shows only there"));
    line->addStretch(1);
    zoom_ = new QLabel(bar);
    zoom_->setFont(theme::small_font());
    zoom_->setForegroundRole(QPalette::PlaceholderText);
    line->addWidget(zoom_);
    auto* left = new QVBoxLayout;
    left->setSpacing(0);
    left->addWidget(bar);
    left->addWidget(canvas_, 1);

    list_ = new MeasureList(this);
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(list_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    grid_ = new QLabel(this);
    grid_->setWordWrap(true);
    grid_->setFont(theme::small_font());
    grid_->setForegroundRole(QPalette::PlaceholderText);
    grid_->setContentsMargins(16, 4, 16, 4);
    message_ = new QLabel(this);
    message_->setWordWrap(true);
    message_->setContentsMargins(16, 8, 16, 8);
    message_->hide();
    stop_ = new QPushButton(tr("Stop looking"), this);
    stop_->hide();
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(16, 0, 16, 12);
    foot->addWidget(stop_);
    foot->addStretch(1);
    auto* side = new QWidget(this);
    side->setObjectName("repeat-side");
    side->setMinimumWidth(least_list_width);
    side->setMaximumWidth(list_width);
    side->setStyleSheet("#repeat-side { border-left: 1px solid palette(mid); }");
    auto* right = new QVBoxLayout(side);
    right->setContentsMargins(1, 0, 0, 0);
    right->setSpacing(0);
    right->addWidget(scroll, 1);
    right->addWidget(grid_);
    right->addWidget(message_);
    right->addLayout(foot);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(left, 5);
    layout->addWidget(side, 2);

    connect(counts_, &QButtonGroup::idToggled, this, [this](int count, bool on) {
        if (!on) return;
        canvas_->set_repeat(count);
        canvas_->set_zoom(0);
        canvas_->set_half(half_->isChecked());
    });
    connect(half_, &QToolButton::toggled, canvas_, &ClothCanvas::set_half);
    for (QToolButton* toggle : {seams_, standout_, light_})
        connect(toggle, &QToolButton::toggled, this, &RepeatView::refresh_marks);
    connect(lit_, &QToolButton::toggled, this, &RepeatView::ask_lit);
    connect(&lit_pictures_, &TryService::ready, this, [this](quint64 ticket, int, const QImage& image) {
        if (ticket == lit_ticket_ && lit_->isChecked()) canvas_->set_instead(image, tr("Lit"));
    });
    connect(canvas_, &ClothCanvas::zoom_changed, this, &RepeatView::show_zoom);
    connect(list_, &MeasureList::remedy_wanted, this, &RepeatView::apply);
    connect(stop_, &QPushButton::clicked, this, [this] { searching_.stop(); });
    connect(&service, &RenderService::cloth_ready, this, [this](const ClothPicture& picture) {
        if (picture.before || picture.document != session_.document()) return;
        canvas_->set_tile(session_.recipe().tile.size());
        canvas_->show_picture(picture);
        if (picture.draft) return;
        cloth_ = picture;
        ask_lit();
        mark();
    });
    connect(&service, &RenderService::measures_ready, this, [this](const Measures& measures, quint64 ticket) {
        if (ticket != cloth_.ticket) return;
        list_->show_measures(measures);
        overlay_.set_standout(measures.standout);
        canvas_->update();
    });
    connect(&session_, &Session::recipe_changed, this, [this] { list_->set_stale(true); });
    counts_->button(usual_count)->setChecked(true);
    seams_->setChecked(true);
    standout_->setChecked(true);
    half_->setChecked(true);
}

void RepeatView::ask_lit() {
    if (!lit_->isChecked()) {
        lit_pictures_.stop();
        return canvas_->set_instead({}, {});
    }
    if (isVisible()) lit_ticket_ = lit_pictures_.submit({{session_.recipe(), {Wanted::What::map, "", "", Map::lit}}});
}

void RepeatView::add_commands(Commands& commands, std::function<bool()> shown) {
    using Menu = Commands::Menu;
    commands.add(
        Menu::view, "half-over", tr("&Half a tile over"), QKeySequence("Ctrl+Shift+H"), [this] { half_->toggle(); }, shown);
    commands.add(
        Menu::view, "seam-lines", tr("Seam &lines"), QKeySequence(), [this] { seams_->toggle(); }, shown);
    commands.add(
        Menu::view, "light-and-dark", tr("Light and &dark"), QKeySequence(), [this] { light_->toggle(); }, shown);
}

void RepeatView::show_zoom() { zoom_->setText(tr("%1 %").arg(canvas_->zoom() * 100, 0, 'f', 0)); }

void RepeatView::resizeEvent(QResizeEvent* event) {
    Page::resizeEvent(event);
    // On a narrow screen the largest counts give way, except the one that is on.
    constexpr int narrow = 1040, few = 4;
    for (int count = few; count <= greatest_count; ++count)
        counts_->button(count)->setVisible(width() >= narrow || counts_->checkedId() == count);
    zoom_->setVisible(width() >= narrow);
    // The canvas has its new size only afterwards.
    QMetaObject::invokeMethod(this, &RepeatView::show_zoom, Qt::QueuedConnection);
}

QVariantMap RepeatView::state() const {
    return {{"count", count()},
            {"half", half_->isChecked()},
            {"seams", seams_->isChecked()},
            {"standout", standout_->isChecked()},
            {"light", light_->isChecked()},
            {"lit", lit_->isChecked()}};
}

void RepeatView::set_state(const QVariantMap& state) {
    set_count(state.value("count", usual_count).toInt());
    half_->setChecked(state.value("half", true).toBool());
    seams_->setChecked(state.value("seams", true).toBool());
    standout_->setChecked(state.value("standout", true).toBool());
    light_->setChecked(state.value("light", false).toBool());
    lit_->setChecked(state.value("lit", false).toBool());
}

void RepeatView::set_count(int count) {
    if (QAbstractButton* button = counts_->button(count)) button->setChecked(true);
}
int RepeatView::count() const { return counts_->checkedId(); }

void RepeatView::refresh_marks() {
    overlay_.seams = seams_->isChecked(), overlay_.standouts = standout_->isChecked(), overlay_.light = light_->isChecked();
    canvas_->update();
}

void RepeatView::showEvent(QShowEvent* event) {
    Page::showEvent(event);
    if (lit_->isChecked()) ask_lit();
    if (!marked_) mark();
}

void RepeatView::mark() {
    marked_ = false;
    // What nobody looks at can wait.
    if (!isVisible() || cloth_.image.isNull()) return;
    marked_ = true;
    Work work;
    work.doing = "looking at the repeat";
    work.urgency = Urgency::pictures, work.slot = "marks";
    client_.submit<RepeatMarks>(
        std::move(work),
        [image = cloth_.image](const WorkContext& context) -> Result<RepeatMarks> {
            return repeat_marks(from_image(image), context.job);
        },
        [this, document = cloth_.document](RepeatMarks& marks) {
            if (document != session_.document()) return;
            overlay_.set_marks(marks);
            grid_->setText(tr("The repeat against the tile: %1 % of its contrast is broad enough to be seen from afar.")
                               .arg(marks.grid * 100, 0, 'f', 0));
            canvas_->update();
        });
}

void RepeatView::apply(Remedy remedy) {
    const QString title = qt(remedy_info(remedy).title);
    list_->set_busy(true);
    stop_->show();
    show_message(tr("%1: trying what helps most").arg(title));
    Work work;
    work.doing = "trying what helps";
    work.urgency = Urgency::search, work.slot = "remedy";
    work.ended = [this, title, document = session_.document()](const Ended& how) {
        // Another may have been asked for meanwhile.
        if (searching()) return;
        list_->set_busy(false);
        stop_->hide();
        if (document != session_.document()) return show_message({});
        if (how.stopped()) show_message(tr("%1: given up, nothing was changed").arg(title));
        if (how.failed()) show_message(tr("%1: %2").arg(title, QString::fromStdString(how.error.message)));
    };
    const Recipe from = session_.recipe();
    searching_ = client_.submit<Recipe>(
        std::move(work),
        [from, remedy](const WorkContext& context) { return remedied(from, remedy, context.options, context.job); },
        [this, title, from, document = session_.document()](Recipe& better) {
            if (document != session_.document()) return;
            // What was changed meanwhile is not overwritten.
            if (!(session_.recipe() == from))
                return show_message(tr("%1: the recipe has changed meanwhile; ask again").arg(title));
            if (session_.apply(better, title)) show_message(tr("%1: done; Undo takes it back").arg(title));
        });
}

void RepeatView::show_message(const QString& text) {
    message_->setText(text);
    message_->setVisible(!text.isEmpty());
}

QString RepeatView::message() const { return message_->isHidden() ? QString() : message_->text(); }

}  // namespace loom
