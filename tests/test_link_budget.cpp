#include <QtTest>
#include <cmath>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "power/link_budget_json.h"
#include "power/measured_applications.h"

using namespace clendo;
using nlohmann::json;

namespace {

Result<LinkBudget> budgetOf(const std::string& text, Statistics statistics = Statistics::RootOfSquares)
{
    const RuleFiles rules(dataFolder());
    return budgetRequestFromJson(text).and_then([&](const BudgetRequest& request) {
        return loadLimits(request.limits, request.fibre, rules).and_then([&](const LimitSet& limits) {
            return planBudget(request.plan, limits, loadTypicalLosses(rules).value(), loadApplications(rules).value(), statistics);
        });
    });
}

std::string plan(const std::string& fibre, double length, int connections, int splices, const std::string& more = "")
{
    return json{{"link", "T1-07"},    {"fiber", fibre},
                {"length_m", length}, {"connections", connections},
                {"splices", splices}, {"limits", fibre.starts_with("OM") ? "generic-mm" : "generic-sm"}}
        .dump()
        .insert(1, more);
}

/// 1000 m and two connectors of 0.2 dB, with a splitter of that loss.
std::string split(double dB)
{
    return json{{"link", "P"},
                {"limits", "generic-sm"},
                {"elements",
                 {{{"kind", "fibre"}, {"fiber", "OS2"}, {"length_m", 1000}},
                  {{"kind", "splitter"}, {"loss_db", dB}},
                  {{"kind", "connection"}, {"loss_db", 0.2}},
                  {{"kind", "connection"}, {"loss_db", 0.2}}}}}
        .dump();
}

const ApplicationBudget& of(const LinkBudget& budget, const std::string& application)
{
    return *std::find_if(budget.applications.begin(), budget.applications.end(), [&](const auto& a) { return a.name == application; });
}

bool near(const std::optional<Decibel>& value, double dB, double within = 1e-9) { return value && std::abs(value->value() - dB) <= within; }

}  // namespace

class TestLinkBudget : public QObject {
    Q_OBJECT
private slots:
    void theLimitCountsWhatTheMethodHolds_data()
    {
        QTest::addColumn<QString>("method");
        QTest::addColumn<double>("limit");
        QTest::newRow("one cord") << "one-cord" << 1.2 + 2 * 0.75 + 2 * 0.3;
        QTest::newRow("two cords") << "two-cord" << 1.2 + 0.75 + 2 * 0.3;
        QTest::newRow("three cords") << "three-cord" << 1.2 + 2 * 0.3;
        QTest::newRow("single-ended") << "single-ended" << 1.2 + 0.75 + 2 * 0.3;
    }
    void theLimitCountsWhatTheMethodHolds()
    {
        QFETCH(const QString, method);
        QFETCH(const double, limit);
        const auto budget = budgetOf(plan("OS2", 2400, 2, 2, "\"method\":\"" + method.toStdString() + "\",")).value();
        QCOMPARE(budget.wavelengths.size(), std::size_t{2});
        for (const auto& w : budget.wavelengths) {
            QVERIFY(near(w.limit, limit));
            QVERIFY(near(w.worst, 3.3));  // what is built loses the same however it is measured
        }
    }
    void typicalIsAddedByHand()
    {
        const auto budget = budgetOf(plan("OS2", 2000, 2, 4)).value();
        const auto& w = budget.wavelengths.front();
        const double mean = 2 * 0.33 + 2 * 0.25 + 4 * 0.06, spread = std::sqrt(std::pow(2 * 0.33 * 0.05, 2) + 2 * 0.1 * 0.1 + 4 * 0.04 * 0.04);
        QVERIFY(near(w.typical, mean));
        QVERIFY(near(w.typicalP95, mean + 1.645 * spread));
        QVERIFY(near(w.least, 2 * 0.33));
    }
    void drawnLossesAgreeWithTheirSum()
    {
        // many parts: the sum is nearly normal whatever each of them is; few: a long tail upwards
        const auto many = plan("OS2", 2000, 40, 40);
        const double root = budgetOf(many).value().wavelengths.front().typicalP95->value();
        const double drawn = budgetOf(many, Statistics::MonteCarlo).value().wavelengths.front().typicalP95->value();
        QVERIFY(std::abs(root - drawn) < 0.03);
        const auto once = budgetOf(plan("OS2", 100, 1, 0), Statistics::MonteCarlo).value(),
                   twice = budgetOf(plan("OS2", 100, 1, 0), Statistics::MonteCarlo).value();
        QVERIFY(once.wavelengths.front().typicalP95 == twice.wavelengths.front().typicalP95);
        QVERIFY(once.wavelengths.front().typicalP95 > once.wavelengths.front().typical);
    }
    void partsMayHaveTheirOwnFigures()
    {
        const auto budget = budgetOf(R"({"link":"x","limits":"generic-sm","wavelengths_nm":[1310],"elements":[
            {"kind":"fibre","fiber":"OS2","length_m":1000},{"kind":"fibre","fiber":"G.652.D","length_m":500},
            {"kind":"connection","loss_db":0.25,"sigma_db":0.1},{"kind":"connection"},{"kind":"splice"}]})")
                                .value();
        QCOMPARE(budget.length, Metre(1500));
        QCOMPARE(budget.connections, 2);
        const auto& w = budget.wavelengths.front();
        QVERIFY(near(w.worst, 0.5 + 0.2 + 0.45 + 0.75 + 0.3));
        QVERIFY(near(w.limit, 0.5 + 0.2 + 2 * 0.75 + 0.3));
        QVERIFY(near(w.least, 0.33 + 0.165 + 0.05));
    }
    void applicationsAreJudgedByTheWorstCase_data()
    {
        QTest::addColumn<QString>("link");
        QTest::addColumn<QString>("application");
        QTest::addColumn<int>("limitedBy");
        QTest::addColumn<double>("spare");
        using Limit = ApplicationBudget::Limit;
        const auto row = [](const char* what, const std::string& link, const char* application, Limit limit, double spare) {
            QTest::newRow(what) << QString::fromStdString(link) << QString(application) << int(limit) << spare;
        };
        row("carried", plan("OS2", 2400, 2, 2), "10GBASE-LR", Limit::None, 6.2 - 3.3);
        row("no dB to spare", plan("OS2", 9400, 2, 0), "10GBASE-LR", Limit::None, 0);
        row("a little too much", plan("OS2", 9401, 2, 0), "10GBASE-LR", Limit::Loss, -0.0005);
        row("too long", plan("G.652.D", 10500, 2, 0), "10GBASE-LR", Limit::Length, 6.2 - 4.2 - 1.5);
        row("too long and too much: loss comes first", plan("OS2", 12000, 2, 0), "10GBASE-LR", Limit::Loss, 6.2 - 7.5);
        row("multimode", plan("OM4", 100, 2, 0), "10GBASE-SR", Limit::None, 2.9 - 0.3 - 1.5);
        row("multimode, too long", plan("OM3", 320, 1, 0), "10GBASE-SR", Limit::Length, 2.6 - 0.96 - 0.75);
        row("too much light", split(5), "GPON class B+", Limit::LeastLoss, 0.22 + 5.4 - 13);
        row("a splitter in between", split(17), "GPON class B+", Limit::None, 28 - 0.5 - 17.4);
        row("a joint that reflects", R"({"link":"x","limits":"generic-sm","elements":[{"kind":"fibre","fiber":"OS2","length_m":100},
            {"kind":"connection","reflectance_db":-26}]})",
            "400GBASE-DR4", Limit::Reflectance, 3.0 - 0.05 - 0.75);
        row("joints as good as asked for", plan("OS2", 100, 2, 0), "400GBASE-DR4", Limit::None, 3.0 - 0.05 - 1.5);
    }
    void applicationsAreJudgedByTheWorstCase()
    {
        QFETCH(const QString, link);
        QFETCH(const QString, application);
        QFETCH(const double, spare);
        const auto budget = budgetOf(link.toStdString());
        QVERIFY2(budget, budget ? "" : budget.error().message.c_str());
        const auto& found = of(*budget, application.toStdString());
        QTEST(int(found.limitedBy), "limitedBy");
        QVERIFY2(near(found.spare, spare, 1e-6), qPrintable(QString::number(found.spare->value())));
        QCOMPARE(found.carries, std::optional(found.limitedBy == ApplicationBudget::Limit::None));
    }
    void whatIsNotKnownIsNull()
    {
        const auto budget = budgetOf(plan("OS2", 1000, 2, 0, "\"wavelengths_nm\":[1310,1625],")).value();
        const json out = toJson(budget);
        QVERIFY(out["wavelengths"][0]["worst_db"].is_number());
        QVERIFY(out["wavelengths"][1]["worst_db"].is_null() && out["wavelengths"][1]["limit_db"].is_null());  // no standard says it of OS2
        QVERIFY(out["wavelengths"][1]["typical_db"].is_number());
        for (const auto& a : out["applications"]) QVERIFY(a["carries"].is_boolean());
    }
    void anApplicationIsNotCarriedWhereItsLossIsNotKnown_data()
    {
        QTest::addColumn<double>("most");
        QTest::addColumn<int>("carries");  // -1: not known
        QTest::newRow("nothing that is known forbids it") << 28.0 << -1;
        QTest::newRow("forbidden where it is known") << 0.1 << 0;
    }
    void anApplicationIsNotCarriedWhereItsLossIsNotKnown()
    {
        QFETCH(const double, most);
        const RuleFiles rules(dataFolder());
        const auto request = budgetRequestFromJson(plan("OS2", 1000, 2, 0)).value();
        // no standard says what OS2 loses at 1625 nm
        const Application wide{"wide", "M", {{"OS2", {Metre(20000), Decibel(most), {}, {}, {Nanometre(1310), Nanometre(1625)}}}}};
        const auto budget = planBudget(request.plan, loadLimits("generic-sm", "OS2", rules).value(), loadTypicalLosses(rules).value(), {wide},
                                       Statistics::RootOfSquares)
                                .value();
        const auto& carries = budget.applications.front().carries;
        QTEST(carries ? int(*carries) : -1, "carries");
    }
    void everyChannelOfTheDataCanBeUsed()
    {
        const RuleFiles rules(dataFolder());
        const auto applications = loadApplications(rules).value();
        const auto sm = loadLimits("generic-sm", "OS2", rules).value(), mm = loadLimits("generic-mm", "OM3", rules).value();
        int channels = 0;
        for (const auto& application : applications)
            for (const auto& [fibre, channel] : application.channels) {
                ++channels;
                QVERIFY2(!channel.wavelengths.empty(), application.name.c_str());
                const auto& limits = fibre.starts_with("OM") ? mm : sm;
                for (const auto wavelength : channel.wavelengths)
                    QVERIFY2(limits.attenuation.at(fibre).contains(int(wavelength.value())), application.name.c_str());
                QVERIFY2(!channel.leastLoss || *channel.leastLoss < channel.loss, application.name.c_str());
            }
        QVERIFY(channels > 50);
    }
    void badPlansAreRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("no JSON") << QByteArray("{{");
        QTest::newRow("no fibre") << QByteArray(R"({"link":"x","limits":"generic-sm","elements":[{"kind":"splice"}]})");
        QTest::newRow("two kinds") << QByteArray(
            R"({"link":"x","limits":"generic-sm","elements":[{"kind":"fibre","fiber":"OS2","length_m":1},{"kind":"fibre","fiber":"OM3","length_m":1}]})");
        QTest::newRow("a splitter without loss") << QByteArray(
            R"({"link":"x","limits":"generic-sm","elements":[{"kind":"fibre","fiber":"OS2","length_m":1},{"kind":"splitter"}]})");
        QTest::newRow("an unknown part") << QByteArray(R"({"link":"x","limits":"generic-sm","elements":[{"kind":"magic"}]})");
        QTest::newRow("a spread without its loss") << QByteArray(
            R"({"link":"x","limits":"generic-sm","elements":[{"kind":"connection","sigma_db":0.1}]})");
        QTest::newRow("negative") << QByteArray(R"({"link":"x","limits":"generic-sm","fiber":"OS2","length_m":-1,"connections":2})");
        QTest::newRow("a fibre nobody knows") << QByteArray(R"({"link":"x","limits":"generic-sm","fiber":"OS9","length_m":1,"connections":2})");
        QTest::newRow("limits of the other kind") << QByteArray(R"({"link":"x","limits":"generic-sm","fiber":"OM3","length_m":1,"connections":2})");
        QTest::newRow("a wavelength as words") << QByteArray(
            R"({"link":"x","limits":"generic-sm","fiber":"OS2","length_m":1,"connections":2,"wavelengths_nm":["1310"]})");
    }
    void badPlansAreRefused()
    {
        QFETCH(const QByteArray, text);
        const auto budget = budgetOf(text.toStdString());
        QVERIFY(!budget);
        QVERIFY(!budget.error().message.empty());
    }
    void theMeasuredLinkIsHeldAgainstEachChannel_data()
    {
        QTest::addColumn<double>("loss");
        QTest::addColumn<double>("length");
        QTest::addColumn<QString>("method");
        QTest::addColumn<QString>("carries");  // of 10GBASE-LR: 6.2 dB, 10 km
        QTest::newRow("well within") << 2.0 << 5000.0 << "one-cord"
                                     << "yes";
        QTest::newRow("too much") << 6.5 << 5000.0 << "one-cord"
                                  << "no: loss";
        QTest::newRow("within the doubt") << 6.1 << 5000.0 << "one-cord"
                                          << "no: loss";
        QTest::newRow("too long") << 2.0 << 12000.0 << "one-cord"
                                  << "no: length";
        QTest::newRow("an end was left out") << 2.0 << 5000.0 << "three-cord"
                                             << "not known";
        QTest::newRow("too much without it already") << 7.0 << 5000.0 << "three-cord"
                                                     << "no: loss";
    }
    void theMeasuredLinkIsHeldAgainstEachChannel()
    {
        QFETCH(double, loss);
        QFETCH(double, length);
        QFETCH(QString, method);
        QFETCH(QString, carries);
        LossTask task;
        task.load = {"OS2", Metre(length), 2, 0};
        task.method = *referenceMethodNamed(method.toStdString());
        for (const auto d : {Direction::AtoB, Direction::BtoA})
            task.readings.push_back({Nanometre(1310), d, DecibelMilliwatt(-7.02), DecibelMilliwatt(-7.02 - loss)});
        const auto applications = loadApplications(dataFolder());
        const auto report = computeLoss(task, *loadLimits("generic-sm", "OS2", dataFolder()));
        const auto of = [&](const char* name) {
            for (const auto& one : measuredApplications(report, "OS2", Metre(length), *applications))
                if (one.name == name) return one;
            return ApplicationBudget{};
        };
        const auto lr = of("10GBASE-LR");
        const QString said = !lr.carries ? "not known" : *lr.carries ? "yes" : "no: " + QString::fromUtf8(name(lr.limitedBy).data());
        QCOMPARE(said, carries);
        // its wavelength was not measured
        if (const auto er = of("10GBASE-ER"); carries == "yes") QVERIFY(!er.carries.has_value());
    }
};

QTEST_APPLESS_MAIN(TestLinkBudget)
#include "test_link_budget.moc"
