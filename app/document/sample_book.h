// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The recipes of the sample book, read once beside the interface.
#pragma once

#include <QObject>
#include <QStringList>
#include <vector>

#include "app/document/background.h"
#include "core/recipe/recipe.h"

namespace loom {

struct Sample {
    QString path;
    Recipe recipe;
    QString material;  ///< the heading it stands under
};

class SampleBook : public QObject {
    Q_OBJECT
public:
    /// Begins to read every recipe in `folder`; one that cannot be read is left out, and told by failed().
    explicit SampleBook(const QString& folder, QObject* parent = nullptr);

    /// In the order of the book's contents (book.json), others by their files after them; empty until was_read().
    const std::vector<Sample>& samples() const { return samples_; }
    bool reading() const { return reading_.under_way(); }
    /// Name of the recipe in a file of the book; the file's own name elsewhere.
    QString name_of(const QString& path) const;

signals:
    void was_read();
    void failed(const QString& message);

private:
    std::vector<Sample> samples_;
    Task reading_;
    Background files_;
};

/// Where the samples are: beside the program when it is built, in share/ when it is installed; "" if nowhere.
QString samples_folder();

}  // namespace loom
