#include "app/loss/ask_levels.h"

#include <QInputDialog>
#include <QWidget>

#include "app/frame/job_session.h"

namespace clendo {

std::optional<std::vector<std::pair<Nanometre, DecibelMilliwatt>>> askLevels(WindowFrame& frame, const QString& title)
{
    std::vector<std::pair<Nanometre, DecibelMilliwatt>> out;
    for (const int nm : frame.session()->state().plan->wavelengthsFor(*frame.link()->cable)) {
        QString trouble;
        while (true) {
            bool ok = false;
            const QString text = QInputDialog::getText(frame.widget(), title, trouble + QObject::tr("What the meter shows at %1 nm, dBm").arg(nm),
                                                       QLineEdit::Normal, QString(), &ok);
            if (!ok) return std::nullopt;
            const auto level = parsePower(text.toStdString());
            if (level) {
                out.emplace_back(Nanometre(nm), *level);
                break;
            }
            trouble = QString::fromStdString(level.error().message) + QLatin1Char('\n');
        }
    }
    return out;
}

}  // namespace clendo
