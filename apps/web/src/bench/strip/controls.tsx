/** Play, the route, and how tall the strip is. */

import { type Document, inOrder } from '@foreshore/document';
import { ActionIcon } from '@mantine/core';
import { IconArrowBackUp, IconBaselineDensitySmall, IconMenu2, IconMinus, IconPlayerPause, IconPlayerPlay } from '@tabler/icons-react';
import { ChoiceMenu } from '../../fields/choice-menu.tsx';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { HEIGHT_NAMES } from './heights.ts';
import { SideEffectsMenu } from './side-effects.tsx';

export function Controls({ document, durationS }: { document: Document; durationS: number }) {
  const { playing, route, strip } = useBenchPart('playing', 'route', 'strip');
  const free = useBench((s) => s.pose !== null);
  const routes = inOrder(document.routes);
  const next = { one: 'rows', rows: 'all', all: 'one' } as const;
  return (
    <div className="strip-controls">
      <ActionIcon
        variant="transparent"
        className="icon-button"
        aria-label={playing ? 'Pause' : 'Play'}
        title={playing ? 'Pause (Space)' : 'Play (Space)'}
        onClick={() =>
          useBench.setState(({ timeS, pose }) => ({ playing: !playing, ...(timeS >= durationS && !pose ? { timeS: 0 } : {}) }))
        }
      >
        {playing ? <IconPlayerPause size={16} /> : <IconPlayerPlay size={16} />}
      </ActionIcon>
      {routes.length > 0 && (
        <ChoiceMenu
          label="Route"
          value={route}
          choices={routes.map(([id, r]) => [id, r.name])}
          onChange={(to) => useBench.setState({ route: to, timeS: 0, pose: null })}
        />
      )}
      {free && routes.length > 0 && (
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label="Back to the route"
          title="The camera is free. Back to the route (B)"
          onClick={() => useBench.setState({ pose: null })}
        >
          <IconArrowBackUp size={16} />
        </ActionIcon>
      )}
      <SideEffectsMenu document={document} />
      <ActionIcon
        variant="transparent"
        className="icon-button"
        aria-label={`Height of the strip: ${HEIGHT_NAMES[strip]}`}
        title={`Height of the strip: ${HEIGHT_NAMES[strip]}. Change to ${HEIGHT_NAMES[next[strip]]}`}
        onClick={() => useBench.setState({ strip: next[strip] })}
      >
        {{ one: <IconMinus size={16} />, rows: <IconMenu2 size={16} />, all: <IconBaselineDensitySmall size={16} /> }[strip]}
      </ActionIcon>
    </div>
  );
}
