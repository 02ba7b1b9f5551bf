// Work files: the archive, and its JSON alone. What opens is saved and opens again as it was.
#include <cstdlib>

#include "files/work_file.h"
#include "files/work_json.h"
#include "fuzz/target.h"
#include "work/values.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    base::Notes notes;
    (void)files::workFromBytes({data, data + size}, "fuzz.openglow", &notes);
    const auto work = files::fromJson(std::string(reinterpret_cast<const char*>(data), size), &notes);
    if (!work)
        return 0;
    const auto again = files::fromJson(files::toJson(*work));
    if (!again || !(*again == *work))
        std::abort();
    work::Work inRange = *work;
    work::clamp(inRange);
    if (!(inRange == *work))  // what is read is in range
        std::abort();
    return 0;
}
