#pragma once
#include <string>
#include <vector>

#include "record/output/labels.h"
#include "seal/signing_key.h"

namespace clendo {

/// Labels as a PDF to be printed and cut: 27 on a page of A4, 60 x 30 mm each, with a QR code. `now`: seconds since 1970-01-01 UTC. An Error where
/// there are none.
Result<std::string> labelSheet(const std::vector<Label>& labels, std::int64_t now);

/// A key on paper: still sealed with its passphrase, as QR code and in letters, and its public half to be read aloud.
Result<std::string> keySheet(const seal::KeyFile& key, std::int64_t now);

}  // namespace clendo
