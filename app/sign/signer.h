#pragma once
#include <QObject>
#include <memory>

#include "seal/known_keys.h"

namespace clendo {

/// The keys of whoever works here, and the one that was opened: it stays open until the window closes, so that its passphrase is asked for once.
class Signer : public QObject {
    Q_OBJECT
public:
    /// That of a window.
    static Signer& of(QWidget* window);

    [[nodiscard]] const seal::KeyRing& ring() const { return ring_; }
    /// Null: none is open.
    [[nodiscard]] std::shared_ptr<const seal::SigningKey> open() const { return open_; }
    void setOpen(std::shared_ptr<const seal::SigningKey> key) { open_ = std::move(key); }

private:
    explicit Signer(QObject* parent) : QObject(parent), ring_(seal::KeyRing::ofUser()) {}

    seal::KeyRing ring_;
    std::shared_ptr<const seal::SigningKey> open_;
};

}  // namespace clendo
