#pragma once
#include <string_view>

/// What advice can propose, by the ids of the window's commands. The window knows their words and keys.
namespace clendo::command {

inline constexpr std::string_view takePicture = "face.picture";
inline constexpr std::string_view clean = "face.clean";
inline constexpr std::string_view cleanSleeve = "face.sleeve";
inline constexpr std::string_view mate = "face.mate";
inline constexpr std::string_view nextStep = "round.next";
inline constexpr std::string_view setReference = "loss.reference";
inline constexpr std::string_view readPower = "loss.reading";
inline constexpr std::string_view proveReference = "light.prove";
inline constexpr std::string_view proveFibre = "loss.right-fibre";
inline constexpr std::string_view lightElsewhere = "loss.elsewhere";
inline constexpr std::string_view openPicture = "face.open";
inline constexpr std::string_view openTrace = "trace.open";
inline constexpr std::string_view otherTrace = "trace.next";
inline constexpr std::string_view sign = "sign.fibre";
inline constexpr std::string_view certificate = "sign.certificate";
inline constexpr std::string_view takeBack = "journal.take-back";
inline constexpr std::string_view planCable = "plan.cable";
inline constexpr std::string_view judgeFolder = "batch.folder";
inline constexpr std::string_view watchLine = "batch.line";
inline constexpr std::string_view saveTable = "batch.export";
inline constexpr std::string_view labelCord = "batch.label";
inline constexpr std::string_view checkCleaner = "batch.cleaner";
inline constexpr std::string_view cordCertificate = "batch.certificate";
inline constexpr std::string_view nextCord = "batch.next";
inline constexpr std::string_view reelDeliver = "reel.deliver";
inline constexpr std::string_view reelSample = "reel.sample";
inline constexpr std::string_view reelJoint = "reel.joint";
inline constexpr std::string_view reelTrace = "reel.trace";
inline constexpr std::string_view reelDecide = "reel.decide";
inline constexpr std::string_view reelCordOut = "reel.cord-out";
inline constexpr std::string_view reelCuts = "reel.cuts";
inline constexpr std::string_view reelPaper = "reel.report";

}  // namespace clendo::command
