#include <QImage>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>

#include "pictures/decode.h"
#include "session/evidence_cache.h"
#include "session/job_service.h"
#include "varrow_journal.h"

using namespace clendo;

/// Pictures and traces of a job, as the window gets them: decoded elsewhere, kept within bounds.
class TestEvidence : public QObject {
    Q_OBJECT
private slots:
    void picturesAreDecodedElsewhereAndKeptWithinBounds()
    {
        const QTemporaryDir dir;
        auto made = createJob(dir.filePath("job.clendo"), JobSettings{}, "technician 1");
        QVERIFY(made);
        JobService job(std::move(*made));
        std::vector<std::string> hashes;
        for (int n = 0; n < 6; ++n) {
            const face::Picture grey{300, 200, std::vector<std::uint8_t>(300 * 200, static_cast<std::uint8_t>(40 * n))};
            const Evidence picture{"p.png", encodePng(grey)};
            hashes.push_back(sha256(picture.bytes));
            FaceSeen seen{portA, hashes.back(), "p.png", {}, {}};
            QVERIFY(job.post("technician 1", Filing{{seen}, {picture}, 0}).get());
        }
        constexpr qint64 room = 3 * 200 * 300;  // of three grey pictures
        EvidenceCache cache(job, room);
        QSignalSpy came(&cache, &EvidenceCache::came);
        QVERIFY(cache.picture(hashes[0]).isNull());  // nothing is waited for
        QVERIFY(cache.picture(hashes[0]).isNull());
        QTRY_COMPARE(came.size(), 1);
        QCOMPARE(cache.picture(hashes[0]).size(), QSize(300, 200));
        for (const auto& hash : hashes) (void)cache.picture(hash);
        QTRY_COMPARE(came.size(), 6);
        QVERIFY(cache.bytes() <= room);
        QVERIFY(!cache.picture(hashes[5]).isNull());
        // what is not there, or no picture, is a grey point, and no loop
        const std::string none(64, 'a');
        (void)cache.picture(none);
        QTRY_COMPARE(cache.picture(none).size(), QSize(1, 1));
        const auto trace = cache.trace(hashes[1], "p.png");
        QVERIFY(!trace || !*trace);
    }
};

QTEST_GUILESS_MAIN(TestEvidence)
#include "test_evidence.moc"
