#include "record/advice/batch_advice.h"

#include <fmt/format.h>

#include <cctype>

namespace clendo {
namespace {

/// Nothing where no cord was seen well enough to count.
void addYield(Advice& advice, const SheetTally& tally)
{
    if (tally.cords == 0) return;
    advice.help.push_back(fmt::format("First-pass yield: {} of {} cord{} ({:.0f} %).", tally.firstTimeRight, tally.cords, tally.cords == 1 ? "" : "s",
                                      100.0 * tally.firstTimeRight / tally.cords));
}

void addCleaner(Advice& advice, const CleanerCheck& cleaner)
{
    advice.help.push_back(cleaner.at == 0        ? "The cleaner was not looked through yet."
                          : cleaner.open.empty() ? "The cleaner was in order when it was looked through."
                                                 : fmt::format("Open at the cleaner: {}.", fmt::join(cleaner.open, ", ")));
}

std::string begun(std::string words)
{
    words[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(words[0])));
    return words;
}

}  // namespace

Tone toneOf(SheetOutcome outcome) { return isFit(outcome) ? Tone::Fit : outcome == SheetOutcome::NotFit ? Tone::Work : Tone::Neutral; }

Advice folderAdvice(std::span<const SheetRow> rows)
{
    Advice r;
    if (rows.empty()) {
        r.headline = "Batch inspection";
        r.sentence = "All pictures of a folder are judged, worst first; or a line of cords comes one by one.";
        r.actions = {{command::judgeFolder, "Judge a folder"}, {command::watchLine, "Watch a line"}};
        return r;
    }
    const SheetTally t = tallyOf(rows);
    r.tone = t.notFit > 0 ? Tone::Work : t.fit > 0 ? Tone::Fit : Tone::Neutral;
    r.headline = t.notFit > 0          ? fmt::format("{} of {} fail", t.notFit, t.pictures)
                 : t.fit == 0          ? "Nothing could be judged"
                 : t.fit == t.pictures ? "All pass"
                                       : fmt::format("{} pass, the rest says nothing", t.fit);
    r.sentence = fmt::format("{} pass, {} fail, {} to be taken again, {} cannot be read.", t.fit, t.notFit, t.retake, t.broken);
    addYield(r, t);
    r.help.emplace_back("A second look at a cord is known by its name: cord-012-try2.png.");
    r.actions = {{command::saveTable, "Save the table"}, {command::judgeFolder, "Judge a folder"}};
    return r;
}

Advice lineAdvice(std::span<const SheetRow> rows, const FaceClass& faceClass, const CordLine& cords, const CleanerCheck& cleaner)
{
    Advice r;
    bool finished = false;
    if (rows.empty()) {
        r.headline = "Look at the first cord";
        r.sentence = "Let the scope save a picture. Until a cord passes, each picture counts as another look at it.";
    } else {
        const SheetRow& last = rows.back();
        const SheetOutcome outcome = outcomeOf(last);
        finished = isFit(outcome) && last.end != "A";
        r.tone = toneOf(outcome);
        r.headline = begun(isFit(outcome) ? fmt::format("{} passes: take the {}", last.called(), last.end == "A" ? "other end" : "next")
                           : outcome == SheetOutcome::NotFit ? fmt::format("{} fails: clean, then look again", last.called())
                                                             : fmt::format("{}: take the picture again", last.called()));
        r.sentence = whyOf(last, faceClass);
        addYield(r, tallyOf(rows));
    }
    r.help.push_back(fmt::format("In hand: {}{}.", cords.inHand(), cords.bothEnds() ? "; both ends of each cord" : ""));
    addCleaner(r, cleaner);
    if (cleaner.at == 0) r.actions.push_back({command::checkCleaner, "Check the cleaner"});
    if (finished) r.actions.push_back({command::cordCertificate, "Certificate of the last cord"});
    r.actions.push_back({command::labelCord, "Label of the cord in hand"});
    if (!rows.empty() && !finished && cleaner.at != 0) r.actions.push_back({command::nextCord, "Give this cord up"});
    return r;
}

}  // namespace clendo
