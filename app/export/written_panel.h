// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What is being written: each file with how far it is, the time left, a way to stop, and what came of it.
#pragma once

#include <QElapsedTimer>
#include <QWidget>

#include "app/export/export_work.h"

class QLabel;
class QPushButton;

namespace loom {

class WrittenList;

QString bytes_text(double bytes);
QString seconds_text(double seconds);

class WrittenPanel : public QWidget {
    Q_OBJECT
public:
    explicit WrittenPanel(ExportWork& work, QWidget* parent = nullptr);

    /// Starts writing. `expected`: bytes of each file and seconds of all, as far as they are known.
    /// `own`: files that may be replaced.
    void write(std::vector<ExportRun> runs, std::vector<double> expected, double seconds, const QString& folder,
               const QStringList& own);
    /// A line that says what came of it, or what is in the way.
    void show_message(const QString& text, bool well);
    QString message() const;
    QPushButton* stop_button() const { return stop_; }
    WrittenList* list() const { return list_; }

signals:
    /// It ended; the message is about to say how.
    void ended();

private:
    void set_running(bool running);
    void show_progress(const std::vector<double>& shares);
    void show_end(const std::vector<ExportedFile>& files, const QStringList& warnings, const Ended& how);

    ExportWork& work_;
    QElapsedTimer since_;
    QLabel *message_, *left_time_;
    QPushButton *stop_, *open_;
    WrittenList* list_;
    std::vector<ExportRun> runs_;
    std::vector<double> expected_;  // bytes, file by file
    double expected_s_ = 0;
    QString folder_;
};

}  // namespace loom
