#include "modules/papers.h"

extern "C" __attribute__((visibility("default"))) void clendo_papers(clendo::Papers* papers)
{
    papers->writeCertificates = clendo::writeCertificates;
    papers->writeCord = clendo::writeCord;
    papers->writeBetweenLooks = clendo::writeBetweenLooks;
    papers->writeReelReport = clendo::writeReelReport;
    papers->labelSheet = clendo::labelSheet;
    papers->keySheet = clendo::keySheet;
}
