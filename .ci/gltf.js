// Prints how many errors the validator of glTF finds in a file, and the first of them.
// node .ci/gltf.js FILE, with the package gltf-validator on NODE_PATH
const { readFileSync } = require("node:fs");
const validator = require("gltf-validator");

validator.validateBytes(new Uint8Array(readFileSync(process.argv[2]))).then(({ issues }) => {
  console.log(`${issues.numErrors} errors, ${issues.numWarnings} warnings`);
  for (const m of issues.messages.filter((m) => m.severity === 0).slice(0, 5))
    console.log(m.code, m.message, m.pointer);
});
