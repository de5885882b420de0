#include "reel/cutting_plan.h"

#include <glpk.h>

#include <algorithm>
#include <cmath>
#include <memory>

namespace clendo::reel {
namespace {

constexpr double nothing = 1e-6;  // m

/// A mixed-integer program of GLPK. Rows and columns are numbered from 1, as there.
class Program {
public:
    Program() : problem_(glp_create_prob(), glp_delete_prob) { glp_set_obj_dir(problem_.get(), GLP_MIN); }

    int column(double low, double high, bool binary = false)
    {
        const int c = glp_add_cols(problem_.get(), 1);
        if (binary)
            glp_set_col_kind(problem_.get(), c, GLP_BV);
        else
            glp_set_col_bnds(problem_.get(), c, high > low ? GLP_DB : GLP_FX, low, high);
        return c;
    }
    struct Term {
        int column;
        double factor;
    };
    int atMost(const std::vector<Term>& terms, double bound) { return row(terms, GLP_UP, bound); }
    int equal(const std::vector<Term>& terms, double bound) { return row(terms, GLP_FX, bound); }

    struct Solved {
        bool any = false, optimal = false;
        double value = 0, gap = 0;
    };
    /// Makes the sum of these as small as can be.
    Solved least(const std::vector<Term>& terms, double seconds)
    {
        for (int c = 1; c <= glp_get_num_cols(problem_.get()); ++c) glp_set_obj_coef(problem_.get(), c, 0);
        for (const Term& t : terms) glp_set_obj_coef(problem_.get(), t.column, glp_get_obj_coef(problem_.get(), t.column) + t.factor);
        glp_iocp with;
        glp_init_iocp(&with);
        with.msg_lev = GLP_MSG_OFF;
        with.presolve = GLP_ON;
        with.tm_lim = static_cast<int>(std::max(1.0, seconds * 1000));
        const int came = glp_intopt(problem_.get(), &with);
        const int status = glp_mip_status(problem_.get());
        Solved out;
        out.any = status == GLP_OPT || status == GLP_FEAS;
        out.optimal = came == 0 && status == GLP_OPT;
        if (!out.any) return out;
        out.value = glp_mip_obj_val(problem_.get());
        if (!out.optimal) {
            // what the relaxed program reaches at best
            glp_smcp relaxed;
            glp_init_smcp(&relaxed);
            relaxed.msg_lev = GLP_MSG_OFF;
            const double bound = glp_simplex(problem_.get(), &relaxed) == 0 ? glp_get_obj_val(problem_.get()) : 0;
            out.gap = std::abs(out.value) > nothing ? std::max(0.0, (out.value - bound) / std::abs(out.value)) : 0;
        }
        keep();
        return out;
    }
    [[nodiscard]] double value(int column) const { return values_.at(static_cast<std::size_t>(column)); }

private:
    int row(const std::vector<Term>& terms, int kind, double bound)
    {
        const int r = glp_add_rows(problem_.get(), 1);
        glp_set_row_bnds(problem_.get(), r, kind, bound, bound);
        std::vector<int> columns{0};
        std::vector<double> factors{0};
        for (const Term& t : terms) {
            columns.push_back(t.column);
            factors.push_back(t.factor);
        }
        glp_set_mat_row(problem_.get(), r, static_cast<int>(terms.size()), columns.data(), factors.data());
        return r;
    }
    void keep()
    {
        values_.assign(1, 0);
        for (int c = 1; c <= glp_get_num_cols(problem_.get()); ++c) values_.push_back(glp_mip_col_val(problem_.get(), c));
    }

    std::unique_ptr<glp_prob, void (*)(glp_prob*)> problem_;
    std::vector<double> values_;
};

/// The program of a wish: what of each run comes from each reel.
class Cutting {
public:
    explicit Cutting(const CuttingWish& wish) : wish_(wish)
    {
        for (const auto& reel : wish.reels) addReel(reel);
        for (std::size_t j = 0; j < wish.runs.size(); ++j) addRun(j);
        for (std::size_t i = 0; i < wish.reels.size(); ++i) bindReel(i);
    }

    Result<CuttingPlan> solve(double seconds)
    {
        bool optimal = true;
        double gap = 0;
        // one aim after the other; what was reached is held
        const double each = seconds / 4;
        for (const Terms* aim : {&short_, &joints_, &waste_, &opened_}) {
            if (aim->empty()) continue;
            const auto solved = program_.least(*aim, each);
            if (!solved.any) {
                optimal = false;
                break;
            }
            optimal = optimal && solved.optimal;
            gap = std::max(gap, solved.gap);
            program_.atMost(*aim, solved.value + 1e-4);
        }
        auto out = weigh(wish_, cuts());
        if (!out) return out;
        out->optimal = optimal;
        out->gap = gap;
        return out;
    }

private:
    using Terms = std::vector<Program::Term>;

    void addReel(const Stock& reel)
    {
        const double length = reel.length.value();
        open_.push_back(program_.column(0, 1, true));
        kept_.push_back(program_.column(0, 1, true));
        thrown_.push_back(program_.column(0, std::max(length, nothing)));
        opened_.push_back({open_.back(), 1});
        waste_.push_back({thrown_.back(), 1});
    }
    void addRun(std::size_t j)
    {
        const double needed = wish_.runs[j].needed().value();
        // what has to be bought: with joints a part of it may be, else all
        const int buys = program_.column(0, 1, true), bought = program_.column(0, needed);
        bought_.push_back(bought);
        short_.push_back({bought, 1});
        program_.atMost({{bought, 1}, {buys, -needed}}, 0);
        if (!wish_.jointAllowed) program_.atMost({{bought, -1}, {buys, needed}}, 0);
        Terms lengths{{bought, 1}}, pieces{{buys, 1}};
        used_.emplace_back();
        length_.emplace_back();
        for (const auto& reel : wish_.reels) {
            used_.back().push_back(program_.column(0, 1, true));
            length_.back().push_back(program_.column(0, std::max(nothing, std::min(needed, reel.length.value()))));
            lengths.push_back({length_.back().back(), 1});
            pieces.push_back({used_.back().back(), 1});
            // a piece only where it is used; without joints all of the run
            program_.atMost({{length_.back().back(), 1}, {used_.back().back(), -needed}}, 0);
            if (!wish_.jointAllowed) program_.atMost({{length_.back().back(), -1}, {used_.back().back(), needed}}, 0);
        }
        program_.equal(lengths, needed);
        if (wish_.jointAllowed)
            joints_.insert(joints_.end(), pieces.begin(), pieces.end());  // pieces less one for each run
        else
            program_.equal(pieces, 1);
    }
    void bindReel(std::size_t i)
    {
        const double length = wish_.reels[i].length.value(), keep = wish_.keepLeast.value();
        Terms cut, leaves{{kept_[i], keep}}, thrown{{thrown_[i], -1}, {kept_[i], -length}, {open_[i], length}};
        for (std::size_t j = 0; j < wish_.runs.size(); ++j) {
            cut.push_back({length_[j][i], 1});
            leaves.push_back({length_[j][i], 1});
            thrown.push_back({length_[j][i], -1});
            program_.atMost({{used_[j][i], 1}, {open_[i], -1}}, 0);
        }
        cut.push_back({open_[i], -length});
        program_.atMost(cut, 0);                          // no more than is on it, and nothing of one that stays closed
        program_.atMost(leaves, std::max(length, keep));  // what is kept is long enough
        program_.atMost(thrown, 0);                       // what is left of an open one and not kept is thrown away
        if (keep > length) program_.equal({{kept_[i], 1}}, 0);
    }

    [[nodiscard]] std::vector<ReelCuts> cuts() const
    {
        std::vector<ReelCuts> out;
        for (std::size_t i = 0; i < wish_.reels.size(); ++i) {
            ReelCuts cuts{wish_.reels[i].reel, {}, {}};
            for (std::size_t j = 0; j < wish_.runs.size(); ++j) {
                constexpr double millimetre = 1e-3;
                const double length = std::round(program_.value(length_[j][i]) / millimetre) * millimetre;
                if (length >= millimetre) cuts.cuts.push_back({wish_.runs[j].name, Metre(length)});
            }
            out.push_back(std::move(cuts));
        }
        return out;
    }

    const CuttingWish& wish_;
    Program program_;
    std::vector<int> open_, kept_, thrown_, bought_;
    std::vector<std::vector<int>> used_, length_;  ///< by run, then by reel
    Terms short_, joints_, waste_, opened_;
};

}  // namespace

Result<CuttingPlan> planCuts(const CuttingWish& wish, double seconds)
{
    if (auto ok = checked(wish); !ok) return tl::unexpected(ok.error());
    if (wish.reels.empty()) {
        CuttingPlan out;
        out.optimal = true;
        for (const auto& run : wish.runs) {
            out.unserved.push_back(run.name);
            out.shortOf += run.needed();
        }
        return out;
    }
    return Cutting(wish).solve(seconds);
}

}  // namespace clendo::reel
