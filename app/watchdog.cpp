// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/watchdog.h"

#include <time.h>
#include <unistd.h>

#include <QEvent>
#include <QMetaEnum>
#include <QThread>
#include <cstdio>
#include <memory>

namespace loom {

namespace {

/// Time of the processor, so that what else the machine does plays no part. Waiting for a disk is what `takes_its_time` tells.
double ms_of(clockid_t clock) {
    timespec now{};
    clock_gettime(clock, &now);
    return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) / 1e6;
}

double thread_ms() { return ms_of(CLOCK_THREAD_CPUTIME_ID); }

constexpr double between_looks_ms = 20;

}  // namespace

double Watchdog::stolen_ms() {
    const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen("/proc/stat", "re"), std::fclose);
    long long ticks = 0;  // user, nice, system, idle, waiting, interrupts, soft interrupts, stolen: proc(5)
    if (!file || std::fscanf(file.get(), "cpu %*d %*d %*d %*d %*d %*d %*d %lld", &ticks) != 1) return 0;
    return static_cast<double>(ticks) * 1e3 / static_cast<double>(sysconf(_SC_CLK_TCK));
}

Watchdog::Watchdog(std::function<void(const QString&)> told, double longest, std::function<double()> stolen)
    : told_(std::move(told)), longest_(longest), stolen_(std::move(stolen)) {
    watch();
}

double Watchdog::lately_stolen() {
    const double now = ms_of(CLOCK_MONOTONIC_COARSE);
    if (looked_ms_ >= 0 && now - looked_ms_ < between_looks_ms) return stolen_then_;
    looked_ms_ = now;
    return stolen_then_ = stolen_();
}

void Watchdog::watch() {
    watch_answering([this](const char* what) { tell(QString("%1 within %2").arg(what, inner_ ? inner_->name() : QString())); });
}

Watchdog::~Watchdog() { watch_answering({}); }

void Watchdog::tell(const QString& fault) {
    if (known_.contains(fault)) return;
    known_ << fault;
    told_(fault);
}

QString Watchdog::Event::name() const {
    const char* type = QMetaEnum::fromType<QEvent::Type>().valueToKey(type_);
    return QString("%1 at %2 %3").arg(type ? type : "event", class_, receiver_);
}

Watchdog::Event::Event(Watchdog* dog, const QObject* receiver, const QEvent* event)
    : dog_(dog), outer_(dog ? dog->inner_ : nullptr) {
    if (!dog_) return;
    dog_->inner_ = this;
    receiver_ = receiver->objectName(), class_ = receiver->metaObject()->className(), type_ = event->type();
    loop_ = QThread::currentThread()->loopLevel();
    if (dog_->longest_ > 0) stolen_ms_ = dog_->lately_stolen();
    began_ms_ = thread_ms();
}

Watchdog::Event::~Event() {
    if (!dog_) return;
    dog_->inner_ = outer_;
    const double spent = thread_ms() - began_ms_;
    if (outer_) outer_->elsewhere_ms_ += loop_ > outer_->loop_ ? spent : elsewhere_ms_;
    const double longest = dog_->longest_, own = spent - elsewhere_ms_;
    if (longest <= 0 || own <= longest) return;
    const double stolen = dog_->stolen_() - stolen_ms_;
    if (own - stolen > longest)
        dog_->tell(
            QString("%1 took %2 ms, %3 of them perhaps the host's").arg(name()).arg(own, 0, 'f', 0).arg(stolen, 0, 'f', 0));
}

}  // namespace loom
