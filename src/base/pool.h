// Things that are costly to make and that one call at a time uses: as many as are in use at once are made, and used again.
#pragma once

#include <functional>
#include <memory>
#include <mutex>
#include <vector>

namespace base {

template <class T>
class Pool {
public:
    explicit Pool(std::function<std::unique_ptr<T>()> make) : m_make(std::move(make)) {}

    class GiveBack {
    public:
        explicit GiveBack(Pool* to) : m_to(to) {}
        void operator()(T* thing) const
        {
            const std::lock_guard lock(m_to->m_mutex);
            m_to->m_free.emplace_back(thing);
        }

    private:
        Pool* m_to;
    };
    // Goes back when the pointer ends, which must be before the pool does. From any thread.
    std::unique_ptr<T, GiveBack> take()
    {
        std::unique_ptr<T> thing;
        {
            const std::lock_guard lock(m_mutex);
            if (!m_free.empty()) {
                thing = std::move(m_free.back());
                m_free.pop_back();
            }
        }
        return {thing ? thing.release() : m_make().release(), GiveBack(this)};
    }

private:
    const std::function<std::unique_ptr<T>()> m_make;
    std::mutex m_mutex;
    std::vector<std::unique_ptr<T>> m_free;
};

}  // namespace base
