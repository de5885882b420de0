#include <QtTest>
#include <functional>

#include "files/files.h"
#include "power/loss_json.h"
#include "power/reference_choice.h"

using namespace clendo;

namespace {

LimitSet limitsOf(const char* name, const char* fibre = "OS2") { return loadLimits(name, fibre, dataFolder()).value(); }

LossTask task(double reference, double power, ReferenceMethod method = ReferenceMethod::OneCord)
{
    LossTask t;
    t.link = "T1-07";
    t.load = {"OS2", Metre(2400), 2, 2};
    t.method = method;
    for (const double nm : {1310.0, 1550.0})
        for (const auto d : {Direction::AtoB, Direction::BtoA})
            t.readings.push_back({Nanometre(nm), d, DecibelMilliwatt(reference), DecibelMilliwatt(power)});
    return t;
}

bool warns(const LossReport& report, const char* code)
{
    return std::any_of(report.warnings.begin(), report.warnings.end(), [&](const LossWarning& w) { return w.code == code; });
}

}  // namespace

class TestPower : public QObject {
    Q_OBJECT
private slots:
    void theExampleOfTheContract()
    {
        const auto request = lossRequestFromJson(
            R"({"link": "T1-07", "fiber": "OS2", "length_m": 2400, "connections": 2, "splices": 2, "limits": "generic-sm", "method": "one-cord",
            "source": {"warm_up_s": 900}, "readings": [
            {"wavelength_nm": 1310, "direction": "ab", "reference_dbm": -7.02, "power_dbm": -8.63},
            {"wavelength_nm": 1310, "direction": "ba", "reference_dbm": -7.10, "power_dbm": -8.75}]})");
        QVERIFY(request);
        const auto report = computeLoss(request->task, limitsOf("generic-sm"));
        QCOMPARE(report.results.size(), std::size_t{1});
        const auto& r = report.results.front();
        QVERIFY(qAbs(r.lossAb->value() - 1.61) < 1e-9);
        QVERIFY(qAbs(r.lossBa->value() - 1.65) < 1e-9);
        QVERIFY(qAbs(r.mean->value() - 1.63) < 1e-9);
        QVERIFY(qAbs(r.worst->value() - 1.65) < 1e-9);
        QVERIFY(qAbs(r.limit->total.value() - 3.30) < 1e-9);
        QVERIFY(qAbs(r.margin->value() - 1.65) < 1e-9);
        QCOMPARE(r.limit->connectionsCounted(), 2);
        QVERIFY(report.verdict == LossVerdict::Pass);
        QVERIFY(warns(report, "one_wavelength"));
        QVERIFY(!warns(report, "source_cold"));
        QCOMPARE(QString::fromStdString(r.limit->sum),
                 QStringLiteral("2.400 km × 0.50 dB/km + 2 connections × 0.75 dB + 2 splices × 0.30 dB = 3.30 dB"));
    }

    void theLimitCountsTheConnectionsOfTheMethod_data()
    {
        QTest::addColumn<QString>("method");
        QTest::addColumn<int>("connections");
        QTest::addColumn<int>("counted");
        QTest::newRow("one cord") << "one-cord" << 2 << 2;
        QTest::newRow("two cords") << "two-cord" << 2 << 1;
        QTest::newRow("three cords") << "three-cord" << 2 << 0;
        QTest::newRow("single-ended") << "single-ended" << 2 << 1;
        QTest::newRow("one cord, patched") << "one-cord" << 4 << 4;
        QTest::newRow("three cords, patched") << "three-cord" << 4 << 2;
    }
    void theLimitCountsTheConnectionsOfTheMethod()
    {
        QFETCH(QString, method);
        QFETCH(int, connections);
        QFETCH(int, counted);
        const auto m = referenceMethodNamed(method.toStdString()).value();
        const auto b = budget({"OS2", Metre(1000), connections, 0}, m, Nanometre(1310), limitsOf("generic-sm")).value();
        QCOMPARE(b.connectionsCounted(), counted);
        QVERIFY(qAbs(b.total.value() - (0.5 + 0.75 * counted)) < 1e-9);
    }

    void endsAgainstReferenceCordsCountLess()
    {
        const auto b = budget({"OS2", Metre(1000), 3, 1}, ReferenceMethod::OneCord, Nanometre(1310), limitsOf("iso-link-sm")).value();
        QVERIFY(qAbs(b.total.value() - (0.4 + 2 * 0.5 + 0.75 + 0.3)) < 1e-9);
        QCOMPARE(b.endConnections, 2);
        QCOMPARE(b.innerConnections, 1);
    }

    void attenuationOfEveryFibre_data()
    {
        QTest::addColumn<QString>("limits");
        QTest::addColumn<QString>("fibre");
        QTest::addColumn<int>("nm");
        QTest::addColumn<double>("dB");  // per km; negative: none known
        const auto row = [](const char* limits, const char* fibre, int nm, double dB) {
            QTest::addRow("%s %s %d", limits, fibre, nm) << limits << fibre << nm << dB;
        };
        for (const char* om : {"OM1", "OM2"}) row("generic-mm", om, 850, 3.5), row("generic-mm", om, 1300, 1.5);
        for (const char* om : {"OM3", "OM4", "OM5"}) row("generic-mm", om, 850, 3.0), row("generic-mm", om, 1300, 1.5);
        row("generic-mm", "OM5", 953, 2.3);
        row("generic-mm", "OM4", 953, -1);
        for (const int nm : {1310, 1383, 1550})
            row("generic-sm", "OS2", nm, 0.5), row("generic-sm", "OS1", nm, 1.0), row("generic-sm", "indoor-outdoor", nm, 0.5),
                row("iso-link-sm", "OS2", nm, 0.4);
        row("iso-link-sm", "G.652.D", 1310, 0.4), row("iso-link-sm", "G.652.D", 1550, 0.3), row("iso-link-sm", "G.652.D", 1625, 0.4);
        row("generic-sm", "OS2", 1625, -1);
        row("generic-sm", "OM3", 850, -1);
    }
    void attenuationOfEveryFibre()
    {
        QFETCH(QString, limits);
        QFETCH(QString, fibre);
        QFETCH(int, nm);
        QFETCH(double, dB);
        const auto b =
            budget({fibre.toStdString(), Metre(1000), 2, 0}, ReferenceMethod::ThreeCord, Nanometre(nm), limitsOf(limits.toLatin1().constData()));
        QCOMPARE(b.has_value(), dB >= 0);
        if (b)
            QVERIFY(qAbs(b->total.value() - dB) < 1e-9);
        else
            QVERIFY(!b.error().message.empty());
    }

    void applicationsHaveAFixedLimit()
    {
        const auto lr = limitsOf("application:10GBASE-LR");
        const auto b = budget({"OS2", Metre(9000), 2, 3}, ReferenceMethod::OneCord, Nanometre(1310), lr).value();
        QVERIFY(qAbs(b.total.value() - 6.2) < 1e-9);
        QVERIFY(b.fixedTotal);
        QVERIFY(!loadLimits("application:10GBASE-LR", "OM3", dataFolder()));
        QVERIFY(!loadLimits("application:none such", "OS2", dataFolder()));
        QVERIFY(!loadLimits("no-such-set", "OS2", dataFolder()));
    }

    void aDecibelMoreOnBothChangesNothing()
    {
        const auto a = computeLoss(task(-7, -9), limitsOf("generic-sm")), b = computeLoss(task(-6, -8), limitsOf("generic-sm"));
        QVERIFY(qAbs(a.results[0].worst->value() - b.results[0].worst->value()) < 1e-12);
        QVERIFY(a.verdict == b.verdict);
    }

    void verdicts_data()
    {
        QTest::addColumn<double>("loss");
        QTest::addColumn<QString>("verdict");
        QTest::newRow("clear pass") << 1.6 << "pass";
        QTest::newRow("just under") << 3.25 << "near limit";
        QTest::newRow("just over") << 3.35 << "near limit";
        QTest::newRow("clear fail") << 3.6 << "fail";
        QTest::newRow("a little gain") << -0.05 << "pass";
        QTest::newRow("a gain proves a bad reference") << -0.3 << "not valid";
    }
    void verdicts()
    {
        QFETCH(double, loss);
        QFETCH(QString, verdict);
        const auto report = computeLoss(task(-7, -7 - loss), limitsOf("generic-sm"));
        QCOMPARE(QString::fromStdString(std::string(name(report.verdict))), verdict);
        QCOMPARE(warns(report, "gain"), loss < 0);
    }

    void theWorstDirectionIsJudged()
    {
        LossTask t = task(-7, -8.5);
        t.readings[0].power = DecibelMilliwatt(-11);  // 4 dB, 1310 A to B
        const auto report = computeLoss(t, limitsOf("generic-sm"));
        QVERIFY(report.verdict == LossVerdict::Fail);
        QVERIFY(qAbs(report.results[0].worst->value() - 4) < 1e-9);
        QVERIFY(qAbs(report.results[0].mean->value() - 2.75) < 1e-9);
        QVERIFY(report.results[1].verdict == LossVerdict::Pass);
        QVERIFY(warns(report, "directions_differ"));
    }

    void plausibilityIsAsked()
    {
        LossTask cold = task(-7, -8.6);
        cold.sourceWarmUp = Second(60);
        QVERIFY(warns(computeLoss(cold, limitsOf("generic-sm")), "source_cold"));
        QVERIFY(warns(computeLoss(task(-7, -7.1), limitsOf("generic-sm")), "loss_below_fibre"));
        QVERIFY(warns(computeLoss(task(-7, -20), limitsOf("generic-sm")), "loss_not_explained"));
        QVERIFY(warns(computeLoss(task(-7, -70), limitsOf("generic-sm")), "meter_floor"));
        LossTask oneWay = task(-7, -8.6);
        std::erase_if(oneWay.readings, [](const Reading& r) { return r.direction == Direction::BtoA; });
        const auto report = computeLoss(oneWay, limitsOf("generic-sm"));
        QVERIFY(warns(report, "one_direction"));
        QVERIFY(!report.results[0].lossBa);
        QCOMPARE(report.results[0].mean->value(), report.results[0].lossAb->value());
        LossTask unreferenced = task(-7, -8.6);
        unreferenced.readings[1].reference.reset();
        QVERIFY(computeLoss(unreferenced, limitsOf("generic-sm")).verdict == LossVerdict::NotValid);
        QVERIFY(warns(computeLoss(unreferenced, limitsOf("generic-sm")), "no_reference"));
        QVERIFY(computeLoss(LossTask{}, limitsOf("generic-sm")).verdict == LossVerdict::NotValid);
    }

    void uncertaintyIsTheRootOfItsParts_data()
    {
        QTest::addColumn<QString>("method");
        QTest::addColumn<double>("dB");
        // by hand from data/limits/generic-sm.json: matings of the link and in the reference, detector twice, pairs in the reference (0.1 / sqrt 3
        // each), source 0.05 / sqrt 3, linearity 0.03 / sqrt 3, a hundredth typed twice, temperature 0.02 / sqrt 3; times 2
        const double others = 2 * 0.02 * 0.02 + (0.05 * 0.05 + 0.03 * 0.03 + 0.02 * 0.02 + 2 * 0.005 * 0.005) / 3;
        const auto of = [&](int matings, int pairs) { return 2 * std::sqrt(matings * 0.05 * 0.05 + pairs * 0.01 / 3 + others); };
        QTest::newRow("one") << "one-cord" << of(2, 0);
        QTest::newRow("two") << "two-cord" << of(3, 1);
        QTest::newRow("three") << "three-cord" << of(4, 2);
        QTest::newRow("single") << "single-ended" << of(1, 0);
    }
    void uncertaintyIsTheRootOfItsParts()
    {
        QFETCH(QString, method);
        QFETCH(double, dB);
        const auto limits = limitsOf("generic-sm");
        const auto parts = contributions({*referenceMethodNamed(method.toStdString()), false, {}, {}, {}}, limits);
        QVERIFY2(qAbs(expanded(parts, limits).value() - dB) < 1e-9, qPrintable(QString("%1 %2").arg(expanded(parts, limits).value()).arg(dB)));
        QVERIFY(std::is_sorted(parts.begin(), parts.end(), [](const auto& a, const auto& b) { return a.standard > b.standard; }));
    }
    /// Samples that were all alike say nothing of the meter's steps: that doubt stays.
    void noStepSeenIsNoFineMeter()
    {
        const auto limits = limitsOf("generic-sm");
        auto t = task(-7, -8.6);
        const auto doubtOf = [&](Decibel scatter, Decibel resolution) {
            for (auto& r : t.readings) r.scatter = scatter, r.resolution = resolution;
            return computeLoss(t, limits).results.front();
        };
        const auto alike = doubtOf(Decibel(1e-9), Decibel(0)), seen = doubtOf(Decibel(1e-9), Decibel(0.01));
        QVERIFY(qAbs((alike.uncertainty - seen.uncertainty).value()) < 1e-9);
        const std::string words = uncertaintyWords(alike.doubts, alike.uncertainty);
        QVERIFY2(words.find("taken as a hundredth") != std::string::npos && words.find("0.000") == std::string::npos, words.c_str());
    }
    void threeAnswersLeadToAReference_data()
    {
        QTest::addColumn<int>("ends");
        QTest::addColumn<bool>("meterTakes");
        QTest::addColumn<QString>("method");
        QTest::addColumn<QString>("holds");
        QTest::newRow("panels") << int(TestedEnds::Adapters) << true << "one-cord"
                                << "both";
        QTest::newRow("panels, and the meter takes another connector") << int(TestedEnds::Adapters) << false << "three-cord"
                                                                       << "none";
        QTest::newRow("a plug and a panel") << int(TestedEnds::PlugAndAdapter) << true << "two-cord"
                                            << "one of the";
        QTest::newRow("plugs") << int(TestedEnds::Plugs) << true << "three-cord"
                               << "none";
        QTest::newRow("one connector") << int(TestedEnds::OneConnector) << true << "single-ended"
                                       << "at the reference cord";
    }
    void threeAnswersLeadToAReference()
    {
        QFETCH(const int, ends);
        QFETCH(const bool, meterTakes);
        QFETCH(const QString, method);
        QFETCH(const QString, holds);
        const auto choice = referenceFor({TestedEnds(ends), meterTakes, false});
        QCOMPARE(name(choice.method), std::string_view(method.toStdString()));
        QVERIFY2(QString::fromStdString(choice.holds).contains(holds), choice.holds.c_str());
        QVERIFY(!choice.why.empty());
        QVERIFY(referenceFor({TestedEnds(ends), meterTakes, true}).why.find("launch cord is proven first") != std::string::npos);
    }
    void whatShrinksTheDoubtIsSaid_data()
    {
        QTest::addColumn<double>("margin");
        QTest::addColumn<bool>("multimode");
        QTest::addColumn<QString>("method");
        QTest::addColumn<QString>("says");
        QTest::newRow("clear of the limit") << 0.5 << false << "one-cord"
                                            << "";
        QTest::newRow("a repeat is enough") << 0.14 << false << "one-cord"
                                            << "1 more time;";
        QTest::newRow("over the limit too") << -0.14 << false << "one-cord"
                                            << "1 more time;";
        QTest::newRow("no repeat is enough") << 0.01 << false << "one-cord"
                                             << "No repeat settles it";
        QTest::newRow("another method") << 0.01 << false << "three-cord"
                                        << "one-cord reference";
        QTest::newRow("the launch first") << 0.2 << true << "one-cord"
                                          << "Condition the launch";
    }
    void whatShrinksTheDoubtIsSaid()
    {
        QFETCH(double, margin);
        QFETCH(bool, multimode);
        QFETCH(QString, method);
        QFETCH(QString, says);
        const auto said =
            whatWouldSettleIt(Decibel(margin), {*referenceMethodNamed(method.toStdString()), multimode, {}, {}, {}}, limitsOf("generic-sm"));
        QCOMPARE(said.has_value(), !says.isEmpty());
        if (said) QVERIFY2(QString::fromStdString(*said).contains(says), said->c_str());
    }
    void habitsAreAsked_data()
    {
        QTest::addColumn<std::function<void(LossTask&)>>("habit");
        QTest::addColumn<QString>("code");
        const auto row = [](const char* code, const std::function<void(LossTask&)>& habit) { QTest::newRow(code) << habit << QString(code); };
        row("nominal_reference", [](LossTask& t) {
            for (auto& r : t.readings) r.reference = DecibelMilliwatt(-7), r.power = DecibelMilliwatt(-8.63);
        });
        row("sign_turned", [](LossTask& t) { t.readings[0].power = DecibelMilliwatt(8.63); });
        row("rounded", [](LossTask& t) {
            for (auto& r : t.readings) r.power = DecibelMilliwatt(-8.6);
        });
        row("launch_not_conditioned", [](LossTask& t) { t.launchConditioned = false; });
        row("launch_not_measured", [](LossTask& t) { t.launch = LaunchCord{Decibel(0.1), false}; });
        row("launch_cord_bad", [](LossTask& t) { t.launch = LaunchCord{Decibel(0.9), true}; });
        row("launch_counted_twice", [](LossTask& t) { t.launch = LaunchCord{Decibel(0.1), true, true}; });
    }
    void habitsAreAsked()
    {
        QFETCH(std::function<void(LossTask&)>, habit);
        QFETCH(QString, code);
        LossTask t = task(-7.02, -8.63);
        QVERIFY(!warns(computeLoss(t, limitsOf("generic-sm")), qPrintable(code)));
        habit(t);
        QVERIFY(warns(computeLoss(t, limitsOf("generic-sm")), qPrintable(code)));
    }
    void aZeroedMeterSaysTheLossItself()
    {
        LossTask t = task(-7, -8.5);
        for (auto& r : t.readings) r.reference.reset(), r.shown = Decibel(1.62);
        const auto report = computeLoss(t, limitsOf("generic-sm"));
        QVERIFY(qAbs(report.results[0].worst->value() - 1.62) < 1e-9);
        QVERIFY(report.verdict == LossVerdict::Pass);
        QVERIFY(!warns(report, "no_reference"));
    }

    void typedLevels_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<bool>("good");
        QTest::addColumn<double>("dBm");
        const auto row = [](const char* text, bool good, double dBm = 0) { QTest::newRow(text) << QString::fromUtf8(text) << good << dBm; };
        row("-8.63 dBm", true, -8.63), row("-8,63", true, -8.63), row("−8.63dBm", true, -8.63), row("  -8.63  DBM ", true, -8.63),
            row("+1.5", true, 1.5);
        row("100 uW", true, -10), row("100 µW", true, -10), row("1 mW", true, 0), row("10 nW", true, -50), row("0", true, 0), row("-70", true, -70);
        row("", false), row("abc", false), row("-8.63 dB", false), row("-8.63 V", false), row("-863", false), row("99", false), row("nan", false),
            row("inf", false), row("-8.6.3", false), row("0 uW", false), row("-3 mW", false), row("1e999", false), row("8 63", false),
            row("--8", false);
    }
    void typedLevels()
    {
        QFETCH(QString, typed);
        QFETCH(bool, good);
        QFETCH(double, dBm);
        const auto level = parsePower(typed.toStdString());
        QCOMPARE(level.has_value(), good);
        if (good)
            QVERIFY(qAbs(level->value() - dBm) < 1e-9);
        else
            QVERIFY(level.error().message.size() > 20);
    }
    void aLevelIsNoRatio()
    {
        const auto level = parsePower("-1.6 dB");
        QVERIFY(!level);
        QVERIFY(QString::fromStdString(level.error().message).contains("ratio"));
    }

    void hostileLinks_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("empty") << QByteArray();
        QTest::newRow("a list") << QByteArray("[]");
        QTest::newRow("no readings") << QByteArray(
            R"({"link":"a","fiber":"OS2","length_m":1,"connections":2,"limits":"generic-sm","method":"one-cord"})");
        QTest::newRow("unknown method") << QByteArray(
            R"({"link":"a","fiber":"OS2","length_m":1,"connections":2,"limits":"x","method":"four-cord","readings":[]})");
        QTest::newRow("text for a number") << QByteArray(
            R"({"link":"a","fiber":"OS2","length_m":"far","connections":2,"limits":"x","method":"one-cord","readings":[]})");
        QTest::newRow("negative length") << QByteArray(
            R"({"link":"a","fiber":"OS2","length_m":-5,"connections":2,"limits":"x","method":"one-cord","readings":[]})");
        QTest::newRow("one connection") << QByteArray(
            R"({"link":"a","fiber":"OS2","length_m":5,"connections":1,"limits":"x","method":"one-cord","readings":[]})");
        QTest::newRow("reading is a number") << QByteArray(
            R"({"link":"a","fiber":"OS2","length_m":5,"connections":2,"limits":"x","method":"one-cord","readings":[3]})");
        QTest::newRow("power of the sun") << QByteArray(
            R"({"link":"a","fiber":"OS2","length_m":5,"connections":2,"limits":"x","method":"one-cord","readings":[{"wavelength_nm":1310,"direction":"ab","power_dbm":900}]})");
    }
    void hostileLinks()
    {
        QFETCH(QByteArray, text);
        const auto request = lossRequestFromJson(text.toStdString());
        QVERIFY(!request);
        QVERIFY(request.error().code == Error::Code::LinkInvalid);
        QVERIFY(request.error().message.size() > 20);
    }

    void badLimitFilesAreRefused()
    {
        const std::string good = readFile(dataFolder() / "limits/generic-sm.json").value();
        QVERIFY(parseLimits(good));
        for (const auto& [find, replace] : std::vector<std::pair<std::string, std::string>>{{"\"connection_db\": 0.75", "\"connection_db\": -1"},
                                                                                            {"\"1310\": 1.0", "\"13x10\": 1.0"},
                                                                                            {"clendo-limits", "other"},
                                                                                            {"\"splice_db\"", "\"spl\""}}) {
            std::string bad = good;
            QVERIFY(bad.find(find) != std::string::npos);
            bad.replace(bad.find(find), find.size(), replace);
            QVERIFY(!parseLimits(bad));
        }
        QVERIFY(!parseLimits("{"));
    }

    void oldNamesStand()
    {
        QVERIFY(QString::fromUtf8(oldNames(ReferenceMethod::TwoCord).data()).contains("method A"));
        QVERIFY(!referenceMethodNamed("five-cord"));
        QVERIFY(!directionNamed("up"));
    }
    void aLossIsHeldAgainstAnotherSet_data()
    {
        QTest::addColumn<double>("total");  // dB, a client's own; 0: the generic sum
        QTest::addColumn<QString>("verdict");
        QTest::newRow("generic") << 0.0 << "pass";
        QTest::newRow("a client's, far stricter") << 0.8 << "fail";
        QTest::newRow("a client's, near what was measured") << 1.2 << "near limit";
    }
    void aLossIsHeldAgainstAnotherSet()
    {
        QFETCH(const double, total);
        QFETCH(const QString, verdict);
        const LimitSet own = loadLimits("generic-sm", "OS2", RuleFiles(dataFolder())).value();
        LossTask task;
        task.load = {"OS2", Metre(2400), 2, 2};
        task.readings = {{Nanometre(1310), Direction::AtoB, DecibelMilliwatt(-7), DecibelMilliwatt(-8.25)}};
        const LossResult measured = computeLoss(task, own).results.front();
        LimitSet clients = own;
        if (total > 0) clients.total = Decibel(total);
        const LossResult r = against(measured, task.load, task.method, clients);
        QCOMPARE(QString::fromUtf8(name(r.verdict).data(), qsizetype(name(r.verdict).size())), verdict);
        QVERIFY(r.worst == measured.worst);
        if (total > 0) QVERIFY(std::abs(r.margin->value() - (total - 1.25)) < 1e-9);
        // without a figure for its fibre nothing is judged, and what rests on no reference stays not valid
        LinkLoad other = task.load;
        other.fibre = "OM4";
        QVERIFY(!against(measured, other, task.method, own).limit);
        LossResult unfounded = measured;
        unfounded.founded = false;
        QVERIFY(against(against(measured, other, task.method, own), task.load, task.method, own).verdict ==
                measured.verdict);  // it was only not judged
        QVERIFY(against(unfounded, task.load, task.method, clients).verdict == LossVerdict::NotValid);
    }
};
QTEST_APPLESS_MAIN(TestPower)
#include "test_power.moc"
