#include "app/loss/lines_dialog.h"

#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QTimer>

#include "app/frame/job_session.h"
#include "app/loss/loss_desk.h"
#include "app/widgets/dialog_buttons.h"
#include "app/widgets/on_screen.h"
#include "app/widgets/theme.h"
#include "files/digest.h"

namespace clendo {

LinesDialog::LinesDialog(LightRun& run, WindowFrame& frame)
    : QDialog(frame.widget()),
      run_(run),
      frame_(frame),
      meter_(new QLineEdit(run.meterPlace(), this)),
      source_(new QLineEdit(run.sourcePlace(), this)),
      command_(new QLineEdit(QStringLiteral("*IDN?"), this)),
      meterDriver_(new QComboBox(this)),
      sourceDriver_(new QComboBox(this)),
      answer_(new QLabel(this))
{
    setObjectName(QStringLiteral("linesDialog"));
    setWindowTitle(tr("Instruments on the line"));
    meter_->setObjectName(QStringLiteral("meterPlace"));
    source_->setObjectName(QStringLiteral("sourcePlace"));
    command_->setObjectName(QStringLiteral("sayToMeter"));
    meterDriver_->setObjectName(QStringLiteral("meterDriver"));
    meterDriver_->setAccessibleName(tr("How the meter is spoken to"));
    sourceDriver_->setObjectName(QStringLiteral("sourceDriver"));
    sourceDriver_->setAccessibleName(tr("How the source is spoken to"));
    answer_->setObjectName(QStringLiteral("meterAnswer"));
    answer_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    answer_->setWordWrap(true);
    auto* about = new QLabel(tr("Host and port (192.168.0.20:5025) or a serial port (/dev/ttyUSB0). Empty: not on a line; what it shows is typed, "
                                "and a source is set by hand."),
                             this);
    about->setWordWrap(true);
    auto* form = new QFormLayout(this);
    form->addRow(about);
    const auto line = [&](const QString& words, QLineEdit* place, QComboBox* driver) {
        auto* row = new QHBoxLayout;
        row->addWidget(place, 1);
        row->addWidget(driver, 1);
        form->addRow(words, row);
    };
    line(tr("Power meter"), meter_, meterDriver_);
    line(tr("Light source"), source_, sourceDriver_);
    auto* ask = new QPushButton(tr("Say &it to the meter"), this);
    form->addRow(ask, command_);
    form->addRow(tr("It says"), answer_);
    auto* more = new QHBoxLayout;
    auto* add = new QPushButton(tr("&Load a driver …"), this);
    auto* keep = new QPushButton(tr("&Keep what was said with the job"), this);
    keep->setObjectName(QStringLiteral("keepLog"));
    keep->setEnabled(run.meterOnLine() && frame.session());
    more->addWidget(add);
    more->addWidget(keep);
    more->addStretch();
    form->addRow(more);
    const auto buttons = acceptOrBack(*this, tr("Use them (Enter)"));
    form->addRow(buttons.row);
    disconnect(buttons.row, &QDialogButtonBox::accepted, this, nullptr);
    connect(buttons.row, &QDialogButtonBox::accepted, this, [this] {
        if (use()) accept();
    });
    for (auto* button : {ask, add, keep}) button->setAutoDefault(false);
    connect(ask, &QPushButton::clicked, this, &LinesDialog::say);
    connect(add, &QPushButton::clicked, this, &LinesDialog::addDriver);
    connect(keep, &QPushButton::clicked, this, [this] { run_.keepLog(); });
    connect(&run, &LightRun::answered, answer_, &QLabel::setText);
    connect(&run, &LightRun::logKept, answer_, [this] { answer_->setText(tr("Kept with the job, as evidence.")); });
    offerDrivers();
    resizeOnScreen(*this, {em(48), 0});
}

/// Those that there are; what was chosen stays.
void LinesDialog::offerDrivers()
{
    for (const auto& [kind, box, inUse] : {std::tuple(InstrumentKind::Meter, meterDriver_, run_.meterDriver()),
                                           std::tuple(InstrumentKind::Source, sourceDriver_, run_.sourceDriver())}) {
        const QString before = box->count() > 0 ? box->currentText() : inUse;
        box->clear();
        box->addItems(run_.drivers(kind));
        box->setCurrentIndex(std::max(0, box->findText(before)));
    }
}

bool LinesDialog::use()
{
    const auto ok = run_.use(meter_->text(), source_->text(), meterDriver_->currentText(), sourceDriver_->currentText());
    if (!ok) answer_->setText(QString::fromStdString(ok.error().message));
    return ok.has_value();
}

void LinesDialog::say()
{
    const bool same = run_.meterPlace() == meter_->text().trimmed() && run_.meterOnLine() && run_.meterDriver() == meterDriver_->currentText();
    if (!same && !use()) return;
    answer_->setText(tr("…"));
    constexpr int greeting = 300;  // ms: a line that was only just opened
    QTimer::singleShot(greeting, this, [this] { run_.say(command_->text()); });
}

void LinesDialog::addDriver()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("A driver of your own"), QString(), tr("Drivers (*.json)"));
    if (path.isEmpty()) return;
    const auto name = run_.addDriver(path);
    answer_->setText(name ? tr("“%1” is there from now on, in every job on this machine.").arg(*name) : QString::fromStdString(name.error().message));
    if (!name) return;
    offerDrivers();
    for (auto* box : {meterDriver_, sourceDriver_})
        if (const int at = box->findText(*name); at >= 0) box->setCurrentIndex(at);
}

void chooseLines(WindowFrame& frame)
{
    LightRun& run = frame.deskOf<LossDesk>().run();
    LinesDialog dialog(run, frame);
    if (dialog.exec() != QDialog::Accepted) return;
    frame.showDesk(QStringLiteral("loss"));
    frame.say(run.meterOnLine() ? QObject::tr("The meter's level is shown from now on. Readings are typed or read by it.")
                                : QObject::tr("No meter is on a line: what it shows is typed."));
}

}  // namespace clendo
