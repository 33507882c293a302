// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QWidget>
#include <vector>

namespace loom {

/// The files of an export, one below the other: name, size and how far each is.
class WrittenList : public QWidget {
    Q_OBJECT
public:
    explicit WrittenList(QWidget* parent = nullptr);
    struct File {
        QString name, size;
        double share = 0;  ///< 0..1; 1 and more: done
    };
    void show_files(std::vector<File> files);
    const std::vector<File>& files() const { return files_; }
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<File> files_;
};

}  // namespace loom
