// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/export_dialog.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMetaObject>
#include <QProgressBar>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/document/scheduler.h"
#include "app/theme/theme.h"
#include "core/files/kept_picture.h"
#include "core/files/map_files.h"
#include "core/files/picture.h"
#include "core/render/render.h"

namespace loom {

namespace {

QString title_of(PictureFormat format) {
    switch (format) {
        case PictureFormat::png: return ExportDialog::tr("PNG, 8 bit");
        case PictureFormat::png16: return ExportDialog::tr("PNG, 16 bit");
        case PictureFormat::tiff: return ExportDialog::tr("TIFF, 16 bit");
        case PictureFormat::exr: return ExportDialog::tr("EXR, half float, linear");
        case PictureFormat::jpg: return ExportDialog::tr("JPEG");
        case PictureFormat::webp: return ExportDialog::tr("WebP");
    }
    return {};
}

}  // namespace

ExportDialog::ExportDialog(Recipe recipe, const QString& folder, QWidget* parent)
    : QDialog(parent), recipe_(std::move(recipe)), client_(scheduler(), "export") {
    setWindowTitle(tr("Export picture"));
    setMinimumWidth(480);
    size_ = new QSpinBox(this);
    size_->setRange(16, greatest_picture);
    size_->setValue(std::max(recipe_.tile.width, recipe_.tile.height));
    size_->setSuffix(" px");
    size_->setToolTip(tr("Pixels of the longer side; every length in the recipe grows with it"));
    format_ = new QComboBox(this);
    for (PictureFormat format : all_picture_formats) format_->addItem(title_of(format), static_cast<int>(format));
    path_ = new QLineEdit(folder + "/" + QString::fromStdString(picture_name(recipe_.name, "colour", PictureFormat::png)), this);
    browse_ = new QPushButton(tr("Choose"), this);
    auto* where = new QHBoxLayout;
    where->addWidget(path_, 1);
    where->addWidget(browse_);
    estimate_ = new QLabel(this);
    estimate_->setForegroundRole(QPalette::PlaceholderText);
    message_ = new QLabel(this);
    message_->setWordWrap(true);
    progress_ = new QProgressBar(this);
    progress_->setRange(0, 100);
    progress_->setTextVisible(false);
    progress_->setFixedHeight(6);
    progress_->hide();
    export_ = new QPushButton(tr("Export"), this);
    export_->setDefault(true);
    close_ = new QPushButton(tr("Close"), this);
    auto* form = new QFormLayout;
    form->addRow(tr("&Size"), size_);
    form->addRow(tr("&Format"), format_);
    // A line of several parts has no name by itself.
    auto* file = new QLabel(tr("F&ile"), this);
    file->setBuddy(path_);
    form->addRow(file, where);
    form->addRow(QString(), estimate_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(message_, 1);
    buttons->addWidget(close_);
    buttons->addWidget(export_);
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(12);
    layout->addLayout(form);
    layout->addWidget(progress_);
    layout->addLayout(buttons);
    connect(browse_, &QPushButton::clicked, this, &ExportDialog::browse);
    connect(export_, &QPushButton::clicked, this, &ExportDialog::begin);
    connect(close_, &QPushButton::clicked, this, &ExportDialog::reject);
    connect(format_, &QComboBox::currentIndexChanged, this, &ExportDialog::follow_format);
    connect(size_, &QSpinBox::valueChanged, this, &ExportDialog::estimate);
    estimate();
}

void ExportDialog::follow_format() {
    const QFileInfo info(path_->text());
    const auto format = static_cast<PictureFormat>(format_->currentData().toInt());
    const std::string_view extension = extension_of(format);
    path_->setText(info.path() + "/" + info.completeBaseName() + "." +
                   QString::fromUtf8(extension.data(), static_cast<int>(extension.size())));
}

void ExportDialog::estimate() {
    const Size size = size_for(recipe_.tile, size_->value());
    const std::size_t bytes = announced_bytes(make_plan(recipe_, size, {Wanted{}}, &picture_reader()), {});
    estimate_->setText(tr("%1 × %2 pixels, about %3 MiB of memory").arg(size.width).arg(size.height).arg((bytes >> 20) + 1));
}

void ExportDialog::browse() {
    auto* dialog = new QFileDialog(this, tr("Export picture"), QFileInfo(path_->text()).path());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setOption(QFileDialog::DontConfirmOverwrite, false);
    dialog->selectFile(path_->text());
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& path) { path_->setText(path); });
    dialog->open();
}

void ExportDialog::set_running(bool running) {
    for (QWidget* widget : std::initializer_list<QWidget*>{path_, size_, format_, browse_, export_}) widget->setEnabled(!running);
    close_->setText(running ? tr("Cancel") : tr("Close"));
    progress_->setVisible(running);
    progress_->setValue(0);
    if (running) message_->clear();
}

void ExportDialog::begin() {
    set_running(true);
    const QString path = path_->text();
    const MapFile file{Map::colour, path.toStdString(), static_cast<PictureFormat>(format_->currentData().toInt())};
    Client::Request request;
    request.urgency = Urgency::files, request.slot = "export";
    request.progress = [this](double share) {
        QMetaObject::invokeMethod(this, [this, share] { progress_->setValue(static_cast<int>(share * 95)); });
    };
    request.run = [this, path, file, recipe = recipe_, size = size_for(recipe_.tile, size_->value())](const Surface& surface) {
        RenderOptions options = surface.options;
        // What is written once is not kept.
        options.cache = nullptr;
        const Lease lease = surface.room(
            [&](const RenderOptions& of) { return announced_bytes(make_plan(recipe, size, {Wanted{}}, of.pictures), of); },
            options);
        const auto written = write_maps(recipe, size, {file}, options, surface.job);
        QStringList warnings;
        if (written)
            for (const std::string& warning : written->rendering.warnings) warnings << QString::fromStdString(warning);
        const Result<Done> result = written ? Result<Done>(Done{}) : Result<Done>(written.error());
        // A dialog that gave up the work still wants to hear that it has ended.
        surface.answer(
            [&] { QMetaObject::invokeMethod(this, [this, path, result, warnings] { finish(path, result, warnings); }); }, true);
    };
    client_.submit(std::move(request));
}

void ExportDialog::finish(const QString& path, const Result<Done>& result, const QStringList& warnings) {
    set_running(false);
    QPalette palette = message_->palette();
    palette.setColor(QPalette::WindowText, result && warnings.isEmpty() ? theme::colours().good : theme::colours().warn);
    message_->setPalette(palette);
    if (result) {
        QString text = tr("Written: %1").arg(QFileInfo(path).fileName());
        for (const QString& warning : warnings) text += "\n" + warning;
        message_->setText(text);
        emit written(path);
    } else {
        message_->setText(result.error().fault == Fault::cancelled ? tr("Cancelled; nothing was written.")
                                                                   : QString::fromStdString(result.error().message));
    }
}

void ExportDialog::reject() {
    // While it works, the button and Escape give up the work and leave the dialog open.
    if (progress_->isVisible())
        client_.cancel_all();
    else
        QDialog::reject();
}

}  // namespace loom
