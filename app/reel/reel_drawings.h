#pragma once
#include <QWidget>

#include "record/rules/reels.h"

namespace clendo {

/// All reels of the job as cards: what each is worth, and which is chosen.
class ReelShelf : public QWidget {
    Q_OBJECT
public:
    explicit ReelShelf(QWidget* parent = nullptr);
    void show(const JobState& state, const std::string& chosen);
    using QWidget::show;

signals:
    void picked(const QString& reel);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    struct Card {
        QString name, says;
        reel::ReelVerdict verdict;
        bool decided;
    };
    [[nodiscard]] int columns() const;
    [[nodiscard]] QRectF boxOf(std::size_t card) const;
    void fit();

    std::vector<Card> cards_;
    QString chosen_;
};

/// The reel's length as it was ordered, by its marks, by light and both together, each as far as it is certain, on one axis.
class LengthDrawing : public QWidget {
    Q_OBJECT
public:
    explicit LengthDrawing(QWidget* parent = nullptr);
    void show(const reel::ReelLength& length, std::optional<double> pricePerMetre);
    using QWidget::show;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Row {
        QString name, figure;
        double at, half;  ///< m; half of what it leaves open, twice the standard uncertainty
        bool best;
    };
    std::vector<Row> rows_;
    std::optional<double> ordered_;
    QString verdict_;
    bool shorter_ = false;
};

/// The fibres of a reel: which are asked for, which were tested, which are bad; below, what they lose against what was ordered.
class FibreField : public QWidget {
    Q_OBJECT
public:
    explicit FibreField(QWidget* parent = nullptr);
    void show(const ReelStanding& standing);
    using QWidget::show;

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    enum class Fibre { NotAsked, Asked, Good, Bad };
    struct Strip {
        int wavelength;
        std::vector<double> measured;  ///< dB/km
        std::optional<double> allowed, papers;
    };
    [[nodiscard]] int columns() const;
    [[nodiscard]] QRectF boxOf(int fibre) const;
    void paintStrip(QPainter& painter, const Strip& strip, double top) const;
    void fit();

    std::vector<Fibre> fibres_;
    std::vector<QString> says_;
    std::vector<Strip> strips_;
};

/// The operating characteristic of a sampling plan: how likely a reel is accepted of which so many fibres are bad.
class SampleCurve : public QWidget {
    Q_OBJECT
public:
    explicit SampleCurve(QWidget* parent = nullptr);
    /// `percent`: of bad fibres that is marked.
    void show(const reel::SamplingPlan& plan, int percent);
    using QWidget::show;
    /// “A reel with 5 % bad fibres is accepted in 62 % of cases.”
    static QString words(const reel::SamplingPlan& plan, int percent);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::optional<reel::SamplingPlan> plan_;
    int percent_ = 5;
};

}  // namespace clendo
