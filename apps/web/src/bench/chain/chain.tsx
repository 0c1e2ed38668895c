/** The chain: what each step came to for the selection in this frame, up to the first no. */
import type { Offer } from '@foreshore/checks';
import type { Link, StepName } from '@foreshore/core';
import type { Element } from '@foreshore/document';
import { IconAlertTriangle, IconCheck, IconCircleDashed, IconX } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { editElement } from '../../edits/edits.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useMends, useOffers } from '../../questions/use-asked.ts';
import { say } from '../../shell/notices.tsx';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { hold, useLive } from '../../state/live.ts';
import { shownDocument, useProject } from '../../state/project.ts';
import { isGateable } from './gate-settings.tsx';

export const STEP_TITLES: Record<StepName, string> = {
  attach: 'Attach',
  phase: 'Phase',
  range: 'Range',
  view: 'View',
  size: 'Size',
  sightline: 'Sightline',
  claim: 'Claim',
  place: 'Place',
  paint: 'Paint',
  readable: 'Readable',
};
const SAID: Record<Link['state'], string> = {
  yes: 'passes',
  no: 'refused',
  short: 'falls short',
  wouldSayYes: 'would pass',
  wouldSayNo: 'would refuse',
  absent: 'does not apply',
};

const TAKES: Record<Offer['kind'], string> = { place: 'Go there', turn: 'Go there', setting: 'Apply', state: 'Try it' };

/** The smallest change that shows the selection, to take with one press; the others one after the other. */
function WouldShow({ id }: { id: string }) {
  const engine = useEngine();
  const offers = useOffers();
  const [at, setAt] = useState(0);
  useEffect(() => setAt(0), [offers]);
  if (offers === null) return null;
  const offer = offers[at % Math.max(1, offers.length)];
  if (!offer) return <p className="offer">No single change would show it.</p>;
  const take = () => {
    if (offer.kind === 'state') {
      const { state } = offer;
      if ('phase' in state) useLive.setState({ phase: state.phase });
      else {
        hold(state.feed, state.value);
        say(`${offer.says}: held by hand until it is let go in Feeds.`);
      }
    } else if (offer.kind !== 'setting') engine.goTo(offer.pose);
    else editElement(`Would show: ${offer.says}`, id, (e) => ({ ...e, ...offer.part }) as Element);
  };
  return (
    <p className="offer" data-offer={offer.kind}>
      <span>
        Would show: <b>{offer.says}</b>
        {offers.length > 1 && (
          <button
            type="button"
            className="link-button"
            onClick={() => setAt(at + 1)}
            title={`${(at % offers.length) + 1} of ${offers.length}`}
          >
            Another
          </button>
        )}
      </span>
      <button type="button" className="offer-take" onClick={take}>
        {TAKES[offer.kind]}
      </button>
    </p>
  );
}

/** The change that makes it readable at the most viewers; the others one after the other. */
function Mends() {
  const mends = useMends();
  const viewers = useProject((s) => s.document?.viewers);
  const [at, setAt] = useState(0);
  useEffect(() => setAt(0), [mends]);
  const mend = mends?.[at % Math.max(1, mends.length)];
  if (!mends || !mend) return null;
  const cleared = mend.clears.map((id) => viewers?.[id]?.name ?? id).join(', ');
  return (
    <p className="offer" data-mend={mend.kind}>
      <span title={`Clears it at: ${cleared}`}>
        Mend: <b>{mend.says}</b>
        <span className="offer-for">
          for {mend.clears.length === 1 ? cleared : `${mend.clears.length} viewers`}
          {mends.length > 1 && (
            <>
              {' · '}
              <button
                type="button"
                className="link-button"
                onClick={() => setAt(at + 1)}
                title={`${(at % mends.length) + 1} of ${mends.length}`}
              >
                Another
              </button>
            </>
          )}
        </span>
      </span>
      <button
        type="button"
        className="offer-take"
        onClick={() => editElement(`Mend: ${mend.says}`, mend.element, (e) => ({ ...e, ...mend.part }) as Element)}
      >
        Take it
      </button>
    </p>
  );
}

const isGate = (step: StepName): boolean => step === 'range' || step === 'sightline' || step === 'claim';

export function Chain() {
  const { info, openStep, selection } = useBenchPart('info', 'openStep', 'selection');
  const element = useProject((s) => (selection ? shownDocument(s)?.elements[selection] : undefined));
  const gateable = element !== undefined && isGateable(element);
  if (!selection || !info || info.links.length === 0)
    return (
      <nav className="chain" aria-label="Reasons">
        <p className="empty">
          Select an element in the picture or in the list to see why it shows or not{info ? `; ${info.shownCount} are shown here now` : ''}.
        </p>
      </nav>
    );
  return (
    <nav className="chain" aria-label="Reasons">
      {info.links.map(({ step, state, says }) => {
        const title = STEP_TITLES[step];
        const open = openStep === step;
        // A step that could be set goes by its stub, too.
        if (state === 'absent' && isGate(step) && gateable)
          return (
            <button
              key={step}
              type="button"
              className="link-stub"
              data-step={step}
              aria-expanded={open}
              title={`${title} asks nothing of it yet: set it`}
              onClick={() => useBench.setState({ openStep: open ? null : step })}
            >
              <span>{title}</span>
            </button>
          );
        if (state === 'absent')
          return (
            <div key={step} className="link-stub" title={`${title} does not apply to it`}>
              <span>{title}</span>
            </div>
          );
        const Icon = state === 'yes' ? IconCheck : state === 'no' ? IconX : state === 'short' ? IconAlertTriangle : IconCircleDashed;
        const button = (
          <button
            key={step}
            type="button"
            className="link"
            data-step={step}
            data-state={state}
            aria-expanded={open}
            title={`${title}: ${says}`}
            onClick={() => useBench.setState({ openStep: open ? null : step })}
          >
            <span className="link-name">
              <Icon size={15} stroke={2.6} aria-hidden="true" />
              {title}
              <span className="sr-only">: {SAID[state]},</span>
            </span>
            <span className="link-says">{says}</span>
          </button>
        );
        if (step === 'readable' && info.selectionShown && info.verdicts.some(({ short }) => short !== null))
          return (
            <div key={step} className="link-refused link-short">
              {button}
              <Mends />
            </div>
          );
        if (state !== 'no') return button;
        return (
          <div key={step} className="link-refused">
            {button}
            <WouldShow id={selection} />
          </div>
        );
      })}
    </nav>
  );
}
