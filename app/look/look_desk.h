#pragma once
#include <functional>
#include <optional>

#include "app/frame/desk.h"
#include "app/frame/window_frame.h"

namespace clendo {

class LivePicture;
class LookView;
class WatchedFolder;

/// Looking and cleaning: the filed pictures of the chosen face, the live one, and the folders and scopes from which they come.
class LookDesk : public Desk {
    Q_OBJECT
public:
    explicit LookDesk(WindowFrame& frame);
    ~LookDesk() override;
    [[nodiscard]] QString id() const override { return QStringLiteral("look"); }
    [[nodiscard]] QString title() const override { return tr("Look"); }
    QWidget* view() override;
    void show(const Shown& shown) override;
    [[nodiscard]] Advice advice(const Shown& shown) const override;
    [[nodiscard]] bool isFor(StepKind kind) const override;
    [[nodiscard]] bool accepts(const QString& file) const override;
    void take(const QString& file) override;
    [[nodiscard]] FacePicture* picture() override;
    void left() override;
    void jobComes(OpenJob& job) override;
    void jobGoes() override;

    /// The folder into which a scope saves: a picture that comes there goes to the chosen face.
    void watchFolder(const QString& folder);
    /// takePicture() then asks the simulated scope to save a picture of the chosen face there.
    void useSimulatedScope(const QString& folder);
    /// A scope that saves a picture of a face into a folder when it is asked; the folder is watched.
    using Save = std::function<void(const FaceId& face, const QString& file)>;
    void useSavingScope(const QString& folder, Save save);
    [[nodiscard]] LivePicture& live() { return *live_; }
    /// The sharpest live look, what the simulated scope saves, or a file that is asked for.
    void takePicture();
    /// The live scope looks at a face of the kit, until it is captured or another face is chosen.
    void lookAtKit(const FaceId& face);
    void openPicture();
    void toggleLive();
    void toggleUnrolled();
    /// How ferrules with several fibres are held: key up or key down.
    void turnKey();
    [[nodiscard]] bool soundOn() const { return soundOn_; }
    void setSound(bool on) { soundOn_ = on; }

private:
    /// A face of the kit under the live scope, while another one is chosen in the round.
    struct OfKit {
        FaceId face, chosen;
    };
    [[nodiscard]] FaceId underScope() const;
    /// A picture of this face was judged and filed.
    void judged(const FaceId& face);
    void sound(const FaceId& face) const;

    WindowFrame& frame_;
    LookView* look_;
    LivePicture* live_;
    std::optional<OfKit> ofKit_;
    WatchedFolder* watched_;
    QString savesInto_;
    Save save_;
    bool soundOn_ = true;
};

QString pictureFilter();
/// Whether a file is a picture, by its name.
bool isPictureFile(const QString& file);

}  // namespace clendo
