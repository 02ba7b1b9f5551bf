// What a fuzz target is: a function on bytes that must neither fail an assert, nor end the program, nor take long.
#pragma once

#include <cstddef>
#include <cstdint>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);
