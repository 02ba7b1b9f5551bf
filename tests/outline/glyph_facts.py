#!/usr/bin/env python3
"""Area, bounds and number of contours of glyphs by fontTools' pens, in font units, as JSON.

usage: glyph_facts.py FONT CHARACTERS
"""
import json
import sys

from fontTools.pens.areaPen import AreaPen
from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.recordingPen import RecordingPen
from fontTools.ttLib import TTFont

font = TTFont(sys.argv[1], fontNumber=0)
glyphs = font.getGlyphSet()
names = font.getBestCmap()
facts = {}
for c in sys.argv[2]:
    glyph = glyphs[names[ord(c)]]
    area, bounds, record = AreaPen(glyphs), BoundsPen(glyphs), RecordingPen()
    for pen in (area, bounds, record):
        glyph.draw(pen)
    contours = sum(1 for name, _ in record.value if name == "closePath")
    facts[c] = {"area": abs(area.value), "bounds": bounds.bounds, "contours": contours}
print(json.dumps(facts))
