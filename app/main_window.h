// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QMainWindow>
#include <functional>
#include <memory>
#include <vector>

#include "app/document/render_service.h"
#include "app/document/session.h"
#include "app/pages/page.h"

class QComboBox;
class QLabel;
class QStackedWidget;
class QToolButton;

namespace loom {

class ExportView;
class FirstCloth;
class Journal;
class LoomView;
class NoticeBar;
class OpenFile;
class RecipeFiles;
class RepeatView;
class SampleBook;
class SamplesView;
class TryView;
struct LeftBehind;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Session& session() { return *session_; }
    RenderService& service() { return *service_; }
    LoomView* loom_view() const { return loom_; }
    SamplesView* samples_view() const { return samples_; }
    TryView* try_view() const { return try_; }
    RepeatView* repeat_view() const { return repeat_; }
    ExportView* export_view() const { return export_; }
    QAction* action(const QString& id) const { return commands_->action(id); }
    /// In the order of the work.
    const std::vector<Page*>& pages() const { return pages_; }
    /// The page on show.
    Page* page() const;
    void show_page(Page* page);
    /// Lets the pages look as they did when the program was closed, and keeps how they look then. Without it nothing is kept.
    void remember_pages();
    /// Keeps unsaved changes safe in a folder, offers what an earlier run left there, and tells windows of one file of each
    /// other.
    void keep_safe(const QString& folder);
    /// The remarks for a first cloth, from the first on.
    void show_first_cloth();
    /// The same for somebody who has neither followed nor dismissed them yet.
    void greet();
    FirstCloth* first_cloth() const { return first_cloth_; }
    RecipeFiles* files() const { return files_; }
    SampleBook& book() { return *book_; }
    Journal* journal() const { return journal_; }
    OpenFile* open_file() const { return open_file_; }
    /// The lines over the page that wait for an answer.
    QList<NoticeBar*> notices() const;

    /// Opens a file beside the interface, after asking about unsaved changes; a fault is shown in the message line.
    void open(const QString& path);
    /// Opens a sample as a new, unsaved recipe, so that the book stays as it is.
    /// In a colourway, or as it is where that is empty.
    void open_sample(const QString& path, const QString& colourway = {});
    /// Saves beside the interface without asking, then calls `then`; a fault is shown in the message line.
    void save_to(const QString& path, std::function<void()> then = {});
    /// The same, unless somebody else has written the file since it was opened: then the person is asked.
    void save_over(const QString& path, std::function<void()> then);
    QString message() const;
    void show_message(const QString& text);
    /// Something that takes its time, while it does.
    void show_note(const QString& text);

protected:
    void closeEvent(QCloseEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void build_menus();
    QWidget* build_header();
    void refresh();
    void refresh_recent();
    /// Runs `work` at once, or after the person has saved or given up the changes.
    /// `purpose` goes on from "before": "opening Glove suede".
    void after_unsaved(const QString& purpose, std::function<void()> work);
    void ask_open();
    void ask_save_as(std::function<void()> then = {});
    void save(std::function<void()> then = {});
    void load(const QString& path, bool as_sample, const QString& colourway = {});
    void show_opened(LoomFile content, const QString& path, bool as_sample);
    void ask_about_export();
    bool ready_to_leave();
    void offer(const LeftBehind& left);
    /// What can be done with a picture that somebody has opened as a recipe.
    void offer_picture(const QString& path);
    void tell_missed(const QString& strand, const QStringList& readers);
    void add_notice(NoticeBar* bar);
    void drop_notices(const char* about);
    void tell_others(int others);
    void tell_changed();
    void show_line(const QString& text, const QColor& colour);
    /// Shows what was passed over in a rendering or a file until a rendering has nothing to say any more.
    void show_warnings(const QStringList& warnings);

    // Destroyed last, after every widget that reads from them; see the destructor.
    std::unique_ptr<Session> session_;
    std::unique_ptr<RenderService> service_;
    std::unique_ptr<SampleBook> book_;
    RecipeFiles* files_;
    QStackedWidget* stack_;
    std::vector<Page*> pages_;
    SamplesView* samples_;
    LoomView* loom_;
    TryView* try_;
    RepeatView* repeat_;
    ExportView* export_;
    QLabel *name_, *tile_;
    std::vector<QToolButton*> tabs_;  ///< of the pages, in their order
    QToolButton *undo_, *redo_;
    QComboBox* colourway_;
    QLabel* message_;
    QMenu* recent_menu_ = nullptr;
    Commands* commands_;
    QWidget* notices_;
    Journal* journal_ = nullptr;
    OpenFile* open_file_ = nullptr;
    FirstCloth* first_cloth_ = nullptr;
    bool remembers_ = false;
    bool lose_changes_ = false, leaving_ = false;  ///< the person has said so
};

}  // namespace loom
