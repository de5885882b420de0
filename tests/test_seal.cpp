// Keys, statements, and what is known of whose key is whose.
#include <QTemporaryDir>
#include <QtTest>

#include "files/canonical_json.h"
#include "files/files.h"
#include "files/plain_name.h"
#include "seal/known_keys.h"
#include "seal/statement.h"

using namespace clendo;
using namespace clendo::seal;

namespace {

KeyFile fileOf(const SigningKey& key, std::string_view passphrase) { return readKeyFile(key.sealedFile(passphrase, 1'764'000'000).value()).value(); }

Statement statement()
{
    return {"VP-04/7",
            "Varrow Point",
            1'764'000'000,
            "VP-04_7.json",
            {{"VP-04_7.json", 12, digestOf("record")}, {"pictures/a-1.png", 3, digestOf("abc")}},
            digestOf("before"),
            {{"d1", 168, digestOf("entry")}}};
}

std::string replaced(std::string text, const std::string& from, const std::string& to)
{
    const auto at = text.find(from);
    return at == std::string::npos ? text : text.replace(at, from.size(), to);
}

}  // namespace

class TestSeal : public QObject {
    Q_OBJECT
private slots:
    void aKeySignsAndItsPublicHalfSaysSo()
    {
        const auto key = SigningKey::make("technician 1");
        const auto signature = key.sign("2.4 km");
        QVERIFY(key.publicKey().holds("2.4 km", signature));
        QVERIFY(!key.publicKey().holds("2.5 km", signature));
        QVERIFY(!SigningKey::make("technician 2").publicKey().holds("2.4 km", signature));
        auto broken = signature;
        broken[17] ^= 1;
        QVERIFY(!key.publicKey().holds("2.4 km", broken));
        QCOMPARE(PublicKey::parse(key.publicKey().hex()).value(), key.publicKey());
        QCOMPARE(key.publicKey().spoken().size(), std::size_t{19});
    }
    void ed25519IsThatOfItsStandard()
    {
        // RFC 8032, 7.1, test 2: one byte, 0x72
        const auto key = PublicKey::parse("3d4017c3e843895a92b70aa74d1b7ebc9c982ccf2ec4968cc0cd55f12af4660c").value();
        SignatureBytes signature{};
        const std::string hex =
            "92a009a9f0d4cab8720e820b5f642540a2b27b5416503f8fb3762223ebdb69da085ac1e43e15996e458f3613d0f11d8c387b2eaeb4302aeeb00d291612bb0c00";
        for (std::size_t i = 0; i < signature.size(); ++i) signature[i] = static_cast<std::uint8_t>(std::stoi(hex.substr(2 * i, 2), nullptr, 16));
        QVERIFY(key.holds("\x72", signature));
        QVERIFY(!key.holds("\x73", signature));
    }
    void aKeyFileOpensWithItsPassphraseAlone()
    {
        const auto key = SigningKey::make("Größe & Söhne");
        const KeyFile file = fileOf(key, "low tide at noon");
        QCOMPARE(file.holder, std::string("Größe & Söhne"));
        QVERIFY(file.text.find("low tide") == std::string::npos);
        const auto open = SigningKey::open(file, "low tide at noon").value();
        QCOMPARE(open.publicKey(), key.publicKey());
        QVERIFY(key.publicKey().holds("x", open.sign("x")));
        QVERIFY(SigningKey::open(file, "low tide at nooN").error().code == Error::Code::PassphraseWrong);
        QVERIFY(SigningKey::open(file, "").error().code == Error::Code::PassphraseWrong);
    }
    void hostileKeyFilesAreRefused_data()
    {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::newRow("no JSON") << "{"
                                 << "";
        QTest::newRow("another format") << "clendo-key"
                                        << "clendo-kay";
        QTest::newRow("newer") << "\"format_version\":1"
                               << "\"format_version\":2";
        QTest::newRow("holder is a number") << "\"technician 1\""
                                            << "7";
        QTest::newRow("memory for ever") << "67108864"
                                         << "9e15";
        QTest::newRow("passes for ever") << "\"passes\":3"
                                         << "\"passes\":4000000000";
        QTest::newRow("salt cut") << "\"salt\":\""
                                  << "\"salt\":\"0";
        QTest::newRow("no secret") << "\"secret\":"
                                   << "\"secrets\":";
    }
    void hostileKeyFilesAreRefused()
    {
        QFETCH(QString, from);
        QFETCH(QString, to);
        const auto key = SigningKey::make("technician 1");
        const std::string good = key.sealedFile("low tide at noon", 5).value(), bad = replaced(good, from.toStdString(), to.toStdString());
        QVERIFY(good != bad);
        const auto opened = readKeyFile(bad).and_then([](const KeyFile& file) { return SigningKey::open(file, "low tide at noon"); });
        QVERIFY(!opened);
        QVERIFY(opened.error().code == Error::Code::KeyInvalid);
        QVERIFY(opened.error().message.size() > 30);
    }
    void aKeyFileThatNamesAnotherKeyIsNone()
    {
        const auto mine = SigningKey::make("technician 1"), yours = SigningKey::make("technician 2");
        const std::string text = replaced(mine.sealedFile("low tide at noon", 5).value(), mine.publicKey().hex(), yours.publicKey().hex());
        const auto opened = SigningKey::open(readKeyFile(text).value(), "low tide at noon");
        QVERIFY(!opened && opened.error().code == Error::Code::KeyInvalid);
    }
    void aStatementComesBackAsItWas()
    {
        const auto key = SigningKey::make("technician 1");
        const Seal seal = readSeal(sealText(statement(), &key)).value();
        QVERIFY(seal.signer && seal.signer->good);
        QCOMPARE(seal.signer->holder, std::string("technician 1"));
        QCOMPARE(seal.statement.subject, std::string("VP-04/7"));
        QCOMPARE(seal.statement.files.size(), std::size_t{2});
        QCOMPARE(seal.statement.record(), digestOf("record"));
        QCOMPARE(seal.statement.replaces.value(), digestOf("before"));
        QCOMPARE(seal.statement.heads[0].sequence, std::int64_t{168});
        const Seal bare = readSeal(sealText(statement(), nullptr)).value();
        QVERIFY(!bare.signer);
    }
    void everyChangedByteOfASealIsFound()
    {
        const auto key = SigningKey::make("technician 1");
        const std::string good = sealText(statement(), &key);
        for (std::size_t i = 0; i < good.size(); ++i)
            for (const int bit : {1, 0x20}) {
                std::string bad = good;
                bad[i] = static_cast<char>(bad[i] ^ bit);
                const auto seal = readSeal(bad);
                QVERIFY2(!seal || !seal->signer || !seal->signer->good, bad.c_str());
            }
        for (std::size_t n = 0; n < good.size(); n += 7) QVERIFY(!readSeal(good.substr(0, n)));
        QVERIFY(!readSeal(good + " "));
        QVERIFY(!readSeal(std::string(100'000, '[')));
    }
    void pathsStayInTheirFolder()
    {
        for (const char* good : {"VP-04.json", "pictures/VP-04_7-A-port-1.png", "traces/a=20b.sor", "Varrow+Point.pdf"})
            QVERIFY2(plainPath(good), good);
        for (const char* bad :
             {"", "/etc/passwd", "../x", "pictures/../../x", "pictures/.hidden", ".x", "a//b", "a/b/c", "a/", "signature.json", "a\\b", "a b", "ä"})
            QVERIFY2(!plainPath(bad), bad);
        Statement s = statement();
        s.files[1].path = "pictures/../../x";
        QVERIFY(!readSeal(sealText(s, nullptr)));
        s.files[1].path = s.files[0].path;  // twice the same
        QVERIFY(!readSeal(sealText(s, nullptr)));
    }
    void namesOfFilesAreShortAndTellApart()
    {
        const std::string longOne(300, 'x');
        QVERIFY(plainName(longOne).size() <= 80);
        QVERIFY(plainName(longOne) != plainName(longOne + "y"));
        QCOMPARE(plainName("Varrow Point"), std::string("Varrow+Point"));
        for (const char* odd : {"a/b\"c'", "=cmd|' /C calc'!A0", "\xD7\x90\xD7\x91", "..", "\xFF\xFE"})
            QVERIFY2(plainPath(plainName(odd) + ".json"), odd);
    }
    void keysAreKnownOrNotOrNoLonger()
    {
        QTemporaryDir dir;
        const KeyRing ring(dir.filePath("keys").toStdString());
        QVERIFY(ring.own().empty() && ring.known().empty());
        const auto mine = SigningKey::make("technician 1"), yours = SigningKey::make("technician 2");
        QVERIFY(ring.keep(fileOf(mine, "low tide at noon")));
        QCOMPARE(ring.own().size(), std::size_t{1});
        QVERIFY(QFileInfo(QDir(dir.filePath("keys")).entryInfoList({"*.clendo-key"}).at(0)).permission(QFile::ReadOther) == false);
        QVERIFY(standingOf(ring.known(), mine.publicKey(), 10) == Standing::Known);  // one's own
        QVERIFY(standingOf(ring.known(), yours.publicKey(), 10) == Standing::Unknown);
        QVERIFY(ring.know(readPublicKey(publicKeyText(yours.publicKey(), "technician 2")).value()));
        QVERIFY(standingOf(ring.known(), yours.publicKey(), 10) == Standing::Known);
        QVERIFY(ring.know({yours.publicKey(), "technician 2", 100}));
        QVERIFY(standingOf(ring.known(), yours.publicKey(), 99) == Standing::Known);
        QVERIFY(standingOf(ring.known(), yours.publicKey(), 100) == Standing::Retired);
        QCOMPARE(ring.known().size(), std::size_t{2});
        QCOMPARE(readPublicKey(yours.publicKey().hex() + "\n").value().key, yours.publicKey());
        QCOMPARE(readPublicKey(mine.sealedFile("low tide at noon", 1).value()).value().key, mine.publicKey());
        for (const char* bad : {"", "{}", "[]", "00", R"({"public":"zz"})"}) QVERIFY2(!readPublicKey(bad), bad);
    }
    void aDamagedListOfKeysIsNotWrittenOver()
    {
        QTemporaryDir dir;
        const KeyRing ring(dir.path().toStdString());
        const auto key = SigningKey::make("technician 1");
        QVERIFY(ring.know({key.publicKey(), "technician 1", {}}));
        const auto list = ring.folder() / "known-keys.json";
        const std::string cut = readFile(list).value().substr(0, 40);
        QVERIFY(writeFile(list, cut));
        QVERIFY(!ring.know({key.publicKey(), "technician 1", {}}));
        QCOMPARE(readFile(list).value(), cut);
    }
};

QTEST_APPLESS_MAIN(TestSeal)
#include "test_seal.moc"
