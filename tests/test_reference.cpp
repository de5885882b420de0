#include <QtTest>
#include <functional>

#include "record/advice/link_advice.h"
#include "record/rules/plausible.h"
#include "record/rules/read_again.h"
#include "record/rules/reference_health.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

constexpr double nm = 1310;

Digest referenceIn(const Journal& j)
{
    const auto state = j.state();
    const auto* set = state.reference(Direction::AtoB, Nanometre(nm));
    return set ? set->entry : Digest{};
}

Journal& reference(Journal& j, double dBm = -7.02, const std::string& launch = {})
{
    ReferenceSet set{ReferenceMethod::OneCord, Nanometre(nm), Direction::AtoB, DecibelMilliwatt(dBm)};
    set.launch = launch;
    return j.add(set);
}
Journal& read(Journal& j, const char* link, double dBm)
{
    return j.add(PowerRead{link, Nanometre(nm), Direction::AtoB, DecibelMilliwatt(dBm), referenceIn(j), {}});
}
Journal& prove(Journal& j, double dBm, const char* cord = "RC-2")
{
    ReferenceProved proof;
    proof.wavelength = Nanometre(nm);
    proof.level = DecibelMilliwatt(dBm);
    proof.cord = cord;
    proof.reference = referenceIn(j);
    return j.add(proof);
}
Journal& check(Journal& j, double dBm)
{
    ReferenceChecked one;
    one.wavelength = Nanometre(nm);
    one.level = DecibelMilliwatt(dBm);
    one.reference = referenceIn(j);
    return j.add(one);
}
std::optional<double> lossOf(const Journal& j, const char* link)
{
    const auto state = j.state();
    const auto& loss = state.state(link).loss;
    return loss && loss->results[0].lossAb ? std::optional(loss->results[0].lossAb->value()) : std::nullopt;
}
/// A cable of many fibres under a policy.
Journal many(const char* key = nullptr, const char* answer = nullptr)
{
    Journal j;
    JobSettings job = j.state().plan->job;
    if (key) job.policies[key] = answer;
    j.set(job);
    j.add(CablePlanned{varrowCable(12)});
    return j;
}
std::string linkOf(int n) { return "VP-04/" + std::to_string(n); }

}  // namespace

/// What a reference is worth, from being set to being void.
class TestReference : public QObject {
    Q_OBJECT
private slots:
    void aProofIsJudgedByWhatAPairMayLose_data()
    {
        QTest::addColumn<double>("added");
        QTest::addColumn<int>("verdict");
        QTest::addColumn<bool>("inForce");
        QTest::newRow("good") << 0.12 << int(ProofVerdict::Good) << true;
        QTest::newRow("just as much as it may") << 0.20 << int(ProofVerdict::Good) << true;
        QTest::newRow("the meter's own steps") << -0.02 << int(ProofVerdict::Good) << true;
        QTest::newRow("a worn or dirty cord") << 0.46 << int(ProofVerdict::TooMuch) << true;
        QTest::newRow("a gain is refused") << -0.15 << int(ProofVerdict::Gain) << false;
    }
    void aProofIsJudgedByWhatAPairMayLose()
    {
        QFETCH(double, added);
        QFETCH(int, verdict);
        QFETCH(bool, inForce);
        Journal j;
        prove(reference(j), -7.02 - added);
        const auto state = j.state();
        const auto most = state.plan->limitsFor(state.plan->cables.front())->referencePair;
        QCOMPARE(state.proofs.size(), 1U);
        QCOMPARE(int(judgeProof(state.proofs[0].loss, most)), verdict);
        QCOMPARE(state.reference(Direction::AtoB, Nanometre(nm)) != nullptr, inForce);
        QVERIFY(!proofWords(state.proofs[0].loss, most).empty());
        read(j, "VP-04/1", -8.63);
        QCOMPARE(lossOf(j, "VP-04/1").has_value(), inForce);
    }
    void aCheckThatHoldsChangesNothing()
    {
        Journal j = many();
        read(reference(j), "VP-04/1", -8.63);
        check(j, -7.09);
        QVERIFY(std::abs(*lossOf(j, "VP-04/1") - 1.61) < 1e-9);
        QVERIFY(readAgain(j.state()).empty());
        QVERIFY(checkWords(j.state(), j.state().checks.back().loss).find("holds") != std::string::npos);
    }
    void driftVoidsWhatWasReadSinceTheLastGoodCheckAndNothingBefore()
    {
        Journal j = many();
        read(reference(j), "VP-04/1", -8.63);
        check(j, -7.05);
        read(j, "VP-04/2", -8.70);
        read(j, "VP-04/3", -10.25);  // nearly at its limit of 3.30 dB
        check(j, -7.20);
        QVERIFY(lossOf(j, "VP-04/1"));
        QVERIFY(!lossOf(j, "VP-04/2") && !lossOf(j, "VP-04/3"));
        const auto state = j.state();
        QVERIFY(!state.reference(Direction::AtoB, Nanometre(nm)));
        const auto again = readAgain(state);
        QCOMPARE(again.size(), 2U);
        QCOMPARE(again[0].link, std::string("VP-04/3"));  // the smallest margin first
        QVERIFY(again[0].why.find("drifted by -0.18 dB") != std::string::npos);
        QVERIFY(lacksReading(state, *state.link("VP-04/2"), Direction::AtoB));
        // read again on a new reference: nothing is in doubt any more
        read(reference(j, -7.2), "VP-04/2", -8.9);
        read(j, "VP-04/3", -10.4);
        QVERIFY(readAgain(j.state()).empty());
        QVERIFY(lossOf(j, "VP-04/3"));
    }
    void aJobMayTolerateLess()
    {
        Journal j = many("drift", "0.05");
        read(reference(j), "VP-04/1", -8.63);
        check(j, -7.09);
        QVERIFY(!lossOf(j, "VP-04/1"));
    }
    void aReferenceGrowsOldAndACheckMakesItYoung()
    {
        Journal j = many("reference_age", "60");
        reference(j);
        for (int i = 0; i < 58; ++i) j.look(portA);  // a minute each
        read(j, "VP-04/1", -8.63);
        QVERIFY(lossOf(j, "VP-04/1"));
        j.look(portA).look(portA);
        read(j, "VP-04/2", -8.63);
        QVERIFY(!lossOf(j, "VP-04/2"));
        QVERIFY(readAgain(j.state()).front().why.find("minutes old") != std::string::npos);
        check(j, -7.03);
        read(j, "VP-04/3", -8.63);
        QVERIFY(lossOf(j, "VP-04/3"));
    }
    void aReferenceServesSoManyFibres()
    {
        Journal j = many("reference_fibres", "12");
        j.add(CablePlanned{varrowCable(24)});
        reference(j);
        for (int n = 1; n <= 13; ++n) read(j, linkOf(n).c_str(), -8.63);
        QVERIFY(lossOf(j, "VP-04/12"));
        QVERIFY(!lossOf(j, "VP-04/13"));
        check(j, -7.02);
        read(j, "VP-04/13", -8.63);
        QVERIFY(lossOf(j, "VP-04/13"));
    }
    void aSourceThatWasSwitchedOnVoidsAndIsCold()
    {
        Journal j = many();
        reference(j).add(SourceSwitchedOn{});
        QVERIFY(!j.state().reference(Direction::AtoB, Nanometre(nm)));
        read(reference(j), "VP-04/1", -8.63);  // a minute later
        const auto cold = j.state();
        const auto& warnings = cold.state("VP-04/1").loss->warnings;
        QVERIFY(std::any_of(warnings.begin(), warnings.end(), [](const auto& w) { return w.code == "source_cold"; }));
        for (int i = 0; i < 12; ++i) j.look(portA);
        read(reference(j), "VP-04/2", -8.63);
        const auto warm = j.state();
        for (const auto& w : warm.state("VP-04/2").loss->warnings) QVERIFY(w.code != "source_cold");
    }
    void aZeroedMeterSaysTheLoss()
    {
        Journal j = many();
        ReferenceSet zero{ReferenceMethod::OneCord, Nanometre(nm), Direction::AtoB, {}};
        zero.zeroed = true;
        j.add(zero);
        PowerRead shown{"VP-04/1", Nanometre(nm), Direction::AtoB, {}, referenceIn(j), {}};
        shown.shown = Decibel(1.62);
        j.add(shown);
        QCOMPARE(*lossOf(j, "VP-04/1"), 1.62);
        read(j, "VP-04/2", -8.63);  // a level on a zero is nothing
        QVERIFY(!lossOf(j, "VP-04/2"));
        reference(j);
        shown.link = "VP-04/3";
        shown.reference = referenceIn(j);
        j.add(shown);  // and a ratio on a level is none either
        QVERIFY(!lossOf(j, "VP-04/3"));
    }
    void whatAZeroedMeterShowsIsReadByItsSign_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<bool>("negative");
        QTest::addColumn<double>("loss");  // 99: refused
        const auto row = [](const char* typed, bool negative, double loss) {
            QTest::addRow("%s %d", typed, negative) << QString::fromUtf8(typed) << negative << loss;
        };
        row("-1.62", true, 1.62), row("1.62", false, 1.62), row("−1,62 dB", true, 1.62), row("1.62", true, -1.62), row("+0.05 dB", true, -0.05);
        row("-8.63 dBm", true, 99), row("", true, 99), row("abc", false, 99), row("162", false, 99), row("nan", true, 99);
    }
    void whatAZeroedMeterShowsIsReadByItsSign()
    {
        QFETCH(QString, typed);
        QFETCH(bool, negative);
        QFETCH(double, loss);
        const auto read = parseRelative(typed.toStdString(), negative);
        QCOMPARE(read.has_value(), loss < 90);
        if (read) QVERIFY(qAbs(read->value() - loss) < 1e-9);
    }
    void aCordThatAddsMoreAndMoreIsWorn()
    {
        Journal j;
        reference(j);
        for (const double added : {0.06, 0.07, 0.06, 0.09}) prove(j, -7.02 - added);
        QVERIFY(cordWear(j.state(), Decibel(0.2)).empty());  // not proven often enough to say
        for (const double added : {0.10, 0.11}) prove(j, -7.02 - added);
        QVERIFY(!cordWear(j.state(), Decibel(0.2)).front().worn);
        const std::string young = cordHistory(j.state(), "RC-2");
        for (const double added : {0.18, 0.19, 0.18}) prove(j, -7.02 - added);
        const std::string old = cordHistory(j.state(), "RC-2");
        QVERIFY2(old.find("0.18, 0.19, 0.18 dB") != std::string::npos && old.size() > young.size(), old.c_str());
        QVERIFY(cordHistory(j.state(), "RC-9").empty());
        QVERIFY(cordWear(j.state(), Decibel(0.2)).front().worn);
    }
    void aLaunchCordIsTakenOffAsItWasMeasured_data()
    {
        QTest::addColumn<bool>("proven");
        QTest::addColumn<bool>("inReference");
        QTest::addColumn<double>("loss");
        QTest::addColumn<QString>("warning");
        QTest::newRow("measured") << true << false << 1.61 - 0.14 << "";
        QTest::newRow("nobody measured it") << false << false << 1.61 << "launch_not_measured";
        QTest::newRow("the reference was set through it") << true << true << 1.61 - 0.14 << "launch_counted_twice";
    }
    void aLaunchCordIsTakenOffAsItWasMeasured()
    {
        QFETCH(const bool, proven);
        QFETCH(const bool, inReference);
        QFETCH(const double, loss);
        QFETCH(const QString, warning);
        Journal j;
        if (proven) prove(reference(j), -7.16, "LC-1");
        ReferenceSet set{ReferenceMethod::OneCord, Nanometre(nm), Direction::AtoB, DecibelMilliwatt(-7.02)};
        set.launchCord = "LC-1";
        if (inReference) set.with = {"LC-1"};
        j.add(set);
        read(j, "VP-04/1", -8.63);
        const auto state = j.state();
        const auto& report = *state.state("VP-04/1").loss;
        QVERIFY(std::abs(*lossOf(j, "VP-04/1") - loss) < 1e-9);
        const bool said =
            std::any_of(report.warnings.begin(), report.warnings.end(), [&](const auto& w) { return QString::fromStdString(w.code) == warning; });
        QCOMPARE(said, !warning.isEmpty());
        QCOMPARE(report.results.front().verdict == LossVerdict::NotValid, !proven);
        // what is taken off adds its doubt
        Journal plain;
        read(reference(plain), "VP-04/1", -8.63);
        const auto without = plain.state();
        QVERIFY(report.results.front().uncertainty > without.state("VP-04/1").loss->results.front().uncertainty);
    }
    void whatCannotWellBeIsAskedFirst_data()
    {
        QTest::addColumn<double>("dBm");
        QTest::addColumn<QString>("asks");
        QTest::newRow("as it should be") << -8.63 << "";
        QTest::newRow("a gain") << -6.80 << "gain";
        QTest::newRow("the floor") << -68.0 << "floor";
        QTest::newRow("far too much") << -47.0 << "cannot come from";
        QTest::newRow("less than the fibre") << -7.05 << "fibre alone";
        QTest::newRow("a minus left out") << 8.63 << "minus";
        QTest::newRow("as the fibre beside it") << -8.41 << "Fibre 3";
    }
    void whatCannotWellBeIsAskedFirst()
    {
        QFETCH(const double, dBm);
        QFETCH(const QString, asks);
        Journal j = many();
        auto job = j.state().plan->job;
        job.wavelengths = {1310};
        j.set(job);
        read(reference(j), "VP-04/3", -8.41);
        const std::string asked = askBeforeFiling(j.state(), {"VP-04/4", Nanometre(nm), Direction::AtoB, DecibelMilliwatt(dBm)});
        QVERIFY2(asks.isEmpty() ? asked.empty() : QString::fromStdString(asked).contains(asks), asked.c_str());
    }
    void multimodeWantsItsLaunch()
    {
        Journal j;
        auto cable = varrowCable(2);
        cable.id = "VP-11";
        cable.fibre = "OM4";
        cable.splices.clear();
        cable.length = Metre(86);
        j.add(CablePlanned{cable});
        const auto warned = [&](const char* launch) {
            ReferenceSet set{ReferenceMethod::OneCord, Nanometre(850), Direction::AtoB, DecibelMilliwatt(-20.11)};
            set.launch = launch;
            j.add(set);
            j.add(PowerRead{"VP-11/1", Nanometre(850), Direction::AtoB, DecibelMilliwatt(-20.93), {}, {}});
            const auto state = j.state();
            const auto& warnings = state.state("VP-11/1").loss->warnings;
            return std::any_of(warnings.begin(), warnings.end(), [](const auto& w) { return w.code == "launch_not_conditioned"; });
        };
        QVERIFY(warned(""));
        Journal fresh;
        fresh.add(CablePlanned{cable});
        j = fresh;
        QVERIFY(!warned("encircled flux"));
    }
    void theAdviceSaysWhatIsWrong()
    {
        Journal j = many();
        read(reference(j), "VP-04/1", -8.63);
        const auto helpOf = [&] {
            const auto state = j.state();
            const auto advice = lossAdvice(state, *state.link("VP-04/1"), state.lastEntryAt);
            return QString::fromStdString(fmt::format("{}", fmt::join(advice.help, "\n")));
        };
        QVERIFY(helpOf().contains("Not proven yet"));
        QVERIFY(helpOf().contains("matings"));  // what the uncertainty is made of
        prove(j, -7.5);
        QVERIFY(helpOf().contains("prove again"));
        check(j, -7.4);
        QVERIFY(helpOf().contains("1 reading is in doubt"));
    }
};

QTEST_APPLESS_MAIN(TestReference)
#include "test_reference.moc"
