#pragma once
#include <exception>
#include <functional>
#include <optional>
#include <type_traits>

#include "result/result.h"

namespace clendo {

/// What an exception means for people: too little memory, or something that nobody foresaw; what it says itself is the detail.
/// To be called while it is handled.
Error errorOfException();

/// Runs work that nothing above catches for: on a thread of its own, in an event. What it throws becomes an Error of its Result.
template <class Work>
auto guarded(Work&& work) noexcept -> std::invoke_result_t<Work>
{
    try {
        return std::forward<Work>(work)();
    } catch (...) {
        return tl::unexpected(errorOfException());
    }
}

/// The same for work that gives no Result.
template <class Work>
auto guardedResult(Work&& work) noexcept -> Result<std::invoke_result_t<Work>>
{
    try {
        return std::forward<Work>(work)();
    } catch (...) {
        return tl::unexpected(errorOfException());
    }
}

}  // namespace clendo
