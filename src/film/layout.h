// How a film lies in memory and in its file. Of the room's own.
#pragma once

#include <cstring>

#include "film/film.h"

namespace film {

inline constexpr char kMagic[8] = {'O', 'G', 'F', 'I', 'L', 'M', '0', '3'};

// In front of the file, followed by the entries, each as kind, length of its name, and the name.
struct Film::Header {
    char magic[8];
    std::uint64_t bytes;
    std::uint64_t keyHash[2];
    std::int32_t width, height, regionX, regionY, regionWidth, regionHeight;
    float reach;
    std::uint32_t entryCount;
    std::uint32_t rendererVersion, seed, firstSample, isMerged;
    // Up to here the header is the same for the film's whole life.
    std::uint32_t round;     // that began last; 0: none
    std::uint32_t least[2];  // samples of a pixel after the rounds in the two planes
    std::uint32_t hasGoal;
    double mean[2];
};

// What opening and merging need of a film.
struct FilmFile {
    using Header = Film::Header;
    static Film::Header headerFor(const FilmShape& shape, const Exposed& exposed);
    static void lay(Film& film, const Film::Header& header);  // header and entries of a new film
    static Film::Header& header(Film& film) { return film.header(); }
    // All pixels as if exposed in one round: `samples` row by row of the region.
    static void setSamples(Film& film, const std::vector<std::uint32_t>& samples);
    // To be looked at, whatever key it has.
    static base::Result<std::unique_ptr<Film>> openAny(const std::string& path);
    // A new film in a file that is not there yet. Errors: CannotWrite.
    static base::Result<std::unique_ptr<Film>> createFile(const FilmShape& shape, const std::string& path, const Film::Header& header);
};

std::size_t wholePages(std::size_t bytes);
std::string gigabytes(std::uint64_t bytes);

}  // namespace film
