#include "app/trace/cable_glance.h"

#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/theme.h"

namespace clendo {
namespace {

constexpr std::size_t columnsToRead = 400;  // along the line, for what is said in words

/// Neighbours that lose more from the same place on: one tray, as a rule.
struct Group {
    std::size_t first, last;
    double from;
    Decibel least, most;
};

/// `map` of columnsToRead over all of the line. A shot from B is read from B on: what is lost adds up that way.
std::vector<Group> groupsOf(std::vector<float> map, Direction direction, Decibel least, SeenRange whole)
{
    const bool turned = direction == Direction::BtoA;
    if (turned)
        for (std::size_t row = 0; row < map.size(); row += columnsToRead) {
            const auto begin = map.begin() + static_cast<std::ptrdiff_t>(row);
            std::reverse(begin, begin + static_cast<std::ptrdiff_t>(columnsToRead));
        }
    std::vector<Group> out;
    const double wide = (whole.second - whole.first) / double(columnsToRead);
    for (const auto& one : otdr::standingOut(map, columnsToRead, least)) {
        const double along = wide * double(one.column), from = turned ? whole.second - along : whole.first + along;
        constexpr double sameShare = 0.02;
        if (!out.empty() && out.back().last + 1 == one.row && std::abs(out.back().from - from) < sameShare * (whole.second - whole.first)) {
            out.back().last = one.row;
            out.back().least = std::min(out.back().least, one.more);
            out.back().most = std::max(out.back().most, one.more);
        } else {
            out.push_back({one.row, one.row, from, one.more, one.more});
        }
    }
    return out;
}

/// The joint of the plan that lies at a place, or nothing.
QString jointAt(const std::vector<GlanceMap::Joint>& joints, double at, double reach)
{
    for (const auto& joint : joints)
        if (std::abs(joint.at - at) <= reach) return joint.name;
    return {};
}

}  // namespace

CableGlance::CableGlance(QWidget* parent) : QWidget(parent), title_(new QLabel(this)), says_(new QLabel(this)), map_(new GlanceMap(this))
{
    setObjectName(QStringLiteral("cableGlance"));
    title_->setObjectName(QStringLiteral("glanceTitle"));
    title_->setWordWrap(true);
    says_->setObjectName(QStringLiteral("glanceSays"));
    says_->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 10, 14, 10);
    layout->addWidget(title_);
    layout->addWidget(map_, 1);
    layout->addWidget(says_);
    connect(map_, &GlanceMap::wanted, this, [this](int row) {
        if (row >= 0 && static_cast<std::size_t>(row) < links_.size()) emit opened(QString::fromStdString(links_[static_cast<std::size_t>(row)]));
    });
}

void CableGlance::show(JobSession& session, const Link* link)
{
    session_ = &session;
    if (!link) return;
    const Link* before = session.state().link(link_);
    if (!before || before->cable != link->cable) choice_ = 0;
    link_ = link->id;
    if (!rows_) {
        rows_ = std::make_unique<GlanceRows>(session);
        // many come at once: the map is made anew for all of them
        connect(rows_.get(), &GlanceRows::came, this, [this] {
            if (std::exchange(filling_, true)) return;
            constexpr int together = 60;  // ms
            QTimer::singleShot(together, this, [this] {
                filling_ = false;
                fill();
            });
        });
    }
    fill();
}

void CableGlance::forget()
{
    map_->show({}, {}, {0, 1});  // its rows go with the job
    rows_.reset();
    session_ = nullptr;
}

void CableGlance::nextShots()
{
    ++choice_;
    fill();
}

void CableGlance::fill()
{
    const Link* chosen = session_ ? session_->state().link(link_) : nullptr;
    if (!chosen || !rows_) return;
    const CablePlan& cable = *chosen->cable;
    const auto all = shotsOfCable(session_->state(), cable);
    links_.clear();
    if (all.empty()) {
        title_->setText(tr("<b>Cable %1</b> · no trace of any of its fibres yet.").arg(QString::fromStdString(cable.id)));
        says_->clear();
        map_->show({}, {}, {0, 1});
        return;
    }
    choice_ %= all.size();
    const ShotsOfCable& shots = all[choice_];
    std::vector<GlanceMap::Row> rows;
    double last = cable.length.value();
    for (const auto& row : shots.rows) {
        const bool begins = cable.tubeFibres > 0 && (row.link->fibre - 1) % cable.tubeFibres == 0;
        const auto* levels = row.shot ? rows_->row(*row.shot, *row.link) : nullptr;
        rows.push_back({QString::number(row.link->fibre), levels, row.link->id == link_, begins});
        links_.push_back(row.link->id);
        constexpr double believable = 1.5;
        if (row.shot && row.shot->found.span && row.shot->found.span->length() < cable.length * believable)
            last = std::max(last, row.shot->found.span->length().value());
    }
    std::vector<GlanceMap::Joint> joints{{0, QString::fromStdString(cable.panelA)}};
    for (const auto& splice : cable.splices) joints.push_back({splice.at.value(), QString::fromStdString(splice.name)});
    for (const auto& panel : cable.inner) joints.push_back({panel.at.value(), QString::fromStdString(panel.name)});
    joints.push_back({cable.length.value(), QString::fromStdString(cable.panelB)});
    std::stable_sort(joints.begin(), joints.end(), [](const auto& a, const auto& b) { return a.at < b.at; });
    constexpr double beside = 0.02;  // of the line, on both sides
    map_->show(std::move(rows), std::move(joints), {-beside * last, (1 + beside) * last});
    title_->setText(tr("<b>Cable %1 at a glance</b> · %2 nm, %3 · %4 of %5 fibres shot%6 · ↑ ↓ choose a fibre, Shift+G or a click opens it%7")
                        .arg(QString::fromStdString(cable.id))
                        .arg(shots.wavelength.value(), 0, 'f', 0)
                        .arg(shots.direction == Direction::AtoB ? tr("A to B") : tr("B to A"))
                        .arg(shots.shot())
                        .arg(shots.rows.size())
                        .arg(rows_->onTheirWay() > 0   ? tr(", %1 still to be read").arg(rows_->onTheirWay())
                             : rows_->unreadable() > 0 ? tr(", %1 cannot be read").arg(rows_->unreadable())
                                                       : QString())
                        .arg(all.size() > 1 ? tr(", D shows the other shots") : QString()));
    say(cable, shots);
}

void CableGlance::say(const CablePlan& cable, const ShotsOfCable& shots)
{
    constexpr std::ptrdiff_t least = 3;
    if (map_->compared() < least) return says_->setText(tr("Fewer than three fibres that are shot so were read: nothing can be compared yet."));
    constexpr Decibel clearly{0.15};
    const SeenRange whole{0, cable.length.value()};
    const auto groups = groupsOf(map_->map(whole, columnsToRead), shots.direction, clearly, whole);
    std::vector<GlanceMap::Joint> joints;
    for (const auto& splice : cable.splices) joints.push_back({splice.at.value(), tr("splice %1").arg(QString::fromStdString(splice.name))});
    for (const auto& panel : cable.inner) joints.push_back({panel.at.value(), QString::fromStdString(panel.name)});
    joints.push_back({0, QString::fromStdString(cable.panelA)});
    joints.push_back({cable.length.value(), QString::fromStdString(cable.panelB)});
    QStringList words;
    constexpr qsizetype most = 5;
    for (const auto& g : groups) {
        if (words.size() == most) {
            words << tr("and %1 more").arg(groups.size() - most);
            break;
        }
        const auto name = [&](std::size_t row) { return QString::number(shots.rows[row].link->fibre); };
        const QString which = g.first == g.last ? tr("fibre %1").arg(name(g.first)) : tr("fibres %1 to %2").arg(name(g.first), name(g.last));
        const QString lost = QString::number(g.least.value(), 'f', 2) == QString::number(g.most.value(), 'f', 2)
                                 ? tr("%1 dB").arg(g.most.value(), 0, 'f', 2)
                                 : tr("%1 to %2 dB").arg(g.least.value(), 0, 'f', 2).arg(g.most.value(), 0, 'f', 2);
        const double reach = std::max(15.0, 0.01 * cable.length.value());
        const QString joint = jointAt(joints, g.from, reach);
        words << tr("%1 %2 more from %3").arg(which, lost, joint.isEmpty() ? tr("about %1 m").arg(g.from, 0, 'f', 0) : joint);
    }
    says_->setText(words.isEmpty() ? tr("No fibre ends more than %1 dB beyond the median one.").arg(clearly.value(), 0, 'f', 2)
                                   : tr("Against the median fibre, towards %1: %2.")
                                         .arg(QString::fromStdString(shots.direction == Direction::AtoB ? cable.placeB : cable.placeA),
                                              words.join(QStringLiteral("; "))));
}

}  // namespace clendo
