#pragma once
#include <mutex>
#include <optional>

#include "power/cable_model.h"

namespace clendo {

/// What all readings of a cable say together: worked out when somebody asks first, and kept. A state gets another one with every reading; copies of
/// the state share it.
class CableRun {
public:
    /// `make` gives the model from the readings as the state has them; called once. Any thread.
    template <class Make>
    const std::optional<CableModel>& model(const Make& make)
    {
        std::call_once(made_, [&] { model_ = make(); });
        return model_;
    }

private:
    std::once_flag made_;
    std::optional<CableModel> model_;
};

}  // namespace clendo
