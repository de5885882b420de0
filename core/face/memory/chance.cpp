#include "face/memory/chance.h"

#include <algorithm>
#include <cmath>

namespace clendo::face {

void Chance::ready() { std::sort(seen_.begin(), seen_.end()); }

double Chance::share(double likeness, double unseen) const
{
    const auto higher = seen_.end() - std::lower_bound(seen_.begin(), seen_.end(), likeness);
    return (unseen + double(higher)) / (unseen > 0 ? 1 + double(seen_.size()) : double(seen_.size()));
}

double atLeast(int k, int n, double p)
{
    double term = std::pow(1 - p, n), tail = 0;
    for (int i = 0; i <= n; ++i) {
        if (i >= k) tail += term;
        term *= double(n - i) / (i + 1) * p / (1 - p);
    }
    return std::min(1.0, tail);
}

}  // namespace clendo::face
