#include "files/reader_process.h"

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

extern char** environ;

namespace files {

namespace {

using Clock = std::chrono::steady_clock;
#ifdef OPEN_GLOW_CHECKED
constexpr int kPatience = 4;  // sanitizers are slow
#else
constexpr int kPatience = 1;
#endif
constexpr std::size_t kMostWords = 4096;

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
Exchange exchange(Reader& reader, const outline::Bytes& bytes, const ReaderLimits& limits, std::string& text, std::string& words,
                  const base::Progress& progress)
{
    const auto end = Clock::now() + std::chrono::seconds(limits.seconds * kPatience);
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
        if (!take(reader.out, waits[1].revents, text, limits.mostOut))
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

std::string readerPath(const std::string& program)
{
    if (const char* set = std::getenv("OPEN_GLOW_READER"))
        return program == kArtworkReader ? std::string(set) : (std::filesystem::path(set).parent_path() / program).string();
    std::error_code error;
    const std::filesystem::path own = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    for (const std::filesystem::path& place : {own, own / "../libexec", own / "../src"})
        if (access((place / program).c_str(), X_OK) == 0)
            return (place / program).string();
    return {};
}

base::Result<std::string> readByProcess(const std::string& reads, const std::vector<std::string>& arguments, const outline::Bytes& bytes,
                                        const ReaderLimits& limits, const std::string& name, const base::Progress& progress)
{
    const std::string program = readerPath(reads);
    if (program.empty())
        return base::fail(base::ErrorCode::CannotRead, reads + " is missing; install Open Glow again", name);
    const WithoutSigpipe quiet;
    Reader reader(program, arguments);
    if (!reader.began())
        return base::fail(base::ErrorCode::CannotRead, fmt::format("{} cannot be started", program), name);
    std::string text, words;
    switch (exchange(reader, bytes, limits, text, words, progress)) {
    case Exchange::Stopped:
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    case Exchange::TooLong:
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("The {} takes more than {} s to read; simplify it", limits.what, limits.seconds), name);
    case Exchange::TooMuch:
        return base::fail(base::ErrorCode::TooLarge, fmt::format("The {} has more in it than can be read; simplify it", limits.what), name);
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
                ? fmt::format("The {} takes more than {} s to read; simplify it", limits.what, limits.cpu)
                : fmt::format(
                      "The {} cannot be read: its reader broke down, which harmed nothing; save it anew in the program it comes from",
                      limits.what),
            name);
    if (WEXITSTATUS(status) != 0)
        return base::fail(base::ErrorCode::BadInput, words.empty() ? fmt::format("The {} cannot be read", limits.what) : words, name);
    return text;
}

}  // namespace files
