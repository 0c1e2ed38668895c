/** Where a panel stands that nobody meant it to, in words. */
import type { PanelPlaceFault } from '@foreshore/checks';
import { formatPercent } from './quantities.ts';

const SAID: { [K in PanelPlaceFault['kind']]: (fault: Extract<PanelPlaceFault, { kind: K }>) => string } = {
  atOrigin: () => "It stands at the level's origin, where nothing was pointed at.",
  buried: ({ share, node }) => `${formatPercent(share)} % of it is inside of ${node || 'the level'}.`,
  behindWall: ({ node }) => `Nobody who goes along a route sees it: ${node || 'the level'} is in the way.`,
  backToRoutes: () => 'Every route that comes near passes its back: turn it, or let both sides be seen.',
  edgeOn: ({ deg }) => `Every route that comes near sees it edge on, ${deg.toFixed(0)} deg from square on at best.`,
};
export const sayPanelPlace = (fault: PanelPlaceFault): string => SAID[fault.kind](fault as never);
