// What many tests need: fonts, other programs, simple bodies.
#pragma once

#include <QByteArray>
#include <QString>
#include <QStringList>
#include <memory>

#include "outline/font.h"
#include "outline/outline.h"
#include "render/scene.h"
#include "solid/body.h"
#include "support/long_test.h"
#include "support/registered.h"
#include "work/work.h"

namespace support {

// A font that tests/packages.txt installs; fails loudly (nullptr and a warning) when it is not exactly there.
std::shared_ptr<const outline::Font> font(const QString& family, const QString& style = {});
QString fontPath(const QString& family, const QString& style = {});

// Outlines of a text in a font at 100 pt.
outline::Outlined outlines(const std::string& text, const outline::Font& font, double tolerancePt = 0.02, double sizePt = 100);

// An outline from corners in pt, without curves. The first contour counter-clockwise, holes clockwise.
outline::Outline polygon(const std::vector<std::vector<base::Vec2>>& contours, double unitPt = 1e-6);
// A regular polygon with many corners that knows it is a circle.
outline::Contour circle(double radiusPt, base::Vec2 centre, int corners, bool hole, double unitPt);

// Runs a program; gives its standard output, and its exit code and errors where asked.
QByteArray run(const QString& program, const QStringList& arguments, int* exitCode = nullptr, QByteArray* errors = nullptr);

// A body of triangles in world coordinates; flat normals unless `smoothRound` is set: then from that centre outwards.
solid::SharedBody body(const std::vector<std::array<base::Vec3, 3>>& triangles, const base::Vec3* smoothRound = nullptr);
solid::SharedBody sphere(double radius, int rings, bool insideOut = false);  // inside out it has flat normals
solid::SharedBody box(base::Vec3 low, base::Vec3 high, bool insideOut = false);
// A parallelogram, seen from the side its corner, u, v turn counter-clockwise on.
solid::SharedBody plate(base::Vec3 corner, base::Vec3 u, base::Vec3 v);

// A scene with these bodies in one material, lit by nothing, seen straight on in parallel.
render::Scene scene(const std::vector<solid::SharedBody>& bodies, const surface::Material& material, double width, double height);

// Pearson's chi-square of counts against what was expected, over the cells that expect more than `least`; empty when it is under the
// quantile that 1 in 10,000 exceeds by chance (Wilson-Hilferty, z = 3.72), else what is wrong. Under six cells are wrong as well.
QString unlikely(const std::vector<double>& found, const std::vector<double>& expected, double least);

// Bytes that so many rows of a picture so wide need, and a little more.
std::uint64_t bytesForRows(const work::Work& work, int widthPx, int rows);

// A light that stands there and is aimed at the origin.
light::Light lightAt(light::LightKind kind, base::Vec3 position);

}  // namespace support
