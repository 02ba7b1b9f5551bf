#include "files/artwork.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cstring>
#include <filesystem>

#include "base/file.h"

extern char** environ;

namespace files {

namespace {

using Clock = std::chrono::steady_clock;
#ifdef OPEN_GLOW_CHECKED
constexpr auto kMostTime = std::chrono::seconds(40);  // sanitizers are slow
#else
constexpr auto kMostTime = std::chrono::seconds(10);
#endif
constexpr std::uint64_t kMostFile = 64u << 20;  // bytes
constexpr std::size_t kMostOutput = std::size_t{256} << 20, kMostWords = 4096;

struct Pipe {
    int ends[2] = {-1, -1};

    Pipe() { (void)!pipe2(ends, O_CLOEXEC); }
    ~Pipe()
    {
        close(0);
        close(1);
    }
    void close(int end)
    {
        if (ends[end] >= 0)
            ::close(ends[end]);
        ends[end] = -1;
    }
};

// A child that does not outlive this.
class Reader {
public:
    Reader(const std::string& program, const std::vector<std::string>& arguments)
    {
        posix_spawn_file_actions_t actions;
        posix_spawn_file_actions_init(&actions);
        posix_spawn_file_actions_adddup2(&actions, in.ends[0], 0);
        posix_spawn_file_actions_adddup2(&actions, out.ends[1], 1);
        posix_spawn_file_actions_adddup2(&actions, words.ends[1], 2);
        std::vector<char*> argv{const_cast<char*>(program.c_str())};
        for (const std::string& a : arguments)
            argv.push_back(const_cast<char*>(a.c_str()));
        argv.push_back(nullptr);
        if (posix_spawn(&m_pid, program.c_str(), &actions, nullptr, argv.data(), environ) != 0)
            m_pid = -1;
        posix_spawn_file_actions_destroy(&actions);
        in.close(0);
        out.close(1);
        words.close(1);
    }
    ~Reader()
    {
        if (m_pid > 0) {
            kill(m_pid, SIGKILL);
            wait();
        }
    }
    bool began() const { return m_pid > 0; }
    int wait()
    {
        int status = 0;
        while (waitpid(m_pid, &status, 0) < 0 && errno == EINTR)
            ;
        m_pid = -1;
        return status;
    }

    Pipe in, out, words;

private:
    pid_t m_pid = -1;
};

// Bytes in, text and words out, as each can take them.
enum class Exchange { Done, Stopped, TooLong, TooMuch };
Exchange exchange(Reader& reader, const outline::Bytes& bytes, std::string& text, std::string& words, const base::Progress& progress)
{
    const auto end = Clock::now() + kMostTime;
    std::size_t sent = 0;
    fcntl(reader.in.ends[1], F_SETFL, O_NONBLOCK);
    std::array<char, 1 << 16> part;
    while (reader.out.ends[0] >= 0 || reader.words.ends[0] >= 0) {
        if (progress.stopRequested())
            return Exchange::Stopped;
        if (Clock::now() > end)
            return Exchange::TooLong;
        if (sent == bytes.size())
            reader.in.close(1);
        pollfd waits[3] = {{reader.in.ends[1], POLLOUT, 0}, {reader.out.ends[0], POLLIN, 0}, {reader.words.ends[0], POLLIN, 0}};
        if (poll(waits, 3, 50) <= 0)
            continue;
        if (waits[0].revents) {
            const ssize_t wrote = write(reader.in.ends[1], bytes.data() + sent, bytes.size() - sent);
            if (wrote > 0)
                sent += static_cast<std::size_t>(wrote);
            else if (errno != EAGAIN)
                reader.in.close(1);  // it wants no more
        }
        const auto take = [&](Pipe& pipe, short events, std::string& into, std::size_t most) {
            if (!events)
                return true;
            const ssize_t got = read(pipe.ends[0], part.data(), part.size());
            if (got <= 0)
                pipe.close(0);
            else if (into.size() < most)
                into.append(part.data(), static_cast<std::size_t>(got));
            return into.size() < most;
        };
        if (!take(reader.out, waits[1].revents, text, kMostOutput))
            return Exchange::TooMuch;
        take(reader.words, waits[2].revents, words, kMostWords);
    }
    return Exchange::Done;
}

// A write to a reader that has ended is told by its result.
class WithoutSigpipe {
public:
    WithoutSigpipe()
    {
        sigset_t set;
        sigemptyset(&set);
        sigaddset(&set, SIGPIPE);
        pthread_sigmask(SIG_BLOCK, &set, &m_before);
    }
    ~WithoutSigpipe()
    {
        sigset_t pipe;
        sigemptyset(&pipe);
        sigaddset(&pipe, SIGPIPE);
        const timespec now{0, 0};
        while (sigtimedwait(&pipe, nullptr, &now) > 0)
            ;
        pthread_sigmask(SIG_SETMASK, &m_before, nullptr);
    }

private:
    sigset_t m_before;
};

}  // namespace

std::optional<ArtworkKind> artworkKindOf(const outline::Bytes& bytes)
{
    const std::string_view begin(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(bytes.size(), 4096));
    if (begin.substr(0, 1024).find("%PDF-") != std::string_view::npos)
        return ArtworkKind::Pdf;
    if (begin.starts_with("\x1f\x8b") || begin.find("<svg") != std::string_view::npos || begin.find(":svg") != std::string_view::npos)
        return ArtworkKind::Svg;  // packed or plain
    using namespace std::string_view_literals;
    for (const std::string_view magic : {"\x89PNG\r\n"sv, "\xff\xd8\xff"sv, "II*\0"sv, "MM\0*"sv})
        if (begin.starts_with(magic))
            return ArtworkKind::Picture;
    return std::nullopt;
}

std::string readerPath()
{
    if (const char* set = std::getenv("OPEN_GLOW_READER"))
        return set;
    std::error_code error;
    const std::filesystem::path own = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    for (const std::filesystem::path& place : {own, own / "../libexec", own / "../src"})
        if (access((place / "open-glow-reader").c_str(), X_OK) == 0)
            return (place / "open-glow-reader").string();
    return {};
}

base::Result<work::ArtworkFile> readArtworkFile(const std::string& path, int page, const base::Progress& progress)
{
    auto bytes = base::readFile(path, kMostFile);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    auto file = artworkFromBytes(std::make_shared<const outline::Bytes>(std::move(*bytes)), path, page, progress);
    if (file) {
        file->name = std::filesystem::path(path).filename().string();
        file->path = path;
    }
    return file;
}

namespace {

// What the reader makes of the bytes.
base::Result<std::string> readBy(ArtworkKind kind, const outline::Bytes& bytes, int page, const std::string& name,
                                 const base::Progress& progress)
{
    const std::string program = readerPath();
    if (program.empty())
        return base::fail(base::ErrorCode::CannotRead, "open-glow-reader is missing; install Open Glow again", name);
    const WithoutSigpipe quiet;
    Reader reader(program, kind == ArtworkKind::Pdf       ? std::vector<std::string>{"pdf", std::to_string(page)}
                           : kind == ArtworkKind::Picture ? std::vector<std::string>{"picture"}
                                                          : std::vector<std::string>{"svg"});
    if (!reader.began())
        return base::fail(base::ErrorCode::CannotRead, fmt::format("{} cannot be started", program), name);
    std::string text, words;
    switch (exchange(reader, bytes, text, words, progress)) {
    case Exchange::Stopped:
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    case Exchange::TooLong:
        return base::fail(base::ErrorCode::TooLarge, "The artwork takes more than 10 s to read; simplify it", name);
    case Exchange::TooMuch:
        return base::fail(base::ErrorCode::TooLarge, "The artwork has more outlines than can be read; simplify it", name);
    case Exchange::Done:
        break;
    }
    const int status = reader.wait();
    while (!words.empty() && words.back() == '\n')
        words.pop_back();
    if (WIFSIGNALED(status))
        return base::fail(
            base::ErrorCode::TooLarge,
            WTERMSIG(status) == SIGXCPU || WTERMSIG(status) == SIGKILL
                ? "The artwork takes more than 5 s to read; simplify it"
                : "The artwork cannot be read: its reader broke down, which harmed nothing; save it anew in the program it comes from",
            name);
    if (WEXITSTATUS(status) != 0)
        return base::fail(base::ErrorCode::BadInput, words.empty() ? "The artwork cannot be read" : words, name);
    return text;
}

base::Result<work::ArtworkFile> readWhole(outline::SharedBytes bytes, int page, const std::string& name, const base::Progress& progress)
{
    const auto kind = artworkKindOf(*bytes);
    if (!kind)
        return base::fail(base::ErrorCode::BadInput, "This is no SVG, PDF, PNG, JPEG or TIFF", name);
    const auto text = readBy(*kind, *bytes, page, name, progress);
    if (!text)
        return tl::unexpected<base::Error>(text.error());
    work::ArtworkFile file{name, {}, std::move(bytes), page, {}, {}, {}};
    if (*kind == ArtworkKind::Picture) {
        auto greys = outline::greysFromPgm(*text, name);
        if (!greys)
            return tl::unexpected<base::Error>(greys.error());
        file.trace.threshold = outline::usualThreshold(*greys);
        file.trace.specks = std::max(file.trace.specks, static_cast<int>(greys->values.size() / 100000));
        file.drawing = outline::traced(*greys, file.trace);
        file.greys = std::make_shared<const outline::Bytes>(text->begin(), text->end());
    } else {
        auto drawing = outline::drawingFromSvg(*text, name);
        if (!drawing)
            return tl::unexpected<base::Error>(drawing.error());
        file.drawing = std::move(*drawing);
    }
    return file;
}

}  // namespace

base::Result<outline::Drawing> readArtwork(outline::SharedBytes bytes, int page, const std::string& name, const base::Progress& progress)
{
    return readWhole(std::move(bytes), page, name, progress).map([](work::ArtworkFile file) { return std::move(file.drawing); });
}

base::Result<work::ArtworkFile> artworkFromBytes(outline::SharedBytes bytes, const std::string& name, int page,
                                                 const base::Progress& progress)
{
    auto file = readWhole(std::move(bytes), page, name, progress);
    if (file && file->drawing.shapes.empty()) {
        const auto& notes = file->drawing.notes;
        return base::fail(base::ErrorCode::BadInput,
                          notes.empty() ? "The artwork shows nothing" : "The artwork shows nothing: " + notes.front().message, name);
    }
    return file;
}

}  // namespace files
