/** What kinds of elements and mounts are called where users read. */
import type { Element, Mount } from '@foreshore/document';

export const KIND_WORDS: Record<Element['kind'], string> = {
  label: 'Text',
  group: 'Group',
  gauge: 'Gauge',
  picture: 'Picture',
  toggle: 'Toggle',
  slider: 'Slider',
  key: 'Key',
  screenPaint: 'Screen paint',
  instance: 'Instance',
  crosshair: 'Crosshair',
};

export const MOUNT_WORDS: Record<Mount['kind'], string> = {
  floating: 'Floating over an anchor',
  glass: 'Fixed on the HUD',
  inside: 'Inside a group',
};
