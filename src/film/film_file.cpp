// Films in files: opening, those of earlier versions, and what is refused.
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <filesystem>
#include <optional>

#include "base/hash.h"
#include "film/layout.h"

namespace film {

namespace {

constexpr std::uint32_t kMostEntries = 4096, kLongestName = 256;
constexpr const char* kNoFilm = "This is no film of this version; render it again";

void hashKey(const std::string& key, std::uint64_t (&hash)[2])
{
    const std::string name = base::contentName(key);
    for (int i = 0; i < 2; ++i)
        hash[i] = std::stoull(name.substr(static_cast<std::size_t>(16 * i), 16), nullptr, 16);
}

tl::unexpected<base::Error> broken(const std::string& path)
{
    return base::fail(base::ErrorCode::BadInput, kNoFilm, path);
}

// A file descriptor that closes itself.
class Open {
public:
    Open(const std::string& path, int flags) : m_file(::open(path.c_str(), flags | O_CLOEXEC | O_NONBLOCK, 0666)) {}
    ~Open()
    {
        if (m_file >= 0)
            ::close(m_file);
    }
    Open(const Open&) = delete;
    Open& operator=(const Open&) = delete;
    int file() const { return m_file; }
    bool there() const { return m_file >= 0; }
    std::uint64_t size() const
    {
        struct stat status {};
        return fstat(m_file, &status) == 0 ? static_cast<std::uint64_t>(status.st_size) : 0;
    }
    bool isPlain() const
    {
        struct stat status {};
        return fstat(m_file, &status) == 0 && S_ISREG(status.st_mode);
    }
    template <class T>
    bool read(T& to, off_t at) const
    {
        return pread(m_file, &to, sizeof to, at) == static_cast<ssize_t>(sizeof to);
    }
    std::vector<std::uint8_t> read(std::size_t most, std::size_t at) const
    {
        std::vector<std::uint8_t> bytes(most);
        bytes.resize(static_cast<std::size_t>(std::max<ssize_t>(0, pread(m_file, bytes.data(), most, static_cast<off_t>(at)))));
        return bytes;
    }

private:
    int m_file;
};

// The format before: names without kinds, one id a pixel, a hash of the key that nothing can be compared with any more.
struct Header2 {
    static constexpr char kMagic2[8] = {'O', 'G', 'F', 'I', 'L', 'M', '0', '2'};
    char magic[8];
    std::uint64_t bytes;
    std::uint64_t keyHash[2];
    std::int32_t width, height, regionX, regionY, regionWidth, regionHeight;
    float reach;
    std::uint32_t entryCount;
    std::uint32_t round, least[2], hasGoal;
    double mean[2];
};

Entry entryNamed(const std::string& name)
{
    return {name, name == "surroundings" ? EntryKind::Surroundings : name == "emissive" ? EntryKind::Emissive : EntryKind::Light};
}

// The entries behind a header; nothing when they are none.
std::optional<Entries> entriesFrom(const Open& file, std::size_t headerBytes, std::uint32_t count, std::uint64_t end, bool withKinds)
{
    const std::size_t fixed = (withKinds ? 2 : 1) * sizeof(std::uint32_t);
    if (count > kMostEntries || end < headerBytes)
        return std::nullopt;
    const std::vector<std::uint8_t> bytes =
        file.read(std::min<std::size_t>(end - headerBytes, count * (fixed + kLongestName)), headerBytes);
    Entries entries;
    std::size_t at = 0;
    for (std::uint32_t i = 0; i < count; ++i) {
        std::uint32_t numbers[2] = {0, 0};
        if (at + fixed > bytes.size())
            return std::nullopt;
        std::memcpy(numbers + (withKinds ? 0 : 1), bytes.data() + at, fixed);
        at += fixed;
        if (numbers[1] > kLongestName || at + numbers[1] > bytes.size() || numbers[0] > static_cast<std::uint32_t>(EntryKind::Emissive))
            return std::nullopt;
        Entry entry{std::string(reinterpret_cast<const char*>(bytes.data() + at), numbers[1]), static_cast<EntryKind>(numbers[0])};
        at += numbers[1];
        if (!withKinds)
            entry = entryNamed(entry.name);
        entries.push_back(std::move(entry));
    }
    return entries;
}

template <class AnyHeader>
FilmShape shapeIn(const AnyHeader& h, Entries entries)
{
    return {h.width, h.height, h.regionX, h.regionY, h.regionWidth, h.regionHeight, std::move(entries), h.reach};
}

// Bytes of a film of the format before.
struct Layout2 {
    std::size_t tiles, names, planes, data, half, pixel;
    std::uint64_t bytes;
    explicit Layout2(const FilmShape& shape)
    {
        const auto across = [](int pixels) { return static_cast<std::size_t>((pixels + Film::kTile - 1) / Film::kTile); };
        tiles = across(shape.regionWidth) * across(shape.regionHeight);
        std::size_t nameBytes = 0;
        for (const Entry& e : shape.entries)
            nameBytes += sizeof(std::uint32_t) + e.name.size();
        names = wholePages(sizeof(Header2) + nameBytes);
        planes = names + wholePages(tiles * sizeof(std::uint32_t));
        data = planes + tiles * Film::kTile * Film::kTile * 3 * sizeof(std::uint32_t);
        half = sizeof(PixelSums) + shape.entries.size() * sizeof(Rgb);
        pixel = 2 * half + shape.entries.size() * sizeof(float) + sizeof(EdgeSums) + 4 * sizeof(std::uint16_t);
        bytes = data + tiles * Film::kTile * Film::kTile * pixel;
    }
};

std::optional<FilmShape> shape2(const Open& file)
{
    Header2 h{};
    if (!file.read(h, 0) || std::memcmp(h.magic, Header2::kMagic2, sizeof h.magic) != 0 || file.size() != h.bytes)
        return std::nullopt;
    auto entries = entriesFrom(file, sizeof h, h.entryCount, h.bytes, false);
    if (!entries || h.regionWidth <= 0 || h.regionHeight <= 0)
        return std::nullopt;
    FilmShape shape = shapeIn(h, std::move(*entries));
    return Layout2(shape).bytes == h.bytes ? std::optional(shape) : std::nullopt;
}

// Copies a film of the format before.
base::Result<void> copy2(const Open& file, const std::string& path, Film& film)
{
    const FilmShape& s = film.shape();
    const Layout2 layout(s);
    auto memory = base::MappedFile::map(file.file(), layout.bytes, false);
    if (!memory)
        return base::fail(base::ErrorCode::CannotRead, memory.error().message, path);
    const std::uint8_t* from = (*memory)->data();
    Header2 h{};
    std::memcpy(&h, from, sizeof h);
    std::vector<std::uint32_t> samples;
    const auto across = static_cast<std::size_t>((s.regionWidth + Film::kTile - 1) / Film::kTile);
    for (int y = 0; y < s.regionHeight; ++y)
        for (int x = 0; x < s.regionWidth; ++x) {
            const std::size_t tile = static_cast<std::size_t>(y / Film::kTile) * across + static_cast<std::size_t>(x / Film::kTile);
            const std::size_t index = tile * Film::kTile * Film::kTile + static_cast<std::size_t>(y % Film::kTile) * Film::kTile +
                                      static_cast<std::size_t>(x % Film::kTile);
            std::uint32_t round = 0, count = 0;
            std::memcpy(&round, from + layout.names + tile * sizeof round, sizeof round);
            if (round != 0 && round != 0xffffffffu)
                std::memcpy(&count, from + layout.planes + ((round & 1) * layout.tiles * Film::kTile * Film::kTile + index) * sizeof count,
                            sizeof count);
            samples.push_back(count);
            if (count == 0)
                continue;
            const std::uint8_t* pixel = from + layout.data + index * layout.pixel;
            const Film::Target to = film.targetAt(s.regionX + x, s.regionY + y);
            std::memcpy(to.halves[0], pixel, layout.half);
            std::memcpy(to.halves[1], pixel + layout.half, layout.half);
            std::memcpy(to.squares, pixel + 2 * layout.half, s.entries.size() * sizeof(float));
            std::memcpy(to.edge, pixel + 2 * layout.half + s.entries.size() * sizeof(float), sizeof(EdgeSums));
            std::uint16_t id[4];
            std::memcpy(id, pixel + layout.pixel - sizeof id, sizeof id);
            to.ids->add({id[0], id[1], id[2]}, count);
        }
    FilmFile::setSamples(film, samples);
    return {};
}

}  // namespace

Entries entriesNamed(const std::vector<std::string>& names)
{
    Entries entries;
    for (const std::string& name : names)
        entries.push_back(entryNamed(name));
    return entries;
}

Film::Header FilmFile::headerFor(const FilmShape& shape, const Exposed& exposed)
{
    Film::Header h{};
    std::memcpy(h.magic, kMagic, sizeof kMagic);
    h.bytes = Film::bytesFor(shape);
    hashKey(exposed.key, h.keyHash);
    h.width = shape.width;
    h.height = shape.height;
    h.regionX = shape.regionX;
    h.regionY = shape.regionY;
    h.regionWidth = shape.regionWidth;
    h.regionHeight = shape.regionHeight;
    h.reach = shape.reach;
    h.entryCount = static_cast<std::uint32_t>(shape.entries.size());
    h.rendererVersion = kRendererVersion;
    h.seed = exposed.seed;
    h.firstSample = exposed.firstSample;
    return h;
}

void FilmFile::lay(Film& film, const Film::Header& header)
{
    std::uint8_t* to = film.m_data + sizeof(Film::Header);
    for (const Entry& entry : film.m_shape.entries) {
        const std::uint32_t numbers[2] = {static_cast<std::uint32_t>(entry.kind), static_cast<std::uint32_t>(entry.name.size())};
        std::memcpy(to, numbers, sizeof numbers);
        std::memcpy(to + sizeof numbers, entry.name.data(), entry.name.size());
        to += sizeof numbers + entry.name.size();
    }
    std::memcpy(film.m_data, &header, sizeof header);
}

void FilmFile::setSamples(Film& film, const std::vector<std::uint32_t>& samples)
{
    film.setGoal(samples);
    film.beginRound(~0u);
    for (int tile = 0; tile < film.tileCount(); ++tile)
        film.endTile(tile);
}

base::Result<std::unique_ptr<Film>> FilmFile::createFile(const FilmShape& shape, const std::string& path, const Film::Header& header)
{
    const auto cannot = [&](const std::string& what, int error) {
        return base::fail(base::ErrorCode::CannotWrite,
                          fmt::format("{}: {}; choose another place for the film", what, std::strerror(error)), path);
    };
    const Open file(path, O_RDWR | O_CREAT | O_EXCL);
    if (!file.there())
        return cannot("The film file cannot be made", errno);
    if (const int error = posix_fallocate(file.file(), 0, static_cast<off_t>(header.bytes))) {
        ::unlink(path.c_str());
        return cannot(fmt::format("The film needs {} on disk", gigabytes(header.bytes)), error);
    }
    auto lock = base::FileLock::take(path);
    auto memory = base::MappedFile::map(file.file(), header.bytes, true);
    if (!lock || !memory) {
        ::unlink(path.c_str());
        return lock ? cannot("The film file cannot be mapped", errno) : tl::unexpected<base::Error>(lock.error());
    }
    std::unique_ptr<Film> film(new Film(shape, std::move(*memory)));
    film->m_lock = std::move(*lock);
    lay(*film, header);
    return film;
}

base::Result<FilmShape> Film::readShape(const std::string& path)
{
    const Open file(path, O_RDONLY);
    if (!file.there())
        return base::fail(base::ErrorCode::CannotRead, fmt::format("The film cannot be read: {}", std::strerror(errno)), path);
    if (!file.isPlain())
        return broken(path);
    if (auto older = shape2(file))
        return *older;
    Header h{};
    if (!file.read(h, 0) || std::memcmp(h.magic, kMagic, sizeof kMagic) != 0 || file.size() != h.bytes || h.regionWidth <= 0 ||
        h.regionHeight <= 0)
        return broken(path);
    auto entries = entriesFrom(file, sizeof h, h.entryCount, h.bytes, true);
    if (!entries)
        return broken(path);
    FilmShape shape = shapeIn(h, std::move(*entries));
    if (bytesFor(shape) != h.bytes)
        return broken(path);
    return shape;
}

base::Result<std::unique_ptr<Film>> Film::openFile(const FilmShape& shape, const std::string& path, const Exposed& exposed)
{
    const Header wanted = FilmFile::headerFor(shape, exposed);
    const Open file(path, O_RDWR);
    if (!file.there() && errno == ENOENT)
        return FilmFile::createFile(shape, path, wanted);
    if (!file.there())
        return base::fail(base::ErrorCode::CannotWrite,
                          fmt::format("The film file cannot be opened: {}; choose another place for the film", std::strerror(errno)), path);
    const auto another = [&] {
        return base::fail(base::ErrorCode::BadInput,
                          "This file is not the film of this work at this size and seed; name another file or delete it", path);
    };
    if (!file.isPlain())
        return another();
    auto lock = base::FileLock::take(path);
    if (!lock)
        return tl::unexpected<base::Error>(lock.error());
    if (const auto older = shape2(file)) {
        if (*older != shape)
            return another();
        // It is made anew beside the old one and takes its place.
        const std::string fresh = path + ".new";
        ::unlink(fresh.c_str());
        auto film = FilmFile::createFile(shape, fresh, wanted);
        if (!film)
            return film;
        if (auto copied = copy2(file, path, **film); !copied)
            return tl::unexpected<base::Error>(copied.error());
        std::error_code error;
        std::filesystem::rename(fresh, path, error);
        if (error)
            return base::fail(base::ErrorCode::CannotWrite, "The film cannot be brought up to date: " + error.message(), path);
        (*film)->m_unchecked = true;
        return film;
    }
    // Empty, or laid out by a process that was killed before the header was there.
    Header found{};
    const bool isNew = file.size() == 0 ||
                       (file.read(found, 0) && std::all_of(std::begin(found.magic), std::end(found.magic), [](char c) { return c == 0; }) &&
                        file.size() == wanted.bytes);
    if (isNew) {
        if (const int error = posix_fallocate(file.file(), 0, static_cast<off_t>(wanted.bytes)))
            return base::fail(base::ErrorCode::CannotWrite,
                              fmt::format("The film needs {} on disk: {}; choose another place for the film", gigabytes(wanted.bytes),
                                          std::strerror(error)),
                              path);
    } else {
        if (file.read(found, 0) && found.isMerged && std::memcmp(found.keyHash, wanted.keyHash, sizeof found.keyHash) == 0)
            return base::fail(base::ErrorCode::BadInput,
                              "This film was merged and cannot be exposed further; mix it with open-glow-cli desk, or name another film",
                              path);
        if (file.read(found, 0) && std::memcmp(found.magic, kMagic, sizeof kMagic) == 0 && found.rendererVersion != kRendererVersion)
            return base::fail(
                base::ErrorCode::BadInput,
                "This film was begun by another version of the renderer; mix it with open-glow-cli desk, or name another film", path);
        if (!file.read(found, 0) || std::memcmp(&found, &wanted, offsetof(Header, round)) != 0 || file.size() != wanted.bytes)
            return another();
    }
    auto memory = base::MappedFile::map(file.file(), wanted.bytes, true);
    if (!memory)
        return base::fail(base::ErrorCode::CannotWrite, "The film file cannot be mapped: " + memory.error().message, path);
    std::unique_ptr<Film> film(new Film(shape, std::move(*memory)));
    film->m_lock = std::move(*lock);
    if (isNew)
        FilmFile::lay(*film, wanted);
    for (int tile = 0; tile < film->tileCount(); ++tile)
        if (film->tileRounds()[tile] == kBroken) {
            const std::size_t tileBytes = film->m_pixelBytes * kTile * kTile;
            std::memset(film->m_data + film->m_dataOffset + static_cast<std::size_t>(tile) * tileBytes, 0, tileBytes);
            film->tileRounds()[tile] = 0;
        }
    return film;
}

base::Result<std::unique_ptr<Film>> FilmFile::openAny(const std::string& path)
{
    const auto shape = Film::readShape(path);
    if (!shape)
        return tl::unexpected<base::Error>(shape.error());
    auto lock = base::FileLock::take(path);
    if (!lock)
        return tl::unexpected<base::Error>(lock.error());
    const Open file(path, O_RDONLY);
    if (!file.there())
        return base::fail(base::ErrorCode::CannotRead, fmt::format("The film cannot be read: {}", std::strerror(errno)), path);
    if (shape2(file)) {
        auto film = Film::create(*shape);
        if (!film)
            return film;
        lay(**film, headerFor(*shape, ""));
        if (auto copied = copy2(file, path, **film); !copied)
            return tl::unexpected<base::Error>(copied.error());
        (*film)->m_unchecked = true;
        return film;
    }
    auto memory = base::MappedFile::map(file.file(), Film::bytesFor(*shape), false);
    if (!memory)
        return base::fail(base::ErrorCode::CannotRead, memory.error().message, path);
    std::unique_ptr<Film> film(new Film(*shape, std::move(*memory)));
    film->m_lock = std::move(*lock);
    return film;
}

base::Result<std::unique_ptr<Film>> Film::openToRead(const std::string& path, const std::string& key)
{
    auto film = FilmFile::openAny(path);
    if (!film || (*film)->isUnchecked())
        return film;
    std::uint64_t hash[2];
    hashKey(key, hash);
    if (std::memcmp(hash, (*film)->header().keyHash, sizeof hash) != 0)
        return base::fail(base::ErrorCode::BadInput,
                          "This film is of another work, or of this one as it was before; open the work it was rendered from", path);
    return film;
}

}  // namespace film
