#include "report/certificate/printed.h"

#include <QBuffer>
#include <QImage>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <thread>

#include "otdr/sor_reader.h"
#include "otdr/thin.h"
#include "pictures/decode.h"

namespace clendo {
namespace {

using nlohmann::json;

constexpr int jpegQuality = 82;
constexpr std::size_t traceColumns = 480;       // of 169 mm: finer than a printer shows, and a third less to write
constexpr double before = 0.02, behind = 0.06;  // of the link's length, that is drawn outside it

void addPicture(PrintedLink& out, const json& look, const EvidenceSource& evidence)
{
    const auto sha = look["picture_sha256"].get<std::string>();
    if (out.pictures.contains(sha)) return;
    const auto bytes = evidence(sha);
    out.pictures.emplace(sha, bytes ? printedPicture(*bytes, sha) : pdf::Picture{});
}

}  // namespace

pdf::Picture printedPicture(const std::string& bytes, const std::string& name, int side)
{
    const auto read = readImage(bytes, name);
    if (!read || read->isNull()) return {};
    const int edge = std::min(read->width(), read->height());
    QImage square = read->copy((read->width() - edge) / 2, (read->height() - edge) / 2, edge, edge);
    if (edge > side) square = square.scaled(side, side, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    // what is grey takes a third of the room; a palette or an alpha channel is no JPEG's
    square = square.isGrayscale() ? square.convertToFormat(QImage::Format_Grayscale8) : square.convertToFormat(QImage::Format_RGB32);
    QBuffer out;
    out.open(QIODevice::WriteOnly);
    if (!square.save(&out, "JPG", jpegQuality)) return {};
    return {out.data().toStdString(), square.width(), square.height()};
}

PrintedTrace printedTrace(const std::string& bytes, const json& trace)
{
    const auto read = otdr::readSor(bytes, "trace");
    if (!read || read->distance.empty()) return {};
    const bool fromB = trace["direction"] == "ba";
    const json& span = trace["span"];
    PrintedTrace out;
    double from = read->distance.front(), to = read->distance.back();
    if (span.is_object()) {
        from = span["from_m"].get<double>();
        to = span["to_m"].get<double>();
        out.length = to - from;
    } else if (!trace["events"].empty()) {
        to = std::min(to, trace["events"].back()["at_m"].get<double>());
    }
    const double reach = std::max(1.0, to - from);
    const double first = std::max(double(read->distance.front()), from - before * reach);
    const double last = std::min(double(read->distance.back()), to + behind * reach);
    for (const auto& c : otdr::thin(*read, Metre(first), Metre(last), traceColumns))
        out.columns.push_back({fromB ? to - c.distance : c.distance - from, c.low, c.high});
    if (fromB) std::reverse(out.columns.begin(), out.columns.end());
    return out;
}

PrintedLink printedLink(const json& link, const EvidenceSource& evidence)
{
    PrintedLink out;
    for (const auto& face : link["faces"]) {
        if (face["looks"].empty()) continue;
        addPicture(out, face["looks"].front(), evidence);
        addPicture(out, face["looks"].back(), evidence);
    }
    for (const auto& line : link["lines"])
        for (const auto* key : {"trace_ab_sha256", "trace_ba_sha256"}) {
            if (!line[key].is_string()) continue;
            const auto sha = line[key].get<std::string>();
            const auto& all = link["traces"];
            const auto it = std::find_if(all.begin(), all.end(), [&](const json& t) { return t["trace_sha256"] == sha; });
            const auto bytes = evidence(sha);
            out.traces[sha] = it != all.end() && bytes ? printedTrace(*bytes, *it) : PrintedTrace{};
        }
    return out;
}

PrintedAhead::PrintedAhead(std::vector<const json*> links, const EvidenceSource& evidence) : links_(std::move(links)), evidence_(evidence) { fill(); }

PrintedAhead::~PrintedAhead()
{
    for (auto& one : ahead_)
        if (one.valid()) one.wait();
}

void PrintedAhead::fill()
{
    const std::size_t most = std::max(2U, std::thread::hardware_concurrency()) + 1;
    while (ahead_.size() < most && begun_ < links_.size())
        ahead_.push_back(std::async(std::launch::async, [link = links_[begun_++], this] { return printedLink(*link, evidence_); }));
}

PrintedLink PrintedAhead::next()
{
    if (ahead_.empty()) return {};
    PrintedLink out = ahead_.front().get();
    ahead_.pop_front();
    fill();
    return out;
}

}  // namespace clendo
