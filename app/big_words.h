#pragma once
#include <QWidget>

#include "record/ruling.h"

namespace clendo {

/// The ruling in letters that can be read from two metres, over the whole window. Keys go through it to the window.
class BigWords : public QWidget {
    Q_OBJECT
public:
    explicit BigWords(QWidget* parent);
    void show(const Ruling& ruling, const QString& where);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Ruling ruling_;
    QString where_;
};

}  // namespace clendo
