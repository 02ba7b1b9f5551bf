#include "files/colour_profile.h"

#include <fmt/format.h>
#include <lcms2.h>

#include <algorithm>
#include <array>

#include "base/hash.h"
#include "base/parallel.h"
#include "work/asset_name.h"

namespace files {

namespace {

using Profile = std::unique_ptr<void, int (*)(cmsHPROFILE)>;

Profile opened(cmsHPROFILE profile)
{
    return {profile, cmsCloseProfile};
}

std::vector<std::uint8_t> bytesOf(cmsHPROFILE profile)
{
    std::vector<std::uint8_t> bytes;
    cmsUInt32Number size = 0;
    if (profile && cmsSaveProfileToMem(profile, nullptr, &size)) {
        bytes.resize(size);
        if (!cmsSaveProfileToMem(profile, bytes.data(), &size))
            bytes.clear();
    }
    // When it was made (bytes 24 to 35) is the library's clock: the same picture gives the same file.
    constexpr std::array<std::uint8_t, 12> kMade{0x07, 0xea, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0};
    if (bytes.size() > 36)
        std::copy(kMade.begin(), kMade.end(), bytes.begin() + 24);
    return bytes;
}

struct Space {
    const char* name;
    cmsCIExyYTRIPLE primaries;
    int curve;  // parametric, as ICC.1 numbers them from 1 on
    std::array<double, 5> parameters;
};

constexpr cmsCIExyY kD65{0.3127, 0.3290, 1};

// The curve of IEC 61966-2-1 for both but Rec. 2020, whose curve of its table 4 is turned round: linear = ((v + a - 1) / a)^(1 / 0.45).
constexpr double kAlpha = 1.09929682680944, kBeta = 0.018053968510807;
constexpr Space kDisplayP3{
    "Display P3", {{0.680, 0.320, 1}, {0.265, 0.690, 1}, {0.150, 0.060, 1}}, 4, {2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045}};
constexpr Space kRec2020{"Rec. 2020",
                         {{0.708, 0.292, 1}, {0.170, 0.797, 1}, {0.131, 0.046, 1}},
                         4,
                         {1 / 0.45, 1 / kAlpha, (kAlpha - 1) / kAlpha, 1 / 4.5, 4.5 * kBeta}};

Profile profileOfSpace(const Space& space)
{
    cmsToneCurve* curve = cmsBuildParametricToneCurve(nullptr, space.curve, space.parameters.data());
    cmsToneCurve* curves[] = {curve, curve, curve};
    Profile profile = opened(cmsCreateRGBProfile(&kD65, &space.primaries, curves));
    cmsFreeToneCurve(curve);
    cmsMLU* words = cmsMLUalloc(nullptr, 1);
    cmsMLUsetASCII(words, "en", "US", space.name);
    cmsWriteTag(profile.get(), cmsSigProfileDescriptionTag, words);
    cmsMLUfree(words);
    return profile;
}

}  // namespace

std::shared_ptr<const ColourProfile> ColourProfile::made(void* profile)
{
    auto result = std::make_shared<ColourProfile>();
    result->m_bytes = bytesOf(profile);
    const Profile from = opened(cmsCreate_sRGBProfile());
    const auto transform = [&](cmsUInt32Number format, cmsUInt32Number more) {
        // Without its cache it may be used by several threads.
        return std::shared_ptr<void>(cmsCreateTransform(from.get(), format, profile, format, INTENT_RELATIVE_COLORIMETRIC,
                                                        cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION | more),
                                     [](cmsHTRANSFORM t) {
                                         if (t)
                                             cmsDeleteTransform(t);
                                     });
    };
    result->m_three = transform(TYPE_RGB_FLT, 0);
    result->m_four = transform(TYPE_RGBA_FLT, cmsFLAGS_COPY_ALPHA);
    return result;
}

const ColourProfile& ColourProfile::srgb()
{
    static const ColourProfile s_srgb = [] {
        ColourProfile profile;
        profile.m_bytes = bytesOf(opened(cmsCreate_sRGBProfile()).get());
        return profile;
    }();
    return s_srgb;
}

const ColourProfile& ColourProfile::displayP3()
{
    static const auto s_p3 = made(profileOfSpace(kDisplayP3).get());
    return *s_p3;
}

const ColourProfile& ColourProfile::rec2020()
{
    static const auto s_2020 = made(profileOfSpace(kRec2020).get());
    return *s_2020;
}

base::Result<std::shared_ptr<const ColourProfile>> ColourProfile::read(const std::vector<std::uint8_t>& bytes)
{
    const Profile profile = opened(cmsOpenProfileFromMem(bytes.data(), static_cast<cmsUInt32Number>(bytes.size())));
    if (!profile)
        return base::fail(base::ErrorCode::BadInput, "This is no colour profile; choose an .icc or .icm file");
    if (cmsGetColorSpace(profile.get()) != cmsSigRgbData)
        return base::fail(base::ErrorCode::BadInput,
                          "This profile is not of red, green and blue, as picture files here are; choose an RGB profile, and let the "
                          "printer's program separate the inks");
    auto made = ColourProfile::made(profile.get());
    if (!made->m_three || !made->m_four)
        return base::fail(base::ErrorCode::BadInput, "Colours cannot be brought to this profile: it has no way back from what is seen");
    const_cast<ColourProfile&>(*made).m_bytes = bytes;  // as they are, to the byte
    return made;
}

void ColourProfile::encode(picture::Raster<float>& rows) const
{
    const auto& transform = rows.channels == 4 ? m_four : m_three;
    if (!transform)
        return;
    base::parallelFor(static_cast<std::size_t>(rows.height), [&](std::size_t row) {
        float* at = rows.at(0, static_cast<int>(row));
        cmsDoTransform(transform.get(), at, at, static_cast<cmsUInt32Number>(rows.width));
        for (int i = 0; i < rows.width * rows.channels; ++i)
            at[i] = std::clamp(at[i], 0.0f, 1.0f);
    });
}

base::Result<SharedProfile> profileOf(const work::Work& work, const work::Output& output)
{
    const auto shared = [](const ColourProfile& profile) { return SharedProfile(SharedProfile(), &profile); };  // lives for ever
    switch (output.colours) {
    case work::FileColours::Srgb:
        return SharedProfile();
    case work::FileColours::DisplayP3:
        return shared(ColourProfile::displayP3());
    case work::FileColours::Rec2020:
        return shared(ColourProfile::rec2020());
    case work::FileColours::Profile:
        break;
    }
    const auto asset = work.assets.find(output.profile);
    if (asset == work.assets.end() || !asset->second.bytes)
        return base::fail(base::ErrorCode::BadInput, "The output's colour profile is not there; choose one, or sRGB", "profile");
    return ColourProfile::read(*asset->second.bytes);
}

base::Result<std::string> addProfile(work::Work& work, const std::string& name, const std::vector<std::uint8_t>& bytes)
{
    if (const auto profile = ColourProfile::read(bytes); !profile)
        return base::failed(profile);
    const std::string key = fmt::format("profiles/{}-{:.16}.icc", work::safeStem(name, "profile"), base::contentName(bytes));
    work.assets[key].bytes = std::make_shared<const std::vector<std::uint8_t>>(bytes);
    return key;
}

}  // namespace files
