// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/export_view.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDir>
#include <QFileInfo>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QStorageInfo>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/document/preferences.h"
#include "app/export/map_card.h"
#include "app/export/pack_row.h"
#include "app/export/written_panel.h"
#include "app/theme/theme.h"
#include "app/widgets/name_dialog.h"
#include "app/widgets/text.h"
#include "core/base/memory.h"
#include "core/files/export_command.h"
#include "core/files/kept_picture.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

/// Where pictures are put the first time.
QString usual_folder(const Session& session) {
    if (const QString& own = preferences().export_folder; !own.isEmpty()) return own;
    return session.path().isEmpty() ? QDir::homePath() : QFileInfo(session.path()).absolutePath();
}

/// What somebody most likely wants: the colour, and whatever the strands feed.
ExportPreset first_preset(const Recipe& recipe) {
    ExportPreset preset;
    preset.pictures.push_back({Map::colour, "", {}, PictureFormat::png});
    bool height = false;
    for (const MapInfo& info : map_table)
        for (const StrandRef& strand : recipe.strands)
            if (info.routed && strand->routes.contains(info.map)) {
                preset.pictures.push_back(
                    {info.map, "", {}, info.map == Map::height ? PictureFormat::png16 : PictureFormat::png});
                height = height || info.map == Map::height;
                break;
            }
    if (height) preset.pictures.push_back({Map::normal, "", {}, PictureFormat::png});
    return preset;
}

}  // namespace

ExportView::ExportView(Session& session, QWidget* parent) : Page(parent), session_(session) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(build_left(), 7);
    layout->addWidget(build_right(), 3);
    later_.setSingleShot(true);
    later_.setInterval(250);
    connect(&later_, &QTimer::timeout, this, [this] {
        if (!runs_.empty() && isVisible() && !writing()) work_.estimate(runs_);
    });
    connect(write_, &QPushButton::clicked, this, &ExportView::write);
    connect(copy_, &QPushButton::clicked, this, [this] { QGuiApplication::clipboard()->setText(command_->toPlainText()); });
    connect(keep_, &QToolButton::clicked, this, &ExportView::keep);
    connect(forget_, &QToolButton::clicked, this, [this] {
        const std::string name = presets_->currentData().toString().toStdString();
        if (!name.empty()) session_.apply(export_removed(session_.recipe(), name), tr("Remove preset"));
    });
    connect(presets_, &QComboBox::activated, this, [this] {
        const std::string name = presets_->currentData().toString().toStdString();
        for (const ExportPreset& each : session_.recipe().exports)
            if (each.name == name) set_preset(each);
    });
    connect(&session_, &Session::recipe_changed, this, &ExportView::follow_recipe);
    connect(&session_, &Session::file_changed, this, &ExportView::follow_recipe);
    connect(&pictures_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        cards_[static_cast<std::size_t>(index)]->show_picture(image);
        if (missing_ > 0) --missing_;
    });
    connect(&work_, &ExportWork::found, this, &ExportView::ask_before_replacing);
    connect(&work_, &ExportWork::planned, this, &ExportView::show_plan);
    connect(&work_, &ExportWork::estimated, this, &ExportView::show_estimate);
    connect(panel_, &WrittenPanel::ended, this, &ExportView::follow);
    connect(&work_, &ExportWork::ended, this,
            [this](const std::vector<ExportedFile>& files, const QStringList&, const Ended& how) {
                // What was written here may be written here again.
                for (const ExportedFile& file : files) own_files_ << QString::fromStdString(file.path);
                own_files_.removeDuplicates();
                emit writing_ended(how);
            });
    document_ = session_.document();
    folder_->setText(usual_folder(session_));
    set_preset(first_preset(session_.recipe()));
}

void ExportView::add_commands(Commands& commands, std::function<bool()> shown) {
    commands.add(
        Commands::Menu::file, "write-export", tr("&Write the export"), QKeySequence("Ctrl+Shift+E"), [this] { write(); },
        [this, shown] { return shown() && write_->isEnabled(); });
}

QVariantMap ExportView::state() const { return {{"folder", folder_->text()}}; }
void ExportView::set_state(const QVariantMap& state) {
    if (const QString folder = state.value("folder").toString(); !folder.isEmpty() && QDir(folder).exists())
        folder_->setText(folder);
}

void ExportView::showEvent(QShowEvent* event) {
    Page::showEvent(event);
    follow_recipe();
}

void ExportView::resizeEvent(QResizeEvent* event) {
    Page::resizeEvent(event);
    // The side takes three tenths; a card is still a card at 270.
    lay_cards(width() * 7 / 10 >= 3 * 286 ? 3 : 2);
}

QAbstractButton* ExportView::size_button(int size) const {
    const auto found =
        std::find_if(sizes_.begin(), sizes_.end(), [&](const QCheckBox* button) { return button->text().toInt() == size; });
    return found == sizes_.end() ? nullptr : *found;
}
QAbstractButton* ExportView::material_button(Material material) const { return materials_->button(static_cast<int>(material)); }

std::string ExportView::folder() const {
    const QString text = folder_->text().trimmed();
    return (text.isEmpty() ? QDir::homePath() : text).toStdString();
}

std::vector<int> ExportView::sizes() const {
    std::vector<int> sizes;
    for (const QCheckBox* button : sizes_)
        if (button->isChecked()) sizes.push_back(button->text().toInt());
    // What is no number makes no size, which is said when it is written.
    if (!own_size_->text().trimmed().isEmpty()) sizes.push_back(own_size_->text().trimmed().toInt());
    std::sort(sizes.begin(), sizes.end());
    sizes.erase(std::unique(sizes.begin(), sizes.end()), sizes.end());
    return sizes;
}

ExportPreset ExportView::preset() const {
    ExportPreset preset;
    preset.name = presets_->currentData().toString().toStdString();
    for (const MapCard* card : cards_)
        if (const auto picture = card->picture()) preset.pictures.push_back(*picture);
    for (const PackRow* row : packs_) preset.pictures.push_back(row->picture());
    preset.sizes = sizes();
    preset.names = names_->text().trimmed().toStdString();
    preset.material = static_cast<Material>(std::max(0, materials_->checkedId()));
    preset.every_colourway = colourways_->isChecked();
    preset.green_down = green_->checkedId() == 1;
    return preset;
}

PackRow* ExportView::add_pack(const ExportPicture& picture) {
    auto* row = new PackRow(add_pack_->parentWidget());
    row->set_picture(picture);
    packs_.push_back(row);
    pack_rows_->addWidget(row);
    row->show();
    connect(row, &PackRow::changed, this, &ExportView::follow);
    connect(row, &PackRow::removed, this, [this, row] {
        std::erase(packs_, row);
        row->hide();
        row->deleteLater();
        add_pack_->setFocus();
        follow();
    });
    return row;
}

void ExportView::set_preset(const ExportPreset& preset) {
    setting_ = true;
    for (MapCard* card : cards_) {
        std::optional<ExportPicture> found;
        for (const ExportPicture& picture : preset.pictures)
            if (picture.pack.empty() && picture.map == card->map()) found = picture;
        card->set_picture(found);
    }
    for (PackRow* row : packs_) row->deleteLater();
    packs_.clear();
    for (const ExportPicture& picture : preset.pictures)
        if (!picture.pack.empty()) add_pack(picture);
    own_size_->clear();
    for (QCheckBox* button : sizes_) button->setChecked(false);
    std::vector<int> sizes = preset.sizes;
    if (sizes.empty()) sizes.push_back(std::max(session_.recipe().tile.width, session_.recipe().tile.height));
    for (int size : sizes) {
        if (QAbstractButton* button = size_button(size))
            button->setChecked(true);
        else
            own_size_->setText(QString::number(size));
    }
    names_->setText(QString::fromStdString(preset.names));
    materials_->button(static_cast<int>(preset.material))->setChecked(true);
    green_->button(preset.green_down ? 1 : 0)->setChecked(true);
    colourways_->setChecked(preset.every_colourway);
    setting_ = false;
    follow();
}

void ExportView::follow_recipe() {
    // What nobody looks at can wait: a plan is made for it.
    if (!isVisible()) return;
    const Recipe& recipe = session_.recipe();
    const QString present = presets_->currentData().toString();
    presets_->clear();
    presets_->addItem(recipe.exports.empty() ? tr("no preset kept") : tr("choose a preset"), QString());
    for (const ExportPreset& each : recipe.exports)
        if (each.foreign.empty()) presets_->addItem(QString::fromStdString(each.name), QString::fromStdString(each.name));
    presets_->setCurrentIndex(std::max(0, presets_->findData(present)));
    colourways_->setEnabled(!recipe.colourways.empty());
    if (document_ != session_.document()) {
        document_ = session_.document();
        if (!session_.path().isEmpty()) folder_->setText(usual_folder(session_));
        set_preset(recipe.exports.empty() || !recipe.exports.front().foreign.empty() ? first_preset(recipe)
                                                                                     : recipe.exports.front());
        if (!recipe.exports.empty())
            presets_->setCurrentIndex(std::max(0, presets_->findData(QString::fromStdString(recipe.exports.front().name))));
    }
    std::vector<TryOrder> orders;
    for (const MapInfo& info : map_table)
        orders.push_back({recipe, info.map == Map::colour ? Wanted{} : Wanted{Wanted::What::map, "", "", info.map}});
    missing_ = orders.size();
    ticket_ = pictures_.submit(std::move(orders));
    follow();
}

void ExportView::follow() {
    if (setting_) return;
    const Recipe& recipe = session_.recipe();
    const ExportPreset wanted = preset();
    names_->setPlaceholderText(QString::fromStdString(usual_pattern(wanted)));
    name_rule_->setText(!wanted.names.empty()     ? tr("{size} is each file's size")
                        : wanted.sizes.size() > 1 ? tr("several sizes: names say which")
                                                  : tr("one size: names leave it out"));
    forget_->setEnabled(!presets_->currentData().toString().isEmpty());
    auto runs = export_runs(recipe, wanted, folder());
    runs_ = runs ? *runs : std::vector<ExportRun>{};
    expected_.clear();
    std::size_t files = 0;
    for (const ExportRun& run : runs_) files += run.paths().size();
    if (runs) work_.plan(runs_);
    const bool can = runs && !writing();
    write_->setEnabled(can);
    write_->setText(files == 1 ? tr("Write one file") : tr("Write %1 files").arg(files));
    const QString unknown = QString::fromUtf8("…");
    memory_->setText(runs ? unknown : QString::fromUtf8("–"));
    disk_->setText(runs ? unknown : QString::fromUtf8("–"));
    time_->setText(runs ? unknown : QString::fromUtf8("–"));
    if (runs) {
        const Size size = runs_.back().size;
        head_->setText(tr("%1, %2").arg(files == 1 ? tr("One file") : tr("%1 files").arg(files),
                                        wanted.sizes.size() > 1 ? tr("%1 sizes").arg(wanted.sizes.size())
                                                                : QString::fromUtf8("%1 × %2").arg(size.width).arg(size.height)));
    } else {
        head_->setText(tr("Nothing to write yet"));
    }
    if (!writing()) panel_->show_message(runs ? QString() : QString::fromStdString(runs.error().message), false);
    // Names on the cards, as the first run has them.
    for (MapCard* card : cards_) card->show_file({}, {});
    name_shown_->clear();
    if (runs) {
        for (const MapFile& file : runs_.front().files) {
            const QString name = QString::fromStdString(file.path).mid(QString::fromStdString(folder()).size() + 1);
            if (name_shown_->text().isEmpty()) name_shown_->setText(name);
            if (file.picture.pack.empty() && !file.path.empty()) card(file.picture.map)->show_file(name, {});
        }
    }
    for (MapCard* each : cards_) {
        QString note = map_info(each->map()).data ? tr("data") : tr("sRGB");
        if (const auto picture = each->picture();
            picture && picture_format_info(picture->format).linear && !map_info(each->map()).data)
            note = tr("linear");
        if (each->map() == Map::height)
            if (const auto deep = recipe.tile.deep_cm()) note = tr("data · %1 cm deep").arg(*deep, 0, 'g', 2);
        if (points(each->map())) note = wanted.green_down ? tr("data · y down") : tr("data · y up");
        static const char* const names[] = {"red", "green", "blue", "alpha"};
        for (const PackRow* row : packs_) {
            const ExportPicture picture = row->picture();
            for (std::size_t k = 0; k < picture.channels.size(); ++k)
                if (map_of(picture.channels[k]) == each->map() && map_info(each->map()).channels == 1)
                    note = tr("packed: %1").arg(tr(names[k]));
        }
        each->show_note(note);
    }
    const QString path = session_.path().isEmpty() ? QString::fromStdString(file_word(recipe.name)) + ".loom" : session_.path();
    command_->setPlainText(runs ? QString::fromStdString(export_command(wanted, recipe, path.toStdString(), folder()))
                                : QString());
    later_.start();
}

void ExportView::show_plan(std::size_t bytes, const QString& error) {
    if (runs_.empty()) return;
    memory_->setText(error.isEmpty()
                         ? tr("%1 of %2")
                               .arg(bytes_text(static_cast<double>(bytes)),
                                    bytes_text(static_cast<double>(memory_for(Urgency::lengthy, Memory::process().limit()))))
                         : QString::fromUtf8("–"));
    if (error.isEmpty()) return;
    write_->setEnabled(false);
    if (!writing()) panel_->show_message(error, false);
}

void ExportView::show_estimate(double seconds, const std::vector<double>& bytes) {
    expected_ = bytes, expected_s_ = seconds;
    double all = 0;
    for (double each : bytes) all += each;
    const QStorageInfo disk(QFileInfo(folder_->text()).exists() ? folder_->text() : QDir::homePath());
    disk_->setText(tr("about %1 of %2 free").arg(bytes_text(all), bytes_text(static_cast<double>(disk.bytesAvailable()))));
    time_->setText(seconds < 1 ? seconds_text(seconds) : tr("about %1").arg(seconds_text(seconds)));
    std::size_t place = 0;
    if (!runs_.empty())
        for (const MapFile& file : runs_.front().files) {
            if (file.path.empty() || place >= bytes.size()) continue;
            const QString name = QString::fromStdString(file.path).mid(QString::fromStdString(folder()).size() + 1);
            if (file.picture.pack.empty()) card(file.picture.map)->show_file(name, bytes_text(bytes[place]));
            ++place;
        }
}

void ExportView::write() {
    if (writing() || runs_.empty()) return;
    panel_->write(runs_, expected_, expected_s_, folder_->text(), own_files_);
    write_->setEnabled(false);
}

void ExportView::ask_before_replacing(const QStringList& there) {
    const QString folder = QDir::toNativeSeparators(folder_->text());
    auto* box = new QMessageBox(QMessageBox::NoIcon, tr("Files are there already"),
                                there.size() == 1 ? tr("%1 is in %2 already.").arg(QFileInfo(there.front()).fileName(), folder)
                                                  : tr("%1 of these files are in %2 already, %3 among them.")
                                                        .arg(there.size())
                                                        .arg(folder, QFileInfo(there.front()).fileName()),
                                QMessageBox::NoButton, this);
    box->setObjectName("replacing");
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setTextFormat(Qt::PlainText);
    QPushButton* over = box->addButton(tr("&Replace them"), QMessageBox::DestructiveRole);
    QPushButton* names = box->addButton(tr("Write under &new names"), QMessageBox::AcceptRole);
    box->setEscapeButton(box->addButton(tr("S&tay here"), QMessageBox::RejectRole));
    box->setDefaultButton(names);
    connect(over, &QPushButton::clicked, this, [this, there] {
        own_files_ << there;
        write();
    });
    connect(names, &QPushButton::clicked, this, &ExportView::choose_new_names);
    box->open();
}

void ExportView::choose_new_names() {
    static const QRegularExpression counted("-\\d+$");
    const ExportPreset wanted = preset();
    QString pattern = wanted.names.empty() ? QString::fromStdString(usual_pattern(wanted)) : names_->text().trimmed();
    const auto number = counted.match(pattern);
    const int next = number.hasMatch() ? number.captured().mid(1).toInt() + 1 : 2;
    names_->setText(pattern.remove(counted) + QString("-%1").arg(next));
    // If that is taken too, it is asked for again.
    write();
}

QPushButton* ExportView::stop_button() const { return panel_->stop_button(); }
WrittenList* ExportView::written() const { return panel_->list(); }
QString ExportView::message() const { return panel_->message(); }
QString ExportView::command() const { return command_->toPlainText(); }

void ExportView::keep() {
    const QString present = presets_->currentData().toString();
    ask_name(this, tr("Keep as preset"), tr("Name of the preset"), present,
             [this](const QString& name) { keep_as(name.toStdString()); });
}

void ExportView::keep_as(const std::string& name) {
    ExportPreset kept = preset();
    kept.name = name;
    if (session_.apply(export_kept(session_.recipe(), kept), tr("Keep preset")))
        presets_->setCurrentIndex(std::max(0, presets_->findData(QString::fromStdString(name))));
    follow();
}

}  // namespace loom
