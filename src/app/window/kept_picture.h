// A finished render that was kept, opened again: shown over the live picture, mixed at the light desk, saved once more.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/window/background.h"
#include "session/kept_light.h"
#include "work/light_desk.h"

namespace app {

class KeptPicture : public QWidget {
    Q_OBJECT

public:
    explicit KeptPicture(QWidget* parent = nullptr);

    // Opens it in the background and shows itself: a final, or what a work keeps.
    void open(const session::Final& final);
    void open(std::shared_ptr<const std::vector<std::uint8_t>> asset, const QString& name);
    void close();
    bool isOpen() const { return m_light != nullptr; }
    const session::KeptLight& light() const { return *m_light; }
    const QImage& image() const { return m_image; }
    // Mixed in another way: at once, on data of display size.
    void mix(const work::LightDesk& desk);
    // At its full size, as it is mixed; in the background.
    void save(const QString& path, const work::LightDesk& desk);

Q_SIGNALS:
    void opened();
    void closed();
    void say(const QString& sentence);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    using Opened = std::pair<std::shared_ptr<const session::KeptLight>, film::LightShares>;
    using Opening = std::function<base::Result<std::shared_ptr<const session::KeptLight>>(const base::Progress&)>;
    void openBy(Opening opening);
    finish::DevelopSettings developFor(const work::LightDesk& desk) const;

    std::shared_ptr<const session::KeptLight> m_light;
    film::LightShares m_small;
    QImage m_image;
    std::uint64_t m_number = 0;  // of the opening that counts
    Background m_background;
};

}  // namespace app
