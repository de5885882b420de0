// Runs the check of a certificate's page as a browser would: node browser_check.js FOLDER browser|own. Prints what it found as JSON.
'use strict';
const fs = require('fs'), path = require('path'), vm = require('vm');

const folder = process.argv[2], own = process.argv[3] === 'own';
const page = fs.readFileSync(path.join(folder, 'index.html'), 'utf8');
const script = page.slice(page.lastIndexOf('<script>') + 8, page.lastIndexOf('</script>'));
const world = {TextDecoder, TextEncoder, Uint8Array, Int32Array, DataView, ArrayBuffer, console};
if (!own) world.crypto = require('crypto').webcrypto;
world.globalThis = world;
vm.createContext(world);
vm.runInContext(script, world);
const files = [];
(function walk(at) {
  for (const entry of fs.readdirSync(path.join(folder, at), {withFileTypes: true})) {
    const name = at ? at + '/' + entry.name : entry.name;
    if (entry.isDirectory()) walk(name);
    else files.push({path: name, bytes: async () => new Uint8Array(fs.readFileSync(path.join(folder, name)))});
  }
})('');
world.checkFiles(files).then(result => console.log(JSON.stringify(result)));
