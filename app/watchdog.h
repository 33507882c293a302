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

    /// Milliseconds, ever growing, for which all processors were taken from this machine by its host, where it has one: the time
    /// of a thread goes on meanwhile. 0 where the system does not say.
    static double stolen_ms();

    /// Begins to watch; `told` hears of each fault once. `longest`: milliseconds that an event may take, what `stolen` grows by
    /// meanwhile not counted; 0: as long as it likes.
    explicit Watchdog(std::function<void(const QString& fault)> told, double longest = longest_ms,
                      std::function<double()> stolen = stolen_ms);
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
        double stolen_ms_ = 0;                    ///< as it was then
        Answering answering_;
    };

private:
    void tell(const QString& fault);

    std::function<void(const QString&)> told_;
    /// At most a look old: asking the system at each event would take longer than most events.
    double lately_stolen();

    double longest_;
    std::function<double()> stolen_;
    double stolen_then_ = 0, looked_ms_ = -1;
    Event* inner_ = nullptr;
    QStringList known_;
};

}  // namespace loom
