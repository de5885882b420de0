#pragma once
#include <QWidget>

#include "record/advice/advice.h"

namespace clendo {

/// The advice in letters that can be read from two metres, over the whole window. Keys go through it to the window.
class BigWords : public QWidget {
    Q_OBJECT
public:
    explicit BigWords(QWidget* parent);
    /// `key`: of its first action.
    void show(const Advice& advice, const QString& where, const QString& key);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Advice advice_;
    QString where_, key_;
};

}  // namespace clendo
