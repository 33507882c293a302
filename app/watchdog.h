// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Watches that the interface never keeps anybody waiting: no event may take more than 100 ms of the processor, and none may read,
// write, hash, decode, plan or render on the interface's thread. On in debug builds, which tell it, and in the window's tests,
// which fail.
#pragma once

#include <QString>
#include <QStringList>
#include <functional>

#include "core/base/answering.h"

class QEvent;
class QObject;

namespace loom {

class Watchdog {
public:
    static constexpr double longest_ms = 100;

    /// Begins to watch; `told` hears of each fault once. `longest`: milliseconds that an event may take; 0: as long as it likes.
    explicit Watchdog(std::function<void(const QString& fault)> told, double longest = longest_ms);
    ~Watchdog();
    Watchdog(const Watchdog&) = delete;
    /// Is told again of what takes its time, after another was.
    void watch();

    /// Around the answer to one event. Event loops that run within it are not part of it.
    class Event {
    public:
        Event(Watchdog* dog, const QObject* receiver, const QEvent* event);
        ~Event();
        Event(const Event&) = delete;
        QString name() const;

    private:
        Watchdog* dog_;
        Event* outer_;
        QString receiver_;             ///< its name
        const char* class_ = nullptr;  ///< of the receiver, which may be gone afterwards
        int type_ = 0;
        int loop_ = 0;
        double began_ms_ = 0, elsewhere_ms_ = 0;  ///< of the thread's processor time; the latter in loops within
        Answering answering_;
    };

private:
    void tell(const QString& fault);

    std::function<void(const QString&)> told_;
    double longest_;
    Event* inner_ = nullptr;
    QStringList known_;
};

}  // namespace loom
