#include "film/merge.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

#include "film/layout.h"

namespace film {

namespace {

struct Part {
    std::string path;
    std::unique_ptr<Film> film;
    std::uint32_t first = 0, end = 0;  // samples: of the range, as far as any pixel has them
};

void add(EdgeSums& to, const EdgeSums& from)
{
    to.rays += from.rays;
    to.alpha += from.alpha;
    to.albedo += from.albedo;
    to.normal += from.normal;
    to.depth += from.depth;
}

void addPixel(const Film::Target& to, const Film::Pixel& from, std::size_t entries)
{
    for (int half = 0; half < 2; ++half) {
        *to.halves[half] += *from.halves[half];
        for (std::size_t e = 0; e < entries; ++e)
            to.colours[half][e] += from.colours[half][e];
    }
    for (std::size_t e = 0; e < entries; ++e)
        to.squares[e] += from.squares[e];
    add(*to.edge, *from.edge);
    for (const IdWeight& id : *from.ids)
        if (id.samples() > 0)
            to.ids->add(id.id(), id.samples());
}

}  // namespace

base::Result<void> merge(const std::vector<std::string>& paths, const std::string& out)
{
    if (paths.size() < 2)
        return base::fail(base::ErrorCode::BadUsage, "Name two films or more to be merged");
    if (std::error_code error; std::filesystem::exists(std::filesystem::symlink_status(out, error)))
        return base::fail(base::ErrorCode::CannotWrite, "There is a file of this name; name another one for the merged film", out);
    std::vector<Part> parts;
    for (const std::string& path : paths) {
        auto film = FilmFile::openAny(path);
        if (!film)
            return tl::unexpected<base::Error>(film.error());
        Part part{path, std::move(*film), 0, 0};
        if (part.film->isUnchecked())
            return base::fail(base::ErrorCode::BadInput,
                              "A film of an earlier version cannot be merged: it does not tell its seed and samples; render it again",
                              path);
        const FilmShape& s = part.film->shape();
        part.first = part.end = part.film->firstSample();
        for (int y = s.regionY; y < s.regionY + s.regionHeight; ++y)
            for (int x = s.regionX; x < s.regionX + s.regionWidth; ++x)
                part.end = std::max(part.end, part.first + part.film->samplesAt(x, y));
        if (part.end == part.first)
            return base::fail(base::ErrorCode::BadInput, "This film is not exposed yet; go on with its render first", path);
        parts.push_back(std::move(part));
    }
    std::sort(parts.begin(), parts.end(), [](const Part& a, const Part& b) { return a.first < b.first; });
    const FilmFile::Header& first = FilmFile::header(*parts.front().film);
    for (std::size_t i = 1; i < parts.size(); ++i) {
        const FilmFile::Header& own = FilmFile::header(*parts[i].film);
        if (parts[i].film->shape() != parts.front().film->shape() || std::memcmp(own.keyHash, first.keyHash, sizeof own.keyHash) != 0 ||
            own.seed != first.seed || own.rendererVersion != first.rendererVersion)
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("This film is not of the same work, size and seed as {}", parts.front().path), parts[i].path);
        if (parts[i].first < parts[i - 1].end)
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("This film begins at sample {}, and {} holds samples up to {}: some would count twice",
                                          parts[i].first, parts[i - 1].path, parts[i - 1].end - 1),
                              parts[i].path);
    }
    const FilmShape& shape = parts.front().film->shape();
    FilmFile::Header header = first;
    header.isMerged = 1;
    header.round = header.least[0] = header.least[1] = header.hasGoal = 0;
    header.mean[0] = header.mean[1] = 0;
    auto merged = FilmFile::createFile(shape, out, header);
    if (!merged)
        return tl::unexpected<base::Error>(merged.error());
    std::vector<std::uint32_t> samples;
    for (int y = shape.regionY; y < shape.regionY + shape.regionHeight; ++y)
        for (int x = shape.regionX; x < shape.regionX + shape.regionWidth; ++x) {
            const Film::Target to = (*merged)->targetAt(x, y);
            samples.push_back(0);
            for (const Part& part : parts) {
                const Film::Pixel from = part.film->at(x, y);
                if (from.samples == 0)
                    continue;
                addPixel(to, from, shape.entries.size());
                samples.back() += from.samples;
            }
        }
    FilmFile::setSamples(**merged, samples);
    for (const Part& part : parts)
        if (part.film->isLost()) {
            std::error_code error;
            std::filesystem::remove(out, error);
            return base::fail(base::ErrorCode::CannotRead, "This film was cut off while it was read", part.path);
        }
    return {};
}

}  // namespace film
