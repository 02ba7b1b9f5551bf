#include "cli/terminal.h"

#include <fmt/format.h>
#include <unistd.h>

#include <charconv>
#include <csignal>
#include <cstdio>

namespace cli {

namespace {

std::stop_source s_stop;
volatile std::sig_atomic_t s_asked = 0;

void onSignal(int)
{
    // The only things a handler may do here; request_stop() on a source without callbacks is one atomic store.
    if (s_asked)
        _exit(kStopped);
    s_asked = 1;
    s_stop.request_stop();
    constexpr char kText[] = "open-glow-cli: stopping; what is there is kept. Again: at once\n";
    if (isatty(STDERR_FILENO) && ::write(STDERR_FILENO, kText, sizeof kText - 1) < 0)
        s_asked = 1;
}

std::string spoken(double seconds)
{
    const int s = static_cast<int>(seconds + 0.5);
    return s < 60 ? fmt::format("{} s", s) : fmt::format("{} min {} s", s / 60, s % 60);
}

void printError(const std::string& line)
{
    std::fprintf(stderr, "open-glow-cli: %s\n", line.c_str());  // a full standard error stops nothing
}

}  // namespace

std::stop_token stopOnSignals()
{
    struct sigaction action {};
    action.sa_handler = onSignal;
    sigaction(SIGINT, &action, nullptr);
    sigaction(SIGTERM, &action, nullptr);
    return s_stop.get_token();
}

int report(const base::Error& error, const std::string& file)
{
    base::Error shown = error;
    if (!file.empty() && shown.place.find(file) == std::string::npos)
        shown.place = shown.place.empty() ? file : file + ", " + shown.place;
    std::string line = base::oneLine(shown);
    for (char& c : line)
        if (c == '\n')
            c = ' ';
    printError(line);
    switch (error.code) {
    case base::ErrorCode::BadUsage:
        return kUsage;
    case base::ErrorCode::Stopped:
        return kStopped;
    default:
        return kFault;
    }
}

int wrongUsage(const std::string& message)
{
    return report({base::ErrorCode::BadUsage, message, {}});
}

void printNotes(const base::Notes& notes)
{
    for (const base::Note& n : notes)
        printError("note: " + (n.place.empty() ? "" : n.place + ": ") + n.message);
}

int printOut(const std::string& text)
{
    if (std::fwrite(text.data(), 1, text.size(), stdout) == text.size() && std::fflush(stdout) == 0)
        return kDone;
    return report({base::ErrorCode::CannotWrite, "The answer cannot be written; is the disk full?", "standard output"});
}

std::optional<std::vector<int>> wholeNumbers(const std::string& text, char separator, std::size_t count)
{
    std::vector<int> numbers;
    const char* at = text.data();
    const char* const end = at + text.size();
    while (at < end) {
        int value = 0;
        const auto [next, error] = std::from_chars(at, end, value);
        if (error != std::errc{} || (next != end && *next != separator))
            return std::nullopt;
        numbers.push_back(value);
        at = next == end ? end : next + 1;
    }
    if (numbers.size() != count)
        return std::nullopt;
    return numbers;
}

ProgressLine::ProgressLine(bool shown) : m_shown(shown && isatty(STDERR_FILENO)) {}

ProgressLine::~ProgressLine()
{
    if (m_shown && m_percent >= 0)
        std::fprintf(stderr, "\r\x1b[K");
}

void ProgressLine::set(double fraction)
{
    const int percent = static_cast<int>(fraction * 100);
    if (m_shown && m_percent.exchange(percent) != percent)
        print();
}

void ProgressLine::round(const render::RoundStatus& status)
{
    m_text = fmt::format("{:.0f} samples", status.samples);
    if (status.noise >= 0)
        m_text += fmt::format(", noise {:.2f}/255", status.noise);
    if (status.secondsLeft >= 0)
        m_text += fmt::format(", {} left", spoken(status.secondsLeft));
    if (m_shown)
        print();
}

void ProgressLine::print()
{
    const std::lock_guard lock(m_mutex);
    std::fprintf(stderr, "\r\x1b[K%d %% %s", m_percent.load(), m_text.c_str());
}

}  // namespace cli
