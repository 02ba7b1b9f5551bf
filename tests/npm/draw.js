// draw.js FOLDER < files, one a line: each SVG as resvg draws it on white, 400 px wide, as FOLDER/<line>.png; what it cannot draw is left out.
const { Resvg } = require('@resvg/resvg-js');
const fs = require('fs');
const files = fs.readFileSync(0, 'utf8').split('\n').filter((f) => f);
files.forEach((file, i) => {
    try {
        const drawn = new Resvg(fs.readFileSync(file), { background: 'white', fitTo: { mode: 'width', value: 400 } }).render();
        fs.writeFileSync(`${process.argv[2]}/${i}.png`, drawn.asPng());
    } catch (error) {
        console.error(`${file}: ${error}`);
    }
});
