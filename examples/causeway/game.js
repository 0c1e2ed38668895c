/**
 * A small game in Low Water. Everything that the player reads, presses or follows is drawn by the Foreshore runtime from an exported
 * bundle; the game gives it a camera, a time and values, and hears of actions. Another bundle may take its place while the game runs.
 */
import * as THREE from 'three';
import { Boxes } from '/runtime/foreshore-boxes.js';
import { Panels } from '/runtime/foreshore-canvas.js';
import { connect } from '/runtime/foreshore-connect.js';
import { lettersOf } from '/runtime/foreshore-letters.js';
import { levelFrom } from '/runtime/foreshore-level.js';
import { Runtime } from '/runtime/foreshore-runtime.js';
import { Use } from '/runtime/foreshore-use.js';
import { GLTFLoader } from '/three-loaders/GLTFLoader.js';

const worldCanvas = document.getElementById('world');
const overCanvas = document.getElementById('over');
const over = overCanvas.getContext('2d');

// The game's own state.
const game = {
  eye: new THREE.Vector3(-38.3, 2.6, -21.4),
  yaw: -2.32,
  pitch: -0.03,
  keys: new Set(),
  /** How far each gate is up and the door is open, and how far they shall be, 0 to 1. */
  gates: [0, 0, 0],
  gatesTo: [0, 0, 0],
  door: 0,
  doorTo: 0,
  warmth: 92,
  lamp: 1,
  log: ['Gate 2 stiff', 'Gulls on the slipway'],
  oil: 9,
  tideRead: false,
  samples: 0,
  /** What was heard of, the last first. */
  heard: [],
  frames: 0,
  /** How the connection to a bench stands; empty: there is none. */
  connection: '',
};

const renderer = new THREE.WebGLRenderer({ canvas: worldCanvas, antialias: false });
const scene = new THREE.Scene();
scene.background = new THREE.Color(0x9fb2bf);
scene.fog = new THREE.Fog(0x9fb2bf, 60, 260);
const camera = new THREE.PerspectiveCamera(60, 1, 0.1, 600);
camera.rotation.order = 'YXZ';
const { scene: world } = await new GLTFLoader().loadAsync('/bundles/low-water.glb');
world.traverse((node) => {
  if (node.material) {
    node.material = new THREE.MeshBasicMaterial({
      color: node.material.color,
      vertexColors: node.material.vertexColors,
      side: THREE.DoubleSide,
    });
    if (node.geometry.attributes.color) node.material.vertexColors = true;
  }
});
scene.add(world);

/**
 * What a bundle is played with: its letters, its level, its pictures, the parts it needs.
 * @param edited the bundle itself, where it comes over the game connection; its files are those of the folder.
 */
async function play(name, edited = null) {
  const file = (path) => fetch(`/bundles/${name}/${path}`).then((answer) => answer.arrayBuffer());
  const bundle = edited ?? JSON.parse(new TextDecoder().decode(await file('bundle.json')));
  const parts = await Promise.all(bundle.needs.map(async (part) => (await import(`/runtime/foreshore-${part}.js`))[part]));
  const [letters, level] = await Promise.all([
    lettersOf(bundle, async (path) => new Uint8Array(await file(path))),
    file('level.bin').then(levelFrom),
  ]);
  const pictures = new Map();
  for (const [hash, path] of Object.entries(bundle.pictures)) {
    const picture = new Image();
    picture.src = `/bundles/${name}/${path}`;
    picture.decode().then(
      () => pictures.set(hash, picture),
      () => {},
    );
  }
  const ui = new Runtime(bundle, { letters, parts, level, language: name === 'second' ? 'de' : 'en', onMessage: hear });
  // What the interface sets by itself, the slider of the lamp for one, the game takes over.
  const use = new Use(ui, ({ feed, value }) => feed === 'lamp' && (game.lamp = value));
  use.take('aim');
  // With `?paint=boxes` in the address the interface is boxes of the page; else it is on a canvas, and panels are quads of the world.
  const isBoxes = new URLSearchParams(location.search).get('paint') === 'boxes';
  const hrefOf = (hash) => bundle.pictures[hash] && `/bundles/${name}/${bundle.pictures[hash]}`;
  const boxes = isBoxes ? new Boxes(ui, document.getElementById('boxes'), hrefOf) : null;
  return { name, ui, use, level, panels: new Panels(ui), boxes, pictures };
}

/** What the interface sends, the game does. */
function hear({ name, target }) {
  game.heard.unshift({ name, target });
  if (name === 'Turn a wheel') {
    const gate = Number(/\d/.exec(target ?? '')?.[0] ?? 0) - 1;
    if (gate >= 0) game.gatesTo[gate] = 1 - game.gatesTo[gate];
  } else if (name === 'Open or close a door') game.doorTo = 1 - game.doorTo;
  else if (name === 'Read the tide') game.tideRead = true;
  else if (name === 'Prime the pump') game.oil = Math.max(0, game.oil - 1);
}

let playing = await play(new URLSearchParams(location.search).get('bundle') ?? 'first');
let swapping = false;
async function swap(edited = null) {
  if (swapping) return;
  swapping = true;
  try {
    const next = await play(edited ? playing.name : playing.name === 'first' ? 'second' : 'first', edited);
    for (const { mesh } of quads.values()) scene.remove(mesh);
    playing.boxes?.clear();
    quads.clear();
    playing = next;
    resize();
  } finally {
    swapping = false;
  }
}

/** Values that the contract asks for. */
function tell(ui, timeS) {
  const values = {
    warmth: game.warmth,
    lamp: game.lamp,
    tide: 0.6 + 0.5 * Math.sin(timeS / 19),
    samples: game.samples,
    clockS: 240 - (timeS % 240),
    objective: 'Open the sluices, then light the lamp',
    oilDays: game.oil,
    log: game.log,
    door: game.door,
    tideRead: game.tideRead,
    // Of every stake; of one, its own.
    loose: false,
    ...Object.fromEntries(game.gates.map((gate, k) => [`gate${k + 1}`, gate])),
  };
  const objects = { 'Stake 14': { loose: true } };
  for (const [feed, value] of Object.entries(values)) ui.set(feed, value);
  for (const [object, of] of Object.entries(objects)) for (const [feed, value] of Object.entries(of)) ui.set(feed, value, object);
  const { x, y, z, w } = camera.quaternion;
  bench?.say({
    timeS,
    camera: { position: game.eye.toArray(), rotation: [x, y, z, w] },
    lens: { fov: camera.fov, aspect: camera.aspect },
    phase: 'roaming',
    feeds: values,
    objects,
  });
}

/** Where the address names a bench (`?bench=http://127.0.0.1:4180&project=low-water&token=…`), the game connects to it. */
function toBench() {
  const query = new URLSearchParams(location.search);
  const [address, project, token] = ['bench', 'project', 'token'].map((key) => query.get(key));
  if (!address || !project || !token) return null;
  return connect({
    address,
    project,
    token,
    name: 'Causeway',
    onAction: hear,
    onSet: ({ feed, value }) => feed === 'lamp' && (game.lamp = value),
    // Edited on the bench, seen here.
    onChanged: () =>
      bench
        .bundle()
        .then(({ bundle }) => swap(bundle))
        .catch((error) => console.error(error)),
    onState: (state, why) => {
      game.connection = why || state;
    },
  });
}
const bench = toBench();

// Panels of the interface stand in the world as quads with textures, so that the level covers them.
const quads = new Map();
function showPanels(shown) {
  for (const [id, { mesh }] of quads) mesh.visible = shown.some((quad) => quad.id === id);
  for (const quad of shown) {
    let known = quads.get(quad.id);
    if (!known) {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute('position', new THREE.BufferAttribute(new Float32Array(12), 3));
      geometry.setAttribute('uv', new THREE.BufferAttribute(new Float32Array([0, 1, 1, 1, 0, 0, 1, 0]), 2));
      geometry.setIndex([0, 2, 1, 1, 2, 3]);
      const texture = new THREE.CanvasTexture(quad.canvas);
      texture.colorSpace = THREE.SRGBColorSpace;
      const material = new THREE.MeshBasicMaterial({
        map: texture,
        transparent: true,
        polygonOffset: true,
        polygonOffsetFactor: -2,
        polygonOffsetUnits: -2,
      });
      known = { mesh: new THREE.Mesh(geometry, material), texture, version: -1 };
      known.mesh.frustumCulled = false;
      scene.add(known.mesh);
      quads.set(quad.id, known);
    }
    known.mesh.geometry.attributes.position.array.set(quad.corners);
    known.mesh.geometry.attributes.position.needsUpdate = true;
    if (known.version !== quad.version) {
      known.version = quad.version;
      known.texture.needsUpdate = true;
    }
  }
}

/** Nodes that the interface's level moves stand there in the picture, too. */
const moved = new Map();
world.traverse((node) => moved.set(node.userData.name ?? node.name, node));
const matrix = new THREE.Matrix4();
function moveNodes({ nodeIds, nodeMoves, worldMatrices }) {
  for (let k = 0; k < nodeIds.length; k++) {
    if (!nodeMoves[k]) continue;
    const node = moved.get(nodeIds[k]);
    if (!node?.parent) continue;
    node.parent.updateWorldMatrix(true, false);
    matrix.fromArray(worldMatrices, k * 16).premultiply(node.parent.matrixWorld.clone().invert());
    matrix.decompose(node.position, node.quaternion, node.scale);
  }
}

/** What moves by itself: the water's cold, gates and the door on their way. */
function goOn(dt) {
  game.warmth = Math.max(20, game.warmth - dt * 0.4);
  game.lamp = Math.max(0, game.lamp - dt / 300);
  const towards = (from, to, perS) => from + Math.max(-perS * dt, Math.min(perS * dt, to - from));
  game.gates = game.gates.map((gate, k) => towards(gate, game.gatesTo[k], 0.5));
  game.door = towards(game.door, game.doorTo, 0.8);
}

const hit = { distanceM: 0, position: [0, 0, 0], normal: [0, 1, 0], node: -1, back: false };
function walk(dt) {
  const pressed = (code) => (game.keys.has(code) ? 1 : 0);
  const [ahead, right] = [pressed('KeyW') - pressed('KeyS'), pressed('KeyD') - pressed('KeyA')];
  if (ahead || right) {
    const [sin, cos] = [Math.sin(game.yaw), Math.cos(game.yaw)];
    const length = Math.hypot(ahead, right);
    const step = (3 * dt) / length;
    const to = [game.eye.x + (-sin * ahead + cos * right) * step, game.eye.z + (-cos * ahead - sin * right) * step];
    const way = [to[0] - game.eye.x, 0, to[1] - game.eye.z];
    const far = Math.hypot(way[0], way[2]);
    // Not through walls, at the height of the knee.
    const knee = [game.eye.x, game.eye.y - 1.1, game.eye.z];
    if (
      !playing.level.castRay(
        knee,
        way.map((v) => v / far),
        far + 0.3,
        hit,
      )
    )
      [game.eye.x, game.eye.z] = to;
  }
  if (playing.level.castRay([game.eye.x, game.eye.y, game.eye.z], [0, -1, 0], 20, hit))
    game.eye.y += (game.eye.y - hit.distanceM + 1.65 - game.eye.y) * Math.min(1, dt * 8);
}

function resize() {
  const [width, height] = [window.innerWidth, window.innerHeight];
  renderer.setSize(width, height, false);
  camera.aspect = width / height;
  camera.updateProjectionMatrix();
  overCanvas.width = width;
  overCanvas.height = height;
  playing.ui.resize(width, height);
}
window.addEventListener('resize', resize);

window.addEventListener('keydown', (event) => {
  if (event.repeat) return;
  game.keys.add(event.code);
  if (event.code === 'KeyL') swap();
  else playing.use.key(event.code, true);
});
window.addEventListener('keyup', (event) => {
  game.keys.delete(event.code);
  playing.use.key(event.code, false);
});
worldCanvas.addEventListener('pointermove', (event) => {
  if (!(event.buttons & 1)) return;
  game.yaw -= event.movementX / 300;
  game.pitch = Math.max(-1.4, Math.min(1.4, game.pitch - event.movementY / 300));
});

const began = performance.now();
let last = began;
function frame(now) {
  const dt = Math.min(0.1, Math.max(0, now - last) / 1000);
  last = now;
  const timeS = Math.max(0, now - began) / 1000;
  goOn(dt);
  walk(dt);
  camera.position.copy(game.eye);
  camera.rotation.set(game.pitch, game.yaw, 0);
  camera.updateMatrixWorld();
  const { ui, use, level, panels, boxes, pictures } = playing;
  tell(ui, timeS);
  use.advance(dt);
  ui.frame({ timeS, view: camera.matrixWorldInverse.elements, projection: camera.projectionMatrix.elements });
  moveNodes(level);
  over.clearRect(0, 0, overCanvas.width, overCanvas.height);
  if (boxes) boxes.paint();
  else showPanels(panels.paint(over, (hash) => pictures.get(hash)));
  renderer.render(scene, camera);
  game.frames++;
  requestAnimationFrame(frame);
}

resize();
requestAnimationFrame(frame);
// For the console, and for tests.
window.causeway = { game, runtime: () => playing.ui, name: () => playing.name, swap };
