/** The keyboard while the picture has the focus: walking, looking, placing, and the keys of the game while trying. */
import { type KeyboardEvent, useRef } from 'react';
import type { Engine } from '../../engine/engine.ts';
import { type Hover, useBench } from '../../state/bench.ts';

/** Keys that steer while the picture has the focus. */
const STEER: Record<string, ['right' | 'up' | 'forward', number]> = {
  KeyW: ['forward', 1],
  KeyS: ['forward', -1],
  KeyA: ['right', -1],
  KeyD: ['right', 1],
  KeyE: ['up', 1],
  KeyQ: ['up', -1],
};
/** Degrees that an arrow key turns, to the left and up. */
const ARROWS: Record<string, [number, number]> = { ArrowLeft: [2, 0], ArrowRight: [-2, 0], ArrowUp: [0, 2], ArrowDown: [0, -2] };

/** @param busy something else has the keyboard. @param open opens the palette at a place of the picture. */
export function usePictureKeys(engine: Engine, busy: boolean, open: (u: number, v: number, under: Hover | null) => void) {
  const held = useRef(new Set<string>());

  const steer = () => {
    const intent = { right: 0, up: 0, forward: 0 };
    for (const code of held.current) {
      const way = STEER[code];
      if (way) intent[way[0]] += way[1];
    }
    engine.steer(intent.right, intent.forward, intent.up, held.current.has('ShiftLeft') || held.current.has('ShiftRight'));
  };
  const release = () => {
    held.current.clear();
    steer();
  };

  const onArrow = (event: KeyboardEvent, arrow: [number, number]) => {
    event.preventDefault();
    const { mode, pointed, hover } = useBench.getState();
    if (mode === 'try') {
      // The keys of the one that has the focus: right and up are more. A phase that takes the input leaves the view alone.
      if (pointed && engine.trying.slideBy(pointed, Math.sign(arrow[1] - arrow[0]))) return;
      if (engine.trying.takesInput()) return;
    }
    if (mode === 'place') {
      const [u, v] = hover ? [hover.x, hover.y] : [0.5, 0.5];
      const by = event.shiftKey ? 0.05 : 0.01;
      useBench.setState({ hover: engine.pick(u - Math.sign(arrow[0]) * by, v - Math.sign(arrow[1]) * by) ?? hover });
    } else engine.turn(...arrow);
  };

  /** The next acting element has the focus; past the last, the focus goes on as it does everywhere. */
  const onTab = (event: KeyboardEvent) => {
    const all = engine.trying.acting();
    if (all.length === 0) return;
    const { pointed } = useBench.getState();
    const next = all[all.indexOf(pointed ?? '') + (event.shiftKey ? -1 : 1)];
    useBench.setState({ pointed: next ?? null });
    if (next) engine.trying.reveal(next);
    if (next) event.preventDefault();
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || busy) return;
    const { mode, hover, pointed } = useBench.getState();
    if (mode === 'try' && !event.repeat && engine.trying.key(event.code, true)) {
      // The game has this key; it is none of the bench's shortcuts.
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (STEER[event.code] || event.code.startsWith('Shift')) {
      held.current.add(event.code);
      steer();
      if (!event.code.startsWith('Shift')) event.preventDefault();
      return;
    }
    const arrow = ARROWS[event.key];
    if (arrow && !event.altKey) return onArrow(event, arrow);
    if (mode === 'try' && event.key === 'Tab') return onTab(event);
    if (mode === 'try' && (event.key === 'Enter' || event.key === ' ')) {
      if (pointed) engine.trying.use(pointed);
      event.preventDefault();
      if (pointed) event.stopPropagation();
      return;
    }
    if (event.key === 'Enter' && mode === 'place') {
      event.preventDefault();
      const found = hover ?? engine.pick(0.5, 0.5);
      open(found?.x ?? 0.5, found?.y ?? 0.5, found);
    }
  };
  const onKeyUp = (event: KeyboardEvent) => {
    if (useBench.getState().mode === 'try') engine.trying.key(event.code, false);
    held.current.delete(event.code);
    steer();
  };
  return { onKeyDown, onKeyUp, release };
}
