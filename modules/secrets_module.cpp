#include <qt6keychain/keychain.h>

#include <QPointer>

#include "modules/secrets.h"

namespace {

const QString service = QStringLiteral("Clendo");

void read(const QString& name, QObject* context, std::function<void(const QString&)> then)
{
    auto* job = new QKeychain::ReadPasswordJob(service);
    job->setKey(name);
    job->setInsecureFallback(false);  // a file that anybody can read is no keyring
    QObject::connect(job, &QKeychain::Job::finished, context,
                     [then, job] { then(job->error() == QKeychain::NoError ? job->textData() : QString()); });
    job->start();
}

void keep(const QString& name, const QString& secret)
{
    auto* job = new QKeychain::WritePasswordJob(service);
    job->setKey(name);
    job->setInsecureFallback(false);
    job->setTextData(secret);
    job->start();
}

}  // namespace

extern "C" __attribute__((visibility("default"))) void clendo_secrets(clendo::Secrets* secrets)
{
    secrets->read = read;
    secrets->keep = keep;
}
