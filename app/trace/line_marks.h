#pragma once
#include <QString>
#include <QVector>
#include <memory>
#include <optional>

#include "app/trace/trace_drawing.h"
#include "otdr/line_tools.h"

namespace clendo {

/// Marks with which a person measures on a trace: two of them, or the five of a joint. They lie at places of the line and stay there, whatever is
/// seen of it.
class LineMarks {
public:
    enum class Tool { None, Two, Five };

    /// From none to two, to five, to none. New marks lie within what is seen: five at the joint nearest to its middle.
    void next(SeenRange seen);
    void clear() { tool_ = Tool::None; }
    [[nodiscard]] Tool tool() const { return tool_; }
    /// The trace that is measured on from now on; the marks stay where they are.
    void measure(std::shared_ptr<const otdr::Trace> trace, const TraceShot& shot, const Link& link);
    /// Moves a mark, in metres from A; within `reach` of an event it snaps to that.
    void move(int mark, double to, double reach);
    /// Moves the mark that was chosen, by so much.
    void nudge(double by);
    void choose(bool further);
    [[nodiscard]] QVector<TraceDrawing::Cursor> cursors() const;
    /// What they measure, in words; empty without marks.
    [[nodiscard]] QString words() const;

private:
    [[nodiscard]] Metre onTrace(int mark) const { return Metre(places_->onTrace(at_[mark])); }
    [[nodiscard]] QString ofTwo() const;
    [[nodiscard]] QString ofFive() const;
    void placeFive(double at);

    Tool tool_ = Tool::None;
    QVector<double> at_;  ///< m from A, in their order of use
    int chosen_ = 0;
    std::shared_ptr<const otdr::Trace> trace_;
    std::shared_ptr<const otdr::Signal> signal_;
    std::optional<PlacesFromA> places_;
    std::vector<otdr::Event> events_;
    double cablePerFibre_ = 0;  ///< by the plan's length; 0: not known
};

}  // namespace clendo
