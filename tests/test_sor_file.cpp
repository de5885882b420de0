// Files written again: what nobody changed stays byte for byte.
#include <QtTest>

#include "files/files.h"
#include "otdr/checksum.h"
#include "otdr/sor_file.h"
#include "otdr/sor_reader.h"
#include "otdr/sor_writer.h"
#include "world/trace_world.h"

using namespace clendo;
using namespace clendo::otdr;
using namespace std::string_literals;

namespace {

void put(std::string& out, std::uint64_t value, int bytes)
{
    for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> (8 * i) & 0xFF);
}

/// A file of one's own making: version 1 or 2, blocks nobody knows among the others, bytes behind the last one.
std::string made(int version, bool rightSum = true)
{
    const std::string general = std::string("EN") + "C-1\0"s + "3\0"s + (version == 2 ? "\x8C\x02"s : ""s) + "\x1E\x05"s + "Hut\0"s + "Hall\0"s +
                                "\0"s + "BC" + std::string(version == 2 ? 8 : 4, '\0') + "me\0"s + "as found\0"s;
    std::vector<std::pair<std::string, std::string>> blocks{
        {"GenParams", general}, {"WeighBridge", "\x00\xFF\x7F anything\x00"s}, {"FxdParams", std::string(40, '\x11')}, {"ZZ", ""}, {"Cksum", "??"}};
    std::string entries;
    for (auto& [name, body] : blocks) {
        if (version == 2) body = name + '\0' + body;
        entries += name + '\0';
        put(entries, 123, 2);
        put(entries, body.size(), 4);
    }
    entries += "more of the map";
    std::string out = version == 2 ? "Map\0"s : ""s;
    put(out, version == 2 ? 210 : 105, 2);
    put(out, out.size() + 6 + entries.size(), 4);
    put(out, blocks.size() + 1, 2);
    out += entries;
    for (const auto& [name, body] : blocks) out += name == "Cksum" ? body.substr(0, body.size() - 2) : body;
    put(out, checksum(out, writtenChecksum) ^ (rightSum ? 0 : 1), 2);
    return out + "what comes behind";
}

}  // namespace

class TestSorFile : public QObject {
    Q_OBJECT
private slots:
    void whatIsNotChangedStaysByteForByte_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        for (const int version : {1, 2})
            for (const bool right : {true, false})
                QTest::addRow("made, version %d, sum %s", version, right ? "right" : "wrong") << QByteArray::fromStdString(made(version, right));
        const QDir dir(TEST_DATA "/traces");
        for (const QString& name : dir.entryList({"*.sor"})) {
            QFile file(dir.filePath(name));
            if (!name.startsWith("damaged") && file.open(QIODevice::ReadOnly)) QTest::newRow(qPrintable(name)) << file.readAll();
        }
    }
    void whatIsNotChangedStaysByteForByte()
    {
        QFETCH(const QByteArray, bytes);
        auto file = SorFile::read(bytes.toStdString(), "t.sor");
        QVERIFY2(file, file ? "" : file.error().message.c_str());
        QCOMPARE(QByteArray::fromStdString(file->write()), bytes);
        QVERIFY(file->label({}));  // nothing is to be changed
        QCOMPARE(QByteArray::fromStdString(file->write()), bytes);
    }
    void onlyTheLabelsChange_data()
    {
        QTest::addColumn<int>("version");
        QTest::addColumn<bool>("rightSum");
        QTest::newRow("version 1") << 1 << true;
        QTest::newRow("version 2") << 2 << true;
        QTest::newRow("a wrong checksum stays wrong") << 2 << false;
    }
    void onlyTheLabelsChange()
    {
        QFETCH(const int, version);
        QFETCH(const bool, rightSum);
        const std::string before = made(version, rightSum);
        auto file = SorFile::read(before, "t.sor").value();
        QVERIFY(file.label({"VP-04", "12", std::nullopt, "Breakwater Hut"}));
        const std::string after = file.write();
        QVERIFY(after.find("VP-04\0"
                           "12\0"s) != std::string::npos);
        QVERIFY(after.find("Hut\0"
                           "Breakwater Hut\0"s) != std::string::npos);  // the place that was not named stays
        QVERIFY(after.find("as found\0"s) != std::string::npos);
        QVERIFY(after.find("\x00\xFF\x7F anything\x00"s) != std::string::npos && after.find("more of the map") != std::string::npos);
        QVERIFY(after.ends_with("what comes behind"));
        const auto sumAt = after.size() - std::string("what comes behind").size() - 2;
        const auto sum = static_cast<std::uint16_t>(static_cast<unsigned char>(after[sumAt]) | static_cast<unsigned char>(after[sumAt + 1]) << 8);
        QCOMPARE(sum == checksum(std::string_view(after).substr(0, sumAt), writtenChecksum), rightSum);
        // and back again to the same bytes
        auto again = SorFile::read(after, "t.sor").value();
        QVERIFY(again.label({"C-1", "3", std::nullopt, "Hall"}));
        if (rightSum) QCOMPARE(QByteArray::fromStdString(again.write()), QByteArray::fromStdString(before));
    }
    void aRewrittenTraceReadsAsBefore()
    {
        world::Shot shot;
        const std::string bytes = writeSor(world::shoot({{Metre(500), DecibelPerKilometre(0.35), Decibel(0.3), Decibel(-45)}}, shot));
        auto file = SorFile::read(bytes, "t.sor").value();
        QVERIFY(file.label({"VP-04", "7", "Tide Hall", "Breakwater Hut"}));
        const Trace before = readSor(bytes, "t").value(), after = readSor(file.write(), "t").value();
        QCOMPARE(after.cable, std::string("VP-04"));
        QCOMPARE(after.fibre, std::string("7"));
        QCOMPARE(after.locationB, std::string("Breakwater Hut"));
        QVERIFY(after.checksumOk == std::optional(true));
        QVERIFY(after.level == before.level && after.distance == before.distance);
    }
    void whatCouldNotBeWrittenAgainIsRefused_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        const QByteArray whole = QByteArray::fromStdString(made(2));
        QTest::newRow("nothing") << QByteArray();
        QTest::newRow("cut short") << whole.left(100);
        QTest::newRow("ends in the map") << whole.left(20);
        QByteArray named = whole;
        named[named.lastIndexOf("WeighBridge")] = 'X';
        QTest::newRow("a block of another name") << named;
        QByteArray many = whole;
        many[10] = '\xFF';
        QTest::newRow("more blocks than there are") << many;
        QByteArray mapSize = whole;
        mapSize[6] = '\x10';
        mapSize[7] = '\0';
        QTest::newRow("a map that ends before its entries") << mapSize;
    }
    void whatCouldNotBeWrittenAgainIsRefused()
    {
        QFETCH(const QByteArray, bytes);
        const auto file = SorFile::read(bytes.toStdString(), "t.sor");
        QVERIFY(!file);
        QVERIFY(QString::fromStdString(file.error().message).contains("Keep the file as it came"));
    }
    void withoutGeneralParametersNothingIsLabelled()
    {
        std::string bytes = made(2);
        for (std::size_t at; (at = bytes.find("GenParams")) != std::string::npos;) bytes.replace(at, 9, "OldParams");
        auto file = SorFile::read(bytes, "t.sor").value();
        QVERIFY(!file.label({"VP-04", {}, {}, {}}));
        QCOMPARE(QByteArray::fromStdString(file.write()), QByteArray::fromStdString(bytes));
    }
};

QTEST_APPLESS_MAIN(TestSorFile)
#include "test_sor_file.moc"
