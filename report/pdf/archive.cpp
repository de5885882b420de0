#include "report/pdf/archive.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <QColorSpace>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>
#include <set>

#include "record/journal/time_text.h"

namespace clendo::pdf {
namespace {

using Handle = QPDFObjectHandle;

constexpr const char* producer = "Clendo";

std::string escaped(const std::string& text)
{
    std::string out;
    for (const char c : text) {
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (static_cast<unsigned char>(c) >= 0x20 || c == '\n')
            out += c;
    }
    return out;
}

std::string metadata(const About& about)
{
    // XMP (ISO 16684-1); the mark at the beginning is a byte order mark
    return fmt::format(
        "<?xpacket begin=\"\xEF\xBB\xBF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?>\n"
        "<x:xmpmeta xmlns:x=\"adobe:ns:meta/\"><rdf:RDF xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\">\n"
        "<rdf:Description rdf:about=\"\" xmlns:dc=\"http://purl.org/dc/elements/1.1/\" xmlns:pdf=\"http://ns.adobe.com/pdf/1.3/\" "
        "xmlns:xmp=\"http://ns.adobe.com/xap/1.0/\" xmlns:pdfaid=\"http://www.aiim.org/pdfa/ns/id/\">\n"
        "<dc:title><rdf:Alt><rdf:li xml:lang=\"x-default\">{0}</rdf:li></rdf:Alt></dc:title>\n"
        "<dc:description><rdf:Alt><rdf:li xml:lang=\"x-default\">{1}</rdf:li></rdf:Alt></dc:description>\n"
        "<dc:creator><rdf:Seq><rdf:li>{2}</rdf:li></rdf:Seq></dc:creator><dc:format>application/pdf</dc:format>\n"
        "<pdf:Producer>{3}</pdf:Producer><xmp:CreatorTool>{3}</xmp:CreatorTool><xmp:CreateDate>{4}</xmp:CreateDate>"
        "<xmp:ModifyDate>{4}</xmp:ModifyDate>\n"
        "<pdfaid:part>2</pdfaid:part><pdfaid:conformance>B</pdfaid:conformance>\n"
        "</rdf:Description></rdf:RDF></x:xmpmeta>\n<?xpacket end=\"w\"?>",
        escaped(about.title), escaped(about.subject), escaped(about.author), producer, isoTime(about.writtenAt));
}

void addMetadata(QPDF& pdf, const About& about)
{
    Handle root = pdf.getRoot();
    Handle xmp = Handle::newStream(&pdf, metadata(about));
    xmp.getDict().replaceKey("/Type", Handle::newName("/Metadata"));
    xmp.getDict().replaceKey("/Subtype", Handle::newName("/XML"));
    root.replaceKey("/Metadata", xmp);
    const std::string at = fmt::format("D:{:%Y%m%d%H%M%S}Z", fmt::gmtime(static_cast<std::time_t>(about.writtenAt)));
    Handle info = Handle::newDictionary();
    info.replaceKey("/Title", Handle::newUnicodeString(about.title));
    info.replaceKey("/Subject", Handle::newUnicodeString(about.subject));
    info.replaceKey("/Author", Handle::newUnicodeString(about.author));
    info.replaceKey("/Creator", Handle::newString(producer));
    info.replaceKey("/Producer", Handle::newString(producer));
    info.replaceKey("/CreationDate", Handle::newString(at));
    info.replaceKey("/ModDate", Handle::newString(at));
    pdf.getTrailer().replaceKey("/Info", pdf.makeIndirectObject(info));
    root.replaceKey("/Lang", Handle::newString("en-GB"));
    root.replaceKey("/ViewerPreferences", Handle::parse("<< /DisplayDocTitle true >>"));
}

void addColours(QPDF& pdf)
{
    const QByteArray profile = QColorSpace(QColorSpace::SRgb).iccProfile();
    Handle icc = Handle::newStream(&pdf, profile.toStdString());
    icc.getDict().replaceKey("/N", Handle::newInteger(3));
    Handle intent = Handle::parse("<< /Type /OutputIntent /S /GTS_PDFA1 /OutputConditionIdentifier (sRGB) /Info (sRGB IEC61966-2.1) >>");
    intent.replaceKey("/DestOutputProfile", icc);
    Handle all = Handle::newArray();
    all.appendItem(pdf.makeIndirectObject(intent));
    pdf.getRoot().replaceKey("/OutputIntents", all);
}

/// Links are printed (ISO 19005-2, 6.3.2), no picture is interpolated (6.2.8.1).
void settleObjects(QPDF& pdf)
{
    for (Handle object : pdf.getAllObjects()) {
        if (object.isStream() && object.getDict().getKey("/Subtype").isNameAndEquals("/Image")) object.getDict().removeKey("/Interpolate");
        if (object.isDictionary() && object.getKey("/Subtype").isNameAndEquals("/Link")) object.replaceKey("/F", Handle::newInteger(4));
    }
}

/// What each figure says, in the order in which they stand in the structure.
void describeFigures(Handle node, const std::vector<std::string>& figures, std::size_t& n, int depth)
{
    constexpr int deepest = 32;
    if (depth > deepest || n >= figures.size()) return;
    if (node.isArray()) {
        for (Handle child : node.aitems()) describeFigures(child, figures, n, depth);
        return;
    }
    if (!node.isDictionary()) return;
    if (node.getKey("/S").isNameAndEquals("/Figure")) node.replaceKey("/Alt", Handle::newUnicodeString(figures[n++]));
    if (node.getKey("/S").isNameAndEquals("/TH")) node.replaceKey("/A", Handle::parse("<< /O /Table /Scope /Column >>"));
    if (node.hasKey("/K")) describeFigures(node.getKey("/K"), figures, n, depth + 1);
}

}  // namespace

Result<std::string> toArchive(std::string bytes, const About& about, const std::vector<std::string>& figures)
{
    try {
        QPDF pdf;
        pdf.setSuppressWarnings(true);
        pdf.processMemoryFile("certificate", bytes.data(), bytes.size());
        addMetadata(pdf, about);
        addColours(pdf);
        settleObjects(pdf);
        std::size_t n = 0;
        if (pdf.getRoot().hasKey("/StructTreeRoot")) describeFigures(pdf.getRoot().getKey("/StructTreeRoot"), figures, n, 0);
        QPDFWriter out(pdf);
        out.setOutputMemory();
        out.setDeterministicID(true);
        out.setObjectStreamMode(qpdf_o_generate);
        out.setStreamDataMode(qpdf_s_preserve);
        out.setMinimumPDFVersion("1.7");
        out.write();
        const auto buffer = out.getBufferSharedPointer();
        return std::string(reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize());
    } catch (const std::exception& e) {
        return failure(Error::Code::ExportFailed, "The pages of the certificate could not be put together.", e.what());
    }
}

}  // namespace clendo::pdf
