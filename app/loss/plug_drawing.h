#pragma once
#include <QWidget>

#include "power/limits.h"

namespace clendo {

/// What to plug into what: for the reference above, for the measurement below; the connections that count are closed faces.
class PlugDrawing : public QWidget {
    Q_OBJECT
public:
    explicit PlugDrawing(QWidget* parent);
    void show(ReferenceMethod method, const QString& fibre);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    ReferenceMethod method_ = ReferenceMethod::OneCord;
    QString fibre_;
};

}  // namespace clendo
