// Which reel serves which run: against all ways there are, in small cases.
#include <QtTest>
#include <array>
#include <random>

#include "reel/cutting_plan.h"
#include "reel/reel_json.h"

using namespace clendo;
using namespace clendo::reel;

namespace {

/// Short of, joints, waste, reels opened: the smaller the better, in this order.
using Worth = std::array<int, 4>;

/// All ways to cut runs from reels, lengths in whole units.
class AllWays {
public:
    AllWays(std::vector<int> reels, std::vector<int> runs, bool joints, int keep)
        : left_(reels), reels_(reels), runs_(runs), joints_(joints), keep_(keep)
    {
    }
    Worth best()
    {
        run(0, 0, 0);
        return best_;
    }

private:
    void run(std::size_t j, int shortOf, int joints)
    {
        if (j == runs_.size()) {
            Worth here{shortOf, joints, 0, 0};
            for (std::size_t i = 0; i < reels_.size(); ++i)
                if (left_[i] < reels_[i]) {
                    ++here[3];
                    if (left_[i] < keep_) here[2] += left_[i];
                }
            best_ = std::min(best_, here);
            return;
        }
        piece(j, 0, runs_[j], 0, shortOf, joints);
    }
    void piece(std::size_t j, std::size_t i, int open, int pieces, int shortOf, int joints)
    {
        if (i == reels_.size()) {
            if (!joints_ && open > 0 && pieces > 0) return;
            if (!joints_ && pieces > 1) return;
            return run(j + 1, shortOf + open, joints + std::max(0, pieces + (open > 0) - 1));
        }
        for (int take = 0; take <= std::min(open, left_[i]); ++take) {
            if (!joints_ && take != 0 && take != open) continue;
            left_[i] -= take;
            piece(j, i + 1, open - take, pieces + (take > 0), shortOf, joints);
            left_[i] += take;
        }
    }

    std::vector<int> left_, reels_, runs_;
    bool joints_;
    int keep_;
    Worth best_{1 << 20, 0, 0, 0};
};

CuttingWish wishOf(const std::vector<int>& reels, const std::vector<int>& runs, bool joints, int keep)
{
    CuttingWish out;
    out.jointAllowed = joints;
    out.keepLeast = Metre(keep);
    for (std::size_t i = 0; i < reels.size(); ++i) out.reels.push_back({"R" + std::to_string(i), Metre(reels[i])});
    for (std::size_t j = 0; j < runs.size(); ++j) out.runs.push_back({"run " + std::to_string(j), Metre(runs[j]), Metre(0)});
    return out;
}

/// Whether a plan can be cut: no reel gives more than it has, each run gets what it needs or is named.
void verifyCanBeCut(const CuttingWish& wish, const CuttingPlan& plan)
{
    std::map<std::string, double> got;
    for (const auto& reel : plan.reels) {
        double cut = 0;
        for (const auto& one : reel.cuts) {
            QVERIFY(one.length > Metre(0));
            cut += one.length.value();
            got[one.run] += one.length.value();
        }
        const auto stock = std::find_if(wish.reels.begin(), wish.reels.end(), [&](const Stock& s) { return s.reel == reel.reel; });
        QVERIFY(stock != wish.reels.end());
        QVERIFY(cut <= stock->length.value() + 1e-2 && qAbs(stock->length.value() - cut - reel.left.value()) < 1e-2);
    }
    double missing = 0;
    for (const auto& run : wish.runs) {
        const bool named = std::find(plan.unserved.begin(), plan.unserved.end(), run.name) != plan.unserved.end();
        QVERIFY(named || qAbs(got[run.name] - run.needed().value()) < 1e-2);
        missing += run.needed().value() - got[run.name];
    }
    QVERIFY(qAbs(missing - plan.shortOf.value()) < 1e-2);
}

}  // namespace

class TestCuttingPlan : public QObject {
    Q_OBJECT
private slots:
    void nothingBetterCanBe_data()
    {
        QTest::addColumn<bool>("joints");
        QTest::newRow("runs in one piece") << false;
        QTest::newRow("joints allowed") << true;
    }
    void nothingBetterCanBe()
    {
        QFETCH(const bool, joints);
        std::mt19937 random(joints ? 5 : 4);
        const auto below = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
        for (int trial = 0; trial < (joints ? 60 : 150); ++trial) {
            std::vector<int> reels, runs;
            for (int i = 1 + below(joints ? 2 : 3); i >= 0; --i) reels.push_back(3 + below(joints ? 8 : 12));
            for (int j = 1 + below(joints ? 2 : 4); j >= 0; --j) runs.push_back(1 + below(7));
            const int keep = below(4);
            const auto wish = wishOf(reels, runs, joints, keep);
            const auto plan = planCuts(wish);
            QVERIFY(plan && plan->optimal);
            verifyCanBeCut(wish, *plan);
            const Worth best = AllWays(reels, runs, joints, keep).best();
            const Worth is{qRound(plan->shortOf.value()), plan->joints, qRound(plan->waste.value()), int(plan->reels.size())};
            QVERIFY2(is == best, qPrintable(QString("trial %1: %2 %3 %4 %5, best %6 %7 %8 %9")
                                                .arg(trial)
                                                .arg(is[0])
                                                .arg(is[1])
                                                .arg(is[2])
                                                .arg(is[3])
                                                .arg(best[0])
                                                .arg(best[1])
                                                .arg(best[2])
                                                .arg(best[3])));
        }
    }
    void largePlansSayHowGoodTheyAre()
    {
        std::mt19937 random(9);
        CuttingWish wish;
        wish.keepLeast = Metre(60);
        for (int i = 0; i < 12; ++i) wish.reels.push_back({"R" + std::to_string(i), Metre(1000 + int(random() % 1000))});
        for (int j = 0; j < 40; ++j) wish.runs.push_back({"run " + std::to_string(j), Metre(80 + int(random() % 400)), Metre(15)});
        const auto plan = planCuts(wish, 3);
        QVERIFY(plan);
        verifyCanBeCut(wish, *plan);
        QVERIFY(plan->gap >= 0 && (plan->optimal || plan->gap <= 1));
    }
    void theContractsExample()
    {
        const auto wish = cuttingWishFromJson(
            R"({"reels": [{"id": "R-7", "length_m": 978}], "runs": [{"id": "sea wall", "length_m": 410, "slack_m": 20}], "joint_allowed": true, "keep_least_m": 50})");
        const auto plan = planCuts(wish.value()).value();
        QCOMPARE(plan.reels.size(), std::size_t(1));
        QVERIFY(qAbs(plan.reels[0].left.value() - 548) < 1e-6);
        QVERIFY(plan.joints == 0 && plan.optimal && plan.waste == Metre(0) && plan.shortOf == Metre(0));
    }
    void whatIsNoWishIsRefused_data()
    {
        QTest::addColumn<QString>("text");
        QTest::newRow("no runs") << R"({"reels": [], "runs": []})";
        QTest::newRow("a run of nothing") << R"({"reels": [], "runs": [{"id": "a", "length_m": 0}]})";
        QTest::newRow("a run twice") << R"({"reels": [], "runs": [{"id": "a", "length_m": 1}, {"id": "a", "length_m": 2}]})";
        QTest::newRow("a reel twice")
            << R"({"reels": [{"id": "R", "length_m": 5}, {"id": "R", "length_m": 5}], "runs": [{"id": "a", "length_m": 1}]})";
        QTest::newRow("a negative length") << R"({"reels": [{"id": "R", "length_m": -5}], "runs": [{"id": "a", "length_m": 1}]})";
    }
    void whatIsNoWishIsRefused()
    {
        QFETCH(const QString, text);
        QVERIFY(!cuttingWishFromJson(text.toStdString()).and_then([](const CuttingWish& w) { return planCuts(w); }));
    }
    void withoutReelsAllIsShort()
    {
        const auto plan = planCuts(wishOf({}, {3, 4}, true, 0)).value();
        QVERIFY(plan.shortOf == Metre(7) && plan.unserved.size() == 2 && plan.optimal);
    }
    void cutsByHandAreWeighed()
    {
        const CuttingWish wish{
            {{"A", Metre(500)}, {"B", Metre(300)}}, {{"north", Metre(380), Metre(20)}, {"south", Metre(250), Metre(0)}}, true, Metre(60)};
        const auto plan = weigh(wish, {{"A", {{"north", Metre(400)}}, {}}, {"B", {{"south", Metre(250)}}, {}}}).value();
        QCOMPARE(plan.joints, 0);
        QVERIFY(plan.waste == Metre(50) && plan.shortOf == Metre(0) && plan.unserved.empty() && !plan.optimal);
        const auto pieces = weigh(wish, {{"A", {{"north", Metre(250)}, {"south", Metre(250)}}, {}}, {"B", {{"north", Metre(100)}}, {}}}).value();
        QCOMPARE(pieces.joints, 2);  // two pieces, and one that has to be bought
        QVERIFY(pieces.shortOf == Metre(50) && pieces.unserved == std::vector<std::string>{"north"});
    }
    void cutsThatCannotBeAreRefused_data()
    {
        QTest::addColumn<QString>("reel");
        QTest::addColumn<QString>("run");
        QTest::addColumn<double>("length");
        QTest::newRow("no such reel") << "C"
                                      << "north" << 10.0;
        QTest::newRow("no such run") << "A"
                                     << "west" << 10.0;
        QTest::newRow("more than is on it") << "B"
                                            << "north" << 301.0;
        QTest::newRow("more than is needed") << "A"
                                             << "north" << 401.0;
        QTest::newRow("nothing") << "A"
                                 << "north" << 0.0;
        QTest::newRow("below nothing") << "A"
                                       << "north" << -5.0;
    }
    void cutsThatCannotBeAreRefused()
    {
        QFETCH(const QString, reel);
        QFETCH(const QString, run);
        QFETCH(const double, length);
        const CuttingWish wish{{{"A", Metre(500)}, {"B", Metre(300)}}, {{"north", Metre(380), Metre(20)}}, true, Metre(60)};
        QVERIFY(!weigh(wish, {{reel.toStdString(), {{run.toStdString(), Metre(length)}}, {}}}));
    }
};

QTEST_APPLESS_MAIN(TestCuttingPlan)
#include "test_cutting_plan.moc"
