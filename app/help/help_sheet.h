// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Something to read beside the cloth: the page of a step with the picture before and after it, or all keys.
#pragma once

#include <QImage>
#include <QTextBrowser>
#include <map>

#include "app/document/session.h"
#include "app/document/try_service.h"
#include "app/pages/commands.h"

namespace loom {

/// Finds pictures by name; a document forgets its own with every new text.
class PageBrowser : public QTextBrowser {
    Q_OBJECT
public:
    using QTextBrowser::QTextBrowser;
    std::map<QString, QImage> pictures;
    QVariant loadResource(int type, const QUrl& name) override;
};

class HelpSheet : public QWidget {
    Q_OBJECT
public:
    explicit HelpSheet(QWidget* parent = nullptr);

    void show_step(const Recipe& recipe, const Selection& at);
    /// The pictures of what is read about as it is now; those shown stay until they come.
    void renew(const Recipe& recipe);
    void show_keys(const Commands& commands);
    PageBrowser* text() const { return text_; }
    /// What is read about; empty for the keys.
    const Selection& step() const { return step_; }
    /// Whether both pictures have come.
    bool complete() const { return missing_ == 0; }

signals:
    void closed();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void show(const QString& markdown);
    /// Asks for the pictures before and after a step; whether there is something before it.
    bool ask(const Recipe& recipe, const Selection& at);

    TryService service_{256};
    PageBrowser* text_;
    Selection step_;
    QString markdown_;
    std::vector<QString> asked_;  ///< what the pictures are called that were asked for
    std::uint64_t ticket_ = 0;
    int missing_ = 0;
};

}  // namespace loom
