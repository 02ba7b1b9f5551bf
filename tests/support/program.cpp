#include <cstdio>
#include <map>
#include <string>

#include "support/registered.h"

namespace {

std::map<std::string, int (*)(int, char**)>& tests()
{
    static std::map<std::string, int (*)(int, char**)> s_tests;
    return s_tests;
}

}  // namespace

support::Registered::Registered(const char* source, int (*run)(int, char**))
{
    const QString path = source, file = path.section('/', -1);
    tests()[(path.section('/', -2, -2) + '.' + file.mid(5).section('.', 0, 0)).toStdString()] = run;
}

int main(int argc, char** argv)
{
    const auto found = argc > 1 ? tests().find(argv[1]) : tests().end();
    if (found == tests().end()) {
        std::fprintf(stderr, "usage: %s TEST [ARGUMENTS OF QT TEST]\n", argv[0]);
        for (const auto& [name, run] : tests())
            std::fprintf(stderr, "  %s\n", name.c_str());
        return 2;
    }
    argv[1] = argv[0];
    return found->second(argc - 1, argv + 1);
}
