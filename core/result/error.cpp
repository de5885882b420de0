#include <new>

#include "result/guarded.h"

namespace clendo {

std::string_view codeName(Error::Code code)
{
    switch (code) {
        case Error::Code::FileUnreadable: return "file_unreadable";
        case Error::Code::FileTooLarge: return "file_too_large";
        case Error::Code::NotAPicture: return "not_a_picture";
        case Error::Code::PictureTooSmall: return "picture_too_small";
        case Error::Code::PictureTooLarge: return "picture_too_large";
        case Error::Code::NotATrace: return "not_a_trace";
        case Error::Code::TraceDamaged: return "trace_damaged";
        case Error::Code::TraceImpossible: return "trace_impossible";
        case Error::Code::CriteriaInvalid: return "criteria_invalid";
        case Error::Code::ClassUnknown: return "class_unknown";
        case Error::Code::LimitsUnknown: return "limits_unknown";
        case Error::Code::LinkInvalid: return "link_invalid";
        case Error::Code::ReadingUnclear: return "reading_unclear";
        case Error::Code::ReadingImpossible: return "reading_impossible";
        case Error::Code::JobNotClendo: return "job_not_clendo";
        case Error::Code::JobNewer: return "job_newer";
        case Error::Code::JobReadOnly: return "job_read_only";
        case Error::Code::JobInUse: return "job_in_use";
        case Error::Code::JobDamaged: return "job_damaged";
        case Error::Code::JobMoved: return "job_moved";
        case Error::Code::JobOther: return "job_other";
        case Error::Code::DiskFull: return "disk_full";
        case Error::Code::NotSaved: return "not_saved";
        case Error::Code::PlanInvalid: return "plan_invalid";
        case Error::Code::StepRefused: return "step_refused";
        case Error::Code::StepForbidden: return "step_forbidden";
        case Error::Code::ScenarioInvalid: return "scenario_invalid";
        case Error::Code::NotThere: return "not_there";
        case Error::Code::DriverInvalid: return "driver_invalid";
        case Error::Code::InstrumentGone: return "instrument_gone";
        case Error::Code::InstrumentRefused: return "instrument_refused";
        case Error::Code::ExportFailed: return "export_failed";
        case Error::Code::KeyInvalid: return "key_invalid";
        case Error::Code::PassphraseWrong: return "passphrase_wrong";
        case Error::Code::CertificateInvalid: return "certificate_invalid";
        case Error::Code::OutOfMemory: return "out_of_memory";
        case Error::Code::Unexpected: return "unexpected";
    }
    return "unknown";
}

Error errorOfException()
{
    try {
        throw;
    } catch (const std::bad_alloc& e) {
        return {Error::Code::OutOfMemory,
                "There is too little memory for it, and nothing was filed. Close other programs, or take a smaller picture.", e.what()};
    } catch (const std::exception& e) {
        const std::string what = e.what();
        if (what.find("nsufficient memory") != std::string::npos || what.find("Failed to allocate") != std::string::npos)  // as OpenCV says it
            return {Error::Code::OutOfMemory,
                    "There is too little memory for it, and nothing was filed. Close other programs, or take a smaller picture.", what};
        return {Error::Code::Unexpected,
                "It failed in a way that nobody foresaw, and nothing was filed. Do it again; the log (menu, Help) says more.", what};
    } catch (...) {
        return {Error::Code::Unexpected,
                "It failed in a way that nobody foresaw, and nothing was filed. Do it again; the log (menu, Help) says more.",
                "no exception of a known kind"};
    }
}

}  // namespace clendo
