// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The sample book: finished recipes as swatches with pinked edges, recent files, and an empty start.
#pragma once

#include <QImage>
#include <vector>

#include "app/pages/page.h"
#include "app/samples/kept_pictures.h"
#include "core/recipe/recipe.h"
#include "core/render/scheduler.h"

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
    /// Reads every recipe in `folder`; one that cannot be read is left out and reported by failed().
    explicit SamplesView(const QString& folder, QWidget* parent = nullptr);

    QString id() const override { return "samples"; }
    QString title() const override { return tr("Samples"); }
    bool shows_recipe() const override { return false; }
    std::pair<QString, QString> heading() const override;

    /// Of the recipe in a file of the book; the file's own name elsewhere.
    QString name_of(const QString& path) const;
    const std::vector<Swatch*>& swatches() const { return swatches_; }
    QLineEdit* search() const { return search_; }
    void set_recent(const QStringList& paths);
    /// Whether every swatch has its picture.
    bool complete() const;
    const QStringList& failures() const { return failures_; }

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
    void render_pictures();
    void stop_pictures();

    std::vector<Swatch*> swatches_;
    QStringList failures_;
    QWidget *page_, *recent_box_;
    QVBoxLayout* recent_;
    QLineEdit* search_;
    const KeptPictures kept_{KeptPictures::usual_folder()};
    Client client_;
};

/// Where the samples are: beside the program when it is built, in share/ when it is installed; "" if nowhere.
QString samples_folder();
/// Name and path of every sample.
std::vector<std::pair<QString, QString>> sample_recipes();

}  // namespace loom
