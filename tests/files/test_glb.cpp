// Bodies and materials as glTF, against the validator of the Khronos group and the works they come from.
#include <QFile>
#include <QImage>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <cstring>

#include "base/units.h"
#include "files/glb_atlas.h"
#include "files/mesh_file.h"
#include "picture/colour.h"
#include "solid/check.h"
#include "support/support.h"
#include "work/scene.h"

namespace {

work::Work kites()
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work w = work::newWork("KITE", font, {});
    work::Piece& p = w.pieces.items.at("p1");
    p.material.parts["side"] = {{0.9f, 0.6f, 0.2f}, 1, 0.25f};
    p.letters["a2"].material =
        work::MaterialSet{{{0.8f, 0.1f, 0.1f}, 0, 0.4f, 0.5f, 0, {}, {1, 0.5f, 0.25f}, 1.75f, 1, 0.125f, {0.5f, 0, 0}, 0.75f}, {}};
    work::Material& layered = p.letters["a2"].material->piece;
    layered.iridescence = 0.5f;
    layered.iridescenceIor = 1.5f;
    layered.iridescenceThicknessNm = 250;
    layered.anisotropy = 0.75f;
    layered.anisotropyRotation = 30;
    p.letters["a3"].material = work::MaterialSet{{{0.2f, 0.4f, 1}, 0, 0.5f, 1, 4}, {}};
    p.letters["a4"].turn = 30;
    return w;
}

struct Glb {
    QJsonObject json;
    QByteArray bytes;

    QJsonObject at(const char* list, int i) const { return json[QLatin1String(list)].toArray()[i].toObject(); }
    template <class T>
    T read(int accessor, int index, int component) const
    {
        const QJsonObject a = at("accessors", accessor), v = at("bufferViews", a["bufferView"].toInt());
        const int stride = v["byteStride"].toInt(sizeof(T));
        T value;
        std::memcpy(&value,
                    bytes.constData() + v["byteOffset"].toInt() + a["byteOffset"].toInt() + index * stride + component * int(sizeof(T)),
                    sizeof(T));
        return value;
    }
};

Glb opened(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return {};
    const QByteArray all = file.readAll();
    std::uint32_t size = 0;
    std::memcpy(&size, all.constData() + 12, 4);
    return {QJsonDocument::fromJson(all.mid(20, int(size))).object(), all.mid(28 + int(size))};
}

const QString kModules = OPEN_GLOW_SOURCE "/build/npm/node_modules";

// Errors and warnings of the validator, empty when it has none or is not there.
QByteArray complaints(const QString& path)
{
    if (!QFile::exists(kModules + "/gltf-validator"))
        return {};
    QProcess node;
    auto environment = QProcessEnvironment::systemEnvironment();
    environment.insert("NODE_PATH", kModules);
    node.setProcessEnvironment(environment);
    node.start("node", {OPEN_GLOW_SOURCE "/tests/npm/validate.js", path});
    if (!node.waitForFinished(120000))
        return "the validator did not end";
    const QByteArray out = node.readAllStandardOutput();
    const QJsonObject report = QJsonDocument::fromJson(out).object(), issues = report["issues"].toObject();
    if (report.isEmpty())
        return "the validator said nothing: " + node.readAllStandardError();
    return issues["numErrors"].toInt() == 0 && issues["numWarnings"].toInt() == 0 ? QByteArray() : out.left(4000);
}

}  // namespace

class TestGlb : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString m_path;
    work::Work m_work = kites();
    work::WorkBodies m_bodies;

private Q_SLOTS:
    void initTestCase()
    {
        work::Cache cache;
        m_bodies = work::makeBodies(m_work, 0.1, cache, {}).value();
        m_path = m_folder.filePath("k.glb");
        QVERIFY(files::saveMesh(m_work, m_bodies, m_path.toStdString()).has_value());
    }

    // No error, no warning. Reference: glTF Validator 2.0 of the Khronos group (Apache-2.0), from the npm registry.
    void validatorHasNothingToSay()
    {
        if (!QFile::exists(kModules + "/gltf-validator"))
            QSKIP("the glTF validator is not there");
        QVERIFY2(complaints(m_path).isEmpty(), complaints(m_path));
        QCOMPARE(opened(m_path).json["extensionsUsed"].toArray().size(), 7);
    }

    // The same volume, in cubic metres: the divergence theorem over the triangles as the file has them. Normals stand off the surface.
    void itIsTheSameBodies()
    {
        const Glb glb = opened(m_path);
        double volume = 0, expected = 0;
        for (const work::WorkBody& body : m_bodies.bodies)
            expected += solid::volume(*body.body);
        const QJsonArray meshes = glb.json["meshes"].toArray();
        QCOMPARE(meshes.size(), qsizetype(m_bodies.bodies.size()));
        for (const auto& mesh : meshes)
            for (const auto& item : mesh.toObject()["primitives"].toArray()) {
                const QJsonObject primitive = item.toObject(), attributes = primitive["attributes"].toObject();
                const int indices = primitive["indices"].toInt(), positions = attributes["POSITION"].toInt(),
                          normals = attributes["NORMAL"].toInt();
                for (int i = 0; i < glb.at("accessors", indices)["count"].toInt(); i += 3) {
                    base::Vec3 p[3], n;
                    for (int k = 0; k < 3; ++k) {
                        const int at = int(glb.read<std::uint32_t>(indices, i + k, 0));
                        p[k] = {glb.read<float>(positions, at, 0), glb.read<float>(positions, at, 1), glb.read<float>(positions, at, 2)};
                        n = n +
                            base::Vec3{glb.read<float>(normals, at, 0), glb.read<float>(normals, at, 1), glb.read<float>(normals, at, 2)};
                    }
                    volume += dot(p[0], cross(p[1], p[2])) / 6;
                    QVERIFY(dot(cross(p[1] - p[0], p[2] - p[0]), n) >= -1e-12);
                }
            }
        const double metre = base::mmFromPt(1) / 1000;
        QVERIFY(std::abs(volume / (expected * metre * metre * metre) - 1) < 1e-4);
    }

    // Pictures become textures: a print over the base colour, holes as MASK, heights as a normal map, grey as roughness. The validator has
    // nothing to say; the picture is as wide on the face as it was said to be, by the texture's coordinates in metres.
    void picturesAreTextures()
    {
        work::Work w = m_work;
        std::vector<std::uint8_t> rgba;
        for (int i = 0; i < 64; ++i)
            rgba.insert(rgba.end(), {std::uint8_t(4 * i), 80, 160, std::uint8_t(i % 2 ? 255 : 100)});
        w.assets["pictures/x-0123456789abcdef.png"] = {std::make_shared<const outline::Bytes>(outline::Bytes{1, 2, 3}),
                                                       {},
                                                       std::make_shared<const surface::Texture>(8, 8, std::move(rgba))};
        work::Material& lacquered = w.pieces.items.at("p1").material.piece;
        lacquered.clearcoat = 1;
        lacquered.clearcoatRelief = 0.5f;
        work::Pictures& on = lacquered.pictures;
        on.colour = on.relief = on.roughness = on.cutOut = on.coat = "pictures/x-0123456789abcdef.png";
        on.widthPt = 50;
        const QString path = m_folder.filePath("pictures.glb");
        QVERIFY(files::saveMesh(w, m_bodies, path.toStdString()).has_value());
        QVERIFY2(complaints(path).isEmpty(), complaints(path));
        const Glb glb = opened(path);
        bool seen = false;
        for (int m = 0; m < glb.json["meshes"].toArray().size() && !seen; ++m)
            for (const auto& item : glb.at("meshes", m)["primitives"].toArray()) {
                const QJsonObject primitive = item.toObject(), attributes = primitive["attributes"].toObject(),
                                  material = glb.at("materials", primitive["material"].toInt()),
                                  base = material["pbrMetallicRoughness"].toObject();
                if (!base.contains("baseColorTexture"))
                    continue;
                seen = true;
                QVERIFY(base.contains("metallicRoughnessTexture") && material.contains("normalTexture"));
                const QJsonObject coat =
                    material["extensions"].toObject()["KHR_materials_clearcoat"].toObject()["clearcoatNormalTexture"].toObject();
                QVERIFY(coat.contains("index") && !coat.contains("scale"));
                QCOMPARE(material["alphaMode"].toString(), QString("MASK"));
                const int positions = attributes["POSITION"].toInt(), normals = attributes["NORMAL"].toInt(),
                          coordinates = attributes["TEXCOORD_0"].toInt();
                const double width = 50 * base::mmFromPt(1) / 1000;
                int face = -1;
                for (int i = 0; i < glb.at("accessors", positions)["count"].toInt(); ++i) {
                    if (glb.read<float>(normals, i, 2) < 0.999f)
                        continue;
                    if (face >= 0)
                        for (int axis = 0; axis < 2; ++axis) {
                            const double by = double(glb.read<float>(positions, i, axis) - glb.read<float>(positions, face, axis));
                            const double t = double(glb.read<float>(coordinates, i, axis) - glb.read<float>(coordinates, face, axis));
                            QVERIFY(std::abs((axis == 0 ? t : -t) - by / width) < 1e-3);
                        }
                    face = i;
                }
                QVERIFY(face >= 0);
                break;
            }
        QVERIFY(seen);
    }

    // Patterns are painted on a sheet for each body. At the middles of the triangles, whatever way they face, the sheet has the colour that
    // the pattern has there in the body, and its normal map the pattern's normal; grey cards and other smooth materials get no such sheet.
    void patternsArePainted()
    {
        work::Work w = m_work;
        work::Piece& piece = w.pieces.items.at("p1");
        piece.material = {};
        piece.letters.clear();
        work::Material& m = piece.material.piece;
        m.baseColour = {0.9f, 0.85f, 0.8f};
        m.roughness = 0.5f;
        m.pattern = surface::PatternKind::Granite;
        m.patternSizePt = 60;
        m.patternColour = {0.05f, 0.1f, 0.3f};
        const QString path = m_folder.filePath("patterns.glb");
        QVERIFY(files::saveMesh(w, m_bodies, path.toStdString()).has_value());
        QVERIFY2(complaints(path).isEmpty(), complaints(path));
        const Glb glb = opened(path);
        QCOMPARE(glb.json["materials"].toArray().size(), m_bodies.bodies.size());
        const auto picture = [&](const QJsonObject& texture) {
            const QJsonObject image = glb.at("images", glb.at("textures", texture["index"].toInt())["source"].toInt()),
                              v = glb.at("bufferViews", image["bufferView"].toInt());
            return QImage::fromData(glb.bytes.mid(v["byteOffset"].toInt(), v["byteLength"].toInt()));
        };
        const render::Scene scene = work::makeScene(w, m_bodies);
        int places = 0, offColour = 0, offNormal = 0;
        for (std::size_t b = 0; b < m_bodies.bodies.size(); ++b) {
            const QJsonObject primitive = glb.at("meshes", int(b))["primitives"].toArray()[0].toObject(),
                              attributes = primitive["attributes"].toObject(),
                              material = glb.at("materials", primitive["material"].toInt());
            const QImage colour = picture(material["pbrMetallicRoughness"].toObject()["baseColorTexture"].toObject()),
                         normal = picture(material["normalTexture"].toObject());
            QVERIFY(!colour.isNull() && colour.width() <= 2048 && colour.height() <= 2048);
            const solid::Body& body = *m_bodies.bodies[b].body;
            const auto id = std::size_t(render::materialOf(scene.bodies[b], 0));
            const int indices = primitive["indices"].toInt();
            const auto vector = [&](const char* name, int vertex) {
                const int of = attributes[QLatin1String(name)].toInt();
                return base::Vec3f{glb.read<float>(of, vertex, 0), glb.read<float>(of, vertex, 1), glb.read<float>(of, vertex, 2)};
            };
            for (std::uint32_t t = 0; t < body.triangles.size(); ++t) {
                base::Vec3f n, tangent, own;
                double s = 0, down = 0, hand = 0;
                for (int k = 0; k < 3; ++k) {
                    const int vertex = int(glb.read<std::uint32_t>(indices, int(3 * t) + k, 0));
                    s += double(glb.read<float>(attributes["TEXCOORD_0"].toInt(), vertex, 0)) / 3;
                    down += double(glb.read<float>(attributes["TEXCOORD_0"].toInt(), vertex, 1)) / 3;
                    n += vector("NORMAL", vertex);
                    tangent += vector("TANGENT", vertex);
                    hand = double(glb.read<float>(attributes["TANGENT"].toInt(), vertex, 3));
                    own += body.corners[t][std::size_t(k)].normal;
                }
                QVERIFY(s > 0 && s < 1 && down > 0 && down < 1);
                const int x = int(s * colour.width()), y = int(down * colour.height());
                // The sheet's own texel: within half of one of the place.
                const render::Cloth cloth = render::clothOn(body, t,
                                                            {render::placeOn(body, t, 1 / 3.0f, 1 / 3.0f).point, normalized(own), 0, 0,
                                                             float(1 / files::atlasDensity(scene.covers[id]))});
                const surface::Look under{m.baseColour, m.roughness, 0, 0, {}},
                    look = surface::patterned(scene.covers[id].pattern, under, cloth.place);
                const base::Rgb expected = picture::encodeSrgb(look.colour);
                const QColor there = colour.pixelColor(x, y);
                offColour += std::abs(there.redF() - expected.x) > 0.08f || std::abs(there.blueF() - expected.z) > 0.08f;
                const base::Vec3f as =
                    surface::relievedNormal(scene.covers[id].pattern, under, cloth.place, cloth.along, cloth.du, cloth.dv, look);
                const QColor coded = normal.pixelColor(x, y);
                n = normalized(n);
                tangent = normalized(tangent);
                const base::Vec3f other = cross(n, tangent) * float(hand),
                                  read = normalized(tangent * (2 * coded.redF() - 1) + other * (2 * coded.greenF() - 1) +
                                                    n * (2 * coded.blueF() - 1));
                offNormal += dot(read, as) < 0.99f;
                ++places;
            }
        }
        QVERIFY2(places > 500 && offColour < places / 20 && offNormal < places / 20,
                 qPrintable(QString("%1 of %2 colours, %3 normals").arg(offColour).arg(places).arg(offNormal)));
    }

    // Materials as the extensions name them; equal ones once. The picture's frame is the camera's.
    void materialsAndView()
    {
        const Glb glb = opened(m_path);
        const QJsonArray materials = glb.json["materials"].toArray();
        QCOMPARE(materials.size(), qsizetype{4});  // the piece's, its side's, and two letters'
        int seen = 0;
        for (const auto& item : materials) {
            const QJsonObject m = item.toObject(), more = m["extensions"].toObject(), base = m["pbrMetallicRoughness"].toObject();
            if (more.contains("KHR_materials_clearcoat")) {
                ++seen;
                QCOMPARE(more["KHR_materials_clearcoat"].toObject()["clearcoatRoughnessFactor"].toDouble(), 0.125);
                const QJsonObject film = more["KHR_materials_iridescence"].toObject();
                QCOMPARE(film["iridescenceFactor"].toDouble(), 0.5);
                QCOMPARE(film["iridescenceIor"].toDouble(), 1.5);
                QCOMPARE(film["iridescenceThicknessMaximum"].toDouble(), 250.0);
                QCOMPARE(more["KHR_materials_anisotropy"].toObject()["anisotropyStrength"].toDouble(), 0.75);
                QVERIFY(std::abs(more["KHR_materials_anisotropy"].toObject()["anisotropyRotation"].toDouble() - base::kPi / 6) < 1e-6);
                QCOMPARE(more["KHR_materials_ior"].toObject()["ior"].toDouble(), 1.75);
                QCOMPARE(more["KHR_materials_sheen"].toObject()["sheenColorFactor"].toArray()[0].toDouble(), 0.5);
                QCOMPARE(more["KHR_materials_specular"].toObject()["specularFactor"].toDouble(), 0.5);
                QCOMPARE(more["KHR_materials_specular"].toObject()["specularColorFactor"].toArray()[2].toDouble(), 0.25);
            } else if (more.contains("KHR_materials_emissive_strength")) {
                ++seen;
                QCOMPARE(more["KHR_materials_emissive_strength"].toObject()["emissiveStrength"].toDouble(), 4.0);
            } else {
                QVERIFY(more.isEmpty());
                seen += base["metallicFactor"].toDouble() == 1 && base["roughnessFactor"].toDouble() == 0.25;
            }
        }
        QCOMPARE(seen, 3);
        const QJsonObject camera = glb.at("cameras", 0)["orthographic"].toObject();
        QVERIFY(std::abs(camera["xmag"].toDouble() - base::mmFromPt(m_work.sheet().widthPt()) / 2000) < 1e-9);
    }

    void otherNamesAreRefused()
    {
        const auto saved = files::saveMesh(m_work, m_bodies, m_folder.filePath("k.obj").toStdString());
        QVERIFY(!saved && saved.error().message.find(".glb") != std::string::npos);
        QVERIFY(!files::saveMesh(m_work, {}, m_folder.filePath("none.glb").toStdString()));
    }
};

OPEN_GLOW_TEST(TestGlb)
#include "test_glb.moc"
