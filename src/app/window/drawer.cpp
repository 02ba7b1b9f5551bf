// What stands beside, under and over the picture: the drawer with the light desk, the sample book, proofs.
#include <QFileDialog>
#include <QFileInfo>
#include <QToolButton>

#include "app/drawer/casting_table.h"
#include "app/drawer/light_desk_view.h"
#include "app/drawer/profile_view.h"
#include "app/drawer/sample_book.h"
#include "app/drawer/sky_charts.h"
#include "app/motion.h"
#include "app/picture/side_view.h"
#include "app/style.h"
#include "app/ticket/ticket.h"
#include "app/window/kept_picture.h"
#include "app/window/main_window.h"
#include "app/window/proof_sheet.h"
#include "app/window/state_line.h"

namespace app {

void MainWindow::connectDesk()
{
    connect(m_state->drawer, &QToolButton::toggled, this, [this](bool on) { showInDrawer(on ? Drawer::Side : Drawer::Nothing); });
    connect(m_state->desk, &QToolButton::toggled, this, [this](bool on) { showInDrawer(on ? Drawer::Lights : Drawer::Nothing); });
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
    connect(m_sky, &SkyCharts::closeWanted, this, [this] { showInDrawer(Drawer::Nothing); });
    connect(m_casting, &CastingTable::closeWanted, this, [this] { showInDrawer(Drawer::Nothing); });
    connect(m_profile, &ProfileView::closeWanted, this, [this] { showInDrawer(Drawer::Nothing); });
    connect(m_book, &SampleBook::closeWanted, this, [this] { showBook(false); });
    connect(m_lightDesk, &LightDeskView::closeWanted, m_kept, &KeptPicture::close);
    connect(m_kept, &KeptPicture::say, this, [this](const QString& sentence) { showMessage(sentence); });
    connect(m_kept, &KeptPicture::opened, this, [this] {
        const session::KeptLight& light = m_kept->light();
        m_lightDesk->showWork(light.work(), true, QFileInfo(QString::fromStdString(light.settings().out)).fileName());
        m_state->desk->setChecked(true);
        m_message->raise();
    });
    connect(m_kept, &KeptPicture::closed, this, [this] { m_lightDesk->showWork(m_session.work(), false, {}); });
    connect(m_finals, &Finals::deskWanted, this, [this](const QString& folder) {
        for (const Finals::Entry& e : m_finals->entries())
            if (QString::fromStdString(e.final.folder) == folder)
                m_kept->open(e.final);
    });
    connect(m_finals, &Finals::keptWanted, this, [this](const QString& asset) {
        if (const auto kept = m_session.work().assets.find(asset.toStdString()); kept != m_session.work().assets.end())
            m_kept->open(kept->second.bytes, asset);
    });
}

void MainWindow::showInDrawer(Drawer what)
{
    const QSignalBlocker quietSide(m_state->drawer), quietDesk(m_state->desk);
    m_state->drawer->setChecked(what == Drawer::Side);
    m_state->desk->setChecked(what == Drawer::Lights);
    m_side->setVisible(what == Drawer::Side);
    m_lightDesk->setVisible(what == Drawer::Lights);
    m_profile->setVisible(what == Drawer::Profile);
    m_sky->setVisible(what == Drawer::Sky);
    m_casting->setVisible(what == Drawer::Casting);
    m_drawer->setVisible(what != Drawer::Nothing);
    fadeIn(m_drawer);
    if (what != Drawer::Lights && m_kept->isOpen())
        m_kept->close();
    // The mix is heard only while the desk is there.
    if (m_lightDesk->isMoved() && !m_kept->isOpen())
        restart();
    Q_EMIT drawerChanged();
}

void MainWindow::showBook(bool open)
{
    if (m_book->isVisible() == open)
        return;
    if (open && minimumSizeHint().width() + m_book->minimumSizeHint().width() + kGrid > width())
        m_ticket->setFolded(true);  // large text in a small window
    if (!open)
        leave(m_book);
    m_book->setVisible(open);
    fadeIn(m_book);
    if (open)
        m_book->setFocus();
    Q_EMIT bookChanged(open);
}

void MainWindow::connectProofs()
{
    connect(m_state->proofs, &QToolButton::toggled, this, [this](bool on) {
        if (on)
            m_proofs->open();
        else
            m_proofs->hide();
    });
    connect(this, &MainWindow::settled, m_proofs, &ProofSheet::showNow);
    connect(m_proofs, &ProofSheet::shown, this, [this](bool open) {
        const QSignalBlocker quiet(m_state->proofs);
        m_state->proofs->setChecked(open);
        m_message->raise();
    });
}

QImage MainWindow::currentPicture() const
{
    if (!m_picture || !m_lightDesk)
        return {};
    const session::LiveFrame& frame = m_picture->frame();
    const bool whole = frame.picture && frame.picture->width == frame.widthPx && frame.picture->height == frame.heightPx;
    const bool asTheWorkIs = !m_gathered && !m_withoutLayers && !m_lightDesk->isMoved();
    if (!whole || frame.draft || !asTheWorkIs)
        return {};
    // What its files shall be and the proofs that it keeps change nothing of what is seen.
    const auto looksTheSame = [&] {
        work::Work now = m_session.work();
        const work::Work& was = frame.shownWork->work;
        if (now.shown != was.shown)
            return false;
        now.shownSheet().outputs = was.shownSheet().outputs;
        now.shownSheet().shownOutput = was.shownSheet().shownOutput;
        now.credits = was.credits;
        now.proofs = was.proofs;
        now.assets = was.assets;
        return now == was;
    };
    return frame.job == m_job || looksTheSame() ? m_picture->image() : QImage();
}

void MainWindow::showGathered(bool shown)
{
    if (m_gathered == shown)
        return;
    m_gathered = shown;
    restart();
}

}  // namespace app
