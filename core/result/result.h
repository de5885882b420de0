#pragma once
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <utility>

namespace clendo {

/// What went wrong, in a sentence that a technician can act on. All codes stand in docs/errors.md (checked by a test).
struct Error {
    enum class Code {
        FileUnreadable,
        FileTooLarge,
        NotAPicture,
        PictureTooSmall,
        PictureTooLarge,
        NotATrace,
        TraceDamaged,
        TraceImpossible,
        CriteriaInvalid,
        ClassUnknown,
        LimitsUnknown,
        LinkInvalid,
        ReadingUnclear,
        ReadingImpossible,
        JobNotClendo,
        JobNewer,
        JobReadOnly,
        JobInUse,
        JobDamaged,
        JobMoved,
        JobOther,
        DiskFull,
        NotSaved,
        PlanInvalid,
        StepRefused,
        StepForbidden,
        ScenarioInvalid,
        NotThere,
        DriverInvalid,
        InstrumentGone,
        InstrumentRefused,
        ExportFailed,
        KeyInvalid,
        PassphraseWrong,
        CertificateInvalid,
        OutOfMemory,
        Unexpected,
    };
    Code code = Code::FileUnreadable;
    std::string message;   ///< what happened and what to do now
    std::string detail{};  ///< offset, field, system error: for the log
};

/// The stable name of a code, as it stands in clendo-cli's output: "file_unreadable".
std::string_view codeName(Error::Code code);

/// A T or an Error.
template <class T>
using Result = tl::expected<T, Error>;

/// An Error as the failed side of any Result.
inline tl::unexpected<Error> failure(Error::Code code, std::string message, std::string detail = {})
{
    return tl::unexpected<Error>(Error{code, std::move(message), std::move(detail)});
}

}  // namespace clendo
