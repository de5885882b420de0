#pragma once
#include "record/state/fact_effects.h"

namespace clendo {

struct EntryHead;

/// Something was done to a face: it is no longer where a reading had it. Where it sits on a light source, or is the source's port, the cord was off,
/// and references set with it are void.
/// `what`: "was cleaned". `off`: false for what can be done without taking it off.
void disturbed(FactEffects& effects, const FaceId& face, std::string_view what, bool off = true);

/// A reading or a shot is a touch: the free end of the test cord is at the link's port at this end. Where a patch cord is mated there, it is at that
/// cord's far end, if that is planned; else the record does not know what it touched. In a row at the same face they are one touch.
/// `free`: nothing where it is not known which cord, or which of its ends, was there.
void cordTouches(FactEffects& effects, const std::optional<FaceId>& free, const std::string& link, End end, const EntryHead& entry);

}  // namespace clendo
