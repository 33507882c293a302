// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/main_window.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenuBar>
#include <QPainter>
#include <QScreen>
#include <QSettings>
#include <QStackedWidget>
#include <QStatusBar>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/document/journal.h"
#include "app/document/recent_files.h"
#include "app/document/recipe_files.h"
#include "app/document/sample_book.h"
#include "app/export/export_view.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/repeat/repeat_view.h"
#include "app/samples/samples_view.h"
#include "app/theme/theme.h"
#include "app/tries/try_view.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/typing.h"

namespace loom {

namespace {

constexpr const char* place_key = "window/place";

/// A tab of the header: underlined while its view is on show.
class Tab : public QToolButton {
public:
    using QToolButton::QToolButton;

protected:
    void paintEvent(QPaintEvent*) override {
        const theme::Colours& c = theme::colours();
        QPainter painter(this);
        painter.setFont(isChecked() ? theme::strong_font(13) : [] {
            QFont f = theme::text_font();
            f.setPixelSize(13);
            return f;
        }());
        painter.setPen(isChecked() ? c.accent : c.text);
        painter.drawText(rect().adjusted(0, 0, 0, -4), Qt::AlignCenter, text());
        if (isChecked()) painter.fillRect(QRect(0, height() - 4, width(), 4), c.accent);
        if (hasFocus()) {
            painter.setPen(QPen(c.accent, 1, Qt::DotLine));
            painter.drawRect(rect().adjusted(2, 2, -3, -7));
        }
    }
};

}  // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent),
      session_(std::make_unique<Session>()),
      service_(std::make_unique<RenderService>()),
      book_(std::make_unique<SampleBook>(samples_folder())),
      files_(new RecipeFiles(*session_, this)) {
    setWindowTitle("Keen Loom");
    // As large as is good for it, or as the screen allows.
    const QSize room = screen() ? screen()->availableSize() : QSize(1280, 800);
    resize(QSize(1280, 800).boundedTo(room));
    session_->start_new(fresh_recipe());
    commands_ = new Commands(menuBar());
    connect(commands_, &Commands::failed, this, &MainWindow::show_message);
    stack_ = new QStackedWidget(this);
    samples_ = new SamplesView(*book_, this);
    loom_ = new LoomView(*session_, *service_, *book_, this);
    try_ = new TryView(*session_, loom_->reference(), this);
    repeat_ = new RepeatView(*session_, *service_, this);
    export_ = new ExportView(*session_, this);
    pages_ = {samples_, loom_, try_, repeat_, export_};
    for (Page* page : pages_) stack_->addWidget(page);
    auto* central = new QWidget(this);
    auto* layout = new QVBoxLayout(central);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(build_header());
    notices_ = new QWidget(central);
    auto* notices = new QVBoxLayout(notices_);
    notices->setContentsMargins(0, 0, 0, 0);
    notices->setSpacing(0);
    layout->addWidget(notices_);
    layout->addWidget(stack_, 1);
    setCentralWidget(central);
    message_ = new QLabel(this);
    message_->setWordWrap(false);
    statusBar()->addWidget(message_, 1);
    statusBar()->setSizeGripEnabled(false);
    statusBar()->hide();
    build_menus();
    qApp->installEventFilter(this);

    connect(samples_, &SamplesView::sample_opened, this, &MainWindow::open_sample);
    connect(samples_, &SamplesView::recent_opened, this, &MainWindow::open);
    connect(samples_, &SamplesView::empty_wanted, this, [this] { action("new")->trigger(); });
    connect(loom_, &LoomView::try_wanted, this, [this](const Address& at) {
        if (const auto question = question_about(session_->recipe(), at)) {
            show_page(try_);
            try_->ask(*question);
        }
    });
    connect(loom_, &LoomView::strand_missed, this, &MainWindow::tell_missed);
    connect(try_, &TryView::failed, this, &MainWindow::show_message);
    connect(session_.get(), &Session::recipe_changed, this, &MainWindow::refresh);
    connect(session_.get(), &Session::selection_changed, this, &MainWindow::refresh);
    connect(session_.get(), &Session::file_changed, this, &MainWindow::refresh);
    connect(&session_->undo_stack(), &QUndoStack::indexChanged, this, &MainWindow::refresh);
    connect(session_.get(), &Session::refused, this, &MainWindow::show_message);
    connect(service_.get(), &RenderService::failed, this, &MainWindow::show_message);
    connect(service_.get(), &RenderService::cloth_ready, this, [this](const ClothPicture& picture) {
        if (picture.draft || picture.before || picture.document != session_->document()) return;
        // What went wrong is over once a full cloth arrives.
        if (!picture.warnings.isEmpty())
            show_warnings(picture.warnings);
        else if (statusBar()->isVisible() && message_->property("render").toBool())
            statusBar()->hide();
    });
    connect(service_.get(), &RenderService::failed, message_, [this] { message_->setProperty("render", true); });
    connect(book_.get(), &SampleBook::failed, this, &MainWindow::show_message);
    connect(book_.get(), &SampleBook::was_read, this, &MainWindow::refresh);
    connect(files_, &RecipeFiles::failed, this, [this](const QString& why) {
        // Whoever wanted to leave wants to know first.
        leaving_ = false;
        show_message(why);
    });
    connect(files_, &RecipeFiles::picture_found, this, &MainWindow::offer_picture);
    connect(files_, &RecipeFiles::slow, this, &MainWindow::show_note);
    connect(files_, &RecipeFiles::rested, this, [this] {
        if (leaving_ && !export_->writing()) leaving_ = false, close();
    });
    connect(export_, &ExportView::writing_ended, this, [this](const Ended& how) {
        const bool leave = leaving_ && !how.failed();
        leaving_ = false;
        if (leave) close();
    });
    refresh_recent();
    refresh();
    show_page(samples_);
}

MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    // Nothing that still arrives may reach a window that is going, and widgets go while what they read from is still there.
    session_->disconnect();
    session_->undo_stack().disconnect(this);
    service_->disconnect();
    for (QObject* child : QObjectList(children()))
        if (child->isWidgetType()) delete child;
}

QWidget* MainWindow::build_header() {
    auto* header = new QWidget(this);
    header->setFixedHeight(40);
    header->setObjectName("header");
    name_ = new QLabel(header);
    name_->setFont(theme::strong_font(14));
    tile_ = new QLabel(header);
    tile_->setFont(theme::small_font());
    tile_->setForegroundRole(QPalette::PlaceholderText);
    for (Page* page : pages_) {
        auto* tab = new Tab(header);
        tab->setText(page->title());
        tab->setCheckable(true);
        tab->setFixedSize(76, 40);
        tab->setFocusPolicy(Qt::StrongFocus);
        connect(tab, &QToolButton::clicked, this, [this, page] { show_page(page); });
        tabs_.push_back(tab);
    }
    auto plain = [&](const QString& text) {
        auto* made = new QToolButton(header);
        made->setText(text);
        made->setFocusPolicy(Qt::StrongFocus);
        return made;
    };
    undo_ = plain(tr("Undo"));
    redo_ = plain(tr("Redo"));
    colourway_ = new TitledBox(tr("Colourway"), header);
    colourway_->setToolTip(tr("Lays another set of values over the recipe"));
    colourway_->setMinimumWidth(80);
    colourway_->setMaximumWidth(190);
    colourway_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(colourway_, &QComboBox::activated, this, [this] {
        const std::string chosen = colourway_->currentData().toString().toStdString();
        if (!chosen.empty())
            session_->apply(with_colourway(session_->recipe(), chosen), tr("Colourway %1").arg(colourway_->currentText()));
        refresh();
    });
    auto* left = new QWidget(header);
    auto* left_line = new QHBoxLayout(left);
    left_line->setContentsMargins(0, 0, 0, 0);
    left_line->addWidget(name_);
    left_line->addSpacing(6);
    left_line->addWidget(tile_);
    left_line->addStretch(1);
    auto* right = new QWidget(header);
    auto* right_line = new QHBoxLayout(right);
    right_line->setContentsMargins(0, 0, 0, 0);
    right_line->addStretch(1);
    right_line->setSpacing(2);
    right_line->addWidget(undo_);
    right_line->addWidget(redo_);
    right_line->addSpacing(6);
    right_line->addWidget(colourway_, 10);
    auto* line = new QHBoxLayout(header);
    line->setContentsMargins(16, 0, 14, 0);
    line->setSpacing(0);
    // Equal sides keep the tabs in the middle whatever the recipe is called.
    line->addWidget(left, 1);
    for (QToolButton* tab : tabs_) line->addWidget(tab);
    line->addWidget(right, 1);
    left->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    right->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    header->setStyleSheet("#header { border-bottom: 1px solid palette(mid); }");
    return header;
}

Page* MainWindow::page() const { return static_cast<Page*>(stack_->currentWidget()); }

void MainWindow::show_page(Page* page) {
    stack_->setCurrentWidget(page);
    refresh();
}

void MainWindow::remember_pages() {
    remembers_ = true;
    const QSettings settings;
    restoreGeometry(settings.value(place_key).toByteArray());
    for (Page* each : pages_)
        if (const QVariantMap state = settings.value("pages/" + each->id()).toMap(); !state.isEmpty()) each->set_state(state);
}

void MainWindow::refresh() {
    const Recipe& recipe = session_->recipe();
    for (std::size_t k = 0; k < pages_.size(); ++k) tabs_[k]->setChecked(pages_[k] == page());
    const bool of_recipe = page()->shows_recipe();
    const auto [name, note] = page()->heading();
    const QString size = QString::fromUtf8("%1 × %2").arg(recipe.tile.width).arg(recipe.tile.height);
    name_->setText(of_recipe ? QString::fromStdString(recipe.name) + (session_->modified() ? QString::fromUtf8(" •") : QString())
                             : name);
    tile_->setText(!of_recipe            ? note
                   : recipe.tile.wide_cm ? size + QString::fromUtf8(" · %1 cm").arg(*recipe.tile.wide_cm, 0, 'g', 4)
                                         : size);
    setWindowTitle(QString::fromStdString(recipe.name) + (session_->modified() ? " *" : "") + " - Keen Loom");
    commands_->refresh();
    undo_->setEnabled(session_->undo_stack().canUndo());
    redo_->setEnabled(session_->undo_stack().canRedo());
    action("undo")->setText(session_->undo_stack().canUndo() ? tr("&Undo: %1").arg(session_->undo_stack().undoText())
                                                             : tr("&Undo"));
    action("redo")->setText(session_->undo_stack().canRedo() ? tr("Re&do: %1").arg(session_->undo_stack().redoText())
                                                             : tr("Re&do"));
    for (QWidget* widget : std::initializer_list<QWidget*>{undo_, redo_}) widget->setVisible(of_recipe);
    colourway_->setVisible(of_recipe && !recipe.colourways.empty());
    const QString present = QString::fromStdString(present_colourway(recipe));
    colourway_->clear();
    if (present.isEmpty()) colourway_->addItem(tr("own"), QString());
    for (const Colourway& each : recipe.colourways)
        colourway_->addItem(QString::fromStdString(each.name), QString::fromStdString(each.name));
    colourway_->setCurrentIndex(std::max(0, colourway_->findData(present)));
}

void MainWindow::show_message(const QString& text) { show_line(text, theme::colours().warn); }
void MainWindow::show_note(const QString& text) { show_line(text, theme::colours().text); }

void MainWindow::show_line(const QString& text, const QColor& colour) {
    message_->setProperty("render", false);
    message_->setText(text);
    message_->setToolTip(text);
    QPalette palette = message_->palette();
    palette.setColor(QPalette::WindowText, colour);
    message_->setPalette(palette);
    message_->setContentsMargins(12, 0, 12, 0);
    statusBar()->show();
}

void MainWindow::show_warnings(const QStringList& warnings) {
    QString text = warnings.first();
    if (warnings.size() > 1) text += tr(" (and %1 more)").arg(warnings.size() - 1);
    show_message(text);
    message_->setToolTip(warnings.join('\n'));
    message_->setProperty("render", true);
}

QString MainWindow::message() const { return statusBar()->isHidden() ? QString() : message_->text(); }

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!ready_to_leave()) return event->ignore();
    if (journal_) journal_->give_up();
    if (remembers_) QSettings().setValue(place_key, saveGeometry());
    if (remembers_)
        for (const Page* each : pages_) QSettings().setValue("pages/" + each->id(), each->state());
    event->accept();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    const bool press = event->type() == QEvent::KeyPress, release = event->type() == QEvent::KeyRelease,
               over = event->type() == QEvent::ShortcutOverride;
    const QWidget* active = QApplication::activeWindow();
    if ((press || release || over) && active && (active == this || active == page()->second_window())) {
        const QWidget* focus = QApplication::focusWidget();
        const auto& key = *static_cast<QKeyEvent*>(event);
        if (watched == (focus ? focus : active)) {
            // Nothing is left in the field that it could undo; the shortcut has the key.
            if (!release && undoes_recipe(focus, key)) {
                event->setAccepted(press);
                return true;
            }
            if (!over && !takes_letters(focus) && page()->take_key(key, press)) return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

}  // namespace loom
