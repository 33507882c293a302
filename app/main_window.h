// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QMainWindow>
#include <functional>
#include <memory>
#include <vector>

#include "app/document/render_service.h"
#include "app/document/session.h"

class QComboBox;
class QLabel;
class QStackedWidget;
class QToolButton;

namespace loom {

/// What the person was doing with a widget or command, to begin a sentence with.
QString activity_of(const QObject* receiver);

class LoomView;
class SamplesView;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    enum class View { samples, loom };

    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Session& session() { return *session_; }
    RenderService& service() { return *service_; }
    LoomView* loom_view() const { return loom_; }
    SamplesView* samples_view() const { return samples_; }
    QAction* action(const QString& id) const;
    View view() const;
    void show_view(View view);

    /// Opens a file after asking about unsaved changes; a fault is shown in the message line.
    void open(const QString& path);
    /// Opens a sample as a new, unsaved recipe, so that the book stays as it is.
    void open_sample(const QString& path);
    /// Saves without asking; false if it failed.
    bool save_to(const QString& path);
    QString message() const;
    void show_message(const QString& text);

protected:
    void closeEvent(QCloseEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    struct Command {
        QString id;
        QAction* action;
        std::function<bool()> enabled;
    };
    QAction* add(QMenu* menu, const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> work,
                 std::function<bool()> enabled = {});
    void build_menus();
    QWidget* build_header();
    void refresh();
    void refresh_recent();
    /// Runs `work` at once, or after the person has saved or given up the changes.
    void after_unsaved(std::function<void()> work);
    void ask_open();
    void ask_save_as(std::function<void()> then = {});
    void save(std::function<void()> then = {});
    void load(const QString& path, bool as_sample);
    /// Shows what was passed over in a rendering or a file until a rendering has nothing to say any more.
    void show_warnings(const QStringList& warnings);

    // Destroyed last, after every widget that reads from them; see the destructor.
    std::unique_ptr<Session> session_;
    std::unique_ptr<RenderService> service_;
    QStackedWidget* pages_;
    SamplesView* samples_;
    LoomView* loom_;
    QLabel *name_, *tile_;
    QToolButton *samples_tab_, *loom_tab_, *undo_, *redo_;
    QComboBox* colourway_;
    QLabel* message_;
    QMenu* recent_menu_ = nullptr;
    QMenu* step_menu_ = nullptr;
    std::vector<Command> commands_;
    bool closing_ = false;
};

}  // namespace loom
