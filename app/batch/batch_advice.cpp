// What the desk of many pictures says: of a folder, and of a line with the cord in hand.
#include "app/batch/batch_view.h"

namespace clendo {

Advice BatchView::advice() const
{
    Advice r;
    const auto& rows = model_->taken();
    const SheetTally t = tallyOf(rows);
    const auto words = [](const QString& s) { return s.toStdString(); };
    if (rows.empty()) {
        r.headline = words(line_ ? tr("Look at the first cord") : tr("Batch inspection"));
        if (line_) r.help.push_back(words(tr("T: its label, scanned or typed. D: both ends of each cord. J: the cleaner's check list.")));
        r.sentence = words(line_ ? tr("Let the scope save a picture. Until a cord is fit, each picture counts as another look at it.")
                                 : tr("Judge a folder of pictures (F), or let a line of cords come one by one (L)."));
        return r;
    }
    if (line_) {
        const SheetRow& last = rows.back();
        const auto outcome = outcomeOf(last);
        r.tone = toneOf(outcome);
        const QString cord = QString::fromStdString(last.called());
        r.headline = words(isFit(outcome)                    ? tr("%1 is fit: take the next").arg(cord)
                           : outcome == SheetOutcome::NotFit ? tr("%1: clean, then look again").arg(cord)
                                                             : tr("%1: take the picture again").arg(cord));
        r.headline[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(r.headline[0])));
        r.sentence = whyOf(last, rules_->criteria);
        r.help.push_back(words(tr("In hand: %1. N gives it up. T: its label, D: one end or both.").arg(QString::fromStdString(cords_.inHand()))));
        r.help.push_back(words(tr("W writes the certificate of the last cord that was finished.")));
        QStringList open;
        for (const auto& thing : cleaner_.open) open << QString::fromStdString(thing);
        r.help.push_back(words(cleaner_.at == 0 ? tr("The cleaner was not looked through yet: J.")
                               : open.isEmpty() ? tr("The cleaner is in order. J looks it through again.")
                                                : tr("Open at the cleaner: %1. J looks it through again.").arg(open.join(QStringLiteral(", ")))));
    } else {
        r.tone = t.notFit > 0 ? Tone::Work : Tone::Fit;
        r.headline = words(t.notFit > 0 ? tr("%1 of %2 fail").arg(t.notFit).arg(t.pictures) : tr("All that can be judged pass"));
        r.sentence = words(tr("%1 pass, %2 fail, %3 to be taken again, %4 cannot be read.").arg(t.fit).arg(t.notFit).arg(t.retake).arg(t.broken));
        r.help.push_back(words(tr("A second look at a cord is known by its name: cord-012-try2.png.")));
    }
    if (t.cords > 0)
        r.help.insert(r.help.begin(), words(tr("First-pass yield: %1 of %2 cords (%3 %).")
                                                .arg(t.firstTimeRight)
                                                .arg(t.cords)
                                                .arg(100.0 * t.firstTimeRight / t.cords, 0, 'f', 0)));
    return r;
}

}  // namespace clendo
