#include "base/mapped_file.h"

#include <fmt/format.h>
#include <sys/mman.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <mutex>

namespace base {

// Handles SIGBUS in mapped files; others go where they went before.
struct FaultGuard {
    static constexpr std::size_t kMost = 64;  // files mapped at once that are guarded
    static inline std::array<std::atomic<MappedFile*>, kMost> s_files{};
    static inline struct sigaction s_before {
    };

    static void onFault(int signal, siginfo_t* info, void* context)
    {
        const auto at = reinterpret_cast<std::uint8_t*>(info->si_addr);
        for (const auto& slot : s_files)
            if (MappedFile* file = slot.load(); file && at >= file->m_data && at < file->m_data + file->m_size) {
                // Only calls that are allowed in a handler: zeros take the page's place, and the access is tried again.
                const auto page = reinterpret_cast<std::uintptr_t>(at) & ~static_cast<std::uintptr_t>(4095);
                if (mmap(reinterpret_cast<void*>(page), 4096, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS | MAP_FIXED, -1, 0) !=
                    MAP_FAILED) {
                    file->m_lost = true;
                    return;
                }
            }
        if (s_before.sa_flags & SA_SIGINFO) {
            s_before.sa_sigaction(signal, info, context);
        } else {
            ::signal(SIGBUS, SIG_DFL);  // the access is tried again and ends the program
        }
    }

    static void add(MappedFile* file)
    {
        static std::once_flag s_once;
        std::call_once(s_once, [] {
            struct sigaction action {};
            action.sa_sigaction = onFault;
            action.sa_flags = SA_SIGINFO;
            sigaction(SIGBUS, &action, &s_before);
        });
        for (auto& slot : s_files)
            if (MappedFile* none = nullptr; slot.compare_exchange_strong(none, file))
                return;
    }
    static void remove(MappedFile* file)
    {
        for (auto& slot : s_files)
            if (MappedFile* own = file; slot.compare_exchange_strong(own, nullptr))
                return;
    }
};

MappedFile::MappedFile(void* data, std::uint64_t size, bool isFile)
    : m_data(static_cast<std::uint8_t*>(data)), m_size(size), m_isFile(isFile)
{
    if (m_isFile)
        FaultGuard::add(this);
}

MappedFile::~MappedFile()
{
    if (m_isFile)
        FaultGuard::remove(this);
    munmap(m_data, m_size);
}

Result<std::unique_ptr<MappedFile>> MappedFile::map(int file, std::uint64_t bytes, bool writable)
{
    void* data = mmap(nullptr, bytes, writable ? PROT_READ | PROT_WRITE : PROT_READ, MAP_SHARED, file, 0);
    if (data == MAP_FAILED)
        return fail(ErrorCode::CannotRead, std::strerror(errno));
    return std::unique_ptr<MappedFile>(new MappedFile(data, bytes, true));
}

Result<std::unique_ptr<MappedFile>> MappedFile::inMemory(std::uint64_t bytes)
{
    void* data = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (data == MAP_FAILED)
        return fail(ErrorCode::TooLarge, fmt::format("{:.1f} GB of memory are not there", static_cast<double>(bytes) / 1e9));
    return std::unique_ptr<MappedFile>(new MappedFile(data, bytes, false));
}

}  // namespace base
