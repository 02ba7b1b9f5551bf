// validate.js FILE: what the glTF validator says of it, as one JSON.
const validator = require('gltf-validator');
const fs = require('fs');
validator.validateBytes(new Uint8Array(fs.readFileSync(process.argv[2])), { maxIssues: 20 }).then(
    (report) => console.log(JSON.stringify(report)),
    (error) => { console.error(error); process.exit(1); });
