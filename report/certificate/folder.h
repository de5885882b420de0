#pragma once
#include <QString>
#include <QStringList>
#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "seal/statement.h"

namespace clendo {

/// Writes the files of one certificate into its folder, and remembers their hashes.
class FolderWriter {
public:
    explicit FolderWriter(QString folder) : folder_(std::move(folder)) {}

    /// `path` within the folder, as seal::plainPath() wants it. What was written is read back.
    Result<void> add(const std::string& path, std::string_view bytes);
    [[nodiscard]] const std::vector<seal::SealedFile>& files() const { return files_; }

private:
    QString folder_;
    std::vector<seal::SealedFile> files_;
};

/// One certificate to be put into a folder.
struct Placed {
    std::string subject;  ///< a link, a cable, a cord: "VP-04/7"
    /// Adds all files but the signature, and gives the statement without them. The earlier certificate of the subject, where there is one, is at
    /// `before`; `stem` is what files are named after.
    std::function<Result<seal::Statement>(FolderWriter& out, const std::string& stem, const QString& before)> write;
};

/// Puts certificates into folders of their own within `folder` (made where missing), each signed by `key`; null: by nobody, and the statement says
/// so. All are written beside, read back and put on the disk before the first takes its place; each takes it as a whole, and what was there before
/// stays until then. Files that somebody else put into a certificate's folder stay there. Gives the paths of what was written, those of each
/// certificate together, and how many they are.
struct PlacedFiles {
    QStringList paths;
    std::vector<qsizetype> each;
};
Result<PlacedFiles> placeCertificates(const std::vector<Placed>& certificates, const QString& folder, const seal::SigningKey* key);

}  // namespace clendo
