#pragma once
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>

#include "app/frame/window_frame.h"

namespace clendo {

class LightRun;

/// Where meter and source are and how they are spoken to. A meter can be spoken to before it is used, a driver of one's own can be loaded, and what
/// was said can be kept with the job.
class LinesDialog : public QDialog {
    Q_OBJECT
public:
    LinesDialog(LightRun& run, WindowFrame& frame);

private:
    bool use();
    void say();
    void addDriver();
    void offerDrivers();

    LightRun& run_;
    WindowFrame& frame_;
    QLineEdit *meter_, *source_, *command_;
    QComboBox *meterDriver_, *sourceDriver_;
    QLabel* answer_;
};

/// Asks for them and goes on at the loss desk.
void chooseLines(WindowFrame& frame);

}  // namespace clendo
