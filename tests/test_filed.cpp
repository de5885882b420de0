#include <QtTest>

#include "otdr/trace.h"
#include "record/advice/filed.h"
#include "varrow_journal.h"

using namespace clendo;

/// What is said of what was just done: whether it has to be read first, and that nothing is said where there is nothing to say.
class TestFiled : public QObject {
    Q_OBJECT
private slots:
    void aToolThatRunsOutIsSaid_data()
    {
        QTest::addColumn<int>("used");
        QTest::addColumn<bool>("trouble");
        QTest::newRow("fresh") << 0 << false;
        QTest::newRow("more than a tenth left") << 440 << false;
        QTest::newRow("a tenth left") << 450 << true;
        QTest::newRow("used up") << 520 << true;
    }
    void aToolThatRunsOutIsSaid()
    {
        QFETCH(const int, used);
        KitItem pen;
        pen.what.id = "pen 1";
        pen.what.most = 500;
        pen.used = used;
        const Said said = said::cleaned(&pen);
        QTEST(said.trouble, "trouble");
        QCOMPARE(said.sentence.find("pen 1") != std::string::npos, said.trouble);
        QVERIFY(said.sentence.find('-') == std::string::npos);  // never less than nothing is left
        QVERIFY(!said::cleaned(nullptr).trouble);
    }
    void lightThatComesOutElsewhereIsTrouble()
    {
        QVERIFY(!said::lightSeen({"VP-04", 3, 3}, 3).trouble);
        QVERIFY(said::lightSeen({"VP-04", 3, 4}, 3).trouble);
        QVERIFY(said::lightSeen({"VP-04", 3, std::nullopt}, 3).trouble);
    }
    void aTraceOfAnotherFibreIsTrouble_data()
    {
        QTest::addColumn<QString>("ofFile");
        QTest::addColumn<bool>("trouble");
        QTest::newRow("the file says nothing") << "" << false;
        QTest::newRow("the same") << "7" << false;
        QTest::newRow("another") << "8" << true;
    }
    void aTraceOfAnotherFibreIsTrouble()
    {
        QFETCH(const QString, ofFile);
        otdr::Trace trace;
        trace.fibre = ofFile.toStdString();
        TraceShot shot;
        shot.traceName = "a.sor";
        QTEST(said::traceFiled(shot, trace, 7).trouble, "trouble");
    }
    void aPictureThatComesLateIsSaid()
    {
        const FaceId face{"VP-04/1", End::A, Side::Port};
        Journal j;
        j.look(face, {});
        QVERIFY(said::pictureOfBefore(j.state(), face, "08:15").sentence.empty());  // it counts
        QVERIFY(said::samePicture(j.state(), "another").sentence.empty());
        const std::string picture = j.state().face(face).looks.front().seen.picture;
        QVERIFY(said::samePicture(j.state(), picture).trouble);
        j.clean(face);
        QVERIFY(said::pictureOfBefore(j.state(), face, "08:15").trouble);
        QVERIFY(said::pictureOfBefore(j.state(), {"VP-04/2", End::A, Side::Port}, "08:15").sentence.empty());  // never seen
    }
    void amongManyFacesOneIsAlikeByChance_data()
    {
        QTest::addColumn<double>("rate");
        QTest::addColumn<int>("held");
        QTest::addColumn<QString>("words");
        QTest::newRow("few faces") << 5e-6 << 12 << "in less than 1 in 10 000 of looks held against as many faces";
        QTest::newRow("more") << 5e-5 << 100 << "in about 1 in 200 of looks held against as many faces";
        QTest::newRow("too many to say") << 5e-5 << 1000 << "";
        QTest::newRow("known for sure among many") << 1e-9 << 1000 << "in less than 1 in 10 000";
    }
    void amongManyFacesOneIsAlikeByChance()
    {
        QFETCH(const double, rate);
        QFETCH(const int, held);
        QFETCH(const QString, words);
        const FaceId face{"VP-04/1", End::A, Side::Port}, other{"VP-04/2", End::A, Side::Port};
        const face::FaceMatch match{face::SameFace::Same, 0.9, rate, 12.0, 3};
        const Said said = said::anotherFace(Journal().state(), face, other, match, static_cast<std::size_t>(held));
        QVERIFY2(QString::fromStdString(said.sentence).contains(words), said.sentence.c_str());
        QCOMPARE(said.trouble, !words.isEmpty());
        QCOMPARE(said.sentence.empty(), words.isEmpty());
    }
    void expectedLossSaysWhatItKnows_data()
    {
        QTest::addColumn<double>("most");
        QTest::addColumn<bool>("apart");
        QTest::addColumn<bool>("figures");
        QTest::newRow("nothing") << 0.0 << false << false;
        QTest::newRow("only a gap") << 0.0 << true << false;
        QTest::newRow("dirt in the light") << 0.3 << false << true;
        QTest::newRow("both") << 0.3 << true << true;
    }
    void expectedLossSaysWhatItKnows()
    {
        QFETCH(const double, most);
        QFETCH(const bool, apart);
        const std::string words = expectedLossWords({Decibel(most / 2), Decibel(most), 0}, Nanometre(1310), apart);
        QTEST(words.find("dB") != std::string::npos, "figures");
        QCOMPARE(words.find("apart") != std::string::npos, apart);
    }
};

QTEST_APPLESS_MAIN(TestFiled)
#include "test_filed.moc"
