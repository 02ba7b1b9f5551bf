#pragma once

// Begins a function that sanitizers take too long for: ./check --whole has it under them too.
#if defined(OPEN_GLOW_CHECKED) && !defined(OPEN_GLOW_WHOLE)
#define OPEN_GLOW_LONG_TEST QSKIP("too long under sanitizers");
#else
#define OPEN_GLOW_LONG_TEST
#endif
