#include "session/kept_light.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "files/base64.h"
#include "files/still_file.h"
#include "files/work_json.h"
#include "work/make_still.h"
#include "work/properties.h"

namespace session {

using Json = nlohmann::ordered_json;

base::Result<std::shared_ptr<const KeptLight>> KeptLight::open(const Final& final, const base::Progress& progress)
{
    auto kept = std::make_shared<KeptLight>();
    kept->m_work = final.work;
    kept->m_settings = final.settings;
    kept->m_samples = final.samples;
    work::StillSettings settings;
    settings.filmPath = final.filmPath();
    settings.filmKey = files::filmKey(final.work, final.settings.seed);
    settings.transparent = final.settings.output.letsThrough();
    settings.denoise = denoiseOf(final.settings.output);
    if (files::LightFolder::isOne(settings.filmPath)) {
        const auto folder = files::LightFolder::open(settings.filmPath, settings.filmKey);
        if (!folder)
            return tl::unexpected<base::Error>(folder.error());
        kept->m_source = files::sourceOf(*folder);
        return kept;
    }
    auto still = work::developFilm(final.work, settings, progress);
    if (!still)
        return tl::unexpected<base::Error>(still.error());
    kept->m_film = std::move(still->film);
    kept->m_source = files::sourceOf(std::make_shared<const film::LightShares>(std::move(still->shares)));
    return kept;
}

base::Result<std::shared_ptr<const KeptLight>> KeptLight::fromBytes(const std::vector<std::uint8_t>& bytes, const std::string& name)
{
    auto light = files::lightFromBytes(bytes, name);
    if (!light)
        return tl::unexpected<base::Error>(light.error());
    auto kept = std::make_shared<KeptLight>();
    try {
        const Json j = Json::parse(light->about);
        kept->m_settings.widthPx = j.at("widthPx");
        kept->m_settings.heightPx = j.at("heightPx");
        kept->m_settings.output.transparent = j.at("transparent");
        kept->m_settings.output.quality = j.value("quality", work::Output().quality);
        kept->m_settings.output.passes = j.value("passes", std::vector<std::string>());
        kept->m_settings.output.colours =
            work::valueNamed(j.value("colours", std::string()), work::kColours).value_or(work::FileColours::Srgb);
        kept->m_settings.output.profile = j.value("profile", std::string());
        kept->m_settings.seed = j.at("seed");
        kept->m_settings.out = j.at("out");
        kept->m_settings.output.format = files::formatOf(kept->m_settings.out, j.at("bits"));
        auto work = files::fromJson(j.at("work").get<std::string>());
        if (!work)
            return tl::unexpected<base::Error>(work.error());
        kept->m_work = std::move(*work);
        if (auto profile = files::bytesFromBase64(j.value("profileBytes", std::string())); profile && !profile->empty())
            kept->m_work.assets[kept->m_settings.output.profile].bytes =
                std::make_shared<const std::vector<std::uint8_t>>(std::move(*profile));
    } catch (const Json::exception& e) {
        return base::fail(base::ErrorCode::BadInput, std::string("The description of this kept picture is broken: ") + e.what(), name);
    }
    kept->m_samples = light->samples;
    kept->m_source = files::sourceOf(std::make_shared<const files::LightFile>(std::move(*light)));
    return kept;
}

base::Result<film::LightShares> KeptLight::small(int side) const
{
    const int longer = std::max(m_source.shape.regionWidth, m_source.shape.regionHeight);
    return files::smallerLight(m_source, (longer + side - 1) / side);
}

base::Result<void> KeptLight::save(const finish::DevelopSettings& develop, const std::string& path) const
{
    const auto options = files::optionsOf(m_work, m_settings.output);
    if (!options)
        return base::failed(options);
    return files::saveStill({m_source, m_film.get(), *options, m_work.credits}, develop, files::ppiFor(m_work.sheet(), m_settings.widthPx),
                            m_settings.output.format, path, {});
}

base::Result<std::vector<std::uint8_t>> KeptLight::bytes() const
{
    const auto pixels = static_cast<std::uint64_t>(m_source.shape.regionWidth) * static_cast<std::uint64_t>(m_source.shape.regionHeight);
    if (pixels > kMostPixels)
        return base::fail(
            base::ErrorCode::TooLarge,
            fmt::format("A picture of {} million px is too large to be kept in a work ({} million at most); it stays beside it",
                        pixels / 1000000, kMostPixels / 1000000));
    files::LightFile light;
    light.key = files::filmKey(m_work, m_settings.seed);
    light.samples = m_samples;
    work::Work bare = m_work;
    std::erase_if(bare.assets, [](const auto& asset) { return work::isKeptPicture(asset.first); });
    Json about = {{"widthPx", m_settings.widthPx},
                  {"heightPx", m_settings.heightPx},
                  {"transparent", m_settings.output.transparent},
                  {"quality", m_settings.output.quality},
                  {"passes", m_settings.output.passes},
                  {"colours", work::nameOf(m_settings.output.colours, work::kColours)},
                  {"profile", m_settings.output.profile},
                  {"bits", files::exporterOf(m_settings.output.format).bits},
                  {"seed", m_settings.seed},
                  {"out", m_settings.out},
                  {"work", files::toJson(bare)}};
    if (const auto profile = m_work.assets.find(m_settings.output.profile); profile != m_work.assets.end() && profile->second.bytes)
        about["profileBytes"] = files::base64Of(*profile->second.bytes);
    light.about = about.dump(-1, ' ', false, Json::error_handler_t::replace);
    for (int band = 0; band < m_source.bands; ++band) {
        auto part = m_source.get(band);
        if (!part)
            return tl::unexpected<base::Error>(part.error());
        if (band == 0)
            light.shares = std::move(*part);
        else
            light.shares.append(*part);
    }
    return files::lightBytes(light);
}

}  // namespace session
