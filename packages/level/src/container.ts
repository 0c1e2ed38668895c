/**
 * The files of a level as one glTF 2.0 binary.
 *
 * A level may come as `.glb`, or as `.gltf` with its buffers and pictures in the same file (data URIs) or beside it.
 * Either way it is kept as one binary: JSON chunk, then one BIN chunk (glTF 2.0, section 4.4).
 */
import { levelError } from './faults.ts';

export interface NamedFile {
  /** May hold folders, as a dropped folder gives them. */
  name: string;
  bytes: Uint8Array;
}

/** The part of a glTF document that packing touches; everything else passes through untouched. */
export interface GltfJson {
  asset?: { version?: string };
  scene?: number;
  scenes?: { nodes?: number[]; extras?: Record<string, unknown> }[];
  nodes?: { children?: number[]; name?: string; mesh?: number; skin?: number; camera?: number }[];
  meshes?: { primitives: { mode?: number }[] }[];
  buffers?: { uri?: string; byteLength: number }[];
  bufferViews?: { buffer: number; byteOffset?: number; byteLength: number }[];
  accessors?: { bufferView?: number; count?: number; componentType?: number; type?: string }[];
  images?: { uri?: string; bufferView?: number; mimeType?: string }[];
  extensionsRequired?: string[];
  extensionsUsed?: string[];
  [key: string]: unknown;
}

const MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;
/** Levels larger than this are refused. */
export const MOST_LEVEL_BYTES = 256 * 1024 * 1024;

const parse = (text: string, name: string): GltfJson => {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw levelError('json', `${name}: its JSON cannot be read: ${(error as Error).message}`);
  }
  if (typeof json !== 'object' || json === null || Array.isArray(json)) throw levelError('json', `${name}: its JSON is not an object`);
  return json as GltfJson;
};

/** The JSON and the binary chunk of a `.glb`. @throws LevelError where it is cut short or is something else. */
export function openBinary(bytes: Uint8Array, name = 'the level'): { json: GltfJson; bin: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.byteLength < 12 || view.getUint32(0, true) !== MAGIC)
    throw levelError('container', `${name} is not a glTF binary: it does not start with "glTF"`);
  if (view.getUint32(4, true) !== 2)
    throw levelError('version', `${name} is a glTF binary of version ${view.getUint32(4, true)}; version 2 is read`);
  const stated = view.getUint32(8, true);
  if (stated > bytes.byteLength)
    throw levelError('truncated', `${name} is cut short: it says it has ${stated} bytes, and ${bytes.byteLength} are there`);
  let json: GltfJson | null = null;
  let bin = new Uint8Array(0);
  for (let at = 12; at + 8 <= stated; ) {
    const length = view.getUint32(at, true);
    const kind = view.getUint32(at + 4, true);
    if (at + 8 + length > stated)
      throw levelError(
        'truncated',
        `${name} is cut short: a chunk of ${length} bytes starts at byte ${at}, and the file ends at ${stated}`,
      );
    const chunk = bytes.subarray(at + 8, at + 8 + length);
    if (kind === JSON_CHUNK && !json) json = parse(new TextDecoder().decode(chunk), name);
    else if (kind === BIN_CHUNK && bin.byteLength === 0) bin = new Uint8Array(chunk);
    at += 8 + length;
  }
  if (!json) throw levelError('container', `${name} has no JSON chunk`);
  return { json, bin };
}

const pad = (length: number): number => (length + 3) & ~3;

export function writeBinary(json: GltfJson, bin: Uint8Array): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const [textLength, binLength] = [pad(text.length), pad(bin.length)];
  const out = new Uint8Array(12 + 8 + textLength + (binLength ? 8 + binLength : 0));
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, out.length, true);
  view.setUint32(12, textLength, true);
  view.setUint32(16, JSON_CHUNK, true);
  out.fill(0x20, 20, 20 + textLength);
  out.set(text, 20);
  if (binLength) {
    view.setUint32(20 + textLength, binLength, true);
    view.setUint32(24 + textLength, BIN_CHUNK, true);
    out.set(bin, 28 + textLength);
  }
  return out;
}

function fromDataUri(uri: string, pointer: string): { bytes: Uint8Array; mimeType: string } {
  const match = /^data:([^;,]*)(;[^,]*)?,/.exec(uri);
  if (!match) throw levelError('uri', 'is a data URI that cannot be read', pointer);
  const payload = uri.slice(match[0].length);
  try {
    const raw = match[2]?.includes('base64') ? atob(payload) : decodeURIComponent(payload);
    return { bytes: Uint8Array.from(raw, (c) => c.charCodeAt(0)), mimeType: match[1] ?? '' };
  } catch {
    throw levelError('uri', 'is a data URI that cannot be decoded', pointer);
  }
}

const pictureType = (name: string): string => (/\.jpe?g$/i.test(name) ? 'image/jpeg' : /\.webp$/i.test(name) ? 'image/webp' : 'image/png');
const normalise = (path: string): string =>
  path
    .replaceAll('\\', '/')
    .replace(/^(\.\/)+/, '')
    .toLowerCase();

/** The files beside a `.gltf`, found by the path it names or, where folders differ, by file name. */
function finder(main: NamedFile, files: readonly NamedFile[]): (uri: string, pointer: string) => Uint8Array {
  const folder = main.name.includes('/') ? main.name.slice(0, main.name.lastIndexOf('/') + 1) : '';
  return (uri, pointer) => {
    if (/^[a-z][a-z0-9+.-]*:/i.test(uri)) throw levelError('uri', `names "${uri}", which lies outside the dropped files`, pointer);
    let wanted: string;
    try {
      wanted = normalise(decodeURIComponent(uri));
    } catch {
      wanted = normalise(uri);
    }
    const exact = files.find((f) => normalise(f.name) === normalise(folder) + wanted);
    const byName = exact ?? files.find((f) => normalise(f.name).split('/').pop() === wanted.split('/').pop());
    if (!byName)
      throw levelError('missing', `names "${uri}", which was not among the dropped files; drop it together with ${main.name}`, pointer);
    return byName.bytes;
  };
}

/** Packs dropped files into one glTF binary. @throws LevelError naming what is missing or broken. */
export function packLevel(files: readonly NamedFile[]): { name: string; bytes: Uint8Array } {
  const total = files.reduce((sum, f) => sum + f.bytes.byteLength, 0);
  if (total > MOST_LEVEL_BYTES)
    throw levelError(
      'size',
      `the level has ${(total / 1048576).toFixed(0)} MB; at most ${MOST_LEVEL_BYTES / 1048576} MB are taken. Make its pictures smaller or compress its meshes.`,
    );
  const mains = files.filter((f) => /\.(glb|gltf)$/i.test(f.name));
  const main = mains[0];
  if (!main)
    throw levelError(
      'missing',
      `there is no .glb or .gltf among ${files.map((f) => f.name).join(', ') || 'the files'}; export the level as glTF 2.0`,
    );
  if (mains.length > 1) throw levelError('many', `there are several levels: ${mains.map((f) => f.name).join(', ')}; drop one at a time`);
  const fileName = main.name.split('/').pop() ?? main.name;
  const binary = /\.glb$/i.test(main.name);
  const opened = binary
    ? openBinary(main.bytes, fileName)
    : { json: parse(new TextDecoder().decode(main.bytes), fileName), bin: new Uint8Array(0) };
  const { json } = opened;
  const outside = (json.buffers ?? []).some((b) => b?.uri !== undefined) || (json.images ?? []).some((i) => i?.uri !== undefined);
  if (binary && !outside) return { name: fileName, bytes: main.bytes };
  return { name: fileName.replace(/\.gltf$/i, '.glb'), bytes: gather(json, opened.bin, finder(main, files)) };
}

function gather(json: GltfJson, bin: Uint8Array, find: (uri: string, pointer: string) => Uint8Array): Uint8Array {
  const parts: Uint8Array[] = [];
  let length = 0;
  const append = (bytes: Uint8Array): number => {
    const at = length;
    parts.push(bytes);
    length += pad(bytes.byteLength);
    return at;
  };
  const starts = (json.buffers ?? []).map((buffer, i) => {
    const pointer = `/buffers/${i}/uri`;
    const bytes =
      buffer.uri === undefined ? bin : buffer.uri.startsWith('data:') ? fromDataUri(buffer.uri, pointer).bytes : find(buffer.uri, pointer);
    if (bytes.byteLength < buffer.byteLength)
      throw levelError('truncated', `needs ${buffer.byteLength} bytes, and ${bytes.byteLength} are there`, `/buffers/${i}`);
    return append(bytes.subarray(0, buffer.byteLength));
  });
  const bufferViews = (json.bufferViews ?? []).map((view) => ({
    ...view,
    buffer: 0,
    byteOffset: (view.byteOffset ?? 0) + (starts[view.buffer] ?? 0),
  }));
  const images = json.images?.map((image, i) => {
    if (image.uri === undefined) return image;
    const pointer = `/images/${i}/uri`;
    const found = image.uri.startsWith('data:')
      ? fromDataUri(image.uri, pointer)
      : { bytes: find(image.uri, pointer), mimeType: pictureType(image.uri) };
    bufferViews.push({ buffer: 0, byteOffset: append(found.bytes), byteLength: found.bytes.byteLength });
    const { uri: _, ...rest } = image;
    return { ...rest, bufferView: bufferViews.length - 1, mimeType: image.mimeType ?? found.mimeType };
  });
  const whole = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += pad(part.byteLength);
  }
  const packed: GltfJson = { ...json, buffers: [{ byteLength: length }], bufferViews };
  if (images) packed.images = images;
  if (length === 0) {
    delete packed.buffers;
    delete packed.bufferViews;
  }
  return writeBinary(packed, whole);
}
