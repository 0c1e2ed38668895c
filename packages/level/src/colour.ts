/** What colour is seen along a ray: base colour by baked shade, then haze; or the sky. */
import type { Hit, Vec3 } from '@foreshore/core';
import type { Atmosphere, LevelPart, LevelParts } from './parts.ts';

/** Colour of a texture at (u, v), linear 0..1. */
export type Sampler = (texture: number, u: number, v: number, out: Vec3) => void;

export const fromSrgb = (c: number): number => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
export const toSrgb = (c: number): number => (c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055);
export const hexToRgb = (hex: string): Vec3 => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16) / 255) as Vec3;

/** The share of haze at a distance, the same formula that the drawing uses. */
export const hazeShare = (atmosphere: Atmosphere, distanceM: number): number => 1 - Math.exp(-distanceM / atmosphere.hazeM);

/** The light on surfaces that carry none of their own: a hemisphere and a sun, as the drawing has them. */
export const SUN: Vec3 = [0.45, 0.78, 0.43];
export const lambert = (normal: Vec3): number =>
  0.55 + 0.2 * normal[1] + 0.55 * Math.max(0, normal[0] * SUN[0] + normal[1] * SUN[1] + normal[2] * SUN[2]);

/** @param up the y of the direction. sRGB 0..255. Mixed in sRGB, as the drawn sky is. */
export function skyColour(atmosphere: Atmosphere, up: number, out: Vec3): Vec3 {
  const t = Math.max(0, Math.min(1, up)) ** 0.6;
  const [a, b] = [hexToRgb(atmosphere.horizon), hexToRgb(atmosphere.zenith)];
  for (const k of [0, 1, 2] as const) out[k] = 255 * (a[k] + (b[k] - a[k]) * t);
  return out;
}

const texel: Vec3 = [1, 1, 1];

/** The colour of a place on a triangle, haze and light included, sRGB 0..255; returns how opaque it is, 0..1. */
export function seenColour(
  parts: LevelParts,
  part: LevelPart,
  triangle: number,
  u: number,
  v: number,
  hit: Hit,
  sampler: Sampler | null,
  out: Vec3,
): number {
  const material = parts.materials[part.material];
  const corner = (c: 0 | 1 | 2) => part.indices[triangle * 3 + c] as number;
  const [i0, i1, i2] = [corner(0), corner(1), corner(2)];
  const mix = (values: Float32Array, width: number, k: number) =>
    (values[i0 * width + k] as number) * (1 - u - v) + (values[i1 * width + k] as number) * u + (values[i2 * width + k] as number) * v;
  texel.fill(1);
  if (sampler && part.uvs && material && material.texture >= 0) sampler(material.texture, mix(part.uvs, 2, 0), mix(part.uvs, 2, 1), texel);
  const light = material?.unlit ? 1 : lambert(hit.normal);
  const share = hazeShare(parts.atmosphere, hit.distanceM);
  const haze = hexToRgb(parts.atmosphere.haze);
  for (const k of [0, 1, 2] as const) {
    const base =
      (material?.baseColour[k] ?? 1) * texel[k] * (part.colours ? mix(part.colours, 4, k) : 1) * light +
      (material?.unlit ? 0 : (material?.emissive[k] ?? 0));
    const mixed = base * (1 - share) + fromSrgb(haze[k]) * share;
    out[k] = 255 * toSrgb(Math.max(0, Math.min(1, mixed)));
  }
  return (material?.baseColour[3] ?? 1) * (part.colours ? mix(part.colours, 4, 3) : 1);
}
