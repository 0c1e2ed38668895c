/**
 * How the level is coloured: base colour by texture by baked shade, light where the material carries none of its own,
 * then haze by distance. The same formulas as `colourAt` in packages/level, so that picture and calculation agree.
 */
import { type Atmosphere, fromSrgb, hexToRgb, type LevelMaterial, SUN } from '@foreshore/level';
import { BackSide, DoubleSide, FrontSide, GLSL3, RawShaderMaterial, type Texture, Vector3, Vector4 } from 'three';

const TO_SRGB = `
vec3 toSrgb(vec3 c) { return mix(c * 12.92, 1.055 * pow(c, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c)); }`;
const VERTEX = `
precision highp float;
uniform mat4 modelMatrix, viewMatrix, projectionMatrix;
in vec3 position;
#ifdef HAS_COLOUR
in vec4 color;
#endif
#ifdef HAS_UV
in vec2 uv;
#endif
out vec4 vColour; out vec2 vUv; out vec3 vWorld; out vec3 vView;
void main() {
  vec4 world = modelMatrix * vec4(position, 1.0);
  vec4 view = viewMatrix * world;
  vWorld = world.xyz; vView = view.xyz;
  vColour = vec4(1.0); vUv = vec2(0.0);
#ifdef HAS_COLOUR
  vColour = color;
#endif
#ifdef HAS_UV
  vUv = uv;
#endif
  gl_Position = projectionMatrix * view;
}`;

const FRAGMENT = `
precision highp float;
uniform vec4 baseColour; uniform vec3 emissive, haze, sun; uniform float hazeM, cutoff;
uniform sampler2D map;
in vec4 vColour; in vec2 vUv; in vec3 vWorld; in vec3 vView;
out vec4 colour;
${TO_SRGB}
void main() {
  vec4 base = baseColour * vColour;
#ifdef HAS_MAP
  base *= texture(map, vUv);
#endif
  if (base.a < cutoff) discard;
#ifdef LIT
  vec3 n = normalize(cross(dFdx(vWorld), dFdy(vWorld)));
  base.rgb = base.rgb * (0.55 + 0.2 * n.y + 0.55 * max(0.0, dot(n, sun))) + emissive;
#endif
  float share = 1.0 - exp(-length(vView) / hazeM);
  colour = vec4(toSrgb(clamp(mix(base.rgb, haze, share), 0.0, 1.0)), base.a);
}`;

export function levelMaterial(
  material: LevelMaterial | undefined,
  atmosphere: Atmosphere,
  map: Texture | null,
  hasColour: boolean,
  hasUv: boolean,
): RawShaderMaterial {
  const blend = material?.alpha === 'blend';
  const uniforms = {
    baseColour: { value: new Vector4(...(material?.baseColour ?? [1, 1, 1, 1])) },
    emissive: { value: new Vector3(...(material?.emissive ?? [0, 0, 0])) },
    haze: { value: new Vector3(...hexToRgb(atmosphere.haze).map(fromSrgb)) },
    hazeM: { value: atmosphere.hazeM },
    sun: { value: new Vector3(...SUN) },
    cutoff: { value: material?.alpha === 'mask' ? material.alphaCutoff : 0 },
    map: { value: map },
  };
  const defines: Record<string, string> = {};
  if (hasColour) defines.HAS_COLOUR = '';
  if (hasUv) defines.HAS_UV = '';
  if (map && hasUv) defines.HAS_MAP = '';
  if (!material?.unlit) defines.LIT = '';
  return new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    uniforms,
    defines,
    side: material?.doubleSided ? DoubleSide : FrontSide,
    transparent: blend,
    depthWrite: !blend,
  });
}

/** A sphere about the eye, as far off as depth goes: drawn last, only where nothing else is. Mixed in sRGB by the height of the direction. */
export function skyMaterial(atmosphere: Atmosphere): RawShaderMaterial {
  return new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: `precision highp float; uniform mat4 modelMatrix, viewMatrix, projectionMatrix; in vec3 position; out vec3 vDirection;
void main() { vDirection = position; gl_Position = (projectionMatrix * viewMatrix * modelMatrix * vec4(position, 1.0)).xyww; }`,
    fragmentShader: `precision highp float; uniform vec3 zenith, horizon; in vec3 vDirection; out vec4 colour;
void main() { float up = clamp(normalize(vDirection).y, 0.0, 1.0); colour = vec4(mix(horizon, zenith, pow(up, 0.6)), 1.0); }`,
    uniforms: {
      zenith: { value: new Vector3(...hexToRgb(atmosphere.zenith)) },
      horizon: { value: new Vector3(...hexToRgb(atmosphere.horizon)) },
    },
    side: BackSide,
    depthWrite: false,
  });
}
