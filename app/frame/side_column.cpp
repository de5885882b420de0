#include "app/frame/side_column.h"

#include <QSettings>

#include "app/widgets/fold_strip.h"
#include "files/log_file.h"

namespace clendo {
namespace {

/// How the window was left on this computer.
QSettings windowSettings() { return QSettings(QString::fromStdString((stateFolder() / "window.ini").string()), QSettings::IniFormat); }

}  // namespace

SideColumn::SideColumn(QWidget* column, FoldStrip* strip, QString key)
    : column_(column), strip_(strip), key_(std::move(key)), folded_(windowSettings().value(key_).toBool())
{
    apply();
}

void SideColumn::setTight(bool tight)
{
    if (tight == tight_) return;
    tight_ = tight;
    asked_ = false;
    apply();
}

void SideColumn::toggle()
{
    if (tight_) {
        asked_ = !asked_;
    } else {
        folded_ = !folded_;
        windowSettings().setValue(key_, folded_);
    }
    apply();
}

void SideColumn::forgetAsked()
{
    asked_ = false;
    apply();
}

void SideColumn::setShown(bool shown)
{
    shown_ = shown;
    apply();
}

void SideColumn::apply()
{
    if (shown_) return strip_->fold(column_, folded());
    column_->hide();
    strip_->hide();
}

}  // namespace clendo
