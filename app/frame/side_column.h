#pragma once
#include <QString>

class QWidget;

namespace clendo {

class FoldStrip;

/// A column beside the desk that folds to a strip: as the person left it, which this computer remembers; by itself where it would take the desk's
/// room. There it unfolds when asked, until there is room again or it is forgotten.
class SideColumn {
public:
    /// `key`: by which it is remembered.
    SideColumn(QWidget* column, FoldStrip* strip, QString key);
    /// `tight`: there is no room for it beside the desk.
    void setTight(bool tight);
    void toggle();
    void forgetAsked();
    /// Whether there is anything to show in it at all.
    void setShown(bool shown);
    [[nodiscard]] bool folded() const { return tight_ ? !asked_ : folded_; }

private:
    void apply();

    QWidget* column_;
    FoldStrip* strip_;
    QString key_;
    bool folded_, tight_ = false, asked_ = false, shown_ = true;
};

}  // namespace clendo
