// The kept light of a picture: an OpenEXR file from who knows where.
#include "files/light_file.h"
#include "fuzz/target.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    (void)files::lightFromBytes({data, data + size}, "fuzz.exr");
    return 0;
}
