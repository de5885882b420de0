#include <QtTest>
#include <nlohmann/json.hpp>

#include "record/advice/advice.h"
#include "record/advice/link_advice.h"
#include "record/fold/fold.h"
#include "record/fold/growing_fold.h"
#include "record/fold/signatures.h"
#include "record/output/certificate.h"
#include "varrow_journal.h"

using namespace clendo;

namespace {

/// What may come after a signature over finished(), by number.
void happen(Journal& j, int what)
{
    const Digest reading =
        std::find_if(j.entries.begin(), j.entries.end(), [](const Entry& e) { return std::holds_alternative<PowerRead>(e.fact); })->hash;
    if (what == 1) j.look({"VP-04/2", End::A, Side::Cord});
    if (what == 2) j.light(-7, -12);
    if (what == 3) j.add(SettingSet{"limits", "\"iso-link-sm\""});
    if (what == 4) j.add(SettingSet{"name", "\"Varrow\""});
    if (what == 5) j.add(Corrected{reading, "misread"});
    if (what == 6) j.add(FaceHandled{cordA, "touched"});
    if (what == 7) j.add(CablePlanned{varrowCable(4)});
    if (what == 8) j.add(FaceHandled{cordA, "touched"}).add(Corrected{j.entries.back().hash, "not this one"});
    if (what == 9) j.add(SettingSet{"method", "\"three-cord\""});
    if (what == 10) j.add(SettingSet{"edition", "\"pristine\""});
    if (what == 11) j.add(SettingSet{"policy.tier", "\"1\""});
    if (what == 12) j.light(-7, -8.5, "VP-04/2");
    if (what == 13) j.light(-7, -8.5);
    if (what == 14) {  // a test cord that touched its port before is found dirty now
        j.look({"RC-1", End::A, Side::Cord}, {dirt(30)});
    }
    if (what == 15) j.add(SettingSet{"attempts", "3"});
}

}  // namespace

class TestSignatures : public QObject {
    Q_OBJECT
private slots:
    void aSignatureIsOvertakenByWhatChangesIt_data()
    {
        QTest::addColumn<int>("what");
        QTest::addColumn<bool>("overtaken");
        QTest::addColumn<QString>("differs");
        QTest::newRow("nothing") << 0 << false << "";
        QTest::newRow("another fibre is seen") << 1 << false << "";
        QTest::newRow("a reading of this one") << 2 << true << "loss at 1310 nm";
        QTest::newRow("other limits") << 3 << true << "limits";
        QTest::newRow("the job is renamed") << 4 << false << "";
        QTest::newRow("an earlier reading is taken back") << 5 << true << "loss at 1310 nm";
        QTest::newRow("its face is touched") << 6 << true << "face: TH-R2 port 1, cord side";
        QTest::newRow("the cable is planned otherwise") << 7 << true << "plan";
        QTest::newRow("a touch that was taken back") << 8 << false << "";
        QTest::newRow("another method from now on") << 9 << false << "";  // what was read by one cord is still judged by one cord
        QTest::newRow("stricter criteria") << 10 << true << "criteria";
        QTest::newRow("less is wanted") << 11 << true << "trace at 1310 nm, A to B";
        QTest::newRow("another fibre is read") << 12 << false << "";
        QTest::newRow("the same values are read again") << 13 << true << "loss at 1310 nm";
        QTest::newRow("what touched it is found dirty") << 14 << true << "face: TH-R2 port 1, behind";
        QTest::newRow("what changes no verdict") << 15 << false << "";
    }
    void aSignatureIsOvertakenByWhatChangesIt()
    {
        QFETCH(const int, what);
        QFETCH(const bool, overtaken);
        QFETCH(const QString, differs);
        Journal j;
        j.add(KitKept{"RC-1", "cord", {"LC"}, {}, 0, 500, "sm-upc", false});
        j.look({"RC-1", End::A, Side::Cord});  // dirt may have come onto it at any time after this
        j.look(portA).add(Joined{portA, {"RC-1", End::A, Side::Cord}});
        for (const auto& e : finished().entries)
            if (!isPlan(e.fact) && !(std::holds_alternative<FaceSeen>(e.fact) && subjectOf(e.fact) == portA.text())) {
                Fact fact = e.fact;
                if (auto* read = std::get_if<PowerRead>(&fact)) read->reference = {};
                j.add(std::move(fact));
            }
        if (what != 14) j = finished();
        j.sign("VP-04/1");
        const std::size_t before = j.entries.size();
        QVERIFY(j.state().state("VP-04/1").signature->stands);
        happen(j, what);
        const JobState s = j.state();
        QCOMPARE(s.state("VP-04/1").signature->stands, !overtaken);
        const auto signatures = signaturesIn(j.entries, s, j.rules, j.source());
        QCOMPARE(signatures.size(), std::size_t{1});
        QCOMPARE(signatures.front().overtaken.has_value(), overtaken);
        if (!overtaken) return;
        const auto& by = *signatures.front().overtaken;
        QVERIFY(by.since && *by.since > signatures.front().at);
        // the entry with which it began to differ came after the signature
        const auto entry = std::find_if(j.entries.begin(), j.entries.end(), [&](const Entry& e) { return e.hash == by.by; });
        QVERIFY(entry != j.entries.end() && entry - j.entries.begin() >= std::ptrdiff_t(before));
        QVERIFY2(std::any_of(by.differs.begin(), by.differs.end(), [&](const Difference& d) { return d.about == differs.toStdString(); }),
                 by.differs.empty() ? "nothing differs" : by.differs.front().about.c_str());
        for (const auto& d : by.differs) QVERIFY(d.before != d.now);
        // signing again is one key; then it stands
        const Advice r = signAdvice(s, *s.link("VP-04/1"));
        QVERIFY(r.headline != "Signed off");
        j.sign("VP-04/1", "again");
        QVERIFY(j.state().state("VP-04/1").signature->stands);
    }
    void theFoldThatGrowsSaysTheSame()
    {
        for (int what = 0; what <= 15; ++what) {
            Journal j = finished();
            j.sign("VP-04/1");
            GrowingFold growing(j.rules);
            growing.update(j.entries, 0);
            happen(j, what);
            growing.update(j.entries, 0);
            QCOMPARE(growing.state().state("VP-04/1").signature->stands, j.state().state("VP-04/1").signature->stands);
        }
    }
    void aCableIsOvertakenWithItsFibres()
    {
        Journal j = finished();
        j.sign("VP-04/1").sign("VP-04/2", "left for tomorrow").sign("VP-04");
        QVERIFY(j.state().signedCables.at("VP-04").stands);
        j.look({"VP-04/2", End::A, Side::Cord});
        QVERIFY(!j.state().signedCables.at("VP-04").stands);
        QVERIFY(j.state().state("VP-04/1").signature->stands && !j.state().state("VP-04/2").signature->stands);
        const auto of = signaturesIn(j.entries, j.state(), j.rules, j.source(), "VP-04");
        QCOMPARE(of.size(), std::size_t{3});
        QVERIFY(!of[0].overtaken && of[1].overtaken && of[2].overtaken);
        QCOMPARE(of[2].overtaken->differs.front().about, std::string("fibre 2"));
    }
    void theClockOvertakesNothing()
    {
        Journal j;
        j.look(cordA).sign("VP-04/1", "only the cord was here");
        const JobState later = fold(j.entries, j.rules, j.now() + 86400);
        QVERIFY(later.face(cordA).condition == FaceCondition::Stale);
        QVERIFY(later.state("VP-04/1").signature->stands);
    }
    void whatTheSignerCouldNotKnowOvertakesIt()
    {
        // another device read the fibre before it was signed; that is heard of later
        Journal j = finished();
        j.sign("VP-04/1");
        ChainEnd other{"device2", {}, {}};
        const std::int64_t before = j.entries[j.entries.size() - 2].happened - 1;
        const auto late = recordsOf({"technician 2", {LightSeen{"VP-04", 1, 2}}, before, before, "late"}, other).front();
        j.entries.push_back(entryOf(late));
        std::stable_sort(j.entries.begin(), j.entries.end(), filedBefore);
        const JobState s = j.state();
        // light was seen to come out right after that: the record is what was signed
        QVERIFY(s.state("VP-04/1").signature);
        const auto signatures = signaturesIn(j.entries, s, j.rules, j.source());
        QCOMPARE(signatures.front().overtaken.has_value(), !s.state("VP-04/1").signature->stands);
        if (signatures.front().overtaken) QCOMPARE(signatures.front().overtaken->by, late.hash);
    }
    void anUnboundSignatureIsOvertakenByAnythingAboutIt_data()
    {
        QTest::addColumn<int>("what");
        QTest::addColumn<bool>("overtaken");
        QTest::newRow("nothing") << 0 << false;
        QTest::newRow("another fibre is seen") << 1 << false;
        QTest::newRow("a reading of this one") << 2 << true;
        QTest::newRow("other limits") << 3 << true;
        QTest::newRow("the job is renamed") << 4 << false;
        QTest::newRow("an earlier reading is taken back") << 5 << true;
        QTest::newRow("its face is touched") << 6 << true;
        QTest::newRow("a touch that was taken back") << 8 << false;
    }
    void anUnboundSignatureIsOvertakenByAnythingAboutIt()
    {
        QFETCH(const int, what);
        QFETCH(const bool, overtaken);
        Journal j = mated();
        j.light(-7, -8.5).add(Signed{"VP-04/1", {}});  // as jobs of earlier versions have it
        happen(j, what);
        const JobState s = j.state();
        QCOMPARE(signaturesIn(j.entries, s, j.rules).front().overtaken.has_value(), overtaken);
        QCOMPARE(s.state("VP-04/1").signature->stands, !overtaken);
    }
    void theCertificateSaysThatASignatureIsOvertaken()
    {
        Journal j = finished();
        j.sign("VP-04/1");
        happen(j, 2);
        const JobState s = j.state();
        const auto signatures = signaturesIn(j.entries, s, j.rules, j.source(), "VP-04/1");
        const auto signature = certificate(s, "VP-04/1", {signatures}).value()["cables"][0]["links"][0]["signature"];
        QCOMPARE(signature["state"], "overtaken");
        QVERIFY(signature["record"].is_null());
        QCOMPARE(signature["by_entry"].get<std::string>(), signatures.front().overtaken->by.hex());
        QVERIFY(!signature["differs"].empty());
    }
    void hostileRecordsAreNotBelieved()
    {
        const Journal j = finished();
        const std::string now = signedRecord(j.state(), "VP-04/1");
        for (const char* bad :
             {"", "{", "[]", "{}", R"({"format":"clendo-signed-record","lines":7})", R"({"format":"clendo-signed-record","lines":[7]})",
              R"({"format":"clendo-signed-record","lines":[{"about":1,"says":2}]})"})
            QCOMPARE(differences(bad, now).front().before, std::string("cannot be read"));
        QVERIFY(differences(now, now).empty());
        QVERIFY(signedRecord(j.state(), "VP-99").empty());
    }
};
QTEST_APPLESS_MAIN(TestSignatures)
#include "test_signatures.moc"
