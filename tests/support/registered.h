// Tests of one program, which runs the one it is asked for: `core_tests outline.text`, with Qt Test's own arguments after that.
#pragma once

#include <QCoreApplication>
#include <QtTest>

namespace support {

// A test by its source, tests/FOLDER/test_NAME.cpp, is called FOLDER.NAME.
struct Registered {
    Registered(const char* source, int (*run)(int argc, char** argv));
};

}  // namespace support

#define OPEN_GLOW_TEST(Class)                                                                                                              \
    static const support::Registered s_registered(__FILE__, [](int n, char** v) {                                                          \
        Class test;                                                                                                                        \
        return QTest::qExec(&test, n, v);                                                                                                  \
    });

// Of what needs signals that come later, or other programs.
#define OPEN_GLOW_TEST_WITH_EVENTS(Class)                                                                                                  \
    static const support::Registered s_registered(__FILE__, [](int n, char** v) {                                                          \
        const QCoreApplication application(n, v);                                                                                          \
        Class test;                                                                                                                        \
        return QTest::qExec(&test, n, v);                                                                                                  \
    });
