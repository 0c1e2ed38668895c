/** The chain: what each step came to for the selection in this frame, up to the first no. */

import type { Link, StepName } from '@foreshore/core';
import { STATES, STEP_TITLES, sayLink, shortLink } from '@foreshore/words';
import { UnstyledButton } from '@mantine/core';
import { IconAlertTriangle, IconCheck, IconCircleDashed, IconX } from '@tabler/icons-react';
import { memo, useDeferredValue } from 'react';
import { isGateable } from '../../edits/edits.ts';
import { type BenchStore, useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { Mends } from './mends.tsx';
import { WouldShow } from './would-show.tsx';
import './chain.css';

const isGate = (step: StepName): boolean => step === 'range' || step === 'sightline' || step === 'claim';
const ICONS: Record<Link['state'], typeof IconCheck> = {
  yes: IconCheck,
  no: IconX,
  short: IconAlertTriangle,
  wouldSayYes: IconCircleDashed,
  wouldSayNo: IconCircleDashed,
  absent: IconCircleDashed,
};

const toggleStep = (step: StepName): void => useBench.setState(({ openStep }) => ({ openStep: openStep === step ? null : step }));

/** A step that asks nothing of the element; one that could be set goes by its stub, too. */
function Stub({ step, settable, open }: { step: StepName; settable: boolean; open: boolean }) {
  const title = STEP_TITLES[step];
  if (!settable)
    return (
      <div className="link-stub" title={`${title} does not apply to it`}>
        <span>{title}</span>
      </div>
    );
  return (
    <UnstyledButton
      className="link-stub"
      data-step={step}
      aria-expanded={open}
      title={`${title} asks nothing of it yet: set it`}
      onClick={() => toggleStep(step)}
    >
      <span>{title}</span>
    </UnstyledButton>
  );
}

/** Its room, until it is there. */
export const ChainRoom = () => <div className="chain" />;

export function Chain() {
  const { info, openStep, selection } = useBenchPart('info', 'openStep', 'selection');
  return <Links info={useDeferredValue(info)} openStep={openStep} selection={selection} />;
}

/** Made anew when there is time for it: the picture comes first. */
const Links = memo(function Links({ info, openStep, selection }: Pick<BenchStore, 'info' | 'openStep' | 'selection'>) {
  const document = useShown();
  const element = selection ? document?.elements[selection] : undefined;
  if (!selection || !document || !element || !info || info.links.length === 0)
    return (
      <nav className="chain" aria-label="Reasons">
        <p className="empty">
          Select an element in the picture or in the list to see why it shows or not{info ? `; ${info.shownCount} are shown here now` : ''}.
        </p>
      </nav>
    );
  const wide = widestOf(info.links, info.selectionShown && info.verdicts.some(({ faults }) => faults.length > 0));
  return (
    <nav className="chain" aria-label={`Reasons of ${info.row}`} data-row={info.row}>
      {info.links.map((link) => {
        const { step, state } = link;
        const open = openStep === step;
        if (state === 'absent') return <Stub key={step} step={step} settable={isGate(step) && isGateable(element)} open={open} />;
        const Icon = ICONS[state];
        const full = sayLink(link, document);
        const isWide = step === wide;
        const button = (
          <UnstyledButton
            key={step}
            className="link"
            data-step={step}
            data-state={state}
            aria-expanded={open}
            title={`${STEP_TITLES[step]}: ${full}`}
            onClick={() => toggleStep(step)}
          >
            <span className="link-name">
              <Icon size={15} stroke={2.6} aria-hidden="true" />
              {STEP_TITLES[step]}
              <span className="sr-only">: {STATES[state]},</span>
            </span>
            <span className="link-says">{isWide ? full : shortLink(link, document)}</span>
          </UnstyledButton>
        );
        if (!isWide) return button;
        return (
          <div key={step} className={state === 'no' ? 'link-refused' : 'link-refused link-short'}>
            {button}
            {state === 'no' ? <WouldShow /> : <Mends id={selection} />}
          </div>
        );
      })}
    </nav>
  );
});

/** The link that gets the room: the one that refuses, else Readable where something falls short at some viewer. */
function widestOf(links: readonly Link[], short: boolean): StepName | null {
  return links.find(({ state }) => state === 'no')?.step ?? (short ? 'readable' : null);
}
