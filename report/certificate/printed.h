#pragma once
#include <deque>
#include <future>
#include <map>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "files/evidence.h"
#include "report/pdf/page.h"

namespace clendo {

/// A trace as it is drawn: along the link from A, its own level in dB, thinned.
struct PrintedTrace {
    struct Column {
        double at = 0, low = 0, high = 0;  ///< m from the link's port at A; dB
    };
    std::vector<Column> columns;  ///< empty: the file cannot be read
    double length = 0;            ///< of the link, m; 0: not known
};

/// What a link's page shows of pictures and traces, ready to be drawn. By SHA-256.
struct PrintedLink {
    std::map<std::string, pdf::Picture> pictures;
    std::map<std::string, PrintedTrace> traces;
};

/// The middle of a picture as a grey or coloured square JPEG of `side` pixels; none where it is no picture.
pdf::Picture printedPicture(const std::string& bytes, const std::string& name, int side = 480);
/// `trace`: as it stands in a certificate.
PrintedTrace printedTrace(const std::string& bytes, const nlohmann::json& trace);
/// The first and the last picture of each face, and the traces of its lines.
PrintedLink printedLink(const nlohmann::json& link, const EvidenceSource& evidence);

/// Readies links a few ahead of the one that is drawn, each in a thread of its own. The links must live as long as this.
class PrintedAhead {
public:
    PrintedAhead(std::vector<const nlohmann::json*> links, const EvidenceSource& evidence);
    ~PrintedAhead();
    PrintedAhead(const PrintedAhead&) = delete;
    PrintedAhead& operator=(const PrintedAhead&) = delete;
    /// The next one, in their order.
    PrintedLink next();

private:
    void fill();
    std::vector<const nlohmann::json*> links_;
    const EvidenceSource& evidence_;
    std::size_t begun_ = 0;
    std::deque<std::future<PrintedLink>> ahead_;
};

}  // namespace clendo
