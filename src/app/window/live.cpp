// The window's live picture: what is asked of the queue, and what comes back.
#include <QLabel>
#include <QToolButton>

#include "app/drawer/light_desk_view.h"
#include "app/picture/raster_image.h"
#include "app/picture/side_view.h"
#include "app/ticket/pieces_list.h"
#include "app/window/kept_picture.h"
#include "app/window/main_window.h"
#include "app/window/state_line.h"
#include "work/scene.h"

namespace app {

void MainWindow::setLiveStop(const render::StopRule& stop)
{
    m_liveStop = stop;
    restart();
}

namespace {

bool isIn(const film::Film::Rect& part, const film::Film::Rect& of)
{
    return part.x0 >= of.x0 && part.y0 >= of.y0 && part.x1 <= of.x1 && part.y1 <= of.y1;
}

}  // namespace

bool MainWindow::isSettled() const
{
    return m_settled;
}

void MainWindow::restart()
{
    if (!isVisible())
        return;
    session::LiveRequest request;
    request.work = m_session.work();
    const QSize size = m_picture->wholeSize();
    request.widthPx = size.width();
    request.heightPx = size.height();
    request.part = m_picture->wantedPart();
    request.stop = m_liveStop.value_or(m_state->stopRule());
    request.marksClipped = m_picture->showsClipped();
    request.drawsLines = m_picture->showsLines();
    request.denoise = m_reducesNoise ? denoise::Mode::Full : denoise::Mode::Off;
    request.asGathered = m_gathered;
    if (m_withoutLayers)
        request.work.finish.layers = {};
    if (m_lightDesk->isVisible() && !m_kept->isOpen())
        request.desk = m_lightDesk->mix();
    // What was rendered round the part serves while the paper slides, and when it is only mixed or finished in another way.
    if (m_asked.part && request.part && !m_picture->hasPart() && isIn(*request.part, *m_asked.part)) {
        const film::Film::Rect wanted = *request.part;
        request.part = m_asked.part;
        if (m_settled && request == m_asked) {
            m_rests.start();
            return;
        }
        if (request.widthPx != m_asked.widthPx || request.heightPx != m_asked.heightPx ||
            work::reworkBetween(m_asked.work, request.work) > work::Rework::Mix)
            request.part = wanted;
    }
    m_settled = false;
    m_askedAround.reset();
    m_rests.stop();
    m_asked = request;
    m_job = m_queue.live(std::move(request));
    showState();
}

// When a zoomed picture is clean, what lies round the part that is seen is rendered too, for when the paper slides.
void MainWindow::renderAround()
{
    const std::optional<film::Film::Rect> seen = m_picture->wantedPart();
    if (!m_settled || !seen || m_picture->hasPart() || m_state->hold->isChecked() || m_last.error || m_last.waits || m_gathered)
        return;
    const int across = (seen->x1 - seen->x0) / 2, down = (seen->y1 - seen->y0) / 2;
    const QSize whole = m_picture->wholeSize();
    const auto grown = [&](int share) {
        return film::Film::Rect{std::max(0, seen->x0 - across / share), std::max(0, seen->y0 - down / share),
                                std::min(whole.width(), seen->x1 + across / share), std::min(whole.height(), seen->y1 + down / share)};
    };
    if (m_asked.part && isIn(grown(2), *m_asked.part))
        return;
    m_askedAround = m_asked;
    m_askedAround->part = grown(1);
    m_askedAround->quiet = true;
    m_aroundJob = m_queue.live(*m_askedAround);
}

void MainWindow::take(const session::LiveFrame& frame)
{
    // A frame of an older job is still the newest picture there is while a drag goes on; the state line says so.
    if (frame.job < m_last.job)
        return;
    m_last = frame;
    if (m_askedAround && frame.job == m_aroundJob) {
        m_job = frame.job;
        m_asked = *m_askedAround;
        m_asked.quiet = false;
        m_askedAround.reset();
    }
    if (!frame.error) {
        m_picture->show(frame);
        m_side->show(frame.shownWork);
        m_lightDesk->show(frame.shownWork);
        m_ticket->showNotices(frame.notes);
        // Once it has come out of the coarse, and again when it is done.
        const bool whole = frame.place.x1 - frame.place.x0 == frame.widthPx && frame.place.y1 - frame.place.y0 == frame.heightPx;
        if (whole && !frame.draft && (frame.finished || m_pictured != frame.job)) {
            m_pictured = frame.job;
            m_ticket->pieces()->showPictures(frame);
        }
    }
    showState();
    const bool held = m_state->hold->isChecked();
    if (frame.job == m_job && (frame.finished || frame.waits || (held && frame.draft))) {
        m_settled = true;
        m_rests.start();
        Q_EMIT settled();
    }
}

void MainWindow::showState()
{
    session::LiveFrame frame = m_last;
    if (!frame.picture)
        frame.picture = m_picture->frame().picture;
    m_state->show(frame, m_last.job == m_job, m_state->hold->isChecked(), m_picture->hasPart());
}

void MainWindow::setPartOnly(bool on)
{
    if (on) {
        showMessage(tr("Drag a frame in the picture. Escape leaves it."));
        m_picture->choosePart();
    } else {
        m_picture->callOff();
        m_picture->setPart({});
    }
}

std::optional<picture::Raster<std::uint8_t>> MainWindow::preview() const
{
    const QImage& shown = m_picture->image();
    if (shown.isNull())
        return std::nullopt;
    return rasterOf(shown.scaled(512, 512, Qt::KeepAspectRatio, Qt::SmoothTransformation));
}

}  // namespace app
