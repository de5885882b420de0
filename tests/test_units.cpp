#include <QtTest>

#include "units/units.h"

using namespace clendo;

template <class A, class B>
concept Subtractable = requires(A a, B b)
{
    a - b;
};
template <class A, class B>
concept Comparable = requires(A a, B b)
{
    a < b;
};
template <class A, class B>
concept Multipliable = requires(A a, B b)
{
    a* b;
};

class TestUnits : public QObject {
    Q_OBJECT
private slots:
    void levelsDifferByARatio()
    {
        const Decibel loss = DecibelMilliwatt{-7.02} - DecibelMilliwatt{-8.63};
        QVERIFY(qAbs(loss.value() - 1.61) < 1e-12);
        QCOMPARE((DecibelMilliwatt{-7.0} - Decibel{2.0}).value(), -9.0);
        QCOMPARE((DecibelMilliwatt{-7.0} + Decibel{2.0}).value(), -5.0);
    }
    void attenuationTimesLengthIsLoss() { QVERIFY(qAbs((DecibelPerKilometre{0.339} * Metre{5001.7}).value() - 1.6956) < 1e-4); }
    void scaleTurnsPixelsIntoMicrometres()
    {
        const Scale scale(0.25);
        QCOMPARE((Pixel{400} * scale).value(), 100.0);
        QCOMPARE((Micrometre{125} / scale).value(), 500.0);
    }
    void quantitiesScaleAndCompare()
    {
        QVERIFY(Decibel{3.0} * 2 == Decibel{6.0});
        QVERIFY(-Decibel{1.0} < Decibel{0.0});
        QCOMPARE(Metre{50} / Metre{200}, 0.25);
        Decibel sum{1};
        sum += Decibel{2};
        QVERIFY(sum - Decibel{0.5} == Decibel{2.5});
        QCOMPARE((FacePoint{Micrometre{3}, Micrometre{-4}}.radius().value()), 5.0);
    }
    void nonsenseDoesNotCompile()
    {
        QVERIFY((!Addable<DecibelMilliwatt, DecibelMilliwatt>));
        QVERIFY((Subtractable<DecibelMilliwatt, DecibelMilliwatt>));
        QVERIFY((!Subtractable<Decibel, DecibelMilliwatt>));
        QVERIFY((!Comparable<Decibel, DecibelMilliwatt>));
        QVERIFY((!Comparable<Pixel, Micrometre>));
        QVERIFY((!Addable<Metre, Micrometre>));
        QVERIFY((!Multipliable<Decibel, Decibel>));
        QVERIFY((!std::convertible_to<double, Decibel>));
        QVERIFY((!std::convertible_to<Decibel, double>));
    }
};
QTEST_APPLESS_MAIN(TestUnits)
#include "test_units.moc"
