#pragma once
#include <QApplication>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QTimer>
#include <QtTest>

#include "app/frame/main_window.h"
#include "app/widgets/theme.h"

/// Opens a job in the window and waits until it is there; false where it cannot be opened.
inline bool opened(clendo::MainWindow& w, const QString& path)
{
    w.openJob(path);
    return QTest::qWaitFor([&] { return !w.opening(); }, 30000) && w.session() && QFileInfo(w.session()->path()) == QFileInfo(path);
}
/// Makes a job there and waits for it.
inline bool created(clendo::MainWindow& w, const QString& path, const QString& name)
{
    w.createJob(path, name);
    return QTest::qWaitFor([&] { return !w.opening(); }, 30000) && w.session() && QFileInfo(w.session()->path()) == QFileInfo(path);
}
/// Files something in the window's job and waits for it; false where it could not be filed.
inline bool filed(clendo::JobSession& session, clendo::Filing filing)
{
    bool done = false;
    session.file(std::move(filing), [&done] { done = true; });
    session.settle();
    return done;
}
inline bool filed(clendo::JobSession& session, std::vector<clendo::Fact> facts) { return filed(session, clendo::Filing{std::move(facts), {}, 0}); }
inline bool filed(clendo::JobSession& session, const clendo::Fact& fact) { return filed(session, clendo::Filing{{fact}, {}, 0}); }

/// Drives the real window by key events, as hands would.
class WindowDriver {
public:
    explicit WindowDriver(clendo::MainWindow& w) : w_(w)
    {
        w.show();
        QVERIFY(QTest::qWaitForWindowExposed(&w));
        w.setFocus();
    }
    void key(Qt::Key k, Qt::KeyboardModifiers m = Qt::NoModifier)
    {
        QWidget* target = w_.focusWidget() ? w_.focusWidget() : &w_;
        QTest::keyClick(target, k, m);
        ++keys;
        settle();
    }
    /// Waits until what was filed is done and shown.
    void settle()
    {
        if (w_.session()) w_.session()->settle();
    }
    void type(const QString& text)
    {
        QVERIFY(qobject_cast<QLineEdit*>(w_.focusWidget()));
        for (const QChar c : text) {  // QTest knows no keys beyond ASCII
            QKeyEvent press(QEvent::KeyPress, 0, Qt::NoModifier, QString(c));
            QApplication::sendEvent(w_.focusWidget(), &press);
        }
        keys += static_cast<int>(text.size());
    }
    [[nodiscard]] QString text(const char* name) const
    {
        const auto* widget = w_.findChild<QWidget*>(QString::fromLatin1(name));
        const auto* label = qobject_cast<const QLabel*>(widget);
        return label ? label->text() : widget ? widget->accessibleName() : QString();
    }
    [[nodiscard]] QString headline() const { return text("adviceHeadline"); }
    [[nodiscard]] QString said() const { return text("said"); }
    /// Does `work` with the dialog that the next keys open.
    template <class Work>
    void inDialog(Work work)
    {
        QTimer::singleShot(0, &w_, [work] {
            QWidget* dialog = QApplication::activeModalWidget();
            QVERIFY(dialog);
            work(dialog);
            if (QTest::currentTestFailed()) dialog->close();  // it would stand for ever
        });
    }
    /// The same with a dialog that comes by itself, some time from now.
    template <class Work>
    void inDialogToCome(Work work)
    {
        auto* waiting = new QTimer(&w_);
        QObject::connect(waiting, &QTimer::timeout, &w_, [waiting, work] {
            QWidget* dialog = QApplication::activeModalWidget();
            if (!dialog) return;
            waiting->deleteLater();
            waiting->stop();
            work(dialog);
            if (QTest::currentTestFailed()) dialog->close();
        });
        waiting->start(20);
    }
    int keys = 0;

private:
    clendo::MainWindow& w_;
};
