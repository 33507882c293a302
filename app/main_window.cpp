// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QMessageBox>
#include <QPainter>
#include <QSettings>
#include <QStackedWidget>
#include <QStatusBar>
#include <QTextEdit>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/document/recent_files.h"
#include "app/export/export_dialog.h"
#include "app/loom/cloth_view.h"
#include "app/loom/loom_view.h"
#include "app/loom/strands_view.h"
#include "app/samples/samples_view.h"
#include "app/theme/theme.h"
#include "core/catalogue/description.h"
#include "core/files/picture.h"

namespace loom {

namespace {

/// A tab of the header: underlined while its view is on show.
class Tab : public QToolButton {
public:
    using QToolButton::QToolButton;

protected:
    void paintEvent(QPaintEvent*) override {
        const theme::Colours& c = theme::colours();
        QPainter painter(this);
        painter.setFont(isChecked() ? theme::strong_font(13) : [] { QFont f = theme::text_font(); f.setPixelSize(13); return f; }());
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

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent), session_(new Session(this)), service_(new RenderService(this)) {
    setWindowTitle("Keen Loom");
    resize(1280, 800);
    session_->start_new(fresh_recipe());
    pages_ = new QStackedWidget(this);
    samples_ = new SamplesView(samples_folder(), this);
    loom_ = new LoomView(*session_, *service_, this);
    pages_->addWidget(samples_);
    pages_->addWidget(loom_);
    auto* central = new QWidget(this);
    auto* layout = new QVBoxLayout(central);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(build_header());
    layout->addWidget(pages_, 1);
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
    connect(session_, &Session::recipe_changed, this, &MainWindow::refresh);
    connect(session_, &Session::selection_changed, this, &MainWindow::refresh);
    connect(session_, &Session::file_changed, this, &MainWindow::refresh);
    connect(&session_->undo_stack(), &QUndoStack::indexChanged, this, &MainWindow::refresh);
    connect(session_, &Session::refused, this, &MainWindow::show_message);
    connect(service_, &RenderService::failed, this, &MainWindow::show_message);
    connect(service_, &RenderService::cloth_ready, this, [this](const ClothPicture& picture) {
        // What went wrong is over once a full cloth arrives.
        if (!picture.draft && !picture.before && statusBar()->isVisible() && message_->property("render").toBool()) statusBar()->hide();
    });
    connect(service_, &RenderService::failed, message_, [this] { message_->setProperty("render", true); });
    for (const QString& failure : samples_->failures()) show_message(failure);
    refresh_recent();
    refresh();
    show_view(View::samples);
}

MainWindow::~MainWindow() { qApp->removeEventFilter(this); }

QWidget* MainWindow::build_header() {
    auto* header = new QWidget(this);
    header->setFixedHeight(40);
    header->setObjectName("header");
    name_ = new QLabel(header);
    name_->setFont(theme::strong_font(14));
    tile_ = new QLabel(header);
    tile_->setFont(theme::small_font());
    tile_->setForegroundRole(QPalette::PlaceholderText);
    auto tab = [&](const QString& text, View view) {
        auto* made = new Tab(header);
        made->setText(text);
        made->setCheckable(true);
        made->setFixedSize(84, 40);
        made->setFocusPolicy(Qt::StrongFocus);
        connect(made, &QToolButton::clicked, this, [this, view] { show_view(view); });
        return made;
    };
    samples_tab_ = tab(tr("Samples"), View::samples);
    loom_tab_ = tab(tr("Loom"), View::loom);
    auto plain = [&](const QString& text) {
        auto* made = new QToolButton(header);
        made->setText(text);
        made->setFocusPolicy(Qt::StrongFocus);
        return made;
    };
    undo_ = plain(tr("Undo"));
    redo_ = plain(tr("Redo"));
    colourway_ = new QComboBox(header);
    colourway_->setAccessibleName(tr("Colourway"));
    colourway_->setToolTip(tr("Lays another set of values over the recipe"));
    colourway_->setMinimumWidth(150);
    connect(colourway_, &QComboBox::activated, this, [this] {
        const std::string chosen = colourway_->currentData().toString().toStdString();
        if (!chosen.empty()) session_->apply(with_colourway(session_->recipe(), chosen), tr("Colourway %1").arg(colourway_->currentText()));
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
    right_line->addWidget(undo_);
    right_line->addWidget(redo_);
    right_line->addSpacing(6);
    right_line->addWidget(colourway_);
    auto* line = new QHBoxLayout(header);
    line->setContentsMargins(16, 0, 14, 0);
    line->setSpacing(0);
    // Equal sides keep the tabs in the middle whatever the recipe is called.
    line->addWidget(left, 1);
    line->addWidget(samples_tab_);
    line->addWidget(loom_tab_);
    line->addWidget(right, 1);
    left->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    right->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    header->setStyleSheet(QString("#header { border-bottom: 1px solid %1; }").arg(theme::colours().line.name()));
    return header;
}

QAction* MainWindow::add(QMenu* menu, const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> work, std::function<bool()> enabled) {
    QAction* made = menu->addAction(text);
    made->setObjectName(id);
    if (!keys.isEmpty()) made->setShortcut(keys);
    connect(made, &QAction::triggered, this, [work = std::move(work)] { work(); });
    commands_.push_back({id, made, std::move(enabled)});
    return made;
}

void MainWindow::build_menus() {
    auto loom_shown = [this] { return view() == View::loom; };
    auto has_step = [this, loom_shown] { return loom_shown() && session_->selected_step(); };
    auto has_strand = [this, loom_shown] { return loom_shown() && session_->selected_strand(); };

    QMenu* file = menuBar()->addMenu(tr("&File"));
    add(file, "new", tr("&New"), QKeySequence::New, [this] {
        after_unsaved([this] {
            session_->start_new(fresh_recipe());
            show_view(View::loom);
        });
    });
    add(file, "open", tr("&Open…"), QKeySequence::Open, [this] { after_unsaved([this] { ask_open(); }); });
    recent_menu_ = file->addMenu(tr("Open &recent"));
    file->addSeparator();
    add(file, "save", tr("&Save"), QKeySequence::Save, [this] { save(); });
    add(file, "save-as", tr("Save &as…"), QKeySequence("Ctrl+Shift+S"), [this] { ask_save_as(); });
    file->addSeparator();
    add(file, "export", tr("&Export picture…"), QKeySequence("Ctrl+E"), [this] {
        const QString folder = session_->path().isEmpty() ? QDir::homePath() : QFileInfo(session_->path()).absolutePath();
        auto* dialog = new ExportDialog(session_->recipe(), folder, this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    });
    file->addSeparator();
    add(file, "quit", tr("&Quit"), QKeySequence::Quit, [this] { close(); });

    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = add(edit, "undo", tr("Undo"), QKeySequence::Undo, [this] { session_->undo_stack().undo(); }, [this] { return session_->undo_stack().canUndo(); });
    QAction* redo = add(edit, "redo", tr("Redo"), QKeySequence::Redo, [this] { session_->undo_stack().redo(); }, [this] { return session_->undo_stack().canRedo(); });
    connect(undo_, &QToolButton::clicked, undo, &QAction::trigger);
    connect(redo_, &QToolButton::clicked, redo, &QAction::trigger);
    edit->addSeparator();
    add(edit, "duplicate", tr("&Duplicate"), QKeySequence("Ctrl+D"), [this] { loom_->duplicate_selected(); }, has_strand);
    add(edit, "remove", tr("&Remove"), QKeySequence(Qt::Key_Delete), [this] { loom_->remove_selected(); }, has_strand);
    add(edit, "rename", tr("Re&name…"), QKeySequence(Qt::Key_F2), [this] { loom_->rename_selected(); }, loom_shown);
    edit->addSeparator();
    add(edit, "keep-colourway", tr("&Keep as colourway…"), QKeySequence("Ctrl+K"), [this] {
        auto* dialog = new QInputDialog(this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setWindowTitle(tr("Keep as colourway"));
        dialog->setLabelText(tr("Name"));
        connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString& name) {
            if (name.trimmed().isEmpty()) return;
            // Every colour and gradient of the recipe belongs to a colourway.
            std::vector<Address> colours;
            for (const StrandRef& strand : session_->recipe().strands)
                for (ChainKind chain : all_chains)
                    for (const Step& step : strand->chain(chain))
                        if (const StepDescription* description = find_step(step.kind))
                            for (const Parameter& p : description->parameters)
                                if (p.kind == Kind::colour || p.kind == Kind::stops) colours.push_back({strand->id, step.id, std::string(p.id)});
            session_->apply(colourway_kept(session_->recipe(), name.trimmed().toStdString(), colours), tr("Keep colourway %1").arg(name.trimmed()));
        });
        dialog->open();
    });

    QMenu* strand = menuBar()->addMenu(tr("S&trand"));
    add(strand, "add-strand", tr("&Add strand"), QKeySequence("Ctrl+Shift+A"), [this] { loom_->add_strand(); }, loom_shown);
    add(strand, "select-strand", tr("Select the &strand"), QKeySequence("Ctrl+Up"), [this] { session_->select({session_->selection().strand, ""}); }, has_step);
    add(strand, "select-cloth", tr("Select the &recipe and its dials"), QKeySequence("Ctrl+R"), [this] { session_->select({}); }, has_strand);

    step_menu_ = menuBar()->addMenu(tr("Ste&p"));
    add(step_menu_, "add-step", tr("&Add step…"), QKeySequence("+"), [this] { loom_->add_step(); }, loom_shown);
    add(step_menu_, "bypass", tr("&Bypass or switch"), QKeySequence("Ctrl+B"), [this] { loom_->bypass_selected(); }, has_strand);
    step_menu_->addSeparator();
    add(step_menu_, "move-up", tr("Move &up"), QKeySequence("Alt+Up"), [this] { loom_->move_selected(-1, 0); }, has_step);
    add(step_menu_, "move-down", tr("Move &down"), QKeySequence("Alt+Down"), [this] { loom_->move_selected(1, 0); }, has_step);
    add(step_menu_, "move-left", tr("Move &left"), QKeySequence("Alt+Left"), [this] { loom_->move_selected(0, -1); }, has_strand);
    add(step_menu_, "move-right", tr("Move &right"), QKeySequence("Alt+Right"), [this] { loom_->move_selected(0, 1); }, has_strand);
    step_menu_->addSeparator();
    for (const char* id : {"rename", "duplicate", "remove"}) step_menu_->addAction(action(id));
    loom_->strands()->set_card_menu(step_menu_);

    QMenu* look = menuBar()->addMenu(tr("&View"));
    add(look, "view-samples", tr("&Samples"), QKeySequence("Ctrl+1"), [this] { show_view(View::samples); });
    add(look, "view-loom", tr("&Loom"), QKeySequence("Ctrl+2"), [this] { show_view(View::loom); });
    look->addSeparator();
    add(look, "repeat", tr("&Repeat or tile"), QKeySequence("Ctrl+T"), [this] { loom_->cloth()->set_repeat(loom_->cloth()->canvas()->repeat() == 1); }, loom_shown);
    add(look, "zoom-fit", tr("&Fit"), QKeySequence("Ctrl+0"), [this] { loom_->cloth()->canvas()->set_zoom(0); }, loom_shown);
    add(look, "zoom-one", tr("&One to one"), QKeySequence("Ctrl+9"), [this] { loom_->cloth()->canvas()->set_zoom(1); }, loom_shown);
    look->addSeparator();
    QAction* dark = add(look, "dark", tr("&Dark window"), {}, [this] {
        theme::apply(*qApp, theme::scheme() == theme::Scheme::light ? theme::Scheme::dark : theme::Scheme::light);
        QSettings().setValue("dark", theme::scheme() == theme::Scheme::dark);
        // Everything painted by hand follows on the next paint; forms and columns are built anew.
        emit session_->recipe_changed();
        emit session_->selection_changed();
        update();
    });
    dark->setCheckable(true);
    dark->setChecked(theme::scheme() == theme::Scheme::dark);

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    add(help, "about", tr("&About Keen Loom"), {}, [this] {
        auto* box = new QMessageBox(QMessageBox::NoIcon, tr("About Keen Loom"),
                                    tr("<b>Keen Loom %1</b><p>Seamless textures from noise, editable to the end.</p><p>Apache License 2.0</p>").arg(KEEN_LOOM_VERSION), QMessageBox::Close, this);
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->open();
    });
}

QAction* MainWindow::action(const QString& id) const {
    for (const Command& command : commands_)
        if (command.id == id) return command.action;
    return nullptr;
}

MainWindow::View MainWindow::view() const { return pages_->currentWidget() == samples_ ? View::samples : View::loom; }

void MainWindow::show_view(View view) {
    pages_->setCurrentWidget(view == View::samples ? static_cast<QWidget*>(samples_) : loom_);
    refresh();
}

void MainWindow::refresh() {
    const Recipe& recipe = session_->recipe();
    const bool samples = view() == View::samples;
    samples_tab_->setChecked(samples);
    loom_tab_->setChecked(!samples);
    name_->setText(samples ? tr("Ostrel Halt") : QString::fromStdString(recipe.name) + (session_->modified() ? QString::fromUtf8(" •") : QString()));
    const QString size = QString::fromUtf8("%1 × %2").arg(recipe.tile.width).arg(recipe.tile.height);
    const auto count = samples_->swatches().size();
    tile_->setText(samples ? (count == 1 ? tr("1 sample") : tr("%1 samples").arg(count))
                           : recipe.tile.wide_cm ? size + QString::fromUtf8(" · %1 cm").arg(*recipe.tile.wide_cm, 0, 'g', 4) : size);
    setWindowTitle(QString::fromStdString(recipe.name) + (session_->modified() ? " *" : "") + " - Keen Loom");
    for (const Command& command : commands_)
        if (command.enabled) command.action->setEnabled(command.enabled());
    undo_->setEnabled(session_->undo_stack().canUndo());
    redo_->setEnabled(session_->undo_stack().canRedo());
    action("undo")->setText(session_->undo_stack().canUndo() ? tr("&Undo: %1").arg(session_->undo_stack().undoText()) : tr("&Undo"));
    action("redo")->setText(session_->undo_stack().canRedo() ? tr("Re&do: %1").arg(session_->undo_stack().redoText()) : tr("Re&do"));
    for (QWidget* widget : std::initializer_list<QWidget*>{undo_, redo_}) widget->setVisible(!samples);
    colourway_->setVisible(!samples && !recipe.colourways.empty());
    const QString present = QString::fromStdString(present_colourway(recipe));
    colourway_->clear();
    if (present.isEmpty()) colourway_->addItem(tr("Colourway: own"), QString());
    for (const Colourway& each : recipe.colourways) colourway_->addItem(tr("Colourway: %1").arg(QString::fromStdString(each.name)), QString::fromStdString(each.name));
    colourway_->setCurrentIndex(std::max(0, colourway_->findData(present)));
}

void MainWindow::show_message(const QString& text) {
    message_->setProperty("render", false);
    message_->setText(text);
    message_->setToolTip(text);
    QPalette palette = message_->palette();
    palette.setColor(QPalette::WindowText, theme::colours().warn);
    message_->setPalette(palette);
    message_->setContentsMargins(12, 0, 12, 0);
    statusBar()->show();
}

QString MainWindow::message() const { return statusBar()->isHidden() ? QString() : message_->text(); }

void MainWindow::refresh_recent() {
    const QStringList paths = RecentFiles().paths();
    recent_menu_->clear();
    for (const QString& path : paths) connect(recent_menu_->addAction(QFileInfo(path).fileName()), &QAction::triggered, this, [this, path] { open(path); });
    recent_menu_->setEnabled(!paths.isEmpty());
    samples_->set_recent(paths);
}

void MainWindow::after_unsaved(std::function<void()> work) {
    if (!session_->modified()) return work();
    auto* box = new QMessageBox(QMessageBox::NoIcon, tr("Unsaved changes"), tr("'%1' has changes that are not saved.").arg(QString::fromStdString(session_->recipe().name)),
                                QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    box->setObjectName("unsaved");
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setDefaultButton(QMessageBox::Save);
    connect(box, &QMessageBox::buttonClicked, this, [this, box, work](QAbstractButton* clicked) {
        const auto answer = box->standardButton(clicked);
        if (answer == QMessageBox::Discard) work();
        else if (answer == QMessageBox::Save) save(work);
    });
    box->open();
}

void MainWindow::load(const QString& path, bool as_sample) {
    const auto done = session_->load(path);
    if (!done) {
        show_message(QString::fromStdString(done.error().message));
        return;
    }
    statusBar()->hide();
    if (as_sample) {
        session_->start_new(Recipe(session_->recipe()));
    } else {
        RecentFiles().add(path);
        refresh_recent();
    }
    show_view(View::loom);
    loom_->strands()->focus_selected();
}

void MainWindow::open(const QString& path) {
    after_unsaved([this, path] { load(path, false); });
}

void MainWindow::open_sample(const QString& path) {
    after_unsaved([this, path] { load(path, true); });
}

void MainWindow::ask_open() {
    auto* dialog = new QFileDialog(this, tr("Open recipe"), QFileInfo(session_->path()).absolutePath(), tr("Recipes (*.loom);;All files (*)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& path) { load(path, false); });
    dialog->open();
}

void MainWindow::ask_save_as(std::function<void()> then) {
    const QString folder = session_->path().isEmpty() ? QDir::homePath() : QFileInfo(session_->path()).absolutePath();
    auto* dialog = new QFileDialog(this, tr("Save recipe"), folder, tr("Recipes (*.loom)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix("loom");
    dialog->selectFile(QString::fromStdString(session_->recipe().name) + ".loom");
    connect(dialog, &QFileDialog::fileSelected, this, [this, then = std::move(then)](const QString& path) {
        if (save_to(path) && then) then();
    });
    dialog->open();
}

void MainWindow::save(std::function<void()> then) {
    if (session_->path().isEmpty()) return ask_save_as(std::move(then));
    if (save_to(session_->path()) && then) then();
}

bool MainWindow::save_to(const QString& path) {
    // The picture on show is the preview; a recipe is saved even when there is none.
    std::string preview;
    if (const QImage image = loom_->cloth()->canvas()->image(); !image.isNull())
        if (auto encoded = encode_preview(from_image(image), 256)) preview = std::move(*encoded);
    const auto done = session_->save(path, std::move(preview));
    if (!done) {
        show_message(QString::fromStdString(done.error().message));
        return false;
    }
    statusBar()->hide();
    RecentFiles().add(path);
    refresh_recent();
    return true;
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (closing_ || !session_->modified()) return event->accept();
    event->ignore();
    after_unsaved([this] {
        closing_ = true;
        close();
    });
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    const bool press = event->type() == QEvent::KeyPress, release = event->type() == QEvent::KeyRelease;
    if ((press || release) && view() == View::loom && isActiveWindow()) {
        auto* key = static_cast<QKeyEvent*>(event);
        auto* focus = QApplication::focusWidget();
        const bool typing = focus && (qobject_cast<QLineEdit*>(focus) || qobject_cast<QAbstractSpinBox*>(focus) || qobject_cast<QTextEdit*>(focus));
        if (key->key() == Qt::Key_C && key->modifiers() == Qt::NoModifier && !typing && watched == (focus ? static_cast<QObject*>(focus) : this)) {
            if (!key->isAutoRepeat()) loom_->set_before(press);
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

}  // namespace loom
