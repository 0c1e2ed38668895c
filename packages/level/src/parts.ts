/** A level as read: plain tables, from which both the calculation and the drawing are made. */
export interface LevelPart {
  node: number;
  /** In the node's own space; of a skinned mesh, in the world at rest. */
  positions: Float32Array;
  normals: Float32Array | null;
  /** Red, green, blue, alpha, linear 0..1. */
  colours: Float32Array | null;
  uvs: Float32Array | null;
  indices: Uint16Array | Uint32Array;
  material: number;
  /** Positions are in the world already: the mesh is skinned and stands in its rest pose. */
  inWorld: boolean;
}

/** One form of a piece: a range of its indices. */
export interface Detail {
  start: number;
  count: number;
  /** No point of it is farther from the whole than this, metres in the piece's own space; 0 for the whole. */
  errorM: number;
}

export interface DrawnPiece {
  /** −1 for positions in the world. */
  node: number;
  material: number;
  positions: Float32Array;
  colours: Float32Array | null;
  uvs: Float32Array | null;
  /** The whole and then its coarser forms. */
  indices: Uint16Array | Uint32Array;
  details: Detail[];
  /** A sphere about it in its own space. */
  centre: [number, number, number];
  radiusM: number;
}

export interface LevelMaterial {
  name: string;
  /** Linear red, green, blue, alpha. */
  baseColour: [number, number, number, number];
  emissive: [number, number, number];
  /** Index into `textures`, or −1. */
  texture: number;
  unlit: boolean;
  doubleSided: boolean;
  alpha: 'opaque' | 'mask' | 'blend';
  alphaCutoff: number;
}

export interface LevelTexture {
  bytes: Uint8Array;
  mimeType: string;
  repeatU: boolean;
  repeatV: boolean;
}

export interface LevelChannel {
  node: number;
  path: 'translation' | 'rotation' | 'scale';
  interpolation: 'LINEAR' | 'STEP' | 'CUBICSPLINE';
  times: Float32Array;
  values: Float32Array;
}

export interface LevelClip {
  name: string;
  durationS: number;
  channels: LevelChannel[];
}

export interface LevelCamera {
  name: string;
  node: number;
  kind: 'perspective' | 'orthographic';
  /** Vertical field of view in degrees, or half the height in metres. */
  fovDeg: number;
  halfHeightM: number;
  nearM: number;
}

/** Sky and haze; sRGB colours as #RRGGBB. A level may carry it in its scene's extras as `atmosphere`. */
export interface Atmosphere {
  zenith: string;
  horizon: string;
  haze: string;
  /** Haze covers `1 − e^(−distance/hazeM)` of what lies behind. */
  hazeM: number;
}

export interface LevelParts {
  nodeIds: string[];
  /** Numbers, texts and flags of each node's extras. */
  nodeProperties: Record<string, number | string | boolean>[];
  /** Parents come before children; −1 for none. */
  parent: Int32Array;
  /** Ten numbers a node: translation, rotation, scale. */
  rest: Float64Array;
  /** 1 where the file gives a matrix that no translation, rotation and scale can say; then it is in `matrices`. */
  matrices: Map<number, Float64Array>;
  parts: LevelPart[];
  materials: LevelMaterial[];
  textures: LevelTexture[];
  clips: LevelClip[];
  cameras: LevelCamera[];
  atmosphere: Atmosphere;
  /** Applied above all roots: unit and up axis. */
  root: Float64Array;
}

export const DEFAULT_ATMOSPHERE: Atmosphere = { zenith: '#8FB3C7', horizon: '#DCE5E4', haze: '#DCE5E4', hazeM: 900 };
