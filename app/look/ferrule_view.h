#pragma once
#include <QGridLayout>
#include <QLabel>
#include <functional>

#include "app/widgets/face_picture.h"
#include "app/widgets/text_block.h"

namespace clendo {

/// All fibres of a ferrule at a glance: each one's last look, its number, its state. A click chooses a fibre.
class FerruleView : public QWidget {
    Q_OBJECT
public:
    explicit FerruleView(QWidget* parent = nullptr);
    using ImageOf = std::function<QImage(const std::string& sha)>;
    /// `words` stand above: how many are fit, how the connector is held.
    void show(const JobState& state, const FaceId& chosen, const QString& words, const ImageOf& imageOf);

signals:
    void chosen(const clendo::FaceId& face);

private:
    void build(std::size_t count);

    struct Cell {
        FacePicture* picture;
        QLabel* words;
    };
    TextBlock* title_;
    QGridLayout* grid_;
    std::vector<Cell> cells_;
    std::vector<FaceId> faces_;
};

}  // namespace clendo
