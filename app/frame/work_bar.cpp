#include "app/frame/work_bar.h"

#include <QFutureWatcher>
#include <QHBoxLayout>
#include <QProgressBar>
#include <QPushButton>

#include "app/widgets/text_block.h"
#include "app/widgets/theme.h"

namespace clendo {

WorkBar::WorkBar(QWidget* parent) : QFrame(parent), title_(new TextBlock(this)), progress_(new QProgressBar(this))
{
    setObjectName(QStringLiteral("work"));
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::AlternateBase);
    title_->setSingleLine();
    auto* stops = new QPushButton(tr("Stop (Esc)"), this);
    stops->setFocusPolicy(Qt::NoFocus);
    connect(stops, &QPushButton::clicked, this, &WorkBar::stop);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 6, 14, 6);
    layout->setSpacing(em(1));
    layout->addWidget(title_);
    layout->addWidget(progress_, 1);
    layout->addWidget(stops);
    hide();
}

void WorkBar::follow(const QString& title, const QFuture<Result<QString>>& work)
{
    shown_ = work;
    title_->setText(title);
    auto* watcher = new QFutureWatcher<Result<QString>>(this);
    connect(watcher, &QFutureWatcherBase::progressRangeChanged, progress_, &QProgressBar::setRange);
    connect(watcher, &QFutureWatcherBase::progressValueChanged, progress_, &QProgressBar::setValue);
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher] {
        watcher->deleteLater();
        if (shown_.isFinished()) hide();
        const auto finished = watcher->future();
        if (finished.resultCount() == 0) return emit done(tr("Stopped. What was finished before stays."), true);
        const Result<QString> result = finished.result();
        if (result)
            emit done(*result, false);
        else
            emit failed(result.error());
    });
    progress_->setRange(0, 0);
    watcher->setFuture(work);
    show();
}

void WorkBar::stop() { shown_.cancel(); }

}  // namespace clendo
