/** What kinds of elements and mounts are called where users read. */
import { type Element, isMark, type Lost, type Mount } from '@foreshore/document';

export const KIND_WORDS: Record<Element['kind'], string> = {
  label: 'Text',
  group: 'Group',
  gauge: 'Gauge',
  picture: 'Picture',
  page: 'Page',
  toggle: 'Toggle',
  slider: 'Slider',
  key: 'Key',
  screenPaint: 'Screen paint',
  instance: 'Instance',
  crosshair: 'Crosshair',
  direction: 'Direction',
};

/** What one element is called by what it is for. */
export const kindWord = (element: Element): string =>
  element.kind === 'direction' && isMark(element) ? 'Event mark' : KIND_WORDS[element.kind];

export const MOUNT_WORDS: Record<Mount['kind'], string> = {
  floating: 'Floating over an anchor',
  glass: 'Fixed on the HUD',
  inside: 'Inside a group',
  standing: 'Standing in the level',
  trailing: 'Trailing the viewer',
};

/** What another mount cannot carry. */
const LOST_WORDS: Record<Lost, string> = {
  range: 'Range',
  look: 'Look',
  sightline: 'Sightline',
  claim: 'Claim',
  press: 'Press',
  metres: 'its size in metres',
  facing: 'how it is turned',
  leader: 'its leader line',
  stretch: 'being stretched',
};
export const sayLost = (lost: readonly Lost[]): string =>
  lost.length === 0 ? '' : `gives up ${lost.map((one) => LOST_WORDS[one]).join(', ')}`;
