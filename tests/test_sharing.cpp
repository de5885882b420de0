#include <QtTest>
#include <random>

#include "record/journal/entry_log.h"
#include "sharing/shared_map.h"
#include "sharing/shared_vector.h"
#include "varrow_journal.h"

using namespace clendo;

/// Containers of which copies share what did not change: each copy stays what it was, whatever is done with the others.
class TestSharing : public QObject {
    Q_OBJECT
private slots:
    void aSharedMapIsAMap_data()
    {
        QTest::addColumn<int>("keys");
        QTest::addColumn<int>("steps");
        QTest::newRow("few keys") << 10 << 400;
        QTest::newRow("one part is split") << 100 << 1500;
        QTest::newRow("many parts") << 2000 << 6000;
    }
    void aSharedMapIsAMap()
    {
        QFETCH(const int, keys);
        QFETCH(const int, steps);
        std::mt19937 random(7);
        SharedMap<std::string, int> map;
        std::map<std::string, int> plain;
        struct Copy {
            SharedMap<std::string, int> map;
            std::map<std::string, int> plain;
        };
        std::vector<std::unique_ptr<Copy>> copies;
        for (int n = 0; n < steps; ++n) {
            const std::string key = "k" + std::to_string(random() % static_cast<unsigned>(keys));
            map.change(key) = plain[key] = n;
            if (random() % 50 == 0) copies.push_back(std::make_unique<Copy>(Copy{map, plain}));
            QVERIFY(map.find(key) && *map.find(key) == n);
        }
        copies.push_back(std::make_unique<Copy>(Copy{map, plain}));
        for (const auto& copy : copies) {
            QCOMPARE(copy->map.size(), copy->plain.size());
            auto expected = copy->plain.begin();
            for (const auto& [key, value] : copy->map) {
                QCOMPARE(key, expected->first);
                QCOMPARE(value, (expected++)->second);
            }
        }
        QVERIFY(!map.find(std::string("none")) && !map.contains("none"));
    }
    void aCopyOfACopyIsItsOwn()
    {
        SharedMap<int, std::string> first;
        first.change(1) = "one";
        SharedMap<int, std::string> second(first);
        second.change(1) = "two";
        SharedMap<int, std::string> third(second);
        third.change(2) = "three";
        first.change(1) += " still";
        QCOMPARE(*first.find(1), std::string("one still"));
        QCOMPARE(*second.find(1), std::string("two"));
        QVERIFY(!second.contains(2) && third.size() == 2);
    }
    void aValueStaysWhereItIsUntilItIsShared()
    {
        SharedMap<int, int> map;
        int* known = &map.change(5);
        for (int n = 0; n < 500; ++n) map.change(n) = n;  // parts are split around it
        QCOMPARE(&map.change(5), known);
        const SharedMap<int, int> copy(map);
        QVERIFY(&map.change(5) != known);
        QCOMPARE(copy.find(5), known);
    }
    void aSharedVectorIsAVector()
    {
        std::mt19937 random(11);
        SharedVector<int> list;
        std::vector<int> plain;
        std::vector<std::pair<SharedVector<int>, std::vector<int>>> copies;
        for (int n = 0; n < 3000; ++n) {
            if (random() % 3 || plain.empty()) {
                list.push_back(n);
                plain.push_back(n);
            } else {
                const auto at = random() % plain.size();
                list.change(at) = plain[at] = -n;
            }
            if (random() % 100 == 0) copies.emplace_back(SharedVector<int>(list), plain);
        }
        copies.emplace_back(SharedVector<int>(list), plain);
        for (const auto& [copy, was] : copies) QVERIFY(std::equal(copy.begin(), copy.end(), was.begin(), was.end()));
    }
    void aLogShowsWhatItShowed()
    {
        Journal j;
        j.look(cordA).look(portA);
        EntryLog log(j.entries);
        const EntryLog before = log;
        const Entry* first = &before.front();
        for (int n = 0; n < 20; ++n) log.append({j.entries.front(), j.entries.back()});
        QCOMPARE(log.size(), j.entries.size() + 40);
        QCOMPARE(before.size(), j.entries.size());
        QCOMPARE(&before.front(), first);
        QCOMPARE(&log.front(), first);  // shared
        QVERIFY(before.back().hash == j.entries.back().hash);
        // another one that goes on from there does not write into the first
        EntryLog other = before;
        other.append({j.entries.front()});
        QCOMPARE(other.size(), before.size() + 1);
        QVERIFY(other.back().hash == j.entries.front().hash);
        QVERIFY(log[before.size() + 1].hash == j.entries.back().hash);
        EntryLog empty;
        QVERIFY(empty.empty() && empty.all().empty());
        empty.append({j.entries.front()});
        QCOMPARE(empty.size(), std::size_t{1});
    }
};

QTEST_GUILESS_MAIN(TestSharing)
#include "test_sharing.moc"
