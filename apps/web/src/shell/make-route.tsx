/** Has a route made that reaches what none does: it is worked out, replayed, and then kept as one change. */
import type { NoRoute, RouteFound, RouteWanted } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { formatSeconds, STEP_TITLES } from '@foreshore/words';
import { Button } from '@mantine/core';
import { IconArrowUpRight } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { addMadeRoute } from '../edits/edits.ts';
import { askWorker } from '../questions/asks.ts';
import { useProject } from '../state/project.ts';

type Tried = { route: string; shows: RouteFound['shows'] } | { none: NoRoute } | { failed: string };

/** @param name what the route is called. @param label what the button says to those who do not see what it stands beside. */
export function MakeRoute({
  project,
  document,
  wanted,
  name,
  label,
}: {
  project: string;
  document: Document;
  wanted: RouteWanted;
  name: string;
  label: string;
}) {
  const [asking, setAsking] = useState(false);
  const [tried, setTried] = useState<Tried | null>(null);
  useEffect(() => {
    if (!asking) return;
    const { document: now } = useProject.getState();
    if (!now) return setAsking(false);
    return askWorker({ kind: 'route', document: now, wanted }, (answer) => {
      setAsking(false);
      if (!('found' in answer)) return setTried({ failed: 'failed' in answer ? answer.failed : '' });
      const { found } = answer;
      if (!found.route) return setTried({ none: found });
      const route = addMadeRoute(name, found.route);
      if (route) setTried({ route, shows: found.shows });
    });
  }, [asking]);
  const made = tried && 'route' in tried ? document.routes[tried.route] : undefined;
  if (made && tried && 'route' in tried) {
    const { route, shows } = tried;
    const query = new URLSearchParams({ route, ...(shows && { viewer: shows.viewer, sel: shows.element, t: String(shows.atS) }) });
    return (
      <span className="made-route" data-made={route}>
        <span className="hint">
          “{made.name}” is made
          {shows
            ? `: ${document.elements[shows.element]?.name ?? shows.element} shows from ${formatSeconds(shows.atS)} s at ${document.viewers[shows.viewer]?.name ?? shows.viewer}`
            : ''}
          .
        </span>
        <Button
          size="compact-xs"
          variant="default"
          component={Link}
          to={`/p/${project}/bench?${query}`}
          rightSection={<IconArrowUpRight size={13} />}
        >
          On the bench
        </Button>
      </span>
    );
  }
  return (
    <span className="made-route">
      {tried && 'none' in tried && (
        <span className="hint" data-made="none">
          {tried.none.tried === 0
            ? 'There is no way to it.'
            : `None found: ${tried.none.tried} ways and states were tried, and ${
                tried.none.hiddenBy ? `${STEP_TITLES[tried.none.hiddenBy]} hides it on the best of them` : 'it shows on none'
              }.`}
        </span>
      )}
      {tried && 'failed' in tried && <span role="alert">It could not be worked out: {tried.failed}</span>}
      <Button size="compact-xs" variant="default" loading={asking} aria-label={label} onClick={() => setAsking(true)}>
        Make a route
      </Button>
    </span>
  );
}
