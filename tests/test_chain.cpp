#include <QtTest>
#include <nlohmann/json.hpp>

#include "files/canonical_json.h"
#include "record/fold/fold.h"
#include "record/journal/acts.h"
#include "record/journal/chain.h"
#include "record/journal/order.h"
#include "record/journal/schema1.h"
#include "record/state/rules.h"
#include "varrow_journal.h"

using namespace clendo;

/// The identity of entries: what is hashed, the clock, chains, and what became of schema 1.
class TestChain : public QObject {
    Q_OBJECT
private slots:
    void canonicalJsonIsThatOfTheRfc_data()
    {
        QTest::addColumn<QString>("in");
        QTest::addColumn<QString>("out");
        // RFC 8785, section 3.2.2 and appendix B
        QTest::newRow("the example")
            << R"({"numbers":[333333333.33333329,1E30,4.50,2e-3,0.000000000000000000000000001],"literals":[null,true,false]})"
            << R"({"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27]})";
        QTest::newRow("sorted by UTF-16") << "{\"\u20ac\":1,\"\\r\":2,\"\ufb33\":3,\"1\":4,\"\U0001F600\":5,\"\u0080\":6,\"\u00f6\":7}"
                                          << "{\"\\r\":2,\"1\":4,\"\u0080\":6,\"\u00f6\":7,\"\u20ac\":1,\"\U0001F600\":5,\"\ufb33\":3}";
        QTest::newRow("control characters") << "[\"\\u000f\\n\\\"\\\\\\/\\u0041\"]"
                                            << "[\"\\u000f\\n\\\"\\\\/A\"]";
        QTest::newRow("zeros") << "[-0.0,0,0.0]"
                               << "[0,0,0]";
        QTest::newRow("from where exponents begin") << "[1e20,1e21,123456789012345680000,1e-6,1e-7,-1.5e-9,0.1]"
                                                    << "[100000000000000000000,1e+21,123456789012345680000,0.000001,1e-7,-1.5e-9,0.1]";
        QTest::newRow("extremes") << "[5e-324,1.7976931348623157e308,9007199254740992,-9007199254740991]"
                                  << "[5e-324,1.7976931348623157e+308,9007199254740992,-9007199254740991]";
    }
    void canonicalJsonIsThatOfTheRfc()
    {
        QFETCH(QString, in);
        QFETCH(QString, out);
        const auto value = nlohmann::json::parse(in.toStdString());
        QCOMPARE(QString::fromStdString(canonicalJson(value)), out);
        QCOMPARE(canonicalJson(nlohmann::json::parse(canonicalJson(value))), canonicalJson(value));
    }
    void whatIsNoTextBecomesOne()
    {
        QCOMPARE(canonicalText("a\xff"), std::string("\"a\ufffd\""));
        QCOMPARE(canonicalJson(nlohmann::json(std::nan(""))), std::string("null"));
    }
    /// Should this fail, then every job that was ever written has another hash: the schema needs another number.
    void theHashOfAnEntryIsAsDocumented()
    {
        ChainEnd end{"0123456789ab", {}, {}};
        const auto e =
            recordsOf({"technician 1", {FaceHandled{cordA, "touched"}}, 1'794'902'400'000'000, 1'794'902'401'000'000, "act1"}, end).front();
        QCOMPARE(canonicalEntry(e),
                 std::string(R"({"act":"act1","body":{"face":"VP-04/1/A/cord","how":"touched"},"device":"0123456789ab",)"
                             R"("filed":1794902401000000,"happened":1794902400000000,"kind":"face_handled","previous":null,"sequence":1,)"
                             R"("who":"technician 1"})"));
        QCOMPARE(e.hash.hex(), sha256(canonicalEntry(e)));
        QVERIFY(Digest::parse(e.hash.hex()) == e.hash);
        QVERIFY(!Digest::parse(e.hash.hex().substr(1)) && !Digest::parse(std::string(64, 'G')));
    }
    void everyPartOfAnEntryCounts()
    {
        const auto records = recordsOfJournal(mated());
        const EntryRecord good = records[4];
        const auto differs = [&](auto change) {
            EntryRecord other = good;
            change(other);
            return hashOf(other) != good.hash;
        };
        QVERIFY(!differs([](EntryRecord&) {}));
        QVERIFY(differs([](EntryRecord& e) { e.act += "x"; }));
        QVERIFY(differs([](EntryRecord& e) { ++e.happened; }));
        QVERIFY(differs([](EntryRecord& e) { ++e.filed; }));
        QVERIFY(differs([](EntryRecord& e) { e.who = "technician 2"; }));
        QVERIFY(differs([](EntryRecord& e) { e.device = "d"; }));
        QVERIFY(differs([](EntryRecord& e) { ++e.sequence; }));
        QVERIFY(differs([](EntryRecord& e) { e.previous.bytes[31] ^= 1; }));
        QVERIFY(differs([](EntryRecord& e) { e.kind = "mated"; }));
        QVERIFY(differs([](EntryRecord& e) { e.body.back() = ' '; }));
    }

    void aClockIsNeverBehindWhatItHeard()
    {
        HybridClock clock;
        QCOMPARE(clock.next(1000), std::int64_t{1000});
        QCOMPARE(clock.next(1000), std::int64_t{1001});
        QCOMPARE(clock.next(10), std::int64_t{1002});  // set back
        clock.heard(5000);
        QCOMPARE(clock.next(2000), std::int64_t{5001});
        QCOMPARE(clock.next(9000), std::int64_t{9000});
    }
    void aBrokenChainIsTold_data()
    {
        QTest::addColumn<QString>("how");
        QTest::addColumn<QString>("says");
        QTest::newRow("whole") << ""
                               << "";
        QTest::newRow("one in the middle is gone") << "middle"
                                                   << "Entry 4 of device device1 is missing.";
        QTest::newRow("the first three are gone") << "first"
                                                  << "Entries 1 to 3 of device device1 are missing.";
        QTest::newRow("the end is gone") << "tail"
                                         << "are missing";
        QTest::newRow("one was replaced") << "replaced"
                                          << "one of the two was replaced";
        QTest::newRow("two at one place") << "fork"
                                          << "Two entries claim place 4";
        QTest::newRow("an end that nobody knows") << "no head"
                                                  << "does not know how far";
        QTest::newRow("another end") << "other head"
                                     << "is not the one that the job says";
    }
    void aBrokenChainIsTold()
    {
        QFETCH(QString, how);
        QFETCH(QString, says);
        auto records = recordsOfJournal(mated());
        auto heads = headsOf(headsIn(records));
        const auto at = [&](int n) { return records.begin() + n; };
        if (how == "middle") records.erase(at(3));
        if (how == "first") records.erase(at(0), at(3));
        if (how == "tail") records.erase(at(10), records.end());
        if (how == "replaced") records[3].who = "somebody", records[3].hash = hashOf(records[3]);
        if (how == "fork") records.push_back(records[3]), records.back().who = "somebody", records.back().hash = hashOf(records.back());
        if (how == "no head") heads.clear();
        if (how == "other head") heads["device1"].hash = digestOf("x");
        const auto wrong = checkChains(headsIn(records), heads, {});
        QCOMPARE(wrong.empty(), says.isEmpty());
        if (says.isEmpty()) return;
        QVERIFY2(std::any_of(wrong.begin(), wrong.end(), [&](const Wrong& w) { return QString::fromStdString(w.message).contains(says); }),
                 wrong.front().message.c_str());
        // what was noted as lost is not wrong again
        const LossesNoted noted{"torn", gapsIn(headsIn(records), heads, {}), {}, false};
        if (how == "middle" || how == "first" || how == "tail") QVERIFY(checkChains(headsIn(records), heads, std::span(&noted, 1)).empty());
    }

    void aSchema1JournalIsCarriedOver()
    {
        const auto row = [](std::int64_t id, std::int64_t at, const char* kind, const char* body) { return Schema1Row{id, at, "t", kind, body}; };
        const char* set =
            R"({"name":"VP","edition":"2015","limits":"generic-sm","method":"one-cord","wavelengths_nm":[1310],"attempts":5,"policies":{},"launch_m":150,"tail_m":150})";
        const char* again =
            R"({"name":"VP","edition":"2015","limits":"generic-sm","method":"one-cord","wavelengths_nm":[1310],"attempts":4,"policies":{"open":"30"},"launch_m":150,"tail_m":150})";
        const std::vector<Schema1Row> rows{
            row(1, 1000, "job_set", set),
            row(2, 1000, "reference_set", R"({"method":"one-cord","wavelength_nm":1310,"direction":"ab","level_dbm":-7})"),
            row(3, 900, "power_read", R"({"link":"VP-04/1","wavelength_nm":1310,"direction":"ab","power_dbm":-8})"),
            row(4, 1010, "corrected", R"({"entry":3,"reason":"misread"})"),
            row(5, 1020, "job_set", again),
            row(6, 1030, "corrected", R"({"entry":5,"reason":"no"})")};
        const auto carried = carriedOver(rows).entries;
        QVERIFY(hashesOf(carriedOver(rows).entries) == hashesOf(carried));  // the same on every computer
        QVERIFY(checkChains(headsIn(carried), headsOf(headsIn(carried)), {}).empty());
        QVERIFY(std::is_sorted(carried.begin(), carried.end(), filedBefore));  // whatever the clock said
        std::vector<Entry> entries;
        for (const auto& r : carried) entries.push_back(entryOf(r));
        const auto read = std::find_if(entries.begin(), entries.end(), [](const Entry& e) { return std::holds_alternative<PowerRead>(e.fact); });
        QVERIFY(std::get<PowerRead>(read->fact).reference == std::prev(read)->hash);
        QVERIFY(correctedEntries(entries).contains(read->hash));
        QCOMPARE(correctedEntries(entries).size(), std::size_t{3});  // the reading, and both settings of the second set
        QCOMPARE(fold(entries, Rules(dataFolder())).plan->job.attempts, 5);
        for (const char* bad : {"garbage", "[]", R"({"entry":99,"reason":"x"})"}) {
            const auto part = carriedOver(std::vector{rows[0], row(2, 1, "corrected", bad), rows[1]});
            QVERIFY(part.trouble && part.entries.size() == 9);  // what comes before it is kept
        }
    }
};
QTEST_APPLESS_MAIN(TestChain)
#include "test_chain.moc"
