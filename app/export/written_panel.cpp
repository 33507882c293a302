// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/export/written_panel.h"

#include <QDesktopServices>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPushButton>
#include <QScrollArea>
#include <QUrl>
#include <QVBoxLayout>

#include "app/export/written_list.h"
#include "app/theme/theme.h"

namespace loom {

QString bytes_text(double bytes) {
    return QLocale(QLocale::English)
        .formattedDataSize(static_cast<qint64>(bytes), bytes < 1e9 ? 0 : 1, QLocale::DataSizeSIFormat);
}

QString seconds_text(double seconds) {
    if (seconds < 1) return WrittenPanel::tr("less than a second");
    if (seconds < 90) return WrittenPanel::tr("%1 s").arg(seconds, 0, 'f', 0);
    return WrittenPanel::tr("%1 min").arg(seconds / 60, 0, 'f', 0);
}

WrittenPanel::WrittenPanel(ExportWork& work, QWidget* parent) : QWidget(parent), work_(work) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    message_ = new QLabel(this);
    message_->setWordWrap(true);
    layout->addWidget(message_);
    list_ = new WrittenList(this);
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(list_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(scroll, 1);
    auto* foot = new QHBoxLayout;
    left_time_ = new QLabel(this);
    left_time_->setFont(theme::small_font());
    left_time_->setForegroundRole(QPalette::PlaceholderText);
    stop_ = new QPushButton(tr("Stop"), this);
    open_ = new QPushButton(tr("Open the folder"), this);
    foot->addWidget(left_time_, 1);
    foot->addWidget(stop_);
    foot->addWidget(open_);
    layout->addLayout(foot);
    connect(stop_, &QPushButton::clicked, &work_, &ExportWork::stop);
    connect(open_, &QPushButton::clicked, this, [this] { QDesktopServices::openUrl(QUrl::fromLocalFile(folder_)); });
    connect(&work_, &ExportWork::progress, this, &WrittenPanel::show_progress);
    connect(&work_, &ExportWork::found, this, [this] {
        set_running(false);
        left_time_->clear();
        list_->show_files({});
        emit ended();
    });
    connect(&work_, &ExportWork::ended, this, &WrittenPanel::show_end);
    set_running(false);
    open_->hide();
    show_message({}, true);
}

void WrittenPanel::write(std::vector<ExportRun> runs, std::vector<double> expected, double seconds, const QString& folder,
                         const QStringList& own) {
    runs_ = std::move(runs), expected_ = std::move(expected), expected_s_ = seconds, folder_ = folder;
    show_message({}, true);
    since_.start();
    work_.write(runs_, own);
    set_running(true);
    show_progress({});
}

void WrittenPanel::show_progress(const std::vector<double>& shares) {
    std::vector<WrittenList::File> files;
    double done = 0, all = 0;
    for (const ExportRun& run : runs_)
        for (const std::string& path : run.paths()) {
            WrittenList::File file;
            const std::size_t k = files.size();
            file.name = QFileInfo(QString::fromStdString(path)).fileName();
            file.share = k < shares.size() ? shares[k] : 0;
            if (k < expected_.size()) file.size = bytes_text(expected_[k]);
            const auto weight = static_cast<double>(run.size.pixels());
            done += weight * file.share, all += weight;
            files.push_back(std::move(file));
        }
    list_->show_files(std::move(files));
    const double share = all > 0 ? done / all : 0, spent = static_cast<double>(since_.elapsed()) / 1000;
    // Until something is written, what was expected counts.
    const double left = share > 0.02 ? spent * (1 - share) / share : std::max(0.0, expected_s_ - spent);
    left_time_->setText(work_.writing() && left > 0 ? tr("%1 left").arg(seconds_text(left)) : QString());
}

void WrittenPanel::show_end(const std::vector<ExportedFile>& files, const QStringList& warnings, const Ended& how) {
    set_running(false);
    left_time_->clear();
    std::vector<WrittenList::File> shown;
    for (const ExportedFile& file : files)
        shown.push_back(
            {QFileInfo(QString::fromStdString(file.path)).fileName(), bytes_text(static_cast<double>(file.bytes)), 1});
    list_->show_files(std::move(shown));
    open_->setVisible(!files.empty());
    const QString seconds = seconds_text(static_cast<double>(since_.elapsed()) / 1000);
    QString text =
        files.size() == 1 ? tr("Written: one file, %1").arg(seconds) : tr("Written: %1 files, %2").arg(files.size()).arg(seconds);
    if (how.stopped()) text = tr("Stopped; nothing was written.");
    if (how.failed()) text = QString::fromStdString(how.error.message);
    for (const QString& warning : warnings) text += "\n" + warning;
    emit ended();
    show_message(text, how.outcome == Outcome::done && warnings.isEmpty());
}

void WrittenPanel::set_running(bool running) {
    stop_->setVisible(running);
    if (running) open_->hide();
    if (running) stop_->setFocus();
}

void WrittenPanel::show_message(const QString& text, bool well) {
    QPalette palette = message_->palette();
    palette.setColor(QPalette::WindowText, well ? theme::colours().good : theme::colours().warn);
    message_->setPalette(palette);
    message_->setText(text);
    message_->setVisible(!text.isEmpty());
}

QString WrittenPanel::message() const { return message_->text(); }

}  // namespace loom
