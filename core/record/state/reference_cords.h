#pragma once
#include "record/state/fact_effects.h"

namespace clendo {

struct EntryHead;

/// Something was done to a face: it is no longer where a reading had it. Where it sits on a light source, or is the source's port, the cord was off,
/// and references set with it are void.
/// `what`: "was cleaned". `off`: false for what can be done without taking it off.
void disturbed(FactEffects& effects, const FaceId& face, std::string_view what, bool off = true);

/// A reading is a touch: the free end of the reference's cord is at the link's port on the source's side. Where a patch cord is mated there, it is at
/// that cord's far end, if that is planned; else the record does not know what it touched. Readings in a row at the same face are one touch.
void cordTouches(FactEffects& effects, const LightEffects::Reference& on, const std::string& link, const EntryHead& entry);

}  // namespace clendo
