#pragma once
#include <QColor>
#include <QWidget>
#include <vector>

namespace clendo {

/// Some words in one weight and colour. An invalid colour is the theme's ink at the time of painting.
struct Run {
    QString text;
    bool bold = false;
    QColor colour{};
};
using Paragraph = std::vector<Run>;

/// Paragraphs of words, wrapped and painted: a label that knows bold and colour and costs no text document. Plain text only, so nothing that stands
/// in a file can change how it looks. The words are its accessible name.
class TextBlock : public QWidget {
    Q_OBJECT
public:
    explicit TextBlock(QWidget* parent = nullptr);
    void setParagraphs(std::vector<Paragraph> paragraphs);
    void setText(const QString& text, bool bold = false, QColor colour = {});
    /// One line that gives way with an ellipsis instead of wrapping.
    void setSingleLine() { single_ = true; }
    /// A rounded frame of this colour around the words, filled with the theme's card.
    void setCard(QColor line);
    [[nodiscard]] QString text() const { return accessibleName(); }

    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;
    [[nodiscard]] bool hasHeightForWidth() const override { return !single_; }
    [[nodiscard]] int heightForWidth(int width) const override;

protected:
    void paintEvent(QPaintEvent*) override;
    void changeEvent(QEvent*) override;

private:
    struct Word {
        QString text;
        double width, space;
        bool bold;
        QColor colour;
    };
    void measure() const;
    template <class Place>
    double flow(double width, Place place) const;
    [[nodiscard]] int margin() const;

    std::vector<Paragraph> paragraphs_;
    mutable std::vector<std::vector<Word>> words_;
    mutable double natural_ = 0;
    mutable bool measured_ = false;
    bool single_ = false;
    QColor card_;
};

}  // namespace clendo
