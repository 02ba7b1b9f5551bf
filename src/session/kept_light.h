// A finished picture opened again: its light is mixed and saved without rendering.
#pragma once

#include "files/light_folder.h"
#include "files/still_file.h"
#include "session/finals.h"

namespace session {

class KeptLight {
public:
    // From a final's film, cleaned as the final asks, or from its bands. Errors: BadInput, CannotRead, Stopped.
    static base::Result<std::shared_ptr<const KeptLight>> open(const Final& final, const base::Progress& progress);
    // From what bytes() gave. `name` is said in errors. Errors: BadInput.
    static base::Result<std::shared_ptr<const KeptLight>> fromBytes(const std::vector<std::uint8_t>& bytes, const std::string& name);

    const work::Work& work() const { return m_work; }  // as it was rendered; without its fonts when it comes from a work
    const FinalSettings& settings() const { return m_settings; }
    const film::FilmShape& shape() const { return m_source.shape; }

    // For the screen: no side longer than this. Errors: CannotRead, BadInput.
    base::Result<film::LightShares> small(int side) const;
    // The picture at its full size. An .exr has all passes as long as there is a film, else those of the lights. Errors: as
    // files::saveStill.
    base::Result<void> save(const finish::DevelopSettings& develop, const std::string& path) const;
    // As an asset to be kept in a work: half floats, packed. Errors: TooLarge, CannotWrite.
    static constexpr std::uint64_t kMostPixels = 64'000'000;
    base::Result<std::vector<std::uint8_t>> bytes() const;

private:
    work::Work m_work;
    FinalSettings m_settings;
    double m_samples = 0;
    std::shared_ptr<const film::Film> m_film;  // when there is one
    files::LightSource m_source;
};

}  // namespace session
