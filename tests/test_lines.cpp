#include <QSignalSpy>
#include <QtTest>
#include <nlohmann/json.hpp>

#include "files/files.h"
#include "instruments/line/bench_on_lines.h"
#include "sim/simulation.h"
#include "world/scenario.h"

using namespace clendo;

namespace {

/// A line of which the test is the other end.
class TestLine : public Line {
public:
    [[nodiscard]] QString place() const override { return QStringLiteral("the test's line"); }
    void open() override
    {
        ++opens;
        if (there)
            emit opened();
        else
            emit closed(QStringLiteral("nothing there"));
    }
    void close() override {}
    void write(const QByteArray& bytes) override
    {
        said << bytes;
        if (answer) answer(bytes);
    }
    void send(const QByteArray& bytes) { emit received(bytes); }
    void cut() { emit closed(QStringLiteral("pulled out")); }

    QList<QByteArray> said;
    std::function<void(const QByteArray&)> answer;
    int opens = 0;
    bool there = true;
};

/// A client on such a line, with a deadline that a test can wait for.
struct Talk {
    TestLine* line = new TestLine;
    ScpiClient client{std::unique_ptr<Line>(line), "\n", 150};
    QList<QByteArray> answers;
    int errors = 0;

    Talk() { client.start(); }
    void ask(const char* command)
    {
        client.ask(command, [this](const Result<QByteArray>& answer) {
            if (answer)
                answers << *answer;
            else
                ++errors;
        });
    }
};

/// The demo's world with its instruments on ports, in this process; hands are called as they would be by the control port.
struct Room {
    sim::Simulation simulation{*world::readScenario(*readFile(dataFolder() / "scenarios/varrow-point.json"), dataFolder()), 20};
    BenchOnLines bench{dataFolder()};
    BenchShown shown;
    QList<BenchReading> taken;

    Room()
    {
        if (!simulation.start()) qFatal("no port");
        QObject::connect(&bench, &LightBench::shown, &bench, [this](const BenchShown& s) { shown = s; });
        QObject::connect(&bench, &LightBench::taken, &bench, [this](const BenchReading& r) { taken << r; });
    }
    [[nodiscard]] QString place(const char* name) const
    {
        const auto ready = simulation.ready();
        for (const auto& one : ready["instruments"])
            if (one["name"] == name) return QStringLiteral("127.0.0.1:%1").arg(one["port"].get<int>());
        return {};
    }
    void hands(const char* deed)
    {
        sim::ControlWish wish;
        const auto answer = nlohmann::json::parse(sim::control(simulation.now(), deed, wish));
        QVERIFY2(answer["ok"].get<bool>(), answer.dump().c_str());
    }
    /// By way of the control port itself, which alone can spoil lines.
    void spoil(const char* kind, const char* instrument = "meter 1")
    {
        QTcpSocket socket;
        socket.connectToHost(QStringLiteral("127.0.0.1"), static_cast<quint16>(simulation.ready()["control"]["port"].get<int>()));
        QVERIFY(QTest::qWaitFor([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
        socket.write(QStringLiteral("{\"do\": \"fault\", \"instrument\": \"%1\", \"kind\": \"%2\"}\n")
                         .arg(QString::fromUtf8(instrument), QString::fromUtf8(kind))
                         .toUtf8());
        QVERIFY(QTest::qWaitFor([&] { return socket.bytesAvailable() > 0; }));
    }
};

}  // namespace

/// Lines to instruments: what is asked is answered once, in time and whole, or said to be missing.
class TestLines : public QObject {
    Q_OBJECT
private slots:
    void answersBelongToTheirQuestions()
    {
        Talk talk;
        talk.line->answer = [&](const QByteArray& said) { talk.line->send(said == "A?\n" ? "1\r\n" : "2\n"); };
        talk.ask("A?");
        talk.ask("B?");
        talk.client.tell("C");
        QTRY_COMPARE(talk.answers, (QList<QByteArray>{"1", "2"}));
        QTRY_COMPARE(talk.line->said.size(), 3);
    }
    void answersInPiecesAreWaitedFor()
    {
        Talk talk;
        talk.ask("A?");
        talk.line->send("-8");
        talk.line->send(".6");
        QVERIFY(talk.answers.isEmpty());
        talk.line->send("3\n");
        QCOMPARE(talk.answers, QList<QByteArray>{"-8.63"});
    }
    void oneDeadlineHoldsForTheWholeAnswer()
    {
        Talk talk;
        talk.ask("A?");
        QTimer drip;  // a byte now and then, for ever
        connect(&drip, &QTimer::timeout, &drip, [&] { talk.line->send("1"); });
        drip.start(20);
        QTRY_COMPARE_WITH_TIMEOUT(talk.errors, 1, 3000);
        QVERIFY(talk.answers.isEmpty());
    }
    void aLateAnswerIsNotTakenForTheNextOne()
    {
        Talk talk;
        talk.ask("A?");
        QTRY_COMPARE(talk.errors, 1);
        QTRY_COMPARE_WITH_TIMEOUT(talk.line->opens, 2, 3000);  // opened anew
        talk.line->send("late\n");
        talk.line->answer = [&](const QByteArray& said) {  // at once: on a busy machine a wait may outlast the deadline
            if (said == "B?\n") talk.line->send("right\n");
        };
        talk.ask("B?");
        QTRY_COMPARE(talk.answers, QList<QByteArray>{"right"});
    }
    void whatIsSaidTwiceCountsOnce()
    {
        Talk talk;
        talk.line->answer = [&](const QByteArray& said) { talk.line->send(said == "A?\n" ? "1\n1\n" : "2\n2\n"); };
        for (const char* question : {"A?", "B?", "A?", "B?"}) talk.ask(question);
        QTRY_COMPARE(talk.answers, (QList<QByteArray>{"1", "2", "1", "2"}));
    }
    void anAnswerWithoutEndIsNone()
    {
        Talk talk;
        talk.ask("A?");
        for (int i = 0; i < 80; ++i) talk.line->send(QByteArray(1000, 'x'));
        QCOMPARE(talk.errors, 1);
    }
    void blocksAreWholeOrNone_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QByteArray>("block");
        QTest::addColumn<bool>("good");
        QTest::newRow("block") << QByteArray("#15a\nb\rc\n") << QByteArray("a\nb\rc") << true;
        QTest::newRow("empty") << QByteArray("#10\n") << QByteArray() << true;
        QTest::newRow("CR LF behind") << QByteArray("#13abc\r\n") << QByteArray("abc") << true;
        QTest::newRow("too short") << QByteArray("#15abc\n") << QByteArray() << false;
        QTest::newRow("no length") << QByteArray("#2xxabc\n") << QByteArray() << false;
        QTest::newRow("larger than anything") << QByteArray("#9999999999abc\n") << QByteArray() << false;
        QTest::newRow("more than it says") << QByteArray("#13abcdefg\n") << QByteArray() << false;
    }
    void blocksAreWholeOrNone()
    {
        QFETCH(QByteArray, bytes);
        QFETCH(QByteArray, block);
        QFETCH(bool, good);
        Talk talk;
        talk.ask("A?");
        talk.line->send(bytes);
        QTRY_COMPARE(talk.answers.size() + talk.errors, 1);
        QCOMPARE(talk.errors, good ? 0 : 1);
        if (good) QCOMPARE(talk.answers.front(), block);
    }
    void aLineThatIsCutIsTriedAgainAndSaidOnce()
    {
        Talk talk;
        QSignalSpy gone(&talk.client, &ScpiClient::gone);
        talk.ask("A?");
        talk.line->there = false;
        talk.line->cut();
        QCOMPARE(talk.errors, 1);
        talk.ask("B?");
        QCOMPARE(talk.errors, 2);  // at once, not at the deadline
        QTRY_VERIFY_WITH_TIMEOUT(talk.line->opens >= 3, 6000);
        QCOMPARE(gone.size(), 1);
        talk.line->there = true;
        QTRY_VERIFY_WITH_TIMEOUT(talk.client.isOpen(), 6000);
        talk.line->answer = [&](const QByteArray&) { talk.line->send("1\n"); };
        talk.ask("A?");
        QTRY_COMPARE(talk.answers, QList<QByteArray>{"1"});
    }
    void whatWasSaidIsKeptForAWhile()
    {
        Talk talk;
        talk.line->answer = [&](const QByteArray&) { talk.line->send("1\n"); };
        for (int i = 0; i < 300; ++i) talk.ask("A?");
        QTRY_VERIFY(talk.answers.size() >= 200);
        QVERIFY(talk.client.log().size() <= 200);
        QVERIFY(talk.client.log().contains("> A?") && talk.client.log().contains("< 1"));
    }
    void placesAreReadOrRefused()
    {
        for (const char* place : {"127.0.0.1:5025", "tcp:meter.local:5025", "serial:/dev/ttyUSB0", "/dev/ttyS0"})
            QVERIFY(makeLine(QString::fromUtf8(place), 9600));
        for (const char* place : {"", "meter", "meter:", ":5025", "meter:0", "meter:70000", "meter:port"})
            QVERIFY(!makeLine(QString::fromUtf8(place), 9600));
        BenchOnLines bench{dataFolder()};
        QVERIFY(!bench.setMeter("nowhere", {}));
        QVERIFY(bench.setMeter("", {}));
    }
    void aSerialPortThatIsNotThereIsSaid()
    {
        Room room;
        QVERIFY(room.bench.setMeter("/dev/no-such-port", {}));
        QTRY_VERIFY_WITH_TIMEOUT(room.shown.meterTrouble.contains("cannot be opened"), 5000);
    }

    void aReferenceIsReadOverTheLine()
    {
        Room room;
        room.hands(R"j({"do": "connect", "from": "meter 1", "to": "RC-1/B"})j");
        QVERIFY(room.bench.setMeter(room.place("meter 1"), {}));
        QVERIFY(room.bench.setSource(room.place("source 1"), {}));
        QTRY_VERIFY_WITH_TIMEOUT(room.shown.sample && room.shown.meter.contains("PM-2207"), 5000);
        room.bench.measure(readingOrder({""}, {Nanometre(1310), Nanometre(1550)}, Switching::ByLine), {});
        QTRY_COMPARE_WITH_TIMEOUT(room.taken.size(), 2, 20000);
        const auto& source = std::get<world::Source>(room.simulation.now().instrument("source 1")->unit);
        QVERIFY(std::abs((room.taken[1].power.power - room.simulation.now().levelOf(source)).value() - 0.03) < 0.05);  // its meter is 0.03 dB off
        QVERIFY(room.taken[0].power.samples >= 5);
        QVERIFY(room.taken[0].instrument.contains("PM-2207"));
    }
    void aSpoiledLineGivesNoReading_data()
    {
        QTest::addColumn<QString>("fault");
        for (const char* fault : {"late", "half", "garbage", "silent", "cut"}) QTest::newRow(fault) << fault;
    }
    void aSpoiledLineGivesNoReading()
    {
        QFETCH(QString, fault);
        Room room;
        room.hands(R"j({"do": "connect", "from": "meter 1", "to": "RC-1/B"})j");
        room.spoil(qPrintable(fault));
        QVERIFY(room.bench.setMeter(room.place("meter 1"), {}));
        room.bench.measure(readingOrder({""}, {Nanometre(1310)}, Switching::ByOperator), {});
        QTest::qWait(3500);
        QCOMPARE(room.taken.size(), 0);
        room.spoil("none");
        QTRY_COMPARE_WITH_TIMEOUT(room.taken.size(), 1, 30000);  // and goes on by itself when the line is good again
    }
    void anotherLocaleUnitOrEchoIsTheSameReading_data()
    {
        QTest::addColumn<QString>("fault");
        for (const char* fault : {"comma", "milliwatt", "twice"}) QTest::newRow(fault) << fault;
    }
    void anotherLocaleUnitOrEchoIsTheSameReading()
    {
        QFETCH(QString, fault);
        Room room;
        room.hands(R"j({"do": "connect", "from": "meter 1", "to": "RC-1/B"})j");
        room.spoil(qPrintable(fault));
        QVERIFY(room.bench.setMeter(room.place("meter 1"), {}));
        if (fault == "milliwatt") {  // every small number comes in mW, those that are no power too: then nothing may be read
            room.bench.measure(readingOrder({""}, {Nanometre(1310)}, Switching::ByOperator), {});
            QTest::qWait(2500);
            for (const auto& reading : room.taken) QVERIFY(std::abs(reading.power.power.value() + 6.9) < 0.5);
            return;
        }
        room.bench.measure(readingOrder({""}, {Nanometre(1310)}, Switching::ByOperator), {});
        QTRY_COMPARE_WITH_TIMEOUT(room.taken.size(), 1, 20000);
        QVERIFY(std::abs(room.taken[0].power.power.value() + 6.9) < 0.5);
    }
    void toneZeroAndOverloadAreNoReading_data()
    {
        QTest::addColumn<QString>("instrument");
        QTest::addColumn<QByteArray>("command");
        QTest::addColumn<QString>("says");
        QTest::newRow("tone") << "source 1" << QByteArray("SOUR:AM:STAT ON") << "tone";
        QTest::newRow("zeroed") << "meter 1" << QByteArray("SENS:POW:REF TOREF;REF:STAT ON") << "unclear";
        QTest::newRow("dark") << "source 1" << QByteArray("SOUR:POW:STAT OFF") << "no light";
    }
    void toneZeroAndOverloadAreNoReading()
    {
        QFETCH(QString, instrument);
        QFETCH(QByteArray, command);
        QFETCH(QString, says);
        Room room;
        room.hands(R"j({"do": "connect", "from": "meter 1", "to": "RC-1/B"})j");
        QTcpSocket socket;
        const QString place = room.place(qPrintable(instrument));
        socket.connectToHost(QStringLiteral("127.0.0.1"), place.section(':', 1).toUShort());
        QTRY_COMPARE(socket.state(), QAbstractSocket::ConnectedState);
        socket.write(command + "\n*OPC?\n");
        QTRY_VERIFY(socket.bytesAvailable() > 0);
        QVERIFY(room.bench.setMeter(room.place("meter 1"), {}));
        room.bench.measure(readingOrder({""}, {Nanometre(1310)}, Switching::ByOperator), {});
        QTRY_VERIFY_WITH_TIMEOUT(room.shown.sample.has_value(), 5000);
        QTRY_COMPARE(QString::fromUtf8(name(room.shown.state).data()), says);
        QTest::qWait(1500);
        QCOMPARE(room.taken.size(), 0);
    }
};

QTEST_GUILESS_MAIN(TestLines)
#include "test_lines.moc"
