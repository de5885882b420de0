// The median of many values in single precision, which is found by counting.
#include <QtTest>
#include <algorithm>
#include <limits>
#include <random>

#include "face/median.h"

using namespace clendo::face;

class TestMedian : public QObject {
    Q_OBJECT
private slots:
    void isTheValueInTheMiddle_data()
    {
        QTest::addColumn<double>("spread");
        QTest::addColumn<double>("far");  // a value far from the others
        QTest::newRow("noise about one") << 0.02 << 1.0;
        QTest::newRow("beside something bright") << 0.02 << 40.0;
        QTest::newRow("beside a number that hides all differences") << 0.02 << 3e38;
        QTest::newRow("all the same") << 0.0 << 1.0;
        QTest::newRow("beside infinity") << 0.02 << std::numeric_limits<double>::infinity();
    }
    void isTheValueInTheMiddle()
    {
        QFETCH(double, spread);
        QFETCH(double, far);
        std::mt19937 random(5);
        for (const std::size_t count : {1U, 2U, 63U, 64U, 65U, 200U, 999U, 1000U, 5001U}) {
            std::vector<float> values{static_cast<float>(far)};
            while (values.size() < count) values.push_back(static_cast<float>(1 + spread * (double(random() % 2000) / 1000 - 1)));
            std::vector<float> sorted = values;
            std::sort(sorted.begin(), sorted.end());
            QCOMPARE(medianOf(std::span(values)), sorted[count / 2]);
            std::sort(values.begin(), values.end());
            QVERIFY2(values == sorted, "no value is lost");
        }
    }
};

QTEST_GUILESS_MAIN(TestMedian)
#include "test_median.moc"
