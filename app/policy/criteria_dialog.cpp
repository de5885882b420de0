#include "app/policy/criteria_dialog.h"

#include <fmt/format.h>

#include <QFileDialog>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <QtConcurrentRun>

#include "app/widgets/on_screen.h"
#include "app/widgets/save_file.h"
#include "app/widgets/theme.h"
#include "app/widgets/when_done.h"
#include "files/files.h"
#include "record/state/complete_act.h"
#include "result/guarded.h"

namespace clendo {
namespace {

const QStringList& shipped()
{
    static const QStringList editions{QStringLiteral("2015"), QStringLiteral("2009"), QStringLiteral("pristine")};
    return editions;
}

}  // namespace

CriteriaDialog::CriteriaDialog(JobSession& session, const FaceId& face, QWidget* parent)
    : QDialog(parent),
      session_(session),
      face_(face),
      left_(new CriteriaColumn(QStringLiteral("left"), this)),
      right_(new CriteriaColumn(QStringLiteral("right"), this)),
      class_(new QComboBox(this)),
      name_(new QLineEdit(this)),
      mustResolve_(new QDoubleSpinBox(this)),
      said_(new TextBlock(this))
{
    setObjectName(QStringLiteral("criteriaDialog"));
    setWindowTitle(tr("Criteria: what is allowed on a face"));
    class_->setObjectName(QStringLiteral("criteriaClass"));
    const JobState& state = session_.state();
    const Link* link = state.link(face.link);
    for (const auto& [key, faceClass] : state.plan->criteria.classes)
        class_->addItem(QStringLiteral("%1 · %2").arg(QString::fromStdString(key), QString::fromStdString(faceClass.title)),
                        QString::fromStdString(key));
    if (link) class_->setCurrentIndex(std::max(0, class_->findData(QString::fromStdString(link->cable->classAt(face.connection, face.side)))));
    auto* head = new QHBoxLayout;
    auto* on = new TextBlock(this);
    on->setSingleLine();
    on->setText(link ? tr("On: %1, fibre %2").arg(QString::fromStdString(link->where(face))).arg(link->fibre) : tr("No face is chosen"));
    head->addWidget(class_);
    head->addWidget(on, 1);
    auto* columns = new QHBoxLayout;
    columns->addWidget(left_, 1);
    columns->addWidget(right_, 1);

    name_->setObjectName(QStringLiteral("copyName"));
    name_->setPlaceholderText(tr("name of the copy: House rule"));
    mustResolve_->setObjectName(QStringLiteral("mustResolve"));
    mustResolve_->setRange(0.5, 50);
    mustResolve_->setDecimals(1);
    mustResolve_->setPrefix(tr("pictures must show "));
    mustResolve_->setSuffix(tr(" µm"));
    const auto button = [&](const QString& text, const char* objectName, auto work) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(QLatin1String(objectName));
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, work);
        return b;
    };
    auto* own = new QHBoxLayout;
    own->addWidget(name_, 1);
    own->addWidget(button(tr("&Copy those at the left"), "copyCriteria", &CriteriaDialog::copy));
    own->addStretch();
    own->addWidget(mustResolve_);
    own->addWidget(keep_ = button(tr("&Save the changes"), "keepCriteria", &CriteriaDialog::keep));
    auto* last = new QHBoxLayout;
    last->addWidget(said_, 1);
    last->addWidget(button(tr("&Read a file …"), "readCriteria", &CriteriaDialog::readFrom));
    last->addWidget(button(tr("&Export those at the left …"), "exportCriteria", &CriteriaDialog::saveTo));
    last->addWidget(use_ = button(tr("&Apply those at the left to this job"), "applyCriteria", &CriteriaDialog::use));
    use_->setProperty("first", true);
    last->addWidget(button(tr("Back (Esc)"), "closeCriteria", &QDialog::reject));
    auto* all = new QVBoxLayout(this);
    all->addLayout(head);
    all->addLayout(columns, 1);
    all->addLayout(own);
    all->addLayout(last);
    resizeOnScreen(*this, {em(62), em(36)});
    offer();
    left_->choose(QString::fromStdString(state.plan->job.edition));
    right_->choose(state.plan->job.edition == "2015" ? QStringLiteral("pristine") : QStringLiteral("2015"));
    for (auto* column : {left_, right_}) connect(column, &CriteriaColumn::chosen, this, &CriteriaDialog::showBoth);
    connect(class_, &QComboBox::currentIndexChanged, this, &CriteriaDialog::showBoth);
    connect(&session_, &JobSession::said, this, &CriteriaDialog::say);
    showBoth();
    left_->setFocus();
}

Result<Criteria> CriteriaDialog::criteriaOf(const QString& edition) const
{
    const auto& own = session_.state().plan->ownCriteria;
    const auto it = own.find(edition.toStdString());
    return it == own.end() ? loadCriteria(edition.toStdString(), dataFolder())
                           : loadDetection(dataFolder()).and_then([&](DetectionTable shown) { return parseCriteria(it->second, std::move(shown)); });
}

bool CriteriaDialog::isOwn(const QString& edition) const { return session_.state().plan->ownCriteria.contains(edition.toStdString()); }

const face::FaceMeasurement* CriteriaDialog::look() const
{
    const auto& looks = session_.state().face(face_).looks;
    return looks.empty() ? nullptr : &looks.back().seen.measured;
}

void CriteriaDialog::offer()
{
    std::vector<std::pair<QString, QString>> sets;
    QStringList editions = shipped();
    for (const auto& [edition, text] : session_.state().plan->ownCriteria) editions << QString::fromStdString(edition);
    const QString used = QString::fromStdString(session_.state().plan->job.edition);
    if (!editions.contains(used)) editions << used;
    for (const QString& edition : editions) {
        const auto criteria = criteriaOf(edition);
        QString title = criteria ? QString::fromStdString(criteria->name) : edition;
        if (edition == used) title += tr(" · judges this job");
        sets.emplace_back(edition, title);
    }
    for (auto* column : {left_, right_}) column->offer(sets);
}

void CriteriaDialog::showBoth()
{
    for (auto* column : {left_, right_}) {
        const auto criteria = criteriaOf(column->edition());
        if (!criteria) {
            column->showTrouble(QString::fromStdString(criteria.error().message));
            continue;
        }
        const bool own = isOwn(column->edition());
        column->show(*criteria, class_->currentData().toString().toStdString(), look(), own && column == left_);
        if (column != left_) continue;
        mustResolve_->setValue(criteria->mustResolve.value());
        mustResolve_->setEnabled(own);
        keep_->setEnabled(own);
        say(own ? tr("Yours: change the numbers, then save them.") : tr("These stay as they are: copy them to change them."), false);
    }
    use_->setEnabled(left_->edition().toStdString() != session_.state().plan->job.edition);
}

void CriteriaDialog::say(const QString& sentence, bool trouble) { said_->setText(sentence, trouble, trouble ? theme().damaged : theme().soft); }

void CriteriaDialog::file(const Criteria& criteria, const QString& done)
{
    const std::string text = criteriaText(criteria);
    if (const auto valid = parseCriteria(text); !valid) return say(QString::fromStdString(valid.error().message), true);
    session_.file(
        CriteriaKept{criteria.edition, text},
        [this, edition = QString::fromStdString(criteria.edition), done] {
            offer();
            left_->choose(edition);
            showBoth();
            name_->clear();
            say(done, false);
        },
        this);
}

void CriteriaDialog::copy()
{
    const QString name = name_->text().trimmed();
    auto criteria = criteriaOf(left_->edition());
    if (name.isEmpty() || shipped().contains(name) || isOwn(name)) {
        name_->setFocus();
        return say(name.isEmpty() ? tr("Give the copy a name first.") : tr("There are criteria “%1” already: choose another name.").arg(name), true);
    }
    if (!criteria) return say(QString::fromStdString(criteria.error().message), true);
    criteria->source = fmt::format("copied from {}, version {}; {}", criteria->name, criteria->version, criteria->source);
    criteria->name = criteria->edition = name.toStdString();
    criteria->version = std::string("1");
    criteria->checked = false;
    file(*criteria, tr("Copied. Change its numbers, then save them."));
}

void CriteriaDialog::keep()
{
    auto criteria = criteriaOf(left_->edition());
    const auto rules = left_->rules();
    if (!criteria || !rules) return say(QString::fromStdString((criteria ? rules.error() : criteria.error()).message), true);
    criteria->classes.find(class_->currentData().toString().toStdString())->second.rules = *rules;
    criteria->mustResolve = Micrometre(mustResolve_->value());
    criteria->version = std::to_string(QString::fromStdString(criteria->version).toInt() + 1);
    file(*criteria, tr("Saved as version %1. What was judged by them is judged anew.").arg(QString::fromStdString(criteria->version)));
}

void CriteriaDialog::use()
{
    JobSettings job = session_.state().plan->job;
    job.edition = left_->edition().toStdString();
    session_.file(
        settingFacts(session_.state().plan->job, job),
        [this] {
            offer();
            showBoth();
            say(tr("This job is judged by them now, what was seen before included."), false);
        },
        this);
}

void CriteriaDialog::readFrom()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("Read criteria"), QString(), tr("Criteria (*.json);;All files (*)"));
    if (path.isEmpty()) return;
    whenDone(QtConcurrent::run([path] { return guarded([&] { return loadCriteria(path.toStdString(), dataFolder()); }); }), this,
             [this](Result<Criteria> criteria) {
                 if (!criteria) return say(QString::fromStdString(criteria.error().message), true);
                 if (shipped().contains(QString::fromStdString(criteria->edition))) criteria->edition = fmt::format("{} (own)", criteria->name);
                 file(*criteria, tr("Read: they are in this job now."));
             });
}

void CriteriaDialog::saveTo()
{
    const auto criteria = criteriaOf(left_->edition());
    if (!criteria) return say(QString::fromStdString(criteria.error().message), true);
    const QString path = QFileDialog::getSaveFileName(this, tr("Save the criteria"), left_->edition() + QStringLiteral(".json"));
    if (path.isEmpty()) return;
    saveFile(
        this, path, [criteria = *criteria] { return criteriaText(criteria); },
        [this](const Result<void>& saved) {
            say(saved ? tr("Saved: another job, or clendo-cli with --edition, can read them.") : QString::fromStdString(saved.error().message),
                !saved);
        });
}

}  // namespace clendo
