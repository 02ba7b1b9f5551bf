// shape.js FONT < lines of JSON {"text", "features", "variation"}: how fontkit shapes each, as lines of JSON: [glyph, x, y, advance] in font
// units.
const fontkit = require('fontkit');
const fs = require('fs');
const font = fontkit.openSync(process.argv[2]);
for (const line of fs.readFileSync(0, 'utf8').trim().split('\n')) {
    const { text, features } = JSON.parse(line);
    const run = font.layout(text, features, 'latn');
    console.log(JSON.stringify(run.glyphs.map((g, i) => {
        const p = run.positions[i];
        return [g.id, p.xOffset, p.yOffset, p.xAdvance];
    })));
}
