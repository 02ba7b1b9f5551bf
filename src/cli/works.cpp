#include "cli/works.h"

#include <fmt/format.h>

#include "cli/terminal.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "work/artwork.h"
#include "work/fit.h"

namespace cli {

base::Result<work::Work> changedBy(base::Result<work::Work> work, const std::vector<std::string>& settings)
{
    work::Cache fonts;
    for (const std::string& setting : settings) {
        if (!work)
            return work;
        const std::size_t equals = setting.find('=');
        if (equals == std::string::npos || setting.empty() || setting[0] != '/')
            return base::fail(base::ErrorCode::BadUsage, fmt::format("--set takes /json/pointer=value, not \"{}\"", setting));
        auto changed = files::withValueAt(*work, setting.substr(0, equals), setting.substr(equals + 1));
        if (!changed) {
            base::Error error = changed.error();
            error.place = "--set " + (error.place.empty() ? setting : error.place);
            return tl::unexpected<base::Error>(error);
        }
        work::keepTraced(*work, *changed);
        work::keepFitted(*work, *changed, fonts);
        work = std::move(changed);
    }
    return work;
}

base::Result<work::Work> openWith(const std::string& path, const std::vector<std::string>& settings)
{
    base::Notes mended;
    auto work = files::openWork(path, &mended);
    printNotes(mended);
    return changedBy(std::move(work), settings);
}

}  // namespace cli
