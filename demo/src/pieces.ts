/** Pieces that the HUD and the panels of Low Water are put together from. */
import { type Element, type Group, insideOf, type Label, makeGroup, makePicture, makeText, type Show } from '@foreshore/document';

export const show = (edit: Partial<Show>): Show => ({ phases: {}, need: 'all', conditions: [], lingerS: 0, ...edit });
/** What belongs to walking about: gone in a cinematic, faint behind a veil. */
export const whileRoaming = () => show({ phases: { cinematic: 'hidden', paused: 'dimmed', stranded: 'hidden' } });

export const isOpen = (feed: string, open: boolean) =>
  show({ conditions: [{ kind: 'compare', feed, is: 'equals', value: open, leave: 0 }] });

/** A button: a plate with a text inside, as wide as what it is in, or as itself; pointing at it changes both. */
export const button = (
  carried: Parameters<typeof makeText>[0],
  id: string,
  name: string,
  action: string,
  order: string,
  { own = false, picture }: { own?: boolean; picture?: string } = {},
): Record<string, Element> => {
  const frame = makeGroup(carried, name, 'row', order);
  return {
    [id]: {
      ...frame,
      mount: carried.mount.kind === 'inside' && !own ? { ...carried.mount, stretch: [true, false] } : carried.mount,
      layout: { ...frame.layout, spread: 'centre', padPx: [24, 8, 24, 10] },
      paint: { plate: { colour: '#E6D5A6', radiusPx: 6, border: { colour: '#15233B', widthPx: 2 } }, opacity: 1 },
      pointer: {
        takes: 'acts',
        action,
        padPx: 4,
        pointed: { plate: '#1B6E83', text: '#FFFFFF' },
        pressed: { plate: '#12445A' },
        changeS: 0.12,
      },
    },
    ...(picture && {
      [`${id}-picture`]: { ...makePicture(insideOf(id), `${name} picture`, picture, 36, 36, `${order}U`), pointer: PASSES },
    }),
    [`${id}-text`]: text(insideOf(id), `${name} text`, name, `${order}V`, 28, {
      paint: { colour: '#15233B', weight: 700, align: 'centre' },
      pointer: PASSES,
    }),
  };
};
const PASSES: Label['pointer'] = { takes: 'passes', action: null, padPx: 0, pointed: {}, pressed: {} };

type Part = Partial<Omit<Label, 'paint'>> & { paint?: Partial<Label['paint']> };
export const text = (
  carried: Parameters<typeof makeText>[0],
  name: string,
  message: string,
  order: string,
  emPx: number,
  { paint = {}, ...rest }: Part = {},
): Label => {
  const label = makeText(carried, message, order);
  return {
    ...label,
    name,
    ...rest,
    size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 },
    paint: { ...label.paint, outline: null, ...paint },
  };
};
export const box = (tray: Group, layout: Partial<Group['layout']>, plate: Group['paint']['plate'] = tray.paint.plate): Group => ({
  ...tray,
  layout: { ...tray.layout, ...layout },
  paint: { ...tray.paint, plate },
});
export const bare = (tray: Group, layout: Partial<Group['layout']> = {}): Group => box(tray, { padPx: [0, 0, 0, 0], ...layout }, null);
