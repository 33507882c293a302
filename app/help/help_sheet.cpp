// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/help/help_sheet.h"

#include <QAction>
#include <QKeyEvent>
#include <QMenu>
#include <QPointer>
#include <QScrollBar>
#include <QTextTable>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/catalogue/description.h"
#include "core/catalogue/step_page.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {
constexpr int picture_size = 144;
}

QVariant PageBrowser::loadResource(int type, const QUrl& name) {
    const auto found = pictures.find(name.toString());
    return found == pictures.end() ? QTextBrowser::loadResource(type, name) : QVariant(found->second);
}

HelpSheet::HelpSheet(QWidget* parent) : QWidget(parent) {
    text_ = new PageBrowser(this);
    text_->setFrameShape(QFrame::NoFrame);
    text_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    text_->setStyleSheet("QTextBrowser { background: palette(window); }");
    text_->setAccessibleName(tr("Help"));
    text_->document()->setDefaultFont(theme::text_font());
    text_->document()->setDocumentMargin(16);
    auto* close = new QToolButton(this);
    close->setText(tr("Close help (Esc)"));
    close->setFocusPolicy(Qt::StrongFocus);
    connect(close, &QToolButton::clicked, this, &HelpSheet::closed);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(close, 0, Qt::AlignRight);
    layout->addWidget(text_, 1);
    connect(&service_, &TryService::ready, this, [this](quint64 ticket, int index, const QImage& image) {
        if (ticket != ticket_) return;
        --missing_;
        const QString& name = asked_[static_cast<std::size_t>(index)];
        text_->pictures[name] = image.scaled(picture_size, picture_size, Qt::KeepAspectRatio, Qt::SmoothTransformation);
        // Its place is kept free: nothing else moves.
        text_->document()->addResource(QTextDocument::ImageResource, QUrl(name), text_->pictures[name]);
        text_->viewport()->update();
    });
}

void HelpSheet::show(const QString& markdown) {
    markdown_ = markdown;
    const int place = text_->verticalScrollBar()->value();
    // Made apart, so that it is laid out once, when it is whole, and not after each change.
    auto* page = new QTextDocument(text_);
    page->setDefaultFont(text_->font());
    page->setDocumentMargin(text_->document()->documentMargin());
    page->setMarkdown(markdown);
    // Markdown has no say in how it looks.
    QTextCursor cursor(page);
    cursor.select(QTextCursor::Document);
    QTextBlockFormat block;
    block.setBottomMargin(6);
    cursor.mergeBlockFormat(block);
    // The boldest weight that the fonts have; a bolder one would be smeared from it.
    for (QTextBlock at = page->begin(); at.isValid(); at = at.next())
        for (auto it = at.begin(); !it.atEnd(); ++it)
            if (const QTextFragment part = it.fragment(); part.charFormat().fontWeight() > QFont::DemiBold) {
                cursor.setPosition(part.position());
                cursor.setPosition(part.position() + part.length(), QTextCursor::KeepAnchor);
                QTextCharFormat weight;
                weight.setFontWeight(QFont::DemiBold);
                cursor.mergeCharFormat(weight);
                it = at.begin();
            }
    for (QTextFrame* frame : page->rootFrame()->childFrames())
        if (auto* table = qobject_cast<QTextTable*>(frame)) {
            QTextTableFormat format = table->format();
            format.setBorder(0);
            format.setCellSpacing(0);
            format.setCellPadding(4);
            format.setWidth(QTextLength(QTextLength::PercentageLength, 100));
            table->setFormat(format);
            // A word of the head is not parted, however narrow its column.
            for (int column = 0; column < table->columns(); ++column) {
                QTextBlockFormat whole;
                whole.setNonBreakableLines(true);
                table->cellAt(0, column).firstCursorPosition().mergeBlockFormat(whole);
            }
        }
    // The editor deletes the document that it made itself.
    const QPointer<QTextDocument> before = text_->document();
    text_->setDocument(page);
    if (before) before->deleteLater();
    text_->verticalScrollBar()->setValue(place);
}

void HelpSheet::show_step(const Recipe& recipe, const Selection& at) {
    step_ = at;
    const Step* step = recipe.step({at.strand, at.step, ""});
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    if (!description) return show(tr("This version does not know this step. It is kept and passed over."));
    text_->pictures.clear();
    const bool both = ask(recipe, at);
    const QString pictures = both ? tr("*Before and after it, on this strand:*\n\n![before](before) ![after](after)\n\n")
                                  : tr("*After it, on this strand:*\n\n![after](after)\n\n");
    QString page = QString::fromStdString(step_page(*description));
    // Pictures stand between the words and the table.
    const qsizetype table = page.indexOf("\n| ");
    page.insert(table < 0 ? page.size() : table, "\n" + pictures);
    show(page);
}

bool HelpSheet::ask(const Recipe& recipe, const Selection& at) {
    asked_.clear();
    std::vector<TryOrder> orders;
    const auto order = [&](const std::string& id, const char* name) {
        TryOrder each{recipe, {}};
        each.wanted.what = Wanted::What::step, each.wanted.strand = at.strand, each.wanted.step = id;
        orders.push_back(std::move(each)), asked_.emplace_back(name);
        if (QImage& picture = text_->pictures[name]; picture.isNull()) {
            const QSize size =
                QSize(recipe.tile.width, recipe.tile.height).scaled(picture_size, picture_size, Qt::KeepAspectRatio);
            picture = QImage(size.expandedTo({1, 1}), QImage::Format_ARGB32_Premultiplied);
            picture.fill(Qt::transparent);
        }
    };
    const auto slot = slot_of(recipe, at.strand, at.step);
    const bool both = slot && slot->index > 0;
    if (both) order(recipe.strand(at.strand)->chain(slot->chain)[static_cast<std::size_t>(slot->index - 1)].id, "before");
    order(at.step, "after");
    missing_ = static_cast<int>(orders.size());
    ticket_ = service_.submit(std::move(orders));
    return both;
}

void HelpSheet::renew(const Recipe& recipe) {
    const bool before = markdown_.contains("](before)");
    if (step_.step.empty() || !recipe.step({step_.strand, step_.step, ""})) return;
    // A step that was moved has something else before it, or nothing.
    if (ask(recipe, step_) != before) show_step(recipe, step_);
}

void HelpSheet::show_keys(const Commands& commands) {
    service_.stop();
    step_ = {}, missing_ = 0;
    QString page = tr("## Keys\n\n| keys | command | menu |\n|---|---|---|\n");
    const auto row = [&](const QString& keys, QString command, const QString& menu) {
        page += "| **" + keys + "** | " + command.remove('&').remove(QString::fromUtf8("…")) + " | " + menu + " |\n";
    };
    for (const auto& [menu, action] : commands.with_keys())
        row(action->shortcut().toString(QKeySequence::NativeText), action->text(), QString(menu->title()).remove('&'));
    const QString cloth = tr("at the loom");
    row("C", tr("Held: the cloth without what is selected"), cloth);
    row("L", tr("Held: a loupe at the pointer"), cloth);
    const QString numbers = tr("in numbers and sliders");
    row(tr("Arrows"), tr("A step"), numbers);
    row(tr("Shift+Arrows"), tr("Ten steps"), numbers);
    row(tr("Ctrl+Arrows"), tr("A tenth of a step"), numbers);
    row("2*(3+0.5)", tr("Calculates; *2 goes on from the present value"), numbers);
    show(page);
}

void HelpSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return emit closed();
    QWidget::keyPressEvent(event);
}

}  // namespace loom
