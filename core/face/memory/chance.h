#pragma once
#include <vector>

namespace clendo::face {

/// How alike one mark was where it lay by chance, and how often it would be as alike as that.
class Chance {
public:
    /// `likeness`: a correlation, -1 to 1.
    void saw(double likeness) { seen_.push_back(likeness); }
    /// To be called once all was seen.
    void ready();
    /// How often chance makes it at least so alike, 0 to 1, where as many as `unseen` cases more are taken to be so. A speck is as like another speck
    /// as it is to itself: what was seen does not go on as a tail of ever rarer likeness.
    [[nodiscard]] double share(double likeness, double unseen) const;

private:
    std::vector<double> seen_;
};

/// Chance that at least `k` of `n` things of chance `p` each come true.
double atLeast(int k, int n, double p);

}  // namespace clendo::face
