#!/usr/bin/env python3
"""Holds the order of the layers: a folder of src names only itself and those above it, and Qt stays in app.

usage: layers.py SRC
"""
import pathlib
import re
import sys

ORDER = ["base", "outline", "solid", "picture", "reader", "film", "surface", "light", "denoise", "render", "finish", "work", "files", "session", "cli", "app"]
OUTSIDE = {  # libraries that only some folders may name
    r"^Q[A-Z]|^qt": {"app"}, r"^tbb/": {"base"}, r"^embree": {"render"}, r"^xxhash": {"base"}, r"^OpenImageIO|^OIIO": {"reader"}, r"^lcms2": {"files", "reader"}, r"^nlohmann/": {"files", "session", "cli"},
    r"^zip\.h": {"files"}, r"^hb": {"outline"}, r"^unicode/": {"outline"}, r"^fontconfig": {"outline"},
    r"^polyclipping": {"outline", "reader"}, r"^pugixml": {"outline", "reader"}, r"^librsvg/|^glib/": {"reader"}, r"^cairo": {"reader", "files"}, r"^boost/polygon": {"solid"}, r"^CLI/": {"cli"}, r"^zint": {"work"}, r"^exiv2": {"files"}, r"^avif/|^jxl/|^webp/|^png|^jpeglib|^tiff|^Imf|^half": {"files"},
}

src = pathlib.Path(sys.argv[1])
faults, seen = [], 0
for path in sorted(src.rglob("*.[ch]*")):
    folder = path.relative_to(src).parts[0]
    if folder not in ORDER:
        faults.append(f"{path}: folder {folder} has no place in the order")
        continue
    for number, line in enumerate(path.read_text().split("\n"), 1):
        include = re.match(r'#include\s+["<]([^">]+)[">]', line)
        if not include:
            continue
        seen += 1
        name = include.group(1)
        top = name.split("/")[0]
        if top in ORDER and "/" in name:
            if ORDER.index(top) > ORDER.index(folder) or (folder == "app" and top == "cli") or (top == "reader" and folder != "reader"):
                faults.append(f"{path}:{number}: {folder} must not name {top}")
        else:
            for pattern, allowed in OUTSIDE.items():
                if re.match(pattern, name) and folder not in allowed:
                    faults.append(f"{path}:{number}: {name} belongs to {', '.join(sorted(allowed))}")
print("\n".join(faults))
sys.exit(1 if faults or seen < 100 else 0)
