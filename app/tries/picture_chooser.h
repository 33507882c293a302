// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A choice by looking and by typing: every candidate as a live picture with its full name, in groups with a chip for each;
// chosen with arrow keys and Enter, or a click.
#pragma once

#include <QFrame>
#include <QImage>
#include <functional>
#include <vector>

#include "app/document/try_service.h"

class QAbstractButton;
class QBoxLayout;
class QButtonGroup;
class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;

namespace loom {

struct Candidate {
    QString id, title, group;
    QString summary;     ///< may be empty
    bool whole = true;   ///< seen whole, or its middle from near
    QString words = {};  ///< further ones by which somebody may look for it
};

class PictureChooser : public QFrame {
    Q_OBJECT
public:
    /// What a candidate is tried as.
    using Trial = std::function<TryOrder(const QString& id)>;
    /// A way to look at all of them, such as on the strand or on the whole cloth.
    struct Scope {
        QString title;
        Trial trial;
        bool whole = false;  ///< all pictures whole, whatever the candidates say
    };

    /// Groups in the order in which the candidates name them. What was taken last, and which scope was looked at, is remembered
    /// under `id`; `name` is for accessibility.
    PictureChooser(const QString& id, const QString& name, const QString& hint, std::vector<Candidate> candidates,
                   std::vector<Scope> scopes, QWidget* parent = nullptr);

    /// Puts the candidates of each group in the order of how far their pictures are from this one, once all are there.
    void order_by_strength(TryOrder without);
    /// Marks a candidate.
    void mark(const QString& id);
    /// Shows it beside what it works on, right or left of it, so that it stays within `within` (global places).
    void open_beside(const QRect& work, const QRect& within);
    QLineEdit* search() const { return search_; }
    QListWidget* list() const { return list_; }
    /// "All", "Lately used" if anything was, and one for each group.
    QList<QAbstractButton*> chips() const;
    QList<QAbstractButton*> scopes() const;
    /// Whether every picture has come.
    bool complete() const { return missing_ == 0; }

signals:
    void chosen(const QString& id);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void build_chips(QBoxLayout* line);
    void try_all(int scope);
    void filter();
    /// Puts those that fit into the list, the ones that fit best first.
    void fill(const std::vector<std::size_t>& fitting);
    /// How well a candidate fits the words: 0 best; nothing if it does not.
    std::optional<int> rank(const Candidate& candidate, const QStringList& words) const;
    void take();
    void fit();
    void sort_by_strength();
    void move_by(int way);
    int columns() const;
    void show_summary();

    QString id_;
    std::vector<Candidate> candidates_;
    std::vector<QImage> pictures_;    ///< by candidate
    std::vector<std::size_t> order_;  ///< of the candidates
    std::optional<TryOrder> without_;
    QImage picture_without_;
    std::vector<Scope> ways_;
    QStringList used_;
    TryService service_{512};
    std::uint64_t ticket_ = 0;
    int scope_ = 0;
    int missing_ = 0;
    QLineEdit* search_;
    QButtonGroup *chips_, *scopes_;
    QListWidget* list_;
    QLabel* summary_;
};

}  // namespace loom
