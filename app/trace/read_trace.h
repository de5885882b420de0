#pragma once
#include <memory>
#include <optional>
#include <string>

#include "files/evidence.h"
#include "otdr/trace.h"
#include "record/facts/trace_facts.h"
#include "result/result.h"

namespace clendo {

/// Free ends of the cords with which is shot, that go to the link; nothing: none, or not said.
struct ShotCords {
    std::optional<FaceId> launch, tail;
};

/// A trace as its file came.
struct ReadTrace {
    Evidence file;
    std::string sha256;
    otdr::Trace trace;
};
Result<std::shared_ptr<const ReadTrace>> readTrace(const std::string& path);

/// The shot that it is, its events found. `fromA`: the job's cords, launch at A and tail at B. For worker threads.
TraceShot analysedShot(const ReadTrace& read, const std::string& link, Direction direction, const otdr::Cords& fromA, const ShotCords& shotWith);

}  // namespace clendo
