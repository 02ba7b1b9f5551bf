// What is made from a description once, and shared as long as somebody keeps it.
#pragma once

#include <memory>
#include <mutex>
#include <utility>
#include <vector>

namespace base {

// Made(const Description&) makes one. From any thread; while one is made, others wait.
template <class Made, class Description>
class Shared {
public:
    std::shared_ptr<const Made> of(const Description& description)
    {
        const std::lock_guard lock(m_mutex);
        std::erase_if(m_known, [](const auto& one) { return one.second.expired(); });
        for (const auto& [known, one] : m_known)
            if (known == description)
                if (auto made = one.lock())
                    return made;
        auto made = std::make_shared<const Made>(description);
        m_known.emplace_back(description, made);
        return made;
    }

private:
    std::mutex m_mutex;
    std::vector<std::pair<Description, std::weak_ptr<const Made>>> m_known;
};

}  // namespace base
