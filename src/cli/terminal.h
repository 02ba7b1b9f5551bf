// What all commands share: signals, messages, progress.
#pragma once

#include <atomic>
#include <mutex>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "cli/commands.h"
#include "render/render.h"

namespace cli {

// From now on Ctrl+C (SIGINT, SIGTERM) asks for a stop; a second one ends the program at once.
std::stop_token stopOnSignals();

// One line on standard error; returns the exit status. `file`: said when the error does not name it.
int report(const base::Error& error, const std::string& file = {});
int wrongUsage(const std::string& message);
void printNotes(const base::Notes& notes);

// Onto standard output; the exit status when that cannot be written.
int printOut(const std::string& text);

// Whole numbers between separators: "1920x1080", "0,0,100,50".
std::optional<std::vector<int>> wholeNumbers(const std::string& text, char separator, std::size_t count);

// Progress on stderr, only when somebody looks.
class ProgressLine {
public:
    explicit ProgressLine(bool shown);
    ~ProgressLine();
    void set(double fraction);
    void round(const render::RoundStatus& status);

private:
    void print();
    bool m_shown;
    std::atomic<int> m_percent{-1};
    std::string m_text;
    std::mutex m_mutex;
};

}  // namespace cli
