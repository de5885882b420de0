#include <QtTest>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "record/advice/advice.h"
#include "record/advice/cleaning_advice.h"
#include "record/advice/face_advice.h"
#include "record/advice/link_advice.h"
#include "record/output/certificate.h"
#include "record/output/certificate_csv.h"
#include "record/output/contact_picture.h"
#include "record/output/learning.h"
#include "record/rules/gates.h"
#include "record/rules/imprints.h"
#include "record/rules/plan_match.h"
#include "record/state/spots.h"
#include "varrow_journal.h"

using namespace clendo;

class TestAdvice : public QObject {
    Q_OBJECT
private slots:
    void theAdviceNamesWhatBrokeTheRule()
    {
        Journal j;
        j.look(portA, {dirt(33, 6.2)});
        const JobState s = j.state();
        const Advice r = faceAdvice(s, *s.link("VP-04/1"), portA);
        QVERIFY(r.tone == Tone::Work);
        QCOMPARE(QString::fromStdString(r.sentence),
                 QStringLiteral("A particle of 6.2 ± 0.9 µm in zone B (cladding). The rule allows none (defects over 5 µm)."));
        QCOMPARE(std::count_if(r.rows.begin(), r.rows.end(), [](const AdviceRow& row) { return !row.met; }), std::ptrdiff_t{1});
        QVERIFY(r.actions.front().command == command::clean);
        QVERIFY(r.actions.size() <= 3);
    }
    void mixedCoresAreStopped_data()
    {
        QTest::addColumn<int>("cord");
        QTest::addColumn<int>("port");
        QTest::addColumn<QString>("says");
        const int sm = int(CoreKind::SingleMode), mm50 = int(CoreKind::Multimode50), mm62 = int(CoreKind::Multimode62);
        QTest::newRow("as planned") << sm << sm << QString();
        QTest::newRow("not seen") << sm << -1 << QString();
        QTest::newRow("multimode cord") << mm50 << sm << "plan says single-mode";
        QTest::newRow("multimode port") << sm << mm62 << "62.5 µm";
    }
    void mixedCoresAreStopped()
    {
        QFETCH(int, cord);
        QFETCH(int, port);
        QFETCH(QString, says);
        Journal j;
        for (const auto& [id, core] : {std::pair{cordA, cord}, {portA, port}}) {
            FaceSeen seen{id, "sha", "p.png", {}};
            seen.measured.claddingDiameter = Pixel(300);
            if (core >= 0) seen.measured.core = static_cast<CoreKind>(core);
            j.add(seen);
        }
        j.add(SleeveCleaned{"VP-04/1", End::A});
        const JobState s = j.state();
        const auto ok = mayMate(s, *s.link("VP-04/1"), End::A);
        QCOMPARE(ok.has_value(), says.isEmpty());
        const Advice r = faceAdvice(s, *s.link("VP-04/1"), portA);
        QCOMPARE(r.headline == "Do not mate: wrong core", !says.isEmpty());
        if (!says.isEmpty()) {
            QVERIFY2(QString::fromStdString(ok.error().message).contains(says), ok.error().message.c_str());
            QVERIFY(r.actions.front().command != command::mate);
        }
    }
    void coreSizesAreComparedWithThePlan_data()
    {
        QTest::addColumn<QString>("fibre");
        QTest::addColumn<int>("core");
        QTest::addColumn<bool>("stopped");
        const int mm50 = int(CoreKind::Multimode50), mm62 = int(CoreKind::Multimode62), sm = int(CoreKind::SingleMode);
        QTest::newRow("OM4 shows 50") << "OM4" << mm50 << false;
        QTest::newRow("OM4 shows 62.5") << "OM4" << mm62 << true;
        QTest::newRow("OM1 shows 62.5") << "OM1" << mm62 << false;
        QTest::newRow("OM1 shows 50") << "OM1" << mm50 << true;
        QTest::newRow("OM3 shows 9") << "OM3" << sm << true;
    }
    void coreSizesAreComparedWithThePlan()
    {
        QFETCH(const QString, fibre);
        QFETCH(const int, core);
        QFETCH(const bool, stopped);
        Journal j;
        CablePlan c = varrowCable(2);
        c.fibre = fibre.toStdString();
        c.className = "mm-pc";
        FaceSeen seen{portA, "sha", "p.png", {}, {}};
        seen.measured.claddingDiameter = Pixel(300);
        seen.measured.core = static_cast<CoreKind>(core);
        j.add(CablePlanned{c}).add(seen);
        const JobState s = j.state();
        QCOMPARE(coreMix(s, *s.link("VP-04/1"), End::A).has_value(), stopped);
    }
    void aDarkSpotIsAPitWhenItStayed()
    {
        Journal j;
        Finding spot = dirt(30, 6);
        spot.appearance = Appearance::Pit;
        const auto says = [&] {
            const JobState s = j.state();
            return QString::fromStdString(faceAdvice(s, *s.link("VP-04/1"), cordA).sentence);
        };
        j.look(cordA, {spot});
        QVERIFY2(says().startsWith("A spot of 6.0"), qPrintable(says()));
        QVERIFY(mayBeHeldApart(j.state().face(cordA)));  // it may be dirt
        j.clean(cordA).look(cordA, {spot});
        QVERIFY2(says().startsWith("A pit of 6.0"), qPrintable(says()));
        QVERIFY(!mayBeHeldApart(j.state().face(cordA)));
    }
    void theFirstActionIsTheNextThingToDo()
    {
        Journal j;
        const auto first = [&] {
            const JobState s = j.state();
            return faceAdvice(s, *s.link("VP-04/1"), portA).actions.front().command;
        };
        QVERIFY(first() == command::takePicture);
        j.blurred(portA);
        QVERIFY(first() == command::takePicture);
        j.look(portA);
        QVERIFY(first() == command::nextStep);
        j.look(cordA);
        QVERIFY(first() == command::cleanSleeve);
        j.add(SleeveCleaned{"VP-04/1", End::A});
        QVERIFY(first() == command::mate);
        j.add(Mated{"VP-04/1", End::A});
        QVERIFY(first() == command::nextStep);
        const JobState s = j.state();
        QVERIFY(lossAdvice(s, *s.link("VP-04/1"), s.lastEntryAt).actions.front().command == command::setReference);
        QVERIFY(traceAdvice(s, *s.link("VP-04/1")).actions.front().command == command::openTrace);
        QVERIFY(emptyJobAdvice().actions.front().command == command::planCable);
    }
    void cleaningGetsStrongerAndStops()
    {
        Journal j;
        j.look(cordA, {dirt(30)});
        std::vector<std::string> methods;
        for (int n = 0; n < 5; ++n) {
            const auto advice = adviceFor(j.state().face(cordA));
            methods.push_back(advice.method);
            j.clean(cordA, methods.back().c_str()).look(cordA, {dirt(20.0 + 9 * n)});
        }
        QCOMPARE(methods, (std::vector<std::string>{"dry", "dry", "wet-then-dry", "fresh-tool", "fresh-tool"}));
        const JobState s = j.state();
        const Advice r = faceAdvice(s, *s.link("VP-04/1"), cordA);
        QVERIFY(QString::fromStdString(r.headline).startsWith("Stop cleaning"));
        QVERIFY(r.tone == Tone::Damaged);
    }
    /// What a crowded face is told by: its mix, and what one cleaning did to such mixes in this job.
    void aCrowdedFaceIsToldWhatWorked()
    {
        const auto crowd = [](double turn) {
            std::vector<Finding> out;
            for (int i = 0; i < 6; ++i) out.push_back(dirt(12 + 7 * i + turn, 4, i + 1));
            return out;
        };
        Journal j;
        const auto said = [&](const FaceId& id) {
            const JobState s = j.state();
            return QString::fromStdString(fmt::format("{}", fmt::join(faceAdvice(s, *s.link("VP-04/1"), id).help, " ")));
        };
        j.look(cordA, crowd(0));
        QVERIFY2(said(cordA).contains("Crowded: 6 specks, as of dust") && said(cordA).contains("No such face was cleaned in this job yet."),
                 qPrintable(said(cordA)));
        j.clean(cordA, "dry").look(cordA);                                            // fit
        j.look(portA, crowd(0)).clean(portA, "dry").look(portA, {dirt(9)});           // one is left: not fit
        j.look(cordB, crowd(0)).clean(cordB, "wet-then-dry").look(cordB);             // fit
        j.look(portB, crowd(0)).clean(portB, "dry").clean(portB, "dry").look(portB);  // nobody knows which did it
        j.look(portB, crowd(0));
        QVERIFY2(said(portB).contains("after one cleaning here: wet, then dry (1 of 1); dry, fresh tape (1 of 2)."), qPrintable(said(portB)));
        const Learned l = learn(j.state());
        QCOMPARE(l.byDirt.size(), std::size_t{2});
        // what stayed through a cleaning is no dust any more
        j.clean(portB, "dry").look(portB, crowd(0.2));
        QVERIFY2(said(portB).contains("6 specks; 6 stayed at their place through cleaning, as after grit was ground in"), qPrintable(said(portB)));
    }
    /// Marks that two mated faces left on each other, and who had them before.
    void pressedTogetherSaysWhoBroughtIt_data()
    {
        QTest::addColumn<QString>("before");  // what the cord and the port showed: dirty, clean, not seen
        QTest::addColumn<QString>("says");
        QTest::newRow("the cord had it") << "d c"
                                         << "on TH-R2 port 1, cord side before the two touched and not on the other";
        QTest::newRow("the port had it") << "c d"
                                         << "on TH-R2 port 1, behind before the two touched and not on the other";
        QTest::newRow("neither had it") << "c c"
                                        << "Neither had them when it was last seen before";
        QTest::newRow("both had it") << "d d"
                                     << "Which of the two had them first is not known.";
        QTest::newRow("the port was not seen") << "d -"
                                               << "Which of the two had them first is not known.";
    }
    void pressedTogetherSaysWhoBroughtIt()
    {
        QFETCH(QString, before);
        QFETCH(QString, says);
        const std::vector<std::pair<double, double>> places{{20, 5}, {-31, 12}, {8, -44}, {-17, -26}, {52, 20}, {-3, 35}};
        const auto marks = [&](double side) {
            std::vector<Finding> out;
            for (const auto& [x, y] : places) {
                Finding f = dirt(0, 4, static_cast<int>(out.size()) + 1);
                f.centre = {Micrometre(side * x), Micrometre(y)};
                out.push_back(f);
            }
            return out;
        };
        Journal j;
        const auto look = [&](const FaceId& id, QChar how, double side) {
            if (how != '-') j.look(id, how == 'd' ? marks(side) : std::vector<Finding>{});
        };
        look(cordA, before[0], 1);
        look(portA, before[2], -1);
        QVERIFY(pressedTogether(j.state(), cordA).empty());
        j.add(Mated{"VP-04/1", End::A}).look(cordA, marks(1)).look(portA, marks(-1));
        const JobState s = j.state();
        for (const auto& id : {cordA, portA}) {
            const auto found = pressedTogether(s, id);
            QCOMPARE(found.size(), std::size_t{1});
            QCOMPARE(found.front().marks.pairs.size(), places.size());
            const auto sentence = QString::fromStdString(found.front().sentence);
            QVERIFY2(sentence.contains(says), qPrintable(sentence));
            QVERIFY(contactPicture(s, id).story.ends_with(found.front().sentence));
        }
        // the same picture twice is no mirror image
        Journal twice;
        twice.add(Mated{"VP-04/1", End::A}).look(cordA, marks(1)).look(portA, marks(1));
        QVERIFY(pressedTogether(twice.state(), cordA).empty());
    }
    void lossAdviceShowTheSum()
    {
        Journal j;
        j.light(-7, -8.5);
        JobState s = j.state();
        QVERIFY(QString::fromStdString(lossAdvice(s, *s.link("VP-04/1"), s.lastEntryAt).sentence)
                    .contains("2.400 km × 0.50 dB/km + 2 connections × 0.75 dB + 2 splices × 0.30 dB = 3.30 dB"));
        Journal over;
        over.light(-7, -11);
        s = over.state();
        QVERIFY(lossAdvice(s, *s.link("VP-04/1"), s.lastEntryAt).tone == Tone::Damaged);
    }
    void plannedAndFoundAreMatched()
    {
        Journal j;
        j.add(shot(Direction::AtoB, 0.45)).add(shot(Direction::BtoA, 0.35));
        const JobState s = j.state();
        for (const auto& trace : s.state("VP-04/1").traces) {
            const auto rows = matchPlan(s, *s.link("VP-04/1"), trace.what);
            QCOMPARE(rows.size(), std::size_t{5});
            QCOMPARE(rows[1].name, std::string("splice manhole 3"));
            QVERIFY(qAbs(rows[1].found->value() - 1182) < 0.5);  // from the port, not from the instrument
            QVERIFY(qAbs(rows[1].bothWays->value() - 0.40) < 1e-9);
            QVERIFY(rows[1].overLimit());
            QVERIFY(!rows[2].overLimit());
            QCOMPARE(rows[3].kind, std::string("not planned"));
            QVERIFY(rows[4].found && rows[4].reflectance);
        }
        QVERIFY(QString::fromStdString(traceAdvice(s, *s.link("VP-04/1")).headline).contains("other wavelength first"));
    }
    void theCertificateSaysByWhichRulesAndInstruments()
    {
        Journal j = mated();
        JobSettings job = j.state().plan->job;
        job.policies["caps"] = "trust";
        j.set(job);
        j.add(KitKept{"meter 1", "meter", {}, "PM-2207", 1795420800, 0, {}, false});
        j.add(KitKept{"meter 2", "meter", {}, {}, 0, 0, {}, false}).add(KitKept{"pen 1", "pen", {}, {}, 0, 0, {}, false});
        j.add(KitKept{"OTDR 1", "OTDR", {}, "gone", 0, 0, {}, true});
        const auto c = certificate(j.state(), "VP-04").value();
        const auto differing = std::count_if(c["policy"].begin(), c["policy"].end(), [](const auto& row) { return !row["default"]; });
        QCOMPARE(differing, 1);
        QVERIFY(std::any_of(c["policy"].begin(), c["policy"].end(), [](const auto& row) { return row["answer"] == "trust the cap"; }));
        QCOMPARE(c["instruments"].size(), std::size_t{2});
        QCOMPARE(c["instruments"][0]["serial"], "PM-2207");
        QCOMPARE(c["instruments"][0]["calibrated_until"], "2026-11-23");
        QVERIFY(c["instruments"][1]["calibrated_until"].is_null());
        QCOMPARE(c["instruments"][0]["measured"], false);  // it is in the kit; nothing says that it measured
        ReferenceSet set{ReferenceMethod::OneCord, Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7)};
        set.with = {"meter 1"};
        j.add(set).add(PowerRead{"VP-04/1", Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-8.5)});
        const auto read = certificate(j.state(), "VP-04").value();
        QCOMPARE(read["instruments"][0]["measured"], true);
        QCOMPARE(read["instruments"][1]["measured"], false);
        QCOMPARE(read["cables"][0]["links"][0]["measured_with"].dump(), std::string(R"(["meter 1"])"));
    }
    void theCertificateSaysWhatWasAndWasNotTested()
    {
        Journal j = finished();
        j.sign("VP-04/1");
        const JobState s = j.state();
        const auto c = certificate(s, "VP-04").value();
        QCOMPARE(c["cables"][0]["links"].size(), std::size_t{2});
        const auto& one = c["cables"][0]["links"][0];
        QCOMPARE(one["verdict"], "pass");
        QVERIFY(one["verdict_because"].is_null());
        QCOMPARE(one["tier"], 2);
        QCOMPARE(one["signed_by"], "technician 1");
        QCOMPARE(one["signature"]["state"], "stands");
        QCOMPARE(sha256(canonicalJson(one["signature"]["record"])), one["signature"]["record_sha256"].get<std::string>());
        QCOMPARE(one["faces"].size(), std::size_t{4});
        QVERIFY(one["not_tested"].empty() && one["exceptions"].empty());
        QCOMPARE(c["cables"][0]["links"][1]["verdict"], "incomplete");
        QVERIFY(c["cables"][0]["links"][1]["tier"].is_null());
        QCOMPARE(c["cables"][0]["reference_methods"].dump(), std::string(R"(["one-cord"])"));
        QCOMPARE(c["cables"][0]["criteria"]["sha256"].get<std::string>().size(), std::size_t{64});
        QCOMPARE(c["cables"][0]["criteria"]["checked"], false);
        QCOMPARE(certificate(s, "VP-04/1").value()["cables"][0]["links"].size(), std::size_t{1});
        QVERIFY(!certificate(s, "VP-99"));
        const QString csv = QString::fromStdString(certificateCsv(c));
        const QStringList lines = csv.split("\r\n", Qt::SkipEmptyParts);
        QCOMPARE(lines.size(), 1 + 2 + 1);  // head, two wavelengths, one incomplete fibre
        const QRegularExpression quoted("\"[^\"]*\"");
        for (QString line : lines) QCOMPARE(line.remove(quoted).count(','), lines[0].count(','));
        QVERIFY(lines[1].startsWith("VP-04/1,1,blue,1310,1.500,1.500,1.500,1.500,3.300,1.800,2,pass,2401.000,technician 1,"));
    }
    void theCertificateSaysWhatWasMatedAllTheSame()
    {
        Journal j;
        CablePlan racked = varrowCable(2);
        racked.endA.rack = "R2";
        j.add(CablePlanned{racked});
        j.add(Mated{"VP-04/1", End::B, "no light without it, the port is replaced tomorrow"});
        auto c = certificate(j.state(), "VP-04/1").value();
        QCOMPARE(c["cables"][0]["rack_from"].get<std::string>(), std::string("R2"));
        QVERIFY(c["cables"][0]["rack_to"].is_null());
        const auto& exceptions = c["cables"][0]["links"][0]["exceptions"];
        QCOMPARE(exceptions.size(), std::size_t{1});
        QCOMPARE(exceptions[0].get<std::string>(), std::string("end B was mated anyway: no light without it, the port is replaced tomorrow"));
        // opened again it is no exception any more
        j.add(FaceCleaned{{"VP-04/1", End::B, Side::Port}, "dry", 1, {}});
        c = certificate(j.state(), "VP-04/1").value();
        QVERIFY(c["cables"][0]["links"][0]["exceptions"].empty());
    }
};
QTEST_APPLESS_MAIN(TestAdvice)
#include "test_advice.moc"
