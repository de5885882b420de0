#include <QtTest>

#include "power/pasted_table.h"

using namespace clendo;

namespace {

QString words(const PastedReading& r)
{
    return QString("%1 %2 %3 %4")
        .arg(r.fibre)
        .arg(r.wavelength.value())
        .arg(QString::fromUtf8(name(r.direction).data()))
        .arg(r.level ? QString("%1 dBm").arg(r.level->value()) : QString("%1 dB").arg(r.loss->value()));
}

}  // namespace

/// Tables as people copy them: what they hold is guessed, shown and only then taken.
class TestPastedTable : public QObject {
    Q_OBJECT
private slots:
    void tablesAreUnderstood_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QStringList>("readings");
        QTest::addColumn<int>("troubles");
        const auto row = [](const char* what, const char* text, const QStringList& readings, int troubles = 0) {
            QTest::newRow(what) << QString::fromUtf8(text) << readings << troubles;
        };
        row("levels by wavelength", "Fibre\t1310 nm (dBm)\t1550 nm (dBm)\n1\t-8.63\t-8.41\n2\t-8.70\t-8.44\n",
            {"1 1310 ab -8.63 dBm", "1 1550 ab -8.41 dBm", "2 1310 ab -8.7 dBm", "2 1550 ab -8.44 dBm"});
        row("decimal commas and semicolons", "Fibre;1310 dBm;1550 dBm\r\n1;-8,63;-8,41\r\n", {"1 1310 ab -8.63 dBm", "1 1550 ab -8.41 dBm"});
        row("losses both ways", "fibre,1310 loss A-B,1310 loss B-A\n1,1.61,1.65\n", {"1 1310 ab 1.61 dB", "1 1310 ba 1.65 dB"});
        row("merged titles", "\t1310 nm\t\t1550 nm\t\nfibre\tA to B\tB to A\tA to B\tB to A\n4\t-8.1\t-8.2\t-8.3\t-8.4\n",
            {"4 1310 ab -8.1 dBm", "4 1310 ba -8.2 dBm", "4 1550 ab -8.3 dBm", "4 1550 ba -8.4 dBm"});
        row("three kinds of minus", "fibre\t1310 dBm\n1\t-8.1\n2\t−8.2\n3\t–8.3\n",
            {"1 1310 ab -8.1 dBm", "2 1310 ab -8.2 dBm", "3 1310 ab -8.3 dBm"});
        row("one reading a line", "port\twavelength\tdirection\tdBm\n7\t1310\tAB\t-8.5\n7\t1550\tBA\t-8.6\n",
            {"7 1310 ab -8.5 dBm", "7 1550 ba -8.6 dBm"});
        row("units in the cells", "fibre\t1310\n1\t-8.5 dBm\n2\t-8.6 dBm\n", {"1 1310 ab -8.5 dBm", "2 1310 ab -8.6 dBm"});
        row("dB and dBm in one column", "fibre\t1310\n1\t-8.5 dBm\n2\t1.6 dB\n", {"1 1310 ab -8.5 dBm"}, 1);
        row("a cell merged downwards", "fibre\t1310 dBm\n1\t-8.5\n\t-8.6\n", {"1 1310 ab -8.5 dBm"}, 1);
        row("a fibre twice", "fibre\t1310 dBm\n1\t-8.5\n1\t-8.6\n", {"1 1310 ab -8.5 dBm"}, 1);
        row("nan, words, nothing", "fibre\t1310 dBm\n1\tnan\n2\tdark\n3\t\n4\t-8\n", {"4 1310 ab -8 dBm"}, 2);
        row("impossible levels", "fibre\t1310 dBm\n1\t-863\n2\t9.91E37\n3\t-8.6\n", {"3 1310 ab -8.6 dBm"}, 2);
        row("limit and margin are no readings", "fibre\t1310 loss dB\tlimit dB\tmargin dB\n1\t1.6\t3.3\t1.7\n", {"1 1310 ab 1.6 dB"});
        row("no wavelength", "fibre\tdBm\n1\t-8.5\n", {}, 1);
        row("no fibre", "x\t1310 dBm\nred\t-8.5\n", {}, 1);
    }
    void tablesAreUnderstood()
    {
        QFETCH(QString, text);
        QFETCH(QStringList, readings);
        QFETCH(int, troubles);
        const auto table = guessTable(text.toStdString());
        QVERIFY(table);
        const auto taken = readTable(*table, Direction::AtoB);
        QStringList got;
        for (const auto& r : taken.readings) got << words(r);
        QCOMPARE(got, readings);
        QCOMPARE(int(taken.troubles.size()), troubles);
    }
    void whatIsNoTableIsRefused()
    {
        for (const QString& text : {QString(), QString("hello"), QString("\n\n\n"), QString("fibre\t1310 dBm\n"), QString(200, '\t')})
            QVERIFY(!guessTable(text.toStdString()));
    }
    void aGuessCanBeCorrected()
    {
        auto table = guessTable("n\tfirst\tsecond\n1\t-8.5\t-8.6\n");
        QVERIFY(table);
        table->columns[1] = {PastedColumn::Kind::Level, Nanometre(1310), Direction::BtoA, {}};
        table->columns[2] = {PastedColumn::Kind::LeftOut, {}, {}, {}};
        const auto taken = readTable(*table, Direction::AtoB);
        QCOMPARE(taken.readings.size(), 1U);
        QCOMPARE(words(taken.readings[0]), QString("1 1310 ba -8.5 dBm"));
    }
};

QTEST_APPLESS_MAIN(TestPastedTable)
#include "test_pasted_table.moc"
