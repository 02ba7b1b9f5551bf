#include "cli/works.h"

#include <fmt/format.h>

#include <algorithm>

#include "cli/terminal.h"
#include "files/panorama_file.h"
#include "files/texture_file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "work/artwork.h"
#include "work/fit.h"
#include "work/pictures.h"
#include "work/values.h"

namespace cli {

namespace {

// A material's picture, or that of the surroundings, may be named as a file: it goes into the work, and what names it there is the value.
base::Result<std::string> valueFor(work::Work& work, const std::string& pointer, const std::string& value)
{
    if (pointer == "/surroundings/picture" && !value.empty() && !work.assets.contains(value)) {
        const auto file = files::readPanoramaFile(value, nullptr, {});
        if (!file)
            return base::failed(file);
        return work::addPanorama(work, *file);
    }
    constexpr std::string_view kParent = "/pictures/";
    const std::size_t at = pointer.rfind(kParent);
    const std::string role = at == std::string::npos ? std::string() : pointer.substr(at + kParent.size());
    work::Pictures pictures;
    const auto values = work::valuesIn(pictures);
    const bool isRole = pointer == "/ground/backdropPicture" || (pointer.starts_with("/finish/layers/") && pointer.ends_with("/picture")) ||
                        std::any_of(values.begin(), values.end(), [&](const work::Value& v) {
                            return std::holds_alternative<std::string*>(v.at) && v.number.key == role;
                        });
    if (!isRole || value.empty() || work.assets.contains(value))
        return value;
    const auto file = files::readPictureFile(value, {});
    if (!file)
        return base::failed(file);
    return work::addPicture(work, *file);
}

}  // namespace

base::Result<work::Work> changedBy(base::Result<work::Work> work, const std::vector<std::string>& settings)
{
    work::Cache fonts;
    for (const std::string& setting : settings) {
        if (!work)
            return work;
        const std::size_t equals = setting.find('=');
        if (equals == std::string::npos || setting.empty() || setting[0] != '/')
            return base::fail(base::ErrorCode::BadUsage, fmt::format("--set takes /json/pointer=value, not \"{}\"", setting));
        const std::string pointer = setting.substr(0, equals);
        const auto value = valueFor(*work, pointer, setting.substr(equals + 1));
        if (!value)
            return base::failed(value);
        auto changed = files::withValueAt(*work, pointer, *value);
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
