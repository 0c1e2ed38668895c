/** Words for the variants under which routes are measured beside as they were recorded. */
import { phaseOf } from '@foreshore/checks';
import type { CheckVariant } from '@foreshore/document';

/** Each but a phase, which has a name. */
const SAYS: Record<Exclude<CheckVariant, `phase:${string}`>, string> = {
  least: 'all feeds at their least',
  greatest: 'all feeds at their greatest',
  shake: 'camera shaken',
  gamepad: 'with a gamepad',
  touch: 'by touch',
  hand: 'with bare hands',
};
/** @param phases what phases are called, by their ids. */
export function sayVariant(variant: CheckVariant, phases: Readonly<Record<string, { name: string }>>): string {
  const phase = phaseOf(variant);
  if (phase !== null) return `all the way in the phase ${phases[phase]?.name ?? phase}`;
  return SAYS[variant as keyof typeof SAYS];
}
