#pragma once
#include <QWidget>
#include <vector>

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

}  // namespace clendo
