// The window's light desk: over the live picture, or over a kept one.
#include <QFileDialog>
#include <QFileInfo>
#include <QToolButton>

#include "app/bench/light_desk_view.h"
#include "app/picture/side_view.h"
#include "app/window/kept_picture.h"
#include "app/window/main_window.h"
#include "app/window/state_line.h"

namespace app {

void MainWindow::connectDesk()
{
    connect(m_state->bench, &QToolButton::toggled, this, [this](bool on) { showOnBench(on ? Bench::Side : Bench::Nothing); });
    connect(m_state->desk, &QToolButton::toggled, this, [this](bool on) { showOnBench(on ? Bench::Lights : Bench::Nothing); });
    connect(m_lightDesk, &LightDeskView::moved, this, [this] { m_kept->isOpen() ? m_kept->mix(m_lightDesk->mix()) : restart(); });
    connect(m_lightDesk, &LightDeskView::used, this, [this] {
        const work::LightDesk mix = m_lightDesk->mix();
        m_session.edit(tr("Light desk").toStdString(), [&](work::Work& w) { work::useDesk(w, mix); });
        showMessage(m_kept->isOpen() ? tr("The work's lights are as they are mixed here") : QString());
    });
    connect(m_lightDesk, &LightDeskView::saveWanted, this, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, tr("Save the picture"), m_finals->suggestedPath(), tr("Stills (*.png *.exr)"));
        if (!path.isEmpty())
            m_kept->save(path, m_lightDesk->mix());
    });
    connect(m_lightDesk, &LightDeskView::closeWanted, m_kept, &KeptPicture::close);
    connect(m_kept, &KeptPicture::say, this, &MainWindow::showMessage);
    connect(m_kept, &KeptPicture::opened, this, [this] {
        const session::KeptLight& light = m_kept->light();
        m_lightDesk->showWork(light.work(), true, QFileInfo(QString::fromStdString(light.settings().out)).fileName());
        m_state->desk->setChecked(true);
        m_message->raise();
    });
    connect(m_kept, &KeptPicture::closed, this, [this] { m_lightDesk->showWork(m_session.work(), false, {}); });
    connect(m_finals, &FinalsDesk::deskWanted, this, [this](const QString& folder) {
        for (const FinalsDesk::Entry& e : m_finals->entries())
            if (QString::fromStdString(e.final.folder) == folder)
                m_kept->open(e.final);
    });
    connect(m_finals, &FinalsDesk::keptWanted, this, [this](const QString& asset) {
        if (const auto kept = m_session.work().assets.find(asset.toStdString()); kept != m_session.work().assets.end())
            m_kept->open(kept->second.bytes, asset);
    });
}

void MainWindow::showOnBench(Bench what)
{
    const QSignalBlocker quietSide(m_state->bench), quietDesk(m_state->desk);
    m_state->bench->setChecked(what == Bench::Side);
    m_state->desk->setChecked(what == Bench::Lights);
    m_side->setVisible(what == Bench::Side);
    m_lightDesk->setVisible(what == Bench::Lights);
    m_bench->setVisible(what != Bench::Nothing);
    if (what != Bench::Lights && m_kept->isOpen())
        m_kept->close();
    // The mix is heard only while the desk is there.
    if (m_lightDesk->isMoved() && !m_kept->isOpen())
        restart();
    Q_EMIT benchChanged();
}

void MainWindow::showGathered(bool shown)
{
    if (m_gathered == shown)
        return;
    m_gathered = shown;
    restart();
}

}  // namespace app
