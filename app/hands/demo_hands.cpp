#include "app/hands/demo_hands.h"

#include <QDir>
#include <QMainWindow>
#include <QTimer>
#include <nlohmann/json.hpp>

#include "app/frame/job_session.h"
#include "app/hands/hands_panel.h"
#include "app/look/look_desk.h"
#include "app/loss/loss_desk.h"
#include "app/widgets/live_picture.h"
#include "app/widgets/save_file.h"
#include "files/files.h"
#include "instruments/scpi_scope.h"
#include "modules/lines.h"

namespace clendo {
namespace {

using nlohmann::json;

/// Where one of the simulation's ports is; empty: it has none.
QString placeOf(const json& one)
{
    constexpr int lastPort = 65535;
    const auto it = one.is_object() ? one.find("port") : one.end();
    const int port = it != one.end() && it->is_number_integer() ? it->get<int>() : 0;
    return port > 0 && port <= lastPort ? QStringLiteral("127.0.0.1:%1").arg(port) : QString();
}

QString instrument(const json& ready, std::string_view kind)
{
    if (const auto list = ready.find("instruments"); list != ready.end() && list->is_array())
        for (const auto& one : *list)
            if (one.is_object() && one.contains("kind") && one["kind"] == kind) return placeOf(one);
    return {};
}

}  // namespace

DemoHands::DemoHands(WindowFrame& frame, QObject* parent) : QObject(parent), frame_(frame) {}

DemoHands::~DemoHands() = default;

Result<void> DemoHands::attach(WindowFrame& frame, const QString& file, const QString& folder)
{
    constexpr std::size_t largest = 65536;
    const auto text = readFile(file.toStdString(), largest);
    const json ready = text ? json::parse(*text, nullptr, false) : json();
    const QString control = ready.is_object() && ready.contains("control") ? placeOf(ready["control"]) : QString();
    if (control.isEmpty()) return failure(Error::Code::InstrumentGone, "The simulated world does not run. Start the demo with ./run-demo.");
    const auto module = lines();
    if (!module) return tl::unexpected(module.error());
    if (DemoHands* before = of(frame)) {  // of a world that was left
        delete before->panel_;
        delete before;
    }
    auto* hands = new DemoHands(frame, frame.widget());
    hands->hands_ = module->talk(control);
    hands->hands_->start();
    if (auto used = frame.deskOf<LossDesk>().run().use(instrument(ready, "meter"), instrument(ready, "source")); !used) return used;
    auto& look = frame.deskOf<LookDesk>();
    const QString scope = instrument(ready, "scope");
    hands->showPanel();
    if (scope.isEmpty()) return {};
    hands->stills_ = std::make_unique<ScpiScope>(module->talk(scope), QObject::tr("simulated scope"));
    look.live().use([hands, scope, talk = module->talk]() -> Result<std::unique_ptr<VideoSource>> {
        auto made = std::make_unique<ScpiScope>(talk(scope), QObject::tr("simulated scope"));
        hands->scope_ = made.get();
        return made;
    });
    connect(&look.live(), &LivePicture::aimedAt, hands, &DemoHands::lookAt);
    look.useSavingScope(folder, [hands](const FaceId& face, const QString& picture) {
        hands->lookAt(face);
        hands->stills_->takeStill([hands, picture](const Result<QByteArray>& bytes) {
            if (!bytes) return hands->frame_.say(bytes.error());
            saveFile(
                hands, picture, [png = bytes->toStdString()] { return png; },
                [hands](const Result<void>& saved) {
                    if (!saved) hands->frame_.say(saved.error());
                });
        });
    });
    return {};
}

DemoHands* DemoHands::of(WindowFrame& frame) { return frame.widget()->findChild<DemoHands*>(QString(), Qt::FindDirectChildrenOnly); }

void DemoHands::showPanel()
{
    if (!panel_) {
        auto* window = qobject_cast<QMainWindow*>(frame_.widget());
        panel_ = new HandsPanel(frame_, *this, window);
        window->addDockWidget(Qt::BottomDockWidgetArea, panel_);
    }
    panel_->show();
}

void DemoHands::act(const json& deed, bool must, const QString& then)
{
    hands_->ask(QByteArray::fromStdString(deed.dump()), [this, must, then](const Result<QByteArray>& answer) {
        if (!answer) return emit done(QString::fromStdString(answer.error().message));
        const json said = json::parse(answer->toStdString(), nullptr, false);
        const bool ok = said.is_object() && said.value("ok", false);
        if (!ok && must)
            emit done(said.is_object() && said.contains("error") ? QString::fromStdString(said["error"].value("message", ""))
                                                                 : tr("It did not work."));
        else if (ok && !then.isEmpty())
            emit done(then);
    });
}

std::string DemoHands::portAt(End end) const { return FaceId{frame_.chosen().link, end, Side::Port}.text(); }

void DemoHands::forReference()
{
    for (const char* face : {"RC-1/B", "RC-2/A"}) act({{"do", "part"}, {"face", face}}, false);
    act({{"do", "connect"}, {"from", "meter 1"}, {"to", "RC-1/B"}}, true, tr("The source cord RC-1 goes straight into the meter."));
}

void DemoHands::forProof()
{
    for (const char* face : {"RC-1/B", "RC-2/A"}) act({{"do", "part"}, {"face", face}}, false);
    act({{"do", "connect"}, {"from", "meter 1"}, {"to", "RC-2/B"}}, false);
    act({{"do", "mate"}, {"a", "RC-1/B"}, {"b", "RC-2/A"}}, true, tr("The receive cord RC-2 is behind RC-1, and goes into the meter."));
}

void DemoHands::ontoFibre()
{
    const bool atB = frame_.deskOf<LossDesk>().run().direction() == Direction::BtoA;
    for (const char* face : {"RC-1/B", "RC-2/A"}) act({{"do", "part"}, {"face", face}}, false);
    for (const End end : {End::A, End::B}) act({{"do", "part"}, {"face", portAt(end)}}, false);  // the patch cords come out
    act({{"do", "connect"}, {"from", "meter 1"}, {"to", "RC-2/B"}}, false);
    constexpr int handsTake = 700;  // ms for which there is no light
    const std::string first = portAt(atB ? End::B : End::A), second = portAt(atB ? End::A : End::B);
    const Link* link = frame_.link();
    QTimer::singleShot(handsTake, this, [this, first, second, fibre = link ? link->fibre : 0] {
        act({{"do", "mate"}, {"a", "RC-1/B"}, {"b", first}});
        act({{"do", "mate"}, {"a", "RC-2/A"}, {"b", second}}, true, tr("RC-1 and RC-2 are on the two ports of fibre %1.").arg(fibre));
    });
}

void DemoHands::cordsOff()
{
    act({{"do", "part"}, {"face", "RC-1/B"}}, false);
    act({{"do", "part"}, {"face", "RC-2/A"}}, false, tr("RC-1 and RC-2 hang free."));
}

void DemoHands::clean(const char* method)
{
    act({{"do", "clean"}, {"face", frame_.chosen().text()}, {"method", method}}, true,
        tr("Cleaned, %1. File it (C), and look again (P).").arg(QLatin1String(method)));
}

void DemoHands::onFace(const char* deed)
{
    act({{"do", deed}, {"face", frame_.chosen().text()}}, true, tr("Done to the chosen face. The record knows nothing of it yet."));
}

void DemoHands::matePair()
{
    const FaceId& face = frame_.chosen();
    act({{"do", "mate"}, {"a", FaceId{face.link, face.connection, Side::Cord}.text()}, {"b", FaceId{face.link, face.connection, Side::Port}.text()}},
        true, tr("The pair is mated. File it (M)."));
}

void DemoHands::lookAt(const FaceId& face)
{
    act({{"do", "connect"}, {"from", "scope 1"}, {"to", face.text()}}, true);
    if (scope_) scope_->moved();
}

}  // namespace clendo
