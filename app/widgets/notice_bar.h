// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A line over the page that says what happened and offers what can be done; it asks for nothing and stays until it is answered.
#pragma once

#include <QImage>
#include <QWidget>
#include <functional>
#include <vector>

class QLabel;
class QPushButton;

namespace loom {

class NoticeBar : public QWidget {
    Q_OBJECT
public:
    struct Answer {
        QString title;
        std::function<void()> work;  ///< the bar goes before it is done
    };
    /// `picture` may be null.
    NoticeBar(const QImage& picture, const QString& text, std::vector<Answer> answers, QWidget* parent = nullptr);
    QString text() const;
    const std::vector<QPushButton*>& buttons() const { return buttons_; }

private:
    QLabel* text_;
    std::vector<QPushButton*> buttons_;
};

/// "3 minutes ago", "yesterday at 14:02".
QString age(const QDateTime& when, const QDateTime& now);

}  // namespace loom
