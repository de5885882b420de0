#include "app/frame/desk.h"

#include <map>

namespace clendo {
namespace {

std::multimap<int, DeskEntry::Make>& entries()
{
    static std::multimap<int, DeskEntry::Make> all;  // made when the first desk registers, before main()
    return all;
}

}  // namespace

DeskEntry::DeskEntry(int order, Make make) { entries().emplace(order, make); }

std::vector<std::unique_ptr<Desk>> DeskEntry::all(WindowFrame& frame)
{
    std::vector<std::unique_ptr<Desk>> out;
    for (const auto& [order, make] : entries()) out.push_back(make(frame));
    return out;
}

}  // namespace clendo
