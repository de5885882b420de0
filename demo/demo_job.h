#pragma once
#include <QString>
#include <optional>
#include <string>

#include "result/result.h"
#include "world/simulated_faces.h"

namespace clendo {

/// The made-up job "Varrow Point": one cable of 12 fibres, some done, some not, faces in all states. Everything in it comes from
/// the simulated world. Its day has just come to this point.
struct DemoFolder {
    QString job;     ///< the .clendo file
    QString scope;   ///< the folder that the simulated scope saves into
    QString traces;  ///< .sor files to open
    QString line;    ///< pictures of patch cords, to be judged at once
};

/// Makes the job with its folders anew below `folder`; what is there of an older demo is replaced.
Result<DemoFolder> makeDemo(const QString& folder);

}  // namespace clendo
