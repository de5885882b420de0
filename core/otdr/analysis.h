#pragma once
#include <optional>
#include <string>
#include <vector>

#include "otdr/trace.h"

namespace clendo::otdr {

enum class EventKind { Launch, Reflective, Loss, Gain, Ghost, End };
std::string_view name(EventKind kind);
std::optional<EventKind> eventKindNamed(std::string_view name);

/// One event on the trace. Loss positive where light is lost; reflectance negative dB.
struct Event {
    int number = 0;
    EventKind kind = EventKind::Loss;
    Metre at;  ///< from the front panel
    std::optional<Decibel> loss;
    std::optional<Decibel> lossUncertainty;  ///< one sigma
    std::optional<Decibel> reflectance;      ///< of a saturated peak: at least this
    std::optional<DecibelPerKilometre> leadIn;
    bool saturated = false;
    bool joinedWithNext = false;  ///< no clean fibre up to the next event: the loss stands there
    /// Return loss of the piece from here to the next joint, this reflection and the fibre up to that one, against the light that comes here.
    std::optional<Decibel> sectionReturnLoss{};
};

/// The link between the launch cord's far connector and the tail cord's near connector.
struct Span {
    Metre from, to;
    std::optional<Decibel> loss;
    std::optional<DecibelPerKilometre> attenuation;
    std::optional<Decibel> returnLoss;
    /// By how much the part of its fibre that differs most loses more or less than the mean, joints left out (IEC 60793-1-40, uniformity); nothing:
    /// the noise or the length does not let it be told, or the parts are alike within it.
    std::optional<DecibelPerKilometre> unevenness{};
    [[nodiscard]] Metre length() const { return to - from; }
};

/// A length of fibre that loses more than what is usual on this trace: pressed, bent, cold, wet, or another fibre. No joint: nothing is opened there.
struct Section {
    Metre from, to;                   ///< from the front panel
    DecibelPerKilometre attenuation;  ///< of it
    Decibel excess, uncertainty;      ///< lost in it beyond what the fibre beside it loses; one sigma
};

struct Analysis {
    std::vector<Event> events;  ///< from the front panel on; ends at the end of the fibre where that was found
    std::vector<Section> sections{};
    std::optional<Span> span;
    std::optional<std::string> launchFault;  ///< where and what, when the light is lost inside the launch cord
    std::vector<std::string> notes;          ///< what this shot cannot tell
};

struct Cords {
    Metre launch, tail;  ///< stated lengths, 0: none
};

/// Finds and measures the events of a trace. Pure; never throws; a trace without light has no events.
Analysis analyse(const Trace& trace, const Cords& cords);

/// Reflectance of a peak `height` over the backscatter before it: B + 10 lg((10^(H/5) - 1) tau). SR-4731, IEC 61746-1.
/// Nothing below 0.3 dB, where the peak cannot be told from the fibre.
std::optional<Decibel> reflectance(Decibel height, Nanosecond pulse, Decibel backscatter);

}  // namespace clendo::otdr
