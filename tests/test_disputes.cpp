// What was filed between two looks, and what looking costs.
#include <fmt/ranges.h>

#include <QtTest>
#include <nlohmann/json.hpp>

#include "record/output/between_looks.h"
#include "record/output/labels.h"
#include "record/output/price_of_looks.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

BetweenLooks between(const Journal& j, const FaceId& face) { return betweenLooks(j.state(), j.entries, face).value(); }

std::string saidOf(const BetweenLooks& b)
{
    std::string out;
    for (const auto& d : b.between) out += d.who + ": " + d.says + " [" + d.met + ", " + d.metBefore + "]\n";
    return out;
}

}  // namespace

class TestDisputes : public QObject {
    Q_OBJECT
private slots:
    void whatWasFiledBetweenIsNamedWithWhoDidIt()
    {
        Journal j;
        const FaceId strange{"VP-04/2", End::A, Side::Cord};
        j.look(portA);
        j.look(cordA);
        j.who = "technician 2";
        j.add(Joined{portA, strange}).add(Mated{"VP-04/1", End::A}).add(FaceHandled{portB, "touched"});
        j.who = "technician 3";
        j.add(FaceCovered{portA, "open"}).look(portA, {dirt(5)}).look(portA, {dirt(5)});
        const auto b = between(j, portA);
        QVERIFY(b.fit && b.fit->who == "technician 1");
        QCOMPARE(b.bad.who, std::string("technician 3"));
        QVERIFY(b.bad.at > b.fit->at);
        const QString said = QString::fromStdString(saidOf(b));
        QCOMPARE(b.between.size(), std::size_t{3});  // not what happened to another face, nor the second bad look
        QCOMPARE(b.between[0].who, std::string("technician 2"));
        QVERIFY2(b.between[0].metBefore == "never seen before", qPrintable(said));
        QVERIFY2(b.between[1].metBefore.starts_with("seen fit"), qPrintable(said));
        QVERIFY(b.between[2].met.empty());
        QVERIFY(!b.broken.empty());
        QVERIFY(QString::fromStdString(b.sentence).contains("2 touches were filed between, 1 of them by a face that nobody had seen"));
        QVERIFY(QString::fromStdString(b.sentence).contains("nobody as guilty"));
        const auto record = toJson(b, j.state());
        QCOMPARE(record["between"].size(), std::size_t{3});
        QCOMPARE(record["bad"]["entry"].get<std::string>(), b.bad.entry.hex());
    }
    void whatWasTakenBackIsNotThere()
    {
        Journal j;
        j.look(portA).add(FaceHandled{portA, "dropped"});
        const Digest dropped = j.entries.back().hash;
        j.add(Corrected{dropped, "another one"}).look(portA, {dirt(5)});
        QVERIFY2(between(j, portA).between.empty(), saidOf(between(j, portA)).c_str());
    }
    void whoElseFiledInTheSameMomentDidNotTouch()
    {
        Journal j;
        const FaceId strange{"VP-04/2", End::A, Side::Cord};
        j.look(portA);
        // in one act, so at one time: the kit looked through, another pair joined, and then this face
        j.act({KitChecked{}, Joined{portB, cordB}, Joined{portA, strange}});
        j.look(portA, {dirt(5)});
        const auto b = between(j, portA);
        QCOMPARE(b.between.size(), std::size_t{1});
        QCOMPARE(b.between[0].entry, j.entries[j.entries.size() - 2].hash);
        QVERIFY(b.between[0].met.find("2") != std::string::npos);
    }
    void aFaceThatNobodySawFitSaysSo()
    {
        Journal j;
        j.add(Joined{portA, cordA}).look(portA, {dirt(5)});
        const auto b = between(j, portA);
        QVERIFY(!b.fit);
        QVERIFY(QString::fromStdString(b.sentence).contains("nobody had seen it fit before"));
        QCOMPARE(b.between.size(), std::size_t{1});
        QVERIFY(toJson(b, j.state())["fit"].is_null());
    }
    void theLastTimeCounts()
    {
        Journal j;
        j.look(portA)
            .add(FaceHandled{portA, "dropped"})
            .look(portA, {dirt(5)})
            .clean(portA)
            .look(portA)
            .add(FaceHandled{portA, "touched"})
            .look(portA, {dirt(9)});
        const auto b = between(j, portA);
        QCOMPARE(b.between.size(), std::size_t{1});
        QVERIFY(QString::fromStdString(b.between[0].says).contains("touched"));
    }
    void aFaceThatWasNeverBadHasNothingToSettle()
    {
        Journal j;
        j.look(portA);
        QVERIFY(betweenLooks(j.state(), j.entries, portA).error().code == Error::Code::StepRefused);
        QVERIFY(!betweenLooks(j.state(), j.entries, portB));
        j.blurred(portA);  // no evidence, so nothing bad
        QVERIFY(!betweenLooks(j.state(), j.entries, portA));
    }
    void aCrewCannotHideATouchByAnotherClock()
    {
        Journal j;
        j.look(portA).act({Joined{portA, cordB}}, 7200).look(portA, {dirt(5)});  // filed two hours late
        QCOMPARE(between(j, portA).between.size(), std::size_t{1});
    }
    void whatWasFiledAfterTheBadLookAndHappenedBeforeIsThere()
    {
        Journal j;
        j.look(portA).look(cordB).look(portA, {dirt(5)});
        j.who = "technician 2";
        j.act({Joined{portA, cordB}}, 90);  // filed a minute after, happened half a minute before
        const auto b = between(j, portA);
        QCOMPARE(b.between.size(), std::size_t{1});
        QCOMPARE(b.between[0].who, std::string("technician 2"));
    }
    void looksAreCountedByTheJournalsOwnTimes()
    {
        Journal j;  // a line a minute
        j.look(portA).look(cordA, {dirt(5)}).clean(cordA).look(cordA).look(portB).look(cordB, {dirt(3)}).blurred(cordB);
        const auto p = priceOfLooks(j.state(), j.entries);
        const ReturnsAssumed half{Second(7200), 0.5};
        QCOMPARE(p.looks, 6);
        QCOMPARE(p.look.middle->value(), 60.0);
        QCOMPARE(p.clean.counted, 1);
        QCOMPARE(p.dirtyAtFirst, 2);
        QCOMPARE(p.firstLooks, 4);
        QCOMPARE(p.spent->value(), 360.0);
        QCOMPARE(spared(p, half).value(), 7200.0);
        QCOMPARE(p.comeBack.counted, 0);
        const auto all = QString::fromStdString(fmt::format("{}", fmt::join(wordsOf(p, half), " ")));
        QVERIFY2(all.contains("assumed, not measured") && all.contains("Assumed: 50 %"), qPrintable(all));
    }
    void aReturnIsMeasuredWhereThereWasOne()
    {
        Journal j = mated();
        j.look(portA, {dirt(5)}).clean(portA).clean(portA).look(portA);
        const auto p = priceOfLooks(j.state(), j.entries);
        QCOMPARE(p.comeBack.counted, 1);
        QCOMPARE(p.comeBack.middle->value(), 180.0);
    }
    void pausesAreNoLooks()
    {
        Journal j;
        j.look(portA);
        j.act({FaceSeen{portB, "sha", "p.png", {}, {}}}, -7200);  // after lunch
        QCOMPARE(priceOfLooks(j.state(), j.entries).look.counted, 1);
        Journal nothing;
        QVERIFY(
            QString::fromStdString(wordsOf(priceOfLooks(nothing.state(), nothing.entries), {Second(60), 1}).front()).contains("nothing can be said"));
    }
    void cordsOfTheKitHaveLabels()
    {
        Journal j;
        j.add(KitKept{"RC-1", "cord", {"LC"}, "7", 0, 500, "sm-upc", false}).add(KitKept{"RC-2", "cord", {"LC"}, {}, 0, 500, "sm-upc", true});
        const auto labels = labelsOf(j.state(), nullptr);
        QCOMPARE(labels.size(), std::size_t{1});  // the other one is gone
        QCOMPARE(labels[0].code, std::string("clendo:cord RC-1:none"));
    }
};

QTEST_APPLESS_MAIN(TestDisputes)
#include "test_disputes.moc"
