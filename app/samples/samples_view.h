// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The sample book: finished recipes as swatches with pinked edges, recent files, and an empty start.
#pragma once

#include <QImage>
#include <vector>

#include "app/samples/swatch.h"
#include "app/pages/page.h"
#include "app/samples/kept_pictures.h"
#include "app/document/recipe_files.h"
#include "app/document/sample_book.h"

class QLineEdit;
class QVBoxLayout;

namespace loom {

class SamplesView : public Page {
    Q_OBJECT
public:
    /// Shows the samples as soon as they are read.
    explicit SamplesView(const SampleBook& book, QWidget* parent = nullptr);

    QString id() const override { return "samples"; }
    QString title() const override { return tr("Samples"); }
    bool shows_recipe() const override { return false; }
    std::pair<QString, QString> heading() const override;

    const std::vector<Swatch*>& swatches() const { return swatches_; }
    QLineEdit* search() const { return search_; }
    void set_recent(const std::vector<RecentFile>& files);
    /// Whether all samples are there, and every one has its picture.
    bool complete() const;

signals:
    /// In a colourway, or as it is where that is empty.
    void sample_opened(const QString& path, const QString& colourway);
    void recent_opened(const QString& path);
    void empty_wanted();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void arrange();
    void filter(const QString& words);
    void show_samples();
    /// Looks for pictures that were kept, and makes those that are missing.
    void find_pictures();
    void make_pictures();
    void stop_pictures();

    const SampleBook& book_;
    /// A material, and which of the swatches are of it.
    struct Heading {
        QString material;
        QLabel* label;
        QToolButton* jump;
        std::size_t first, last = 0;
    };
    void open(const Swatch* swatch);
    void add_heading(const QString& material);
    std::vector<Heading> headings_;
    std::vector<Swatch*> swatches_;
    QScrollArea* scroll_;
    QVBoxLayout* materials_;
    QWidget *page_, *recent_box_;
    QVBoxLayout* recent_;
    QLineEdit* search_;
    const KeptPictures kept_{KeptPictures::usual_folder()};
    Background pictures_;
};

}  // namespace loom
