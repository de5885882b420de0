#pragma once
#include <QObject>
#include <memory>
#include <optional>

#include "seal/known_keys.h"

namespace clendo {

/// The keys of whoever works here, and the one that was opened: it stays open until the window closes, so that its passphrase is asked for once.
class Signer : public QObject {
    Q_OBJECT
public:
    using OpenKey = std::shared_ptr<const seal::SigningKey>;
    /// The key that is to sign: the one that is open, else `file` opened with its passphrase; null where there is neither: nobody signs. Costs a
    /// tenth of a second, on purpose: for another thread.
    static Result<OpenKey> keyOf(const OpenKey& open, const std::optional<seal::KeyFile>& file, std::string_view passphrase);
    /// That of a window.
    static Signer& of(QWidget* window);

    [[nodiscard]] const seal::KeyRing& ring() const { return ring_; }
    /// Null: none is open.
    [[nodiscard]] OpenKey open() const { return open_; }
    void setOpen(OpenKey key) { open_ = std::move(key); }

private:
    explicit Signer(QObject* parent) : QObject(parent), ring_(seal::KeyRing::ofUser()) {}

    seal::KeyRing ring_;
    OpenKey open_;
};

}  // namespace clendo
