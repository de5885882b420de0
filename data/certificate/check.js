// Checks the files of a certificate's folder against its signature, here in the browser and without a network.
// statement, signature: as docs/certificate.md describes signature.json.
'use strict';

const hex = bytes => Array.from(bytes, b => b.toString(16).padStart(2, '0')).join('');
const unhex = text => Uint8Array.from(text.match(/../g) || [], pair => parseInt(pair, 16));

// SHA-256 (FIPS 180-4), for browsers that keep theirs from pages that lie on a disk.
function sha256Plain(bytes) {
  const k = [], h = [];
  for (let n = 2, found = 0; found < 64; ++n) {
    let prime = true;
    for (let d = 2; d * d <= n; ++d) if (n % d === 0) { prime = false; break; }
    if (!prime) continue;
    const fraction = (x) => Math.floor((x - Math.floor(x)) * 4294967296) | 0;
    if (found < 8) h.push(fraction(Math.sqrt(n)));
    k.push(fraction(Math.cbrt(n)));
    ++found;
  }
  const length = bytes.length, blocks = (length + 9 + 63) >> 6;
  const last = new Uint8Array(blocks * 64 - (length & ~63));
  last.set(bytes.subarray(length & ~63));
  last[length & 63] = 0x80;
  const bits = new DataView(last.buffer);
  bits.setUint32(last.length - 8, Math.floor(length / 536870912));
  bits.setUint32(last.length - 4, (length << 3) >>> 0);
  const w = new Int32Array(64), turn = (x, n) => (x >>> n) | (x << (32 - n));
  for (let block = 0; block < blocks; ++block) {
    const at = block * 64, inside = at + 64 <= (length & ~63);
    const from = inside ? bytes : last, start = inside ? at : at - (length & ~63);
    for (let i = 0; i < 16; ++i) {
      const j = start + 4 * i;
      w[i] = (from[j] << 24) | (from[j + 1] << 16) | (from[j + 2] << 8) | from[j + 3];
    }
    for (let i = 16; i < 64; ++i) {
      const a = w[i - 15], b = w[i - 2];
      w[i] = (w[i - 16] + (turn(a, 7) ^ turn(a, 18) ^ (a >>> 3)) + w[i - 7] + (turn(b, 17) ^ turn(b, 19) ^ (b >>> 10))) | 0;
    }
    let [a, b, c, d, e, f, g, z] = h;
    for (let i = 0; i < 64; ++i) {
      const one = (z + (turn(e, 6) ^ turn(e, 11) ^ turn(e, 25)) + ((e & f) ^ (~e & g)) + k[i] + w[i]) | 0;
      const two = ((turn(a, 2) ^ turn(a, 13) ^ turn(a, 22)) + ((a & b) ^ (a & c) ^ (b & c))) | 0;
      [z, g, f, e, d, c, b, a] = [g, f, e, (d + one) | 0, c, b, a, (one + two) | 0];
    }
    [a, b, c, d, e, f, g, z].forEach((x, i) => { h[i] = (h[i] + x) | 0; });
  }
  const out = new DataView(new ArrayBuffer(32));
  h.forEach((x, i) => out.setInt32(4 * i, x));
  return new Uint8Array(out.buffer);
}

async function sha256(bytes) {
  const subtle = globalThis.crypto && globalThis.crypto.subtle;
  return hex(subtle ? new Uint8Array(await subtle.digest('SHA-256', bytes)) : sha256Plain(bytes));
}

// RFC 8785, for what a statement holds: texts, whole numbers, null, lists, objects with plain names.
function canonical(value) {
  if (Array.isArray(value)) return '[' + value.map(canonical).join(',') + ']';
  if (value && typeof value === 'object')
    return '{' + Object.keys(value).sort().map(key => JSON.stringify(key) + ':' + canonical(value[key])).join(',') + '}';
  return JSON.stringify(value);
}

// true, false, or null where this browser knows no Ed25519.
async function signatureHolds(seal) {
  const subtle = globalThis.crypto && globalThis.crypto.subtle;
  if (!subtle) return null;
  let key;
  try {
    key = await subtle.importKey('raw', unhex(seal.statement.public_key), {name: 'Ed25519'}, false, ['verify']);
  } catch (e) {
    return null;
  }
  try {
    return await subtle.verify({name: 'Ed25519'}, key, unhex(seal.signature), new TextEncoder().encode(canonical(seal.statement)));
  } catch (e) {
    return false;
  }
}

// files: [{path, bytes: async () => Uint8Array}]; tell(done, all) is called between them.
// Gives {wrong: [sentence], beside: [path], signer: {holder, key} or null, holds: true, false or null, checked}.
async function checkFiles(files, tell) {
  const out = {wrong: [], beside: [], signer: null, holds: null, checked: 0};
  const byPath = new Map(files.map(file => [file.path, file]));
  const lies = byPath.get('signature.json');
  if (!lies) {
    out.wrong.push('“signature.json” is missing: whether anything was changed cannot be told.');
    return out;
  }
  let seal;
  const text = new TextDecoder().decode(await lies.bytes());
  try {
    seal = JSON.parse(text);
    if (seal.format !== 'clendo-seal' || !Array.isArray(seal.statement.files)) throw new Error('format');
  } catch (e) {
    out.wrong.push('“signature.json” cannot be read: whether anything was changed cannot be told.');
    return out;
  }
  if (canonical(seal) + '\n' !== text) out.wrong.push('“signature.json” is not as it was written.');
  const statement = seal.statement;
  if (statement.public_key) {
    out.signer = {holder: String(statement.holder), key: String(statement.public_key)};
    out.holds = await signatureHolds(seal);
    if (out.holds === false) out.wrong.push('The signature is not that of the key over what stands here: one of the two was changed.');
  } else {
    out.wrong.push('No key signed this certificate: whoever has the folder can change it, and nobody could tell.');
  }
  const known = new Set(['signature.json']);
  for (const file of statement.files) {
    known.add(file.path);
    if (tell) await tell(out.checked, statement.files.length);
    ++out.checked;
    const there = byPath.get(file.path);
    if (!there) {
      out.wrong.push('“' + file.path + '” is missing.');
      continue;
    }
    const bytes = await there.bytes();
    if (bytes.length !== file.bytes || await sha256(bytes) !== file.sha256)
      out.wrong.push('“' + file.path + '” was changed: it is not the file over which the signature was given.');
  }
  for (const path of byPath.keys()) if (!known.has(path)) out.beside.push(path);
  return out;
}

function spoken(key) { return key.slice(0, 16).match(/.{4}/g).join(' '); }

function sentences(result) {
  if (result.wrong.length > 0) return result.wrong;
  const first = result.checked + ' files are as they were when they were signed with the key ' + spoken(result.signer.key) + ', which says to be ' +
      result.signer.holder + '’s.';
  const second = result.holds === null ?
      'This browser cannot check the signature itself, only the files against it: “clendo-cli verify” can.' :
      'Compare these sixteen digits with the key’s holder, by another way than this folder came.';
  const out = [first, second];
  if (result.beside.length > 0) out.push('Beside them lie files that are no part of the certificate: ' + result.beside.slice(0, 5).join(', ') + '.');
  return out;
}

if (typeof document !== 'undefined') {
  const chosen = document.getElementById('folder'), said = document.getElementById('said');
  const say = (lines, tone) => {
    said.className = tone;
    said.replaceChildren(...lines.map(line => Object.assign(document.createElement('p'), {textContent: line})));
  };
  chosen.addEventListener('change', async () => {
    const files = Array.from(chosen.files, file => ({
      path: file.webkitRelativePath.split('/').slice(1).join('/'),
      bytes: async () => new Uint8Array(await file.arrayBuffer()),
    }));
    const result = await checkFiles(files, async (done, all) => {
      if (done % 50 === 0) {
        say(['Checking ' + done + ' of ' + all + ' files …'], '');
        await new Promise(resolve => setTimeout(resolve));
      }
    });
    say(sentences(result), result.wrong.length > 0 ? 'bad' : result.holds ? 'good' : 'open');
  });
}
