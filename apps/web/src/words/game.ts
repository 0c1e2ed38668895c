/** What is said of a game that is connected. */
import type { GameFault, GameInfo } from '@foreshore/handoff/game';
import { formatNumber } from '@foreshore/words';

type Of<K extends GameFault['kind']> = Extract<GameFault, { kind: K }>;
const FAULTS: { [K in GameFault['kind']]: (fault: Of<K>) => string } = {
  noCamera: () => 'It has sent no camera: the picture stays where it is.',
  badRotation: () => 'Its camera’s rotation is no quaternion: all four numbers are 0.',
  unknownPhase: ({ name }) => `It is in the phase "${name}", which the project does not have.`,
  unknownFeed: ({ name }) => `It sends "${name}", which is no feed of the project.`,
  never: ({ name }) => `${name} was never sent: it is empty.`,
  neverOf: ({ name, object, count }) =>
    count === 1 ? `${name} of ${object} was never sent: it is empty.` : `${name} of ${count} objects was never sent, ${object} for one.`,
  notEach: ({ name, object }) => `It sends ${name} of ${object}; that feed has one value for all objects.`,
  noObject: ({ name, object, count }) =>
    `It sends ${name} of ${count === 1 ? object : `${count} objects, ${object} for one`}; nothing that reads it stands there.`,
  otherKind: ({ name, is, meant }) => `${name} is a ${meant}; it sends a ${is}, which is left out.`,
  outOfRange: ({ name, value, range: [least, most] }) =>
    `${name} is ${formatNumber(value)}, outside its range of ${formatNumber(least)} to ${formatNumber(most)}.`,
  stale: ({ name, ageS }) => `${name} was last sent ${formatNumber(Math.round(ageS))} s ago.`,
};
export const sayGameFault = (fault: GameFault): string => FAULTS[fault.kind](fault as never);

/** How a game is going, in short. */
export function sayGame({ connected, perS, roundTripMs, dropped }: GameInfo): string {
  if (!connected) return 'lost; it may come back under its name';
  const parts = [`${perS} messages a second`];
  if (roundTripMs !== null) parts.push(`${roundTripMs < 1 ? 'under 1' : Math.round(roundTripMs)} ms there and back`);
  if (dropped > 0) parts.push(`${dropped} left out: too many`);
  return parts.join(', ');
}
