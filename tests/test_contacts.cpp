#include <QtTest>
#include <array>
#include <random>
#include <set>

#include "cleaning/contact_tracing.h"

using namespace clendo;
using Kind = FaceEvent::Kind;

namespace {

FaceId port(int n) { return {"VP-04/" + std::to_string(n), End::A, Side::Port}; }
const FaceId cord{"RC-1", End::A, Side::Cord};

/// Writes events one after the other.
struct History {
    History& seen(const FaceId& face, bool fit) { return add({fit ? Kind::SeenFit : Kind::SeenBad, face, {}}); }
    History& joined(const FaceId& a, const FaceId& b) { return add({Kind::Joined, a, b}); }
    History& add(FaceEvent e)
    {
        e.entry = static_cast<std::int64_t>(events.size()) + 1;
        e.at = 60 * e.entry;
        events.push_back(e);
        return *this;
    }
    [[nodiscard]] std::set<FaceId> suspects() const
    {
        std::set<FaceId> out;
        for (const auto& [face, why] : suspectsIn(events)) out.insert(face);
        return out;
    }
    std::vector<FaceEvent> events;
};

/// The meaning, tried out: dirt is put on each face after each of its fit looks and at the start, and followed. Where it meets a bad look, all
/// that carry it at the end are suspect.
std::set<FaceId> suspectsByTrial(const std::vector<FaceEvent>& events)
{
    std::set<FaceId> faces, out;
    for (const auto& e : events) {
        faces.insert(e.a);
        if (e.kind == Kind::Joined) faces.insert(e.b);
    }
    const auto tryFrom = [&](const FaceId& origin, std::size_t from) {
        std::set<FaceId> dirty{origin};
        bool met = false;
        for (std::size_t i = from; i < events.size(); ++i) {
            const auto& e = events[i];
            if (e.kind == Kind::SeenFit) dirty.erase(e.a);
            if (e.kind == Kind::SeenBad && dirty.contains(e.a)) met = true;
            if (e.kind == Kind::Joined && (dirty.contains(e.a) || dirty.contains(e.b))) dirty.insert({e.a, e.b});
        }
        if (met) out.insert(dirty.begin(), dirty.end());
    };
    for (const auto& face : faces) tryFrom(face, 0);
    for (std::size_t i = 0; i < events.size(); ++i)
        if (events[i].kind == Kind::SeenFit) tryFrom(events[i].a, i + 1);
    for (const auto& face : faces) {
        bool bad = false;
        for (const auto& e : events)
            if (e.kind != Kind::Joined && e.a == face) bad = e.kind == Kind::SeenBad;
        if (bad) out.erase(face);
    }
    return out;
}

}  // namespace

/// Who may have given dirt to whom.
class TestContacts : public QObject {
    Q_OBJECT
private slots:
    void aDirtyTestCordMakesItsPortsSuspect()
    {
        History h;
        h.seen(cord, true).joined(cord, port(1)).joined(cord, port(2)).seen(cord, true).joined(cord, port(3)).joined(cord, port(4));
        QVERIFY(h.suspects().empty());
        h.seen(cord, false);
        // since it was last seen fit it touched 3 and 4
        QCOMPARE(h.suspects(), (std::set<FaceId>{port(3), port(4)}));
        h.seen(port(3), true);
        QCOMPARE(h.suspects(), std::set<FaceId>{port(4)});
        h.seen(cord, true);
        QCOMPARE(h.suspects(), std::set<FaceId>{port(4)});  // cleaning the cord cleans no port
    }
    void aDirtyPortPointsAtTheCordAndAtWhatItTouched()
    {
        History h;
        h.joined(cord, port(1)).joined(cord, port(2)).joined(cord, port(3)).seen(port(2), false);
        QCOMPARE(h.suspects(), (std::set<FaceId>{cord, port(1), port(3)}));
        // port 1 was touched before: it may have been the giver, over the cord
        const auto why = suspectsIn(h.events).at(port(1));
        QCOMPARE(why.found, port(2));
        QCOMPARE(why.way.size(), std::size_t{2});
        QCOMPARE(why.way.front().to, cord);
        QCOMPARE(why.way.back().to, port(1));
        QCOMPARE(why.since, std::int64_t{60});
    }
    void timeHasADirection()
    {
        // 3 and 4 touched before anything came to 3's side from 2
        History h;
        h.seen(port(3), true).joined(port(3), port(4)).seen(port(3), true).joined(port(2), port(3)).seen(port(2), false);
        QCOMPARE(h.suspects(), std::set<FaceId>{port(3)});
    }
    void whatTouchedNothingIsAlone()
    {
        History h;
        h.seen(port(1), false).joined(port(2), port(3));
        QVERIFY(h.suspects().empty());
        QVERIFY(suspectsIn({}).empty());
    }
    void longRandomHistoriesAgreeWithTrial_data()
    {
        QTest::addColumn<int>("faces");
        QTest::addColumn<int>("events");
        QTest::addColumn<int>("fitOfTen");
        for (const int faces : {3, 6, 12, 30})
            for (const int fit : {1, 3, 6}) QTest::addRow("%d faces, %d in ten seen fit", faces, fit) << faces << 15 * faces << fit;
    }
    void longRandomHistoriesAgreeWithTrial()
    {
        QFETCH(const int, faces);
        QFETCH(const int, events);
        QFETCH(const int, fitOfTen);
        std::size_t listed = 0;
        for (unsigned seed = 0; seed < 60; ++seed) {
            std::mt19937 random(seed);
            const auto pick = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
            History h;
            for (int i = 0; i < events; ++i) {
                const FaceId face = port(pick(faces));
                const int what = pick(10);
                if (what < fitOfTen)
                    h.seen(face, true);
                else if (what == fitOfTen)
                    h.seen(face, false);
                else if (const FaceId second = port(pick(faces)); second != face)
                    h.joined(face, second);
            }
            const auto suspects = suspectsIn(h.events);
            QCOMPARE(h.suspects(), suspectsByTrial(h.events));
            listed += suspects.size();
            for (const auto& [face, why] : suspects) {
                // the way hangs together, begins at a bad look and ends at the suspect
                QVERIFY(h.events[static_cast<std::size_t>(why.foundEntry - 1)].kind == Kind::SeenBad);
                QCOMPARE(h.events[static_cast<std::size_t>(why.foundEntry - 1)].a, why.found);
                FaceId at = why.found;
                for (const auto& c : why.way) {
                    QCOMPARE(c.from, at);
                    const auto& e = h.events[static_cast<std::size_t>(c.entry - 1)];
                    QVERIFY(e.kind == Kind::Joined && ((e.a == c.from && e.b == c.to) || (e.b == c.from && e.a == c.to)));
                    at = c.to;
                }
                QCOMPARE(at, face);
            }
        }
        QVERIFY(listed > 0);  // something was there to agree about
    }
    void eventsThatKeepComingAreTracedTheSame()
    {
        for (unsigned seed = 1; seed <= 20; ++seed) {
            std::mt19937 random(seed);
            const auto anyFace = [&] { return random() % 4 ? port(int(random() % 7)) : cord; };
            History h;
            ContactTracing growing;
            std::size_t added = 0;
            std::map<FaceId, Suspicion> before;
            for (int step = 0; step < 40; ++step) {
                for (auto n = random() % 4; n > 0; --n) {
                    const FaceId a = anyFace(), b = anyFace();
                    if (random() % 2 && a != b)
                        h.joined(a, b);
                    else
                        h.seen(a, random() % 3 != 0);
                }
                // a person overrules a look: what was bad is fit
                if (!h.events.empty() && random() % 5 == 0) {
                    const auto at = random() % h.events.size();
                    if (auto& e = h.events[at]; e.kind == Kind::SeenBad) {
                        e.kind = Kind::SeenFit;
                        if (at < added) growing.change(at, e.kind);
                    }
                }
                for (; added < h.events.size(); ++added) growing.add(h.events[added]);
                const auto changed = growing.changed();
                const auto grown = growing.suspects(), whole = suspectsIn(h.events);
                QVERIFY(grown == whole);
                // whatever is another one than before was told
                for (const auto* one : std::array<const std::map<FaceId, Suspicion>*, 2>{&before, &grown})
                    for (const auto& [face, why] : *one) {
                        const auto was = std::as_const(before).find(face), is = grown.find(face);
                        const bool same = was != before.end() && is != grown.end() && was->second == is->second;
                        QCOMPARE(changed.contains(face), !same);
                    }
                before = grown;
            }
        }
    }
};

QTEST_GUILESS_MAIN(TestContacts)
#include "test_contacts.moc"
