#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include "app/policy/criteria_dialog.h"
#include "demo/demo_job.h"
#include "face/judge/criteria_opinion.h"
#include "varrow_journal.h"
#include "window_driver.h"

using namespace clendo;

/// Criteria of the house: copied, changed, compared on a face, judged by.
class TestCriteriaDialog : public QObject {
    Q_OBJECT
private slots:
    void initTestCase()
    {
        applyTheme(*qApp, false);
        demo_ = makeDemo(dir_.path()).value();
    }
    void criteriaSurviveTheirFile_data()
    {
        QTest::addColumn<QString>("edition");
        for (const char* edition : {"2009", "2015", "pristine"}) QTest::newRow(edition) << QString(edition);
    }
    void criteriaSurviveTheirFile()
    {
        QFETCH(const QString, edition);
        const Criteria before = loadCriteria(edition.toStdString(), dataFolder()).value();
        const auto after = parseCriteria(criteriaText(before));
        QVERIFY2(after.has_value(), after ? "" : after.error().message.c_str());
        QCOMPARE(criteriaText(*after), criteriaText(before));
        QCOMPARE(after->classes.size(), before.classes.size());
        // the same faces, the same words
        for (const auto& [name, faceClass] : before.classes)
            for (const double x : {0.0, 20.0, 50.0, 61.0, 90.0})
                for (const double size : {1.5, 2.5, 4.0, 7.0, 12.0}) {
                    const std::vector<Finding> findings{dirt(x, size)};
                    const Verdict a = judge(findings, faceClass, before), b = judge(findings, after->find(name).value(), *after);
                    QCOMPARE(b.fit, a.fit);
                    QCOMPARE(b.nearLimit, a.nearLimit);
                }
    }
    void twoSetsOfCriteriaOnOneFace()
    {
        face::FaceMeasurement look;
        look.claddingDiameter = Pixel(300);
        look.findings = {dirt(40, 3)};
        QCOMPARE(face::opinionOf(look, "sm-upc", loadCriteria("2015", dataFolder()).value()).words, std::string("passes by IEC 61300-3-35, 2015"));
        const auto strict = face::opinionOf(look, "sm-upc", loadCriteria("pristine", dataFolder()).value());
        QCOMPARE(strict.words, std::string("fails by Pristine: zone B, defects: 1 found, none allowed"));
        look.retake.push_back(face::RetakeReason::OutOfFocus);
        QVERIFY(!face::opinionOf(look, "sm-upc", loadCriteria("2015", dataFolder()).value()).said.verdict);
        QVERIFY(face::opinionOf(look, "no-such", loadCriteria("2015", dataFolder()).value()).words.find("no class") != std::string::npos);
    }
    void aJobIsJudgedByTheHouse()
    {
        Journal j;
        j.look(cordA, {dirt(40, 3)});
        QCOMPARE(j.state().face(cordA).condition, FaceCondition::Fit);
        Criteria house = loadCriteria("pristine", dataFolder()).value();
        house.name = house.edition = "House rule";
        j.add(CriteriaKept{"House rule", criteriaText(house)});
        QCOMPARE(j.state().face(cordA).condition, FaceCondition::Fit);  // kept is not used
        JobSettings job = j.state().plan->job;
        job.edition = "House rule";
        j.set(job);
        QCOMPARE(j.state().face(cordA).condition, FaceCondition::Work);  // what was seen before is judged anew
        QCOMPARE(j.state().plan->criteria.name, std::string("House rule"));
        j.add(CriteriaKept{"House rule", "{\"format\": \"clendo-criteria\"}"});
        QVERIFY(j.state().troubles.front().find("cannot be used") != std::string::npos);
    }
    void theHouseRuleIsMadeInTheWindow()
    {
        MainWindow w;
        QVERIFY(opened(w, demo_.job));
        WindowDriver d(w);
        const FaceId face{"VP-04/7", End::A, Side::Cord};
        w.choose(face);
        CriteriaDialog dialog(*w.session(), face, &w);
        dialog.show();
        const auto press = [&](const char* button) {
            dialog.findChild<QPushButton*>(button)->click();
            w.session()->settle();
        };
        const auto words = [&](const char* side) { return dialog.findChild<TextBlock*>(side)->accessibleName(); };
        auto* rules = dialog.findChild<QTableWidget*>("leftRules");
        QVERIFY(words("leftWords").startsWith("Passes by IEC"));
        QVERIFY(!dialog.findChild<QPushButton*>("keepCriteria")->isEnabled());
        QVERIFY(!(rules->item(0, 4)->flags() & Qt::ItemIsEditable));  // the standard's numbers stay

        dialog.findChild<QLineEdit*>("copyName")->setText("2009");
        press("copyCriteria");
        QVERIFY(!w.session()->state().plan->ownCriteria.contains("2009"));
        dialog.findChild<QLineEdit*>("copyName")->setText("Night shift");
        press("copyCriteria");
        QVERIFY(w.session()->state().plan->ownCriteria.contains("Night shift"));

        constexpr int zoneD = 10, over = 2, allowed = 4;
        rules->item(zoneD, over)->setText("many");
        press("keepCriteria");
        QVERIFY(parseCriteria(w.session()->state().plan->ownCriteria.at("Night shift")).value().version == "1");  // not a number: nothing is kept
        rules->item(zoneD, over)->setText("2,5");
        rules->item(zoneD, allowed)->setText("1");
        press("keepCriteria");
        const Criteria kept = parseCriteria(w.session()->state().plan->ownCriteria.at("Night shift")).value();
        QCOMPARE(kept.version, std::string("2"));
        QCOMPARE(kept.find("sm-upc")->rules[zoneD].lower.value(), 2.5);
        QVERIFY(words("leftWords").startsWith("Fails by Night shift: zone D"));
        QCOMPARE(w.session()->state().face(face).condition, FaceCondition::Fit);
        press("applyCriteria");
        QCOMPARE(w.session()->state().face(face).condition, FaceCondition::Work);
        QCOMPARE(w.session()->state().plan->job.edition, std::string("Night shift"));
    }

private:
    QTemporaryDir dir_;
    DemoFolder demo_;
};

QTEST_MAIN(TestCriteriaDialog)
#include "test_criteria_dialog.moc"
