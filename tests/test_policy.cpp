#include <QtTest>
#include <nlohmann/json.hpp>

#include "record/advice/cleaning_advice.h"
#include "record/advice/face_advice.h"
#include "record/advice/round.h"
#include "record/fold/fold.h"
#include "record/fold/growing_fold.h"
#include "record/rules/completeness.h"
#include "record/rules/gates.h"
#include "record/state/fitness.h"
#include "record/state/job_policy.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

Journal withPolicy(const char* key, const char* answer)
{
    Journal j;
    j.set(withAnswer(j.state().plan->job, key, answer));
    return j;
}

QString refusal(const JobState& s)
{
    const auto ok = mayMate(s, *s.link("VP-04/1"), End::A);
    return ok ? QString() : QString::fromStdString(ok.error().message);
}

}  // namespace

/// Where good practitioners disagree the job decides: each row changes what it says it changes.
class TestPolicy : public QObject {
    Q_OBJECT
private slots:
    void everyRowIsCompleteAndItsAnswersAreKept()
    {
        std::set<std::string> keys;
        for (const auto& row : policyRows()) {
            QVERIFY(keys.insert(row.key).second);
            QVERIFY(row.choices.size() >= 2 && !row.reason.empty() && !row.changes.empty() && !row.question.empty());
            QCOMPARE(answerOf(JobSettings{}, row.key), row.choices.front().first);
            for (const auto& [answer, words] : row.choices) {
                const JobSettings job = withAnswer(JobSettings{}, row.key, answer);
                QCOMPARE(answerOf(job, row.key), answer);
                JobSettings back;
                for (const auto& fact : settingFacts({}, job)) {
                    const auto read = factFrom(kindOf(fact), bodyOf(fact).dump());
                    QVERIFY(read);
                    if (std::holds_alternative<ReferenceVoided>(*read)) continue;  // another method: what was referenced no longer fits
                    const auto& setting = std::get<SettingSet>(*read);
                    QVERIFY(applySetting(back, setting.key, nlohmann::json::parse(setting.value)));
                }
                QCOMPARE(answerOf(back, row.key), answer);
            }
        }
        QVERIFY(keys.size() >= 12);
    }
    void anAnswerOfAnotherVersionIsSaidAndTheDefaultHolds()
    {
        Journal j;
        JobSettings job;
        job.name = "old";
        job.policies = {{"sleeve", "by moonlight"}, {"weather", "dry"}};
        j.set(job);
        const JobState s = j.state();
        QCOMPARE(std::string(s.policy("sleeve")), std::string("step"));
        const auto said = [&](const char* words) {
            return std::any_of(s.troubles.begin(), s.troubles.end(), [&](const auto& t) { return t.find(words) != std::string::npos; });
        };
        QVERIFY(said("by moonlight") && said("“weather”"));
        QVERIFY(s.plan->job.policies.contains("weather"));  // kept for the version that knows it
    }
    void theSleeveWaitsForItsStep()
    {
        Journal j;
        j.look(cordA).look(portA);
        QVERIFY(refusal(j.state()).contains("sleeve"));
        JobState s = j.state();
        QCOMPARE(faceAdvice(s, *s.link("VP-04/1"), portA).headline, std::string("Fit: now the sleeve"));
        j.add(SleeveCleaned{"VP-04/1", End::A});
        QVERIFY(refusal(j.state()).isEmpty());
        s = j.state();
        QCOMPARE(faceAdvice(s, *s.link("VP-04/1"), portA).headline, std::string("Fit: mate now"));
        j.add(Mated{"VP-04/1", End::A}).look(portA);  // opened: the sleeve has to be done again
        QVERIFY(refusal(j.state()).contains("sleeve"));
        Journal none = withPolicy("sleeve", "none");
        none.look(cordA).look(portA);
        QVERIFY(refusal(none.state()).isEmpty());
    }
    void aCapIsTrustedWhereTheJobSaysSo()
    {
        for (const bool trust : {false, true}) {
            Journal j = withPolicy("caps", trust ? "trust" : "look");
            j.add(FaceCovered{cordA, "factory cap"}).look(portA).add(SleeveCleaned{"VP-04/1", End::A});
            QCOMPARE(refusal(j.state()).isEmpty(), trust);
        }
    }
    void aFaceAgesWhileItIsOpen_data()
    {
        QTest::addColumn<QString>("answer");
        QTest::addColumn<QString>("covered");
        QTest::addColumn<int>("minutes");
        QTest::addColumn<bool>("fit");
        QTest::newRow("fresh") << "30"
                               << "" << 29 << true;
        QTest::newRow("too long") << "30"
                                  << "" << 31 << false;
        QTest::newRow("stricter") << "10"
                                  << "" << 11 << false;
        QTest::newRow("never by itself") << "never"
                                         << "" << 100000 << true;
        QTest::newRow("capped") << "30"
                                << "capped" << 1400 << true;
        QTest::newRow("parked") << "30"
                                << "parked" << 1400 << true;
        QTest::newRow("cap taken off") << "30"
                                       << "open" << 31 << false;
    }
    void aFaceAgesWhileItIsOpen()
    {
        QFETCH(QString, answer);
        QFETCH(QString, covered);
        QFETCH(int, minutes);
        QFETCH(bool, fit);
        Journal j = withPolicy("open", answer.toUtf8().constData());
        j.look(cordA);
        const std::int64_t seen = j.entries.back().at();
        if (!covered.isEmpty()) j.add(FaceCovered{cordA, covered.toStdString()});
        const JobState s = fold(j.entries, j.rules, seen + 60 * minutes);
        QCOMPARE(s.face(cordA).condition == FaceCondition::Fit, fit);
        if (!fit) QVERIFY(whyNotFit(s, cordA).find("left open too long") != std::string::npos);
        GrowingFold growing(j.rules);
        (void)growing.update(j.entries, seen);
        const auto ages = growing.nextAgeing();
        QCOMPARE(ages && *ages <= seen + 60 * minutes, !fit);
    }
    void whatHappenedToAFaceMakesItUnseen_data()
    {
        QTest::addColumn<QString>("how");
        for (const char* how : {"touched", "dropped", "moved", "open too long"}) QTest::newRow(how) << how;
    }
    void whatHappenedToAFaceMakesItUnseen()
    {
        QFETCH(QString, how);
        Journal j;
        j.look(cordA).look(portA).add(SleeveCleaned{"VP-04/1", End::A}).add(FaceHandled{cordA, how.toStdString()});
        QVERIFY(j.state().face(cordA).condition == FaceCondition::Stale);
        QVERIFY(refusal(j.state()).contains("was " + how));
        j.look(cordA);
        QVERIFY(refusal(j.state()).isEmpty());
    }
    void matingAllTheSameNeedsAReasonThatIsKept()
    {
        Journal j;
        j.look(cordA);
        const JobState s = j.state();
        const auto refused = mayMate(s, *s.link("VP-04/1"), End::A);
        QVERIFY(!refused && refused.error().code == Error::Code::StepRefused);
        j.add(Mated{"VP-04/1", End::A, "port could not be reached"});
        QVERIFY(j.state().state("VP-04/1").mated.contains(End::A));
        const auto back = factFrom("mated", bodyOf(j.entries.back().fact).dump());
        QCOMPARE(std::get<Mated>(*back).reason, std::string("port could not be reached"));
    }
    void mixedCoresAreForbiddenNotRefused()
    {
        Journal j;
        for (const auto& [face, core] : {std::pair(cordA, CoreKind::SingleMode), std::pair(portA, CoreKind::Multimode50)}) {
            FaceSeen seen{face, "sha", "p.png", {}};
            seen.measured.claddingDiameter = Pixel(300);
            seen.measured.core = core;
            j.add(seen);
        }
        const JobState s = j.state();
        const auto refused = mayMate(s, *s.link("VP-04/1"), End::A);
        QVERIFY(!refused && refused.error().code == Error::Code::StepForbidden);
    }
    void theFirstStepAndTheFirstMethodAreChosen()
    {
        const FaceState fresh;
        QCOMPARE(adviceFor(fresh, "dry").method, std::string("dry"));
        QCOMPARE(adviceFor(fresh, "wet").method, std::string("wet-then-dry"));
        const JobState look = Journal().state(), clean = withPolicy("first_step", "clean").state();
        QCOMPARE(faceAdvice(look, *look.link("VP-04/1"), cordA).headline, std::string("Look first"));
        QCOMPARE(faceAdvice(clean, *clean.link("VP-04/1"), cordA).headline, std::string("Clean, then look"));
    }
    void oneDirectionHalvesTheReadings()
    {
        const auto references = [](const JobState& s) {
            const Round round = roundOf(s);
            return std::count_if(round.left.begin(), round.left.end(), [](const Step& step) { return step.kind == StepKind::Reference; });
        };
        QCOMPARE(references(Journal().state()), 2);
        QCOMPARE(references(withPolicy("directions", "one").state()), 1);
    }
    void groundInMarksAreNotedOrReplaced()
    {
        for (const bool replace : {false, true}) {
            Journal j = withPolicy("ground_in", replace ? "replace" : "note");
            Finding scratch = dirt(40, 1);
            scratch.kind = FindingKind::Scratch;
            scratch.appearance = Appearance::Scratch;
            j.look(cordA, {scratch});
            const JobState s = j.state();
            QVERIFY(s.face(cordA).condition == FaceCondition::Fit);
            const auto help = faceAdvice(s, *s.link("VP-04/1"), cordA).help;
            const auto said = [&](const char* words) {
                return std::any_of(help.begin(), help.end(), [&](const auto& h) { return h.find(words) != std::string::npos; });
            };
            QCOMPARE(said("replaced"), replace);
            QCOMPARE(said("note them"), !replace);
        }
    }
    void aSuspectFaceMustBeSeenAgainBeforeItIsSigned()
    {
        Journal j = finished();
        QVERIFY(maySign(j.state(), *j.state().link("VP-04/1")));
        j.add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
        const FaceId cord{"RC-1", End::A, Side::Cord}, other{"VP-04/2", End::A, Side::Port};
        j.look(cord).look(portA).add(Joined{portA, cord}).look(cord, {dirt(30)});
        const JobState s = j.state();
        QVERIFY(s.face(portA).suspicion && s.face(portA).condition == FaceCondition::Stale);
        QVERIFY(!s.face(other).suspicion);
        QVERIFY(whyNotFit(s, portA).find("test cord RC-1, end A was found bad") != std::string::npos);
        const auto sign = maySign(s, *s.link("VP-04/1"));
        QVERIFY(!sign && sign.error().message.find("may carry dirt") != std::string::npos);
        const Round round = roundOf(s);
        QVERIFY(
            std::any_of(round.left.begin(), round.left.end(), [&](const Step& step) { return step.kind == StepKind::Look && step.face == portA; }));
        j.look(portA);
        QVERIFY(!j.state().face(portA).suspicion);
    }
};
QTEST_APPLESS_MAIN(TestPolicy)
#include "test_policy.moc"
