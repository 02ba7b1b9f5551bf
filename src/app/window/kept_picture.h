// A finished render that was kept, opened again: shown over the live picture, mixed at the light desk, saved once more.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/window/background.h"
#include "session/finals.h"
#include "work/light_desk.h"
#include "work/make_still.h"

namespace app {

class KeptPicture : public QWidget {
    Q_OBJECT

public:
    explicit KeptPicture(QWidget* parent = nullptr);

    // Develops the film in the background and shows itself.
    void open(const session::Final& final);
    void close();
    bool isOpen() const { return m_still != nullptr; }
    const session::Final& final() const { return m_final; }
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
    finish::DevelopSettings developFor(const work::LightDesk& desk) const;

    session::Final m_final;
    std::shared_ptr<work::Still> m_still;
    render::LightShares m_small;
    QImage m_image;
    std::uint64_t m_number = 0;  // of the opening that counts
    Background m_background;
};

}  // namespace app
