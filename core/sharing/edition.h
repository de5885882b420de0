#pragma once
#include <atomic>
#include <cstdint>

namespace clendo {

/// Says which parts of a shared container are its own: those that were made or copied since it was copied last. No two are the same.
class Edition {
public:
    static Edition next()
    {
        static std::atomic<std::uint64_t> last{0};
        return Edition(++last);
    }
    bool operator==(const Edition&) const = default;

private:
    explicit Edition(std::uint64_t number) : number_(number) {}
    std::uint64_t number_;
};

}  // namespace clendo
