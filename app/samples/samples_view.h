// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The sample book: finished recipes as swatches with pinked edges, recent files, and an empty start.
#pragma once

#include <QImage>
#include <vector>

#include "app/pages/page.h"
#include "app/samples/kept_pictures.h"
#include "app/document/recipe_files.h"
#include "app/document/sample_book.h"

class QLineEdit;
class QVBoxLayout;

namespace loom {

/// One swatch; a click or Enter opens its recipe.
class Swatch : public QWidget {
    Q_OBJECT
public:
    Swatch(Recipe recipe, QString path, QWidget* parent = nullptr);
    void set_picture(const QImage& image);
    const Recipe& recipe() const { return recipe_; }
    const QString& path() const { return path_; }
    bool has_picture() const { return !picture_.isNull(); }
    static constexpr int least_width = 276;
    /// As wide as that, and as high as its picture wants then.
    void fit(int width);

signals:
    void opened();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    Recipe recipe_;
    QString path_;
    QImage picture_;
    bool hovered_ = false;
};

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
    void sample_opened(const QString& path);
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
    std::vector<Swatch*> swatches_;
    QWidget *page_, *recent_box_;
    QVBoxLayout* recent_;
    QLineEdit* search_;
    const KeptPictures kept_{KeptPictures::usual_folder()};
    Background pictures_;
};

}  // namespace loom
